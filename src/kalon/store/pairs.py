"""Pairs athletes own: bought here or elsewhere, what was worn and seen of them, and what is left of each.

What is known of a pair's life is kept in its row, computed anew by `reckon` whenever something of it changes, so that
the day's page and a calendar read it without computing.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Any, Literal, cast
from uuid import UUID

from psycopg.types.json import Jsonb

from ..core.care.cost import HOURS_A_SESSION, use_of
from ..core.care.hours import HoursWorn, hours_worn
from ..core.care.lives import NOTHING, Kind, LivesOut, family_of, life
from ..core.care.seen import SeenPart, WearSeenIn, stretches, wear_seen
from ..core.care.wear import Inspection, WearIn, WearOut, wear
from ..core.errors import BadInput, Conflict, NotFound, read
from ..core.formats import brought_up, newest
from ..core.money import Money
from ..core.rules.words import SPORTS, Sport
from ..core.sizes import on_the_box
from . import athletes, house, shop
from .audit import once, record, used_elsewhere
from .database import Cx, Row, Who
from .ids import new_id

FIELDS = (
    "maker", "name", "size", "sport", "discipline", "surface", "upper", "bought_on", "begun_on", "price_minor",
    "hours_per_week", "role", "event_on", "note",
)  # fmt: skip
"""What somebody may say of a pair bought elsewhere, and change of any."""
OF_A_SALE = ("maker", "name", "size", "sport", "upper", "bought_on", "price_minor")
"""What a sale says of its pair: it stays."""
LOOK_SHARE = 0.55
"""A pair is looked at again when it has had so much of its life. House default."""
LEAST_H = 0.5
PAIR = """
    SELECT p.*, a.name AS athlete, s.pair -> 'properties' AS properties, r.price_minor AS usual_minor FROM pair p
    JOIN athlete a ON a.id = p.athlete_id LEFT JOIN sale s ON s.id = p.sale_id
    LEFT JOIN shop_price r ON r.shop_id = p.shop_id AND r.sport = p.sport AND r.currency = p.currency
"""
Ended = Literal["worn_out", "given_away", "lost"]


def get(cx: Cx, pair_id: UUID, *, lock: bool = False) -> Row:
    """One pair. Raises `NotFound`."""
    row = cx.execute(
        PAIR + "WHERE p.id = %s AND p.gone_at IS NULL" + (" FOR NO KEY UPDATE OF p" if lock else ""), [pair_id]
    ).fetchone()
    if not row:
        raise NotFound("There is no such pair here.")
    return row


def of_athlete(cx: Cx, athlete_id: UUID) -> list[Row]:
    """The pairs of an athlete: those in use first, the newest first."""
    return cx.execute(
        PAIR + "WHERE p.athlete_id = %s AND p.gone_at IS NULL "
        "ORDER BY p.ended_on IS NOT NULL, p.bought_on DESC, p.id LIMIT 100",
        [athlete_id],
    ).fetchall()


def worn(cx: Cx, pairs: Sequence[UUID]) -> dict[UUID, list[Row]]:
    """What was logged of some pairs, the newest first."""
    rows = cx.execute(
        "SELECT w.id, w.pair_id, w.on_day, w.minutes, w.surface, w.link_id IS NOT NULL AS by_link, w.at, s.name AS by "
        "FROM pair_worn w LEFT JOIN staff s ON s.id = w.staff_id WHERE w.pair_id = ANY(%s) AND w.undone_at IS NULL "
        "ORDER BY w.on_day DESC, w.at DESC",
        [list(pairs)],
    ).fetchall()
    found: dict[UUID, list[Row]] = {p: [] for p in pairs}
    for row in rows:
        found[row["pair_id"]].append(row)
    return found


def seen(cx: Cx, pairs: Sequence[UUID]) -> dict[UUID, list[Row]]:
    """What was seen of some pairs, the newest first."""
    rows = cx.execute(
        "SELECT w.id, w.pair_id, w.on_day, w.hours, w.seen, w.format, w.worn_share, w.sigma, w.at, s.name AS by "
        "FROM pair_seen w LEFT JOIN staff s ON s.id = w.staff_id WHERE w.pair_id = ANY(%s) AND w.undone_at IS NULL "
        "ORDER BY w.on_day DESC, w.at DESC",
        [list(pairs)],
    ).fetchall()
    found: dict[UUID, list[Row]] = {p: [] for p in pairs}
    for row in rows:
        body = brought_up("seen", row["seen"], row["format"])
        found[row["pair_id"]].append({**row, "seen": body})
    return found


def lives(cx: Cx) -> LivesOut:
    """What the chain has learned of lives."""
    return _lives(cx.execute("SELECT body, format FROM life_learned ORDER BY version DESC LIMIT 1").fetchone())


def lives_of(cx: Cx, chain: UUID) -> LivesOut:
    """What a chain has learned of lives, for whoever sees every chain."""
    newest_of = "SELECT body, format FROM life_learned WHERE chain_id = %s ORDER BY version DESC LIMIT 1"
    return _lives(cx.execute(newest_of, [chain]).fetchone())


def _lives(row: Row | None) -> LivesOut:
    return LivesOut.model_validate(brought_up("lives", row["body"], row["format"])) if row else NOTHING


def usual_price(cx: Cx, sport: str, currency: str) -> Money | None:
    """What pairs for a sport usually cost on this shop's shelf; none where it has too few models to say."""
    row = cx.execute(
        "SELECT price_minor FROM shop_price WHERE sport = %s AND currency = %s", [sport, currency]
    ).fetchone()
    return Money(round(row["price_minor"]), currency) if row else None


