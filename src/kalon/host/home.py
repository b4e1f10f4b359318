"""Where a machine's data are: one directory, whatever folder Kalon itself is in.

Root keeps them in /var/lib/kalon, anybody else below their own ~/.local/share; `KALON_DATA` says otherwise. Until
November 2026 each checkout had a folder of its own below that: such data are found and taken over.
"""

from __future__ import annotations

import os
import re
from pathlib import Path

from .postgres import HostTrouble, LocalServer, Say
from .supervise import only_one

LAST = "pgdata"
"""What is moved last: as long as it isn't here, a move that was cut off goes on."""

THROWN_AWAY = re.compile(r"(test|bench)-[0-9a-f]{8}|drill$")
"""What tests and benches of those days left when they were killed; what an archive's trial did."""


def default_home() -> Path:
    """The directory: `KALON_DATA`, or the machine's own."""
    if given := os.environ.get("KALON_DATA"):
        return Path(given).resolve()
    return base()


def base() -> Path:
    """The machine's directory for whoever runs this."""
    return Path("/var/lib/kalon") if os.geteuid() == 0 else Path.home() / ".local" / "share" / "kalon"


def older_names(checkout: Path) -> str:
    """What the folder of a checkout was called when each had its own."""
    return re.sub(r"[^a-z0-9]+", "-", str(checkout).lower()).strip("-")


def older(home: Path, checkout: Path) -> Path | None:
    """Data of the older layout below `home`: this checkout's, else the only ones there are.

    Raises `HostTrouble` where there are several and none is this checkout's."""
    mine = home / older_names(checkout)
    if (mine / LAST).is_dir():
        return mine
    others = sorted(
        p.parent for p in home.glob(f"*/{LAST}") if (p / "PG_VERSION").exists() and not THROWN_AWAY.match(p.parent.name)
    )
    if len(others) > 1:
        named = ", ".join(str(p) for p in others)
        raise HostTrouble(
            f"There are data of several folders of Kalon here: {named}. Say once which are this machine's: write them "
            "out with KALON_DATA=FOLDER ./kalon backup FILE and bring them in with ./kalon restore FILE; or set "
            "KALON_DATA to one of them, or to an empty folder to begin anew."
        )
    return others[0] if others else None


def ready(say: Say, checkout: Path | None = None) -> Path:
    """The directory, named, with what an older layout left taken over into it. Raises `HostTrouble`."""
    home = default_home()
    say(f"data in {home}")
    if "KALON_DATA" in os.environ or (home / LAST).exists() or not home.is_dir():
        return home
    was = older(home, checkout or Path(__file__).parents[3])
    if was is None:
        return home
    with only_one(was):
        LocalServer(was).stop()
        say(f"taking over the data in {was}")
        for entry in sorted(was.iterdir(), key=lambda p: (p.name == LAST, p.name)):
            if entry.name != "kalon.lock":
                entry.rename(home / entry.name)
    (was / "kalon.lock").unlink(missing_ok=True)
    was.rmdir()
    return home
