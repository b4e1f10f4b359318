"""The database as it was at a moment, out of its archive. What was there stays beside it until somebody throws it
away."""

from __future__ import annotations

import json
import shutil
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import psycopg

from . import archive
from .backup import Stays, stays_of, stays_put
from .postgres import DATABASE, GOING_BACK, OWNER, SUPER, HostTrouble, LocalServer, Say

LONGEST_S = 3600
"""How long the journal may take to be played back."""
WENT = "went.json"
"""When it went back, and from which timeline."""
ENDED_BEFORE = "recovery ended before configured recovery target was reached"


def go_back(server: LocalServer, when: datetime, say: Say) -> Path | None:
    """Put the database as it was at a moment; where what was there is now, if anything was. The server is stopped
    before and runs after.

    What was ended and who was erased since stays so, as far as what was there still tells. Raises `HostTrouble`, with
    what was there in its place."""
    _put_right(server, say)
    stay, line = _of_what_is_there(server, say)
    there = archive.held(server)
    if there.since is None or when < there.since:
        begins = f"{there.since.astimezone():%-d %B %Y, %H:%M:%S}" if there.since else "with its first backup"
        raise HostTrouble(f"The archive begins {begins}: it can't go back before that.")
    if when > datetime.now(UTC):
        raise HostTrouble("That moment is yet to come.")
    half = server.home / "pgdata.back"
    kept = server.home / f"pgdata.before-{datetime.now(UTC):%Y%m%d-%H%M%S}"
    fetch = f'{archive.command(server.home)} archive-get %f "%p"'
    target = f"--target={when.astimezone(UTC):%Y-%m-%d %H:%M:%S.%f}+00"
    until = ["--type=time", target, "--target-action=promote"]
    was = timeline_of(_went(server.home), when) or line
    on = [f"--target-timeline={was}"] if was else []
    # What is written here reaches beyond that moment; on a new machine the archive may end before it.
    for so_far in ([*until, *on],) if line else ([*until, *on], on):
        shutil.rmtree(half, ignore_errors=True)
        half.mkdir(mode=0o700)
        server.give(half)
        say("reading the archive")
        # Its journal is fetched once it stands in its own place: no path of where it was put first.
        try:
            archive.run(server, f"--pg1-path={half}", f"--recovery-option=restore_command={fetch}", *so_far, "restore")
        except HostTrouble:
            shutil.rmtree(half, ignore_errors=True)
            raise
        (server.home / GOING_BACK).write_text(kept.name)
        if server.data.exists():
            server.data.rename(kept)
        half.rename(server.data)
        server.take_passwords()
        try:
            _played(server)
            stays_put(server.url(OWNER, DATABASE), stay)
            note(server, line)
            (server.home / GOING_BACK).unlink()
            return kept if kept.exists() else None
        except (HostTrouble, psycopg.Error) as error:
            server.stop()
            ended = so_far != on and ENDED_BEFORE in _told(server)
            _put_right(server)
            if not ended or line:
                raise HostTrouble(f"Nothing was changed; the archive could not be played back: {error}") from error
            say("the archive ends before that moment: all of it is played back")
    raise HostTrouble("Nothing was changed; the archive could not be played back.")


def _put_right(server: LocalServer, say: Say = lambda text: None) -> None:
    """What was there before back in its place, where a going back was begun and not ended."""
    marker = server.home / GOING_BACK
    if not marker.exists():
        return
    server.stop()
    kept = server.home / marker.read_text()
    # Before its name was given to what was there, that is in its place still.
    if kept.exists() or not (server.home / "pgdata.back").exists():
        shutil.rmtree(server.data, ignore_errors=True)
    if kept.exists():
        say("an earlier going back was cut off; what was there before is put in its place first")
        kept.rename(server.data)
        server.take_passwords()
    marker.unlink()


def timeline_of(went: list[tuple[datetime, int]], when: datetime) -> int | None:
    """On which of PostgreSQL's timelines a moment lies, where it went back from one to the next at these moments; none
    for the newest. So one may go forward again to what was given up by going back."""
    return next((line for at, line in sorted(went) if when < at), None)


def _went(home: Path) -> list[tuple[datetime, int]]:
    try:
        told = json.loads((archive.folder(home) / WENT).read_text())
    except FileNotFoundError:
        return []
    return [(datetime.fromisoformat(e["at"]), int(e["timeline"])) for e in told["went"]]


def note(server: LocalServer, line: int | None) -> None:
    """That it went back just now, from one of PostgreSQL's timelines."""
    if line is None:
        return
    went = [*_went(server.home), (datetime.now(UTC), line)]
    half = archive.folder(server.home) / f"{WENT}.new"
    half.write_text(json.dumps({"format": 1, "went": [{"at": at.isoformat(), "timeline": n} for at, n in went]}))
    server.give(half)
    half.rename(half.with_name(WENT))


def _of_what_is_there(server: LocalServer, say: Say) -> tuple[Stays, int | None]:
    """What has to stay ended and erased, out of what is there, and its timeline; it is stopped then, with all of its
    journal archived."""
    if not (server.data / "PG_VERSION").exists():
        return Stays([], []), None
    try:
        server.start()
        with psycopg.connect(server.url(SUPER, "postgres"), autocommit=True) as cx:
            cx.execute("SELECT txid_current()")  # the last moment of its journal is now
        return stays_of(server.url(OWNER, DATABASE)), archive.timeline(server)
    except (HostTrouble, psycopg.Error) as error:
        say(f"what is there can't be read any more ({error}): who was erased since has to be erased again by hand")
        return Stays([], []), None
    finally:
        server.stop()


def _played(server: LocalServer) -> None:
    """Start it, wait until its journal is played back, and stand as usual."""
    server.log.unlink(missing_ok=True)
    playing = replace(server, wait_s=LONGEST_S, going_back=True)
    playing.start()
    server.port = playing.port


def _told(server: LocalServer) -> str:
    return server.log.read_text(errors="replace") if server.log.exists() else ""