def kind_of(row: Row) -> Kind:
    """What a pair's life is reckoned by."""
    use, ground = use_of(row["sport"], row["discipline"], row["surface"])
    known = row["price_minor"] and row["usual_minor"]
    ratio = min(max(row["price_minor"] / row["usual_minor"], 1e-3), 1e3) if known else None
    return Kind(use=use, ground=ground, upper=family_of(row["upper"]), price_ratio=ratio)


def hours_of(row: Row, logged: Sequence[Row], until: date) -> HoursWorn:
    """Hours a pair was worn until a day; a pair that ended was worn until then."""
    end = min(until, row["ended_on"] or until)
    # Whoever wears it before the day the plan begins on has begun.
    told = None if row["told_h"] is None else (row["told_on"], float(row["told_h"]))
    begun = min([row["begun_on"], *(w["on_day"] for w in logged)])
    return hours_worn(begun, end, row["hours_per_week"], [(w["on_day"], w["minutes"]) for w in logged], told)


def inspections_of(row: Row, looked: Sequence[Row]) -> list[Inspection]:
    """What was seen of a pair, as `wear` takes it."""
    found = []
    for seen_then in looked[:100]:
        parts = stretches(WearSeenIn(sport=cast(Sport, row["sport"]), seen=seen_then["seen"]))
        if parts:
            found.append(Inspection(hours=seen_then["hours"], parts=parts))
    return found


def wear_of(row: Row, logged: Sequence[Row], looked: Sequence[Row], known: LivesOut, today: date) -> WearOut:
    """What is left of a pair."""
    return wear(
        WearIn(
            life=life(kind_of(row), known),
            inspections=inspections_of(row, looked),
            hours_now=min(hours_of(row, logged, today).total_h, 100_000),
            hours_per_week=row["hours_per_week"],
            today=today,
        )
    )


def _look_on(row: Row, found: WearOut, hours: float, today: date) -> date | None:
    """The day the pair has had the share of its life after which it is looked at; not before tomorrow if it was looked
    at with less."""
    if not row["hours_per_week"]:
        return today if found.word in ("near_its_end", "retire") else None
    weeks = (LOOK_SHARE * found.median_h - hours) / row["hours_per_week"]
    return today + timedelta(weeks=min(max(weeks, 0.0), 2000))


def _kept(row: Row, logged: Sequence[Row], looked: Sequence[Row], known: LivesOut, today: date) -> dict[str, Any]:
    found = wear_of(row, logged, looked, known, today)
    hours = hours_of(row, logged, today).total_h
    look: date | None = _look_on(row, found, hours, today)
    last = max((s["on_day"] for s in looked), default=None)
    if look and last and found.retire_on and look <= last + timedelta(days=7):
        # It was looked at just now: again half-way to its end, or at its end.
        look = max(last + (found.retire_on - last) / 2, last + timedelta(days=14))
    return {
        "worn_h": hours, "median_h": found.median_h, "log_sd": found.log_sd, "look_on": look,
        "ends_on": found.retire_on,
    }  # fmt: skip


