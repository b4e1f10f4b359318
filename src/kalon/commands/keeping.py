"""What a machine's years need: `backup`, `restore`, `archive`, `upgrade`."""

from __future__ import annotations

import argparse
import getpass
import os
import sys
from datetime import datetime
from pathlib import Path

from .common import ROOT, Add, database, put_right, say, sure, up_to_date


def backup(args: argparse.Namespace) -> None:
    """Write a backup."""
    from ..host import backup as backups
    from ..host.status import note_backup, size

    with database(alone=False) as (to, server):
        _not_empty(to.owner)
        if args.file.is_file():
            there = args.file.stat()
            when = datetime.fromtimestamp(there.st_mtime).astimezone()
            sure(f"{args.file} is there already, {size(there.st_size)} of {when:%-d %B %Y, %H:%M}, and would go.", args)
        backups.backup(to.owner, args.file)
    if server:
        note_backup(server.home, args.file, datetime.now().astimezone())
    say(f"backup written to {args.file}")


def _not_empty(url: str) -> None:
    """Raises `HostTrouble` where there is nothing to back up."""
    import psycopg

    from ..host.postgres import HostTrouble

    with psycopg.connect(url) as cx:
        made = cx.execute("SELECT to_regclass('shop')").fetchone() != (None,)
        if not made or not cx.execute("SELECT 1 FROM shop LIMIT 1").fetchone():
            raise HostTrouble("There is no shop on this machine yet, and so nothing to write.")


def upgrade(args: argparse.Namespace) -> None:
    """Bring this machine to another version, tried beforehand; back by itself where it fails."""
    from ..host import archive, home
    from ..host import upgrade as upgrades
    from ..host.postgres import HostTrouble, LocalServer

    if os.environ.get("KALON_DATABASE_URL"):
        raise HostTrouble("KALON_DATABASE_URL is set: whoever runs that database sees to its copies. Fetch and serve.")
    at_home = home.ready(say)
    server = LocalServer(at_home, say, settings=archive.server_settings(at_home))
    source = str(Path(args.source).resolve()) if Path(args.source).exists() else args.source
    upgrades.upgrade(ROOT, server, source, args.to, say, lambda text: sure(text, args))


def archive_on(args: argparse.Namespace) -> None:
    """Keep an archive in a folder from now on, with a first full backup; its key is said once."""
    from ..host import archive, home, service
    from ..host.postgres import HostTrouble

    to = args.folder.resolve()
    archive.check(home.default_home(), to)
    with database() as (url, server):
        if server is None:
            raise HostTrouble("KALON_DATABASE_URL is set: whoever runs that database keeps its archive.")
        _not_empty(url.owner)
        to.mkdir(parents=True, exist_ok=True)
        if archive.same_disk(server.home, to):
            sure(f"{to} is on the disk the data are on: when that dies, both are gone.", args)
        key = archive.begin(server, to, os.environ.get("KALON_ARCHIVE_KEY"))
        server.stop()
        server.settings = archive.server_settings(server.home)
        server.start()
        archive.made_ready(server)
        say("the first full backup")
        archive.back_up(server, "full")
    say(f"archive in {to}: from now on it can be had back as it was at any moment (./kalon restore --at …)")
    print(f"Its key, without which nobody reads it, you neither. Keep it where this machine isn't:\n    {key}")
    if service.UNIT.exists():
        say("the service may not write there yet: run sudo ./kalon install as before")


def _moment(text: str) -> datetime:
    """A moment of this machine's time: `2026-11-30 14:05`, with seconds where they matter, or today's `14:05`."""
    from ..host.postgres import HostTrouble

    day = f"{datetime.now():%Y-%m-%d} " if len(text) <= 8 else ""
    try:
        return datetime.fromisoformat(day + text).astimezone()
    except ValueError:
        raise HostTrouble(f"“{text}” is no moment: write it as 2026-11-30 14:05, or 14:05 for today.") from None


def _go_back(args: argparse.Namespace) -> None:
    from ..host import archive, goback, home
    from ..host.postgres import HostTrouble, LocalServer
    from ..host.supervise import only_one

    when = _moment(args.at)
    at_home = home.ready(say)
    with only_one(at_home):
        server = LocalServer(at_home, say)
        put_right(server)
        if args.source:
            key = os.environ.get("KALON_ARCHIVE_KEY") or (sys.stdin.isatty() and getpass.getpass("The archive's key: "))
            if not key:
                raise HostTrouble("There is nobody to ask for the archive's key: give it as KALON_ARCHIVE_KEY.")
            archive.begin(server, args.source.resolve(), key)
        if archive.where(at_home) is None:
            raise HostTrouble("There is no archive of this machine. On a new one say where it is: --from FOLDER.")
        server.settings = archive.server_settings(at_home)
        if (server.data / "PG_VERSION").exists():
            sure(f"All that was done since {when:%-d %B %Y, %H:%M:%S} would be gone from the shop.", args)
        try:
            kept = goback.go_back(server, when, say)
        except HostTrouble:
            if args.source:
                archive.end(at_home)  # not this machine's before something came out of it
            raise
        try:
            up_to_date(server.addresses().owner)
        finally:
            server.stop()
    say(f"it is as it was on {when:%-d %B %Y, %H:%M:%S}")
    if kept:
        say(f"what was there before is in {kept}; when nobody misses anything, remove that folder")


def restore(args: argparse.Namespace) -> None:
    """Put a backup in place, or the database as it was at a moment."""
    from ..host import backup as backups
    from ..host.postgres import HostTrouble

    if bool(args.file) == bool(args.at):
        raise HostTrouble("Say what to restore: a backup's FILE, or --at a moment of the archive.")
    if args.at:
        _go_back(args)
        return
    with database() as (to, _):
        if args.file.is_file() and (lost := backups.lost(to.owner, args.file)):
            sure(lost.text, args)
        backups.restore(to.owner, args.file)
    say(f"restored from {args.file}")


def add(add: Add) -> None:
    """What they take on the command line."""
    p = add("backup", help="write the database into a file")
    p.add_argument("file", type=Path)
    p.add_argument("--yes", action="store_true", help="what is there already may go")
    p.set_defaults(run=backup)
    p = add("restore", help="put a backup's file in place, or the database as it was at a moment of its archive")
    p.add_argument("file", type=Path, nargs="?")
    p.add_argument("--at", metavar="MOMENT", help="2026-11-30 14:05, or 14:05 for today")
    p.add_argument(
        "--from", dest="source", type=Path, metavar="FOLDER", help="an archive this machine doesn't know yet"
    )
    p.add_argument("--yes", action="store_true", help="what is there already may go")
    p.set_defaults(run=restore)
    p = add("upgrade", help="bring this machine to the version of a bundle or a clone; back by itself where that fails")
    p.add_argument("source", metavar="BUNDLE", help="a git bundle's file, or the folder of a clone")
    p.add_argument("--to", default="HEAD", metavar="NAME", help="which version of it; else its newest")
    p.add_argument("--yes", action="store_true", help="ask nothing")
    p.set_defaults(run=upgrade)
    p = add("archive", help="keep an archive on another disk: any moment of the last month can be had back")
    p.add_argument("folder", type=Path)
    p.add_argument("--yes", action="store_true", help="also on the disk the data are on")
    p.set_defaults(run=archive_on)
