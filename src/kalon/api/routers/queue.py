"""The queue: who waits, since when, for what, for how long yet; taken by one fitter each."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime, time, timedelta
from uuid import UUID, uuid5

from fastapi import APIRouter

from ...core.care.queue import MATTERS, Done, Takes, Waiting, takes, wait_text, waits
from ...core.errors import BadInput, FieldProblem
from ...core.rules.words import SPORTS
from ...store import fittings, house, queue, shop
from ...store.database import Cx, Row
from ..desk import Anyone, Desk
from ..schemas_queue import QueueIn, QueueOut, QueuePlace, QueueStep, TakeIn, TakenOut, WaitOut
from .fittings import begun

router = APIRouter(prefix="/api/queue", tags=["queue"])
AHEAD = timedelta(days=60)
"""Appointments of so many days are shown."""
OVER = "That time is over: give one that is still to come, or none for somebody who is here."
LATE = timedelta(hours=6)
"""Who waits at midnight still waits after it, for so long."""


@router.get("")
def whole(desk: Anyone) -> QueueOut:
    """The day's queue in its order, and appointments of later days."""
    with desk.open() as cx:
        return _queue(cx, desk)


@router.post("", status_code=201)
def add(desk: Anyone, given: QueueIn) -> QueueOut:
    """Somebody came in and waits, or has an appointment."""
    with desk.open() as cx:
        zone = shop.zone_of(house.current(cx))
        if (given.on is None) != (given.at is None):
            raise BadInput("An appointment has a day and a time.")
        at = datetime.combine(given.on, given.at, zone) if given.on and given.at else None
        if at and at < datetime.now(UTC) - timedelta(minutes=5):
            raise BadInput(OVER, fields=[FieldProblem("at", "past", OVER)])
        values = given.model_dump(include={"athlete_id", "called", "about", "sport", "minutes"})
        queue.add(cx, desk.who, given.id, values | {"at": at})
        return _queue(cx, desk)


@router.post("/{place_id}/steps")
def step(desk: Anyone, place_id: UUID, given: QueueStep) -> QueueOut:
    """They came, left, were done with, or are back in the queue. 409 when somebody else has taken them."""
    with desk.open() as cx:
        queue.step(cx, desk.who, place_id, given.step)
        return _queue(cx, desk)


@router.post("/{place_id}/take")
def take(desk: Anyone, place_id: UUID, given: TakeIn) -> TakenOut:
    """Take somebody up: a fitting begins, or where they are to be seen is told. 409 when somebody else has them."""
    with desk.open() as cx:
        now = datetime.now(shop.zone_of(house.current(cx)))
        row, athlete = queue.take(cx, desk.who, place_id, given.fitting_id, given.change_id, now)
        if not MATTERS[row["about"]].begins:
            sold = queue.last_sold(cx, athlete) if row["about"] == "return" else None
            there = f"/fittings/{sold}/return" if sold else f"/athletes/{athlete}"
            return TakenOut(athlete_id=athlete, fitting=None, place=there)
        begun(cx, desk.who, athlete, given.fitting_id)
        queue.begins(cx, place_id, given.fitting_id)
        brief = fittings.parts(cx, given.fitting_id)["brief"]
        if row["sport"] and not brief.body.get("sport"):
            said = uuid5(given.fitting_id, "sport said in the queue")
            fittings.patch(cx, desk.who, given.fitting_id, "brief", brief.version, said, {"sport": row["sport"]})
        whole = begun(cx, desk.who, athlete, given.fitting_id)
        return TakenOut(athlete_id=athlete, fitting=whole, place=f"/fittings/{given.fitting_id}/feet")


def _minutes(since: datetime, until: datetime) -> float:
    return (until - since).total_seconds() / 60


def _takes(row: Row, done: Sequence[Done]) -> Takes:
    found = takes(row["about"], row["sport"], done)
    return Takes(float(row["minutes"]), found.log_sd, found.many) if row["minutes"] else found


def _queue(cx: Cx, desk: Desk) -> QueueOut:
    keeps = house.current(cx)
    zone = shop.zone_of(keeps)
    now = datetime.now(zone)
    midnight = datetime.combine(now.date(), time(), zone)
    tomorrow = datetime.combine(now.date() + timedelta(days=1), time(), zone)
    rows = queue.standing(cx, min(midnight, now - LATE), tomorrow)
    later = queue.booked(cx, tomorrow, tomorrow + AHEAD)
    done = queue.done(cx) if rows or later else []
    at_once = round(keeps["people.at_once"])
    busy = [(_takes(r, done), max(_minutes(r["taken_at"], now), 0.0)) for r in rows if r["taken_at"]]
    expected = [r for r in rows if not r["taken_at"] and not _is_late(r, now)]
    places = [Waiting(_takes(r, done), 0.0 if r["came_at"] else max(_minutes(now, r["at"]), 0.0)) for r in expected]
    wait = {r["id"]: w for r, w in zip(expected, waits(busy, at_once, places), strict=True)}

    def out(row: Row, state_now: datetime | None = None) -> QueuePlace:
        told = wait.get(row["id"]) if state_now else None
        sport = SPORTS[row["sport"]].name if row["sport"] in SPORTS else None
        says = MATTERS[row["about"]].text + (f", {sport.lower()}" if sport else "")
        return QueuePlace(
            id=row["id"], state=_state(row, state_now or row["at"]), name=row["name"] or "Somebody",
            athlete_id=row["athlete_id"], about=row["about"], says=says, sport=row["sport"], at=row["at"],
            minutes=row["minutes"], takes_min=_takes(row, done).median_min, came_at=row["came_at"],
            taken_by=row["taken_by_name"], mine=row["taken_by"] == desk.who.staff_id, taken_at=row["taken_at"],
            fitting_id=row["fitting_id"],
            wait=WaitOut(low_min=told.low_min, mid_min=told.mid_min, high_min=told.high_min, text=wait_text(told))
            if told else None,
        )  # fmt: skip

    return QueueOut(
        now=now, today=now.date(), at_once=at_once, places=[out(r, now) for r in rows], later=[out(r) for r in later]
    )


def _is_late(row: Row, now: datetime) -> bool:
    return row["came_at"] is None and row["at"] < now


def _state(row: Row, now: datetime) -> str:
    if row["taken_at"]:
        return "fitted"
    if row["came_at"]:
        return "waits"
    return "late" if row["at"] < now else "to_come"