def reckon(cx: Cx, pair_id: UUID, today: date, known: LivesOut | None = None) -> None:
    """Compute anew what is kept of a pair's life."""
    row = cx.execute(PAIR + "WHERE p.id = %s", [pair_id]).fetchone()
    if row:
        reckon_rows(cx, [row], today, known if known is not None else lives(cx))


def otherwise(cx: Cx, rows: Sequence[Row], today: date, known: LivesOut) -> dict[UUID, dict[str, Any]]:
    """What is to be kept now of those of some pairs for which it is otherwise than it was."""
    ids = [r["id"] for r in rows]
    logged, looked = worn(cx, ids), seen(cx, ids)
    found = {}
    for row in rows:
        kept = _kept(row, logged[row["id"]], looked[row["id"]], known, today)
        if any(row[n] != v for n, v in kept.items()):
            found[row["id"]] = kept
    return found


def reckon_rows(cx: Cx, rows: Sequence[Row], today: date, known: LivesOut) -> int:
    """Compute anew what is kept of some pairs; how many changed."""
    changed = [(*kept.values(), pair) for pair, kept in otherwise(cx, rows, today, known).items()]
    with cx.cursor() as cursor:
        cursor.executemany(
            "UPDATE pair SET worn_h = %s, median_h = %s, log_sd = %s, look_on = %s, ends_on = %s WHERE id = %s", changed
        )
    return len(changed)


def today_of(cx: Cx) -> date:
    """The shop's day."""
    return shop.today(shop.zone_of(house.current(cx)))


# --- from a sale


def of_sale(cx: Cx, who: Who, fitting: Row, sale_id: UUID, pair: Row, snapshot: dict[str, Any]) -> None:
    """The pair just sold is a pair owned."""
    brief, plan = snapshot["brief"], snapshot["settled"]["plan"]
    day = today_of(cx)
    cx.execute(
        "INSERT INTO pair (id, shop_id, athlete_id, sale_id, fitting_id, model_id, maker, name, size, eu_label, width, "
        "upper, sport, discipline, surface, bought_on, begun_on, price_minor, currency, hours_per_week, ready_on, "
        "event_on) VALUES (%(id)s, %(shop)s, %(athlete)s, %(id)s, %(fitting)s, %(model)s, %(maker)s, %(name)s, "
        "%(size)s, %(eu)s, %(width)s, %(upper)s, %(sport)s, %(discipline)s, %(surface)s, %(day)s, %(begun)s, "
        "%(price)s, %(currency)s, %(hours)s, %(ready)s, %(event)s)",
        {
            "id": sale_id, "shop": who.shop_id, "athlete": fitting["athlete_id"], "fitting": fitting["id"],
            "model": pair["model_id"], "maker": pair["maker"], "name": pair["name"], "size": on_the_box(pair),
            "eu": pair["eu_label"], "width": pair["width"], "upper": pair["upper"], "sport": pair["sport"],
            "discipline": brief["discipline"], "surface": brief.get("surface"), "day": day,
            "begun": max(day, date.fromisoformat(plan["wears"][0]["on"])) if plan["wears"] else day,
            "price": pair["price_minor"], "currency": pair["currency"],
            "hours": max(brief["sessions_per_week"], 0.5) * HOURS_A_SESSION, "ready": plan["ready_on"],
            "event": brief.get("event_on"),
        },
    )  # fmt: skip
    reckon(cx, sale_id, day)


def sale_undone(cx: Cx, sale_id: UUID) -> None:
    """The sale was taken back: they don't own it."""
    cx.execute("UPDATE pair SET gone_at = now(), version = version + 1 WHERE sale_id = %s", [sale_id])


def brought_back(cx: Cx, sale_id: UUID) -> None:
    """It came back to the shop: they had it until today."""
    cx.execute(
        "UPDATE pair SET ended_on = greatest(bought_on, shop_today()), ended_why = 'brought_back', "
        "version = version + 1 WHERE sale_id = %s AND gone_at IS NULL",
        [sale_id],
    )


# --- by hand


