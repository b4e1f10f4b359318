"""The keeper: a process beside the web that writes what is due into the archive, tries whether it can be had back, and
notes how that stands.

Run as `python -m kalon.host.keeper LIFELINE SUPERVISOR HOME`. It ends when the supervisor does.
"""

from __future__ import annotations

import json
import os
import sys
import time
from datetime import UTC, datetime
from pathlib import Path
from threading import Thread
from typing import Any

import structlog

from . import archive, drill
from .postgres import HostTrouble, LocalServer

LOOK_EVERY_S = 60.0
log = structlog.get_logger()


def _watch(lifeline: int) -> None:
    """End when the supervisor does; a backup that is half done is no backup."""
    while os.read(lifeline, 1):
        pass
    os._exit(0)


def look(server: LocalServer, now: datetime) -> dict[str, Any]:
    """Write what is due, and try it where it is time to; how the archive stands then."""
    before = state(server.home) or {}
    told: dict[str, Any] = {"format": 1, "at": now.isoformat(), "trouble": None, "tried": before.get("tried")}
    try:
        if before.get("trouble") or not before.get("newest"):
            archive.made_ready(server)
        if kind := archive.due(archive.held(server), now):
            archive.back_up(server, kind)
            log.info("archived", kind=kind)
        there = archive.held(server)
        told |= {
            "since": there.since.isoformat() if there.since else None,
            "newest": there.newest.isoformat() if there.newest else None,
            "bytes": there.bytes,
        }
        if drill.is_due(told["tried"], now):
            told["tried"] = drill.tried(server, now).noted()
            log.info("archive tried", **told["tried"])
    except HostTrouble as error:
        log.error("archive", trouble=error.text)
        told["trouble"] = error.text
    half = archive.folder(server.home) / "state.new"
    half.write_text(json.dumps(told))
    server.give(half)
    half.rename(archive.state_file(server.home))
    return told


def state(home: Path) -> dict[str, Any] | None:
    """How the archive stood when it was last looked at; none where there is none, or it wasn't yet."""
    if archive.where(home) is None:
        return None
    try:
        return dict(json.loads(archive.state_file(home).read_text()))
    except (OSError, ValueError):
        return {"at": None, "trouble": None, "tried": None}


def main(lifeline: int, home: Path) -> None:
    """Keep the archive until told to end."""
    Thread(target=_watch, args=(lifeline,), daemon=True).start()
    server = LocalServer(home)
    while True:
        if server.running():
            look(server, datetime.now(UTC))
        time.sleep(LOOK_EVERY_S)


if __name__ == "__main__":
    main(int(sys.argv[1]), Path(sys.argv[3]))