def _checked(values: dict[str, Any]) -> None:
    words = SPORTS.get(values["sport"])
    if not words:
        raise BadInput(f"There is no sport called {values['sport']}.")
    if values["discipline"] not in {d.value for d in words.disciplines}:
        raise BadInput(f"{words.name} has no discipline called {values['discipline']}.")
    if values["begun_on"] < values["bought_on"]:
        raise BadInput("A pair can't have been worn before it was bought.")


def keep(
    cx: Cx, who: Who, athlete_id: UUID, pair_id: UUID, change_id: UUID, version: int, values: dict[str, Any]
) -> Row:
    """A pair as it is to be kept from now on; one that isn't there yet begins. The same change again is no change.

    Raises `Conflict` when somebody else changed it since `version`, `BadInput` for what can't be."""
    once(cx, pair_id)
    row = cx.execute("SELECT * FROM pair WHERE id = %s FOR NO KEY UPDATE", [pair_id]).fetchone()
    done = cx.execute("SELECT part, athlete_id FROM change WHERE change_id = %s", [change_id]).fetchone()
    if done:
        if done["part"] != "pair" or done["athlete_id"] != athlete_id:
            raise used_elsewhere()
        return get(cx, pair_id)
    athletes.get(cx, athlete_id)
    if row:
        if row["athlete_id"] != athlete_id or row["gone_at"]:
            raise used_elsewhere()
        if row["version"] != version:
            raise Conflict(
                "Somebody changed this pair meanwhile. Look again before changing it.", code="changed-elsewhere"
            )
        if row["sale_id"]:
            values = {**values, **{n: row[n] for n in OF_A_SALE}}
    _checked(values)
    currency = row["currency"] if row else house.current(cx).currency
    columns = {n: values[n] for n in FIELDS}
    if row:
        sets = ", ".join(f"{n} = %({n})s" for n in FIELDS)
        cx.execute(f"UPDATE pair SET {sets}, version = version + 1 WHERE id = %(id)s", columns | {"id": pair_id})
    else:
        names = ", ".join(FIELDS)
        cx.execute(
            f"INSERT INTO pair (id, shop_id, athlete_id, currency, {names}) VALUES (%(id)s, %(shop)s, %(athlete)s, "
            f"%(currency)s, {', '.join(f'%({n})s' for n in FIELDS)})",
            columns | {"id": pair_id, "shop": who.shop_id, "athlete": athlete_id, "currency": currency},
        )
    before = {n: _json(row[n]) for n in FIELDS} if row else {}
    after = {n: _json(v) for n, v in columns.items()}
    record(cx, who, athlete_id, None, "pair", (row["version"] if row else 0) + 1, change_id, before, after)
    reckon(cx, pair_id, today_of(cx))
    return get(cx, pair_id)


def _json(value: Any) -> Any:
    return value.isoformat() if isinstance(value, date) else value


def log(cx: Cx, who: Who, pair_id: UUID, entry_id: UUID, on: date, minutes: int, surface: str | None) -> None:
    """Log one wear. The same id again changes nothing. Raises `BadInput` for a day before it was bought or to come."""
    once(cx, entry_id)
    row = get(cx, pair_id, lock=True)
    told = cx.execute("SELECT pair_id FROM pair_worn WHERE id = %s", [entry_id]).fetchone()
    if told:
        if told["pair_id"] != pair_id:
            raise used_elsewhere()
        return
    _in_its_time(row, on, today_of(cx))
    cx.execute(
        "INSERT INTO pair_worn (id, shop_id, pair_id, on_day, minutes, surface, staff_id) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s)",
        [entry_id, who.shop_id, pair_id, on, minutes, surface, who.staff_id],
    )
    _touched(cx, pair_id)


def _in_its_time(row: Row, on: date, today: date) -> None:
    if on < row["bought_on"]:
        raise BadInput(f"It was bought on {row['bought_on']:%-d %B %Y}: it can't have been worn before.")
    if on > today:
        raise BadInput("That day is still to come.")
    if row["ended_on"] and on > row["ended_on"]:
        raise BadInput(f"It was put away on {row['ended_on']:%-d %B %Y}.")


def _touched(cx: Cx, pair_id: UUID) -> None:
    cx.execute(
        "UPDATE pair p SET version = version + 1, begun_on = least(p.begun_on, (SELECT min(on_day) FROM pair_worn w "
        "WHERE w.pair_id = p.id AND w.undone_at IS NULL)) WHERE id = %s",
        [pair_id],
    )
    reckon(cx, pair_id, today_of(cx))


def take_back(cx: Cx, pair_id: UUID, what: Literal["worn", "seen"], entry_id: UUID) -> None:
    """An entry no longer counts; it is kept. Again is no change. Raises `NotFound`."""
    get(cx, pair_id, lock=True)
    table = {"worn": "pair_worn", "seen": "pair_seen"}[what]
    gone = cx.execute(
        f"UPDATE {table} SET undone_at = coalesce(undone_at, now()) WHERE id = %s AND pair_id = %s", [entry_id, pair_id]
    ).rowcount
    if not gone:
        raise NotFound("There is no such entry of this pair.")
    _touched(cx, pair_id)


def look(cx: Cx, who: Who, pair_id: UUID, entry_id: UUID, on: date, found: dict[SeenPart, str]) -> None:
    """Keep what was seen of a pair, with the hours it has by then. The same id again changes nothing.

    Raises `BadInput` for a finding its sport doesn't know."""
    once(cx, entry_id)
    row = get(cx, pair_id, lock=True)
    told = cx.execute("SELECT pair_id FROM pair_seen WHERE id = %s", [entry_id]).fetchone()
    if told:
        if told["pair_id"] != pair_id:
            raise used_elsewhere()
        return
    _in_its_time(row, on, today_of(cx))
    says = wear_seen(read(WearSeenIn, {"sport": row["sport"], "seen": found}))
    hours = hours_of(row, worn(cx, [pair_id])[pair_id], on).total_h
    if says.worn_share is not None and hours < LEAST_H:
        raise BadInput(
            "Nobody has worn it yet, as far as is known: log its hours first, or say how much it is worn a week."
        )
    cx.execute(
        "INSERT INTO pair_seen (id, shop_id, pair_id, on_day, hours, seen, format, worn_share, sigma, staff_id) "
        "VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [entry_id, who.shop_id, pair_id, on, max(hours, LEAST_H), Jsonb(found), newest("seen"), says.worn_share,
         says.sigma, who.staff_id],
    )  # fmt: skip
    _touched(cx, pair_id)


def end(cx: Cx, who: Who, pair_id: UUID, change_id: UUID, why: Ended | None, on: date | None) -> None:
    """Put a pair away, or (without a reason) take it up again. The same change again is no change."""
    row = get(cx, pair_id, lock=True)
    done = cx.execute("SELECT part FROM change WHERE change_id = %s", [change_id]).fetchone()
    if done:
        if done["part"] != "pair":
            raise used_elsewhere()
        return
    if row["ended_why"] == "brought_back":
        raise Conflict("It came back to the shop: it is theirs no more.", code="brought-back")
    today = today_of(cx)
    day = (on or today) if why else None
    if day:
        _in_its_time({**row, "ended_on": None}, day, today)
    cx.execute(
        "UPDATE pair SET ended_on = %s, ended_why = %s, version = version + 1 WHERE id = %s", [day, why, pair_id]
    )
    record(
        cx, who, row["athlete_id"], None, "pair", row["version"] + 1, change_id,
        {"ended_on": _json(row["ended_on"]), "ended_why": row["ended_why"]}, {"ended_on": _json(day), "ended_why": why},
    )  # fmt: skip
    reckon(cx, pair_id, today)


def remove(cx: Cx, who: Who, pair_id: UUID) -> None:
    """A pair entered by mistake is gone; again is no change. Raises `Conflict` for one that was sold here."""
    row = cx.execute("SELECT * FROM pair WHERE id = %s FOR NO KEY UPDATE", [pair_id]).fetchone()
    if not row:
        raise NotFound("There is no such pair here.")
    if row["gone_at"]:
        return
    if row["sale_id"]:
        raise Conflict("It was sold here: undo the sale, or put the pair away.", code="sold-here")
    cx.execute("UPDATE pair SET gone_at = now(), version = version + 1 WHERE id = %s", [pair_id])
    record(cx, who, row["athlete_id"], None, "pair", row["version"] + 1, new_id(), {"gone": False}, {"gone": True})
