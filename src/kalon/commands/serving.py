"""Serving: `demo`, `serve`, and as a service of the machine `install`, `uninstall`, `status`."""

from __future__ import annotations

import argparse
import os
import sys
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

from .common import ROLES_SQL, ROOT, Add, database, put_right, say, up_to_date
from .people import new_shop, of_shop

if TYPE_CHECKING:
    from ..host.tablets import Front, Tablets


def demo(args: argparse.Namespace) -> None:
    """Install, start everything, load the made-up scenario, serve."""
    from ..demo.people import DATABASE, SIGN_INS
    from ..host import archive, home
    from ..host.postgres import LocalServer
    from ..host.supervise import listen, only_one, serve

    os.environ.setdefault("KALON_LOG", "WARNING")
    opened = listen(args.host, args.port, say)
    at_home = home.ready(say)
    # The journal of a machine that has an archive goes there whatever is served: a hole in it can't be played over.
    server = LocalServer(at_home, say, settings=archive.server_settings(at_home))
    wanted = _tablets(args, free=True)
    with only_one(server.home, f"http://{args.host}:{args.port}", DATABASE):
        front = _front(wanted, args, server.home)
        put_right(server)
        say("PostgreSQL")
        server.start()
        try:
            url = server.ensure_database(DATABASE, fresh=args.fresh)
            up_to_date(url)
            _load(url)
            people = "\n".join(f"    {p.login:10} {p.password:18} {p.role}, {p.shop}" for p in SIGN_INS)
            ready = f"{_at(args, front)}\n  Sign in with\n{people}\n  Ctrl-C stops it."
            serve(server.addresses(DATABASE), opened, 1, say, ready, server, front)
        finally:
            server.stop()


def _load(url: str) -> None:
    """Load the scenario unless it is there; the loader is imported only then, for it brings the whole core."""
    import psycopg

    with psycopg.connect(url) as cx:
        loaded = cx.execute("SELECT 1 FROM staff LIMIT 1").fetchone()
    if not loaded:
        from ..demo.load import load

        load(url, say)


def serve_for_real(args: argparse.Namespace) -> None:
    """Serve the shop's own data."""
    from ..host import home
    from ..host.postgres import HostTrouble
    from ..host.supervise import listen, serve

    opened = listen(args.host, args.port, say)
    wanted = _tablets(args, free=True)
    with database(at=f"http://{args.host}:{args.port}") as (to, server):
        if not (to.app and to.gate):
            raise HostTrouble(
                "With KALON_DATABASE_URL, set KALON_APP_URL and KALON_GATE_URL too: the addresses of the roles "
                f"kalon_app and kalon_gate, as whom the web signs in. If they don't exist yet:\n{ROLES_SQL}"
            )
        up_to_date(to.owner)
        _first_hour(to.owner, args)
        front = _front(wanted, args, server.home if server else home.default_home())
        serve(to, opened, args.workers, say, _at(args, front), server, front)


def _tablets(args: argparse.Namespace, *, free: bool = False) -> Tablets | None:
    """What was said of tablets, if they are served at all; with `free`, its ports can be had now. Raises `HostTrouble`
    where it can't be done."""
    from ..host import tablets
    from ..host.postgres import HostTrouble

    if not args.tablets:
        if args.certificate or args.key or args.known_as:
            raise HostTrouble("A name or a certificate is for tablets: say --tablets too.")
        return None
    if bool(args.certificate) != bool(args.key):
        raise HostTrouble("A certificate comes with its key: say both, --certificate FILE --key FILE.")
    if args.certificate and not args.known_as:
        raise HostTrouble("Say which name the certificate is of: --as bench.example.")
    own = (args.certificate.resolve(), args.key.resolve()) if args.certificate else None
    wanted = tablets.Tablets(
        tuple(args.known_as) or (tablets.USUAL,), args.https_port or tablets.SECURE_PORT,
        args.http_port or tablets.PLAIN_PORT, own,
    )  # fmt: skip
    tablets.check(wanted)
    if free:
        tablets.free(wanted)
    return wanted


def _front(wanted: Tablets | None, args: argparse.Namespace, home: Path) -> Front | None:
    """What stands before the web processes for tablets; none where they aren't served. The data are held meanwhile."""
    from ..host import tablets
    from ..host.supervise import reached_at

    if not wanted:
        tablets.forget(home)
        return None
    return tablets.Front(wanted, home, f"{reached_at(args.host)}:{args.port}", say)


def _at(args: argparse.Namespace, front: Front | None) -> str:
    """Where it is, for whoever started it."""
    here = f"Kalon is at http://{args.host}:{args.port}"
    return f"{here}\n  Tablets: {'  '.join(front.urls)} (House, Tablets says how they trust it)" if front else here


def _first_hour(url: str, args: argparse.Namespace) -> None:
    """Where there is no shop yet: make one, of what was said and what is asked for. Raises `HostTrouble` where nobody
    can be asked."""
    import psycopg

    from ..host.postgres import HostTrouble

    with psycopg.connect(url) as cx:
        if cx.execute("SELECT 1 FROM shop LIMIT 1").fetchone():
            return
    if not (args.yes or args.shop or sys.stdin.isatty()):
        raise HostTrouble(
            "There is no shop on this machine yet. Run ./kalon serve at a terminal, which asks what it has to know; or "
            "./kalon shop add --shop NAME --name PERSON --login NAME."
        )
    say("no shop on this machine yet: this makes it")
    new_shop(url, args)


def status(args: argparse.Namespace) -> None:
    """Say how this machine's Kalon is; nothing is started. Ends with 1 where something is wrong."""
    from ..host import home
    from ..host import status as of
    from ..host.postgres import HostTrouble

    now = datetime.now().astimezone()
    at = home.default_home()
    try:
        found = of.found(at, now)
    except PermissionError:
        raise HostTrouble(f"The data in {at} aren't yours to read: ask as root (sudo ./kalon status).") from None
    print(of.as_json(found) if args.json else "\n".join(of.lines(found, now)))
    sys.exit(0 if found.well else 1)


def install(args: argparse.Namespace) -> None:
    """Make Kalon a service of this machine: the first hour if it wasn't had yet, its own user, its unit."""
    from ..host import archive, home, service

    data = home.default_home()
    wanted = service.Service(ROOT, data, args.host, args.port, args.workers, _tablets(args), archive.where(data))
    service.check(wanted)
    service.rest(say)
    with database() as (to, _):
        up_to_date(to.owner)
        _first_hour(to.owner, args)
    service.install(wanted, say)


def uninstall(_: argparse.Namespace) -> None:
    """Take the service out; the data stay."""
    from ..host import home, service

    service.uninstall(home.default_home(), say)


def add(add: Add) -> None:
    """What they take on the command line."""
    for name, run, help_ in (
        ("demo", demo, "install, start, load the made-up scenario, serve"),
        ("serve", serve_for_real, "serve the shop's own data"),
        ("install", install, "make it a service of this machine, that starts with it and is started again"),
    ):
        p = add(name, help=help_)
        p.add_argument("--host", default="127.0.0.1")
        p.add_argument("--port", type=int, default=8000)
        p.add_argument("--tablets", action="store_true", help="serve tablets of the shop's network too, over HTTPS")
        p.add_argument("--as", dest="known_as", action="append", default=[], metavar="NAME",
                       help="what this machine is called in the network; else kalon.local")  # fmt: skip
        p.add_argument("--https-port", type=int, help="where tablets come in; else 443")
        p.add_argument("--http-port", type=int, help="where tablets are told how to trust it; else 80")
        p.add_argument("--certificate", type=Path, help="a certificate of the shop's own, PEM, with --key and --as")
        p.add_argument("--key", type=Path)
        if name == "demo":
            p.add_argument("--fresh", action="store_true", help="throw the demo data away and load it anew")
        else:
            p.add_argument("--workers", type=int, default=2)
            of_shop(p, new=True)
        p.set_defaults(run=run)
    add("uninstall", help="take the service out; the data stay").set_defaults(run=uninstall)
    p = add("status", help="who serves, database, learner, last backup, disk; ends with 1 where something is wrong")
    p.add_argument("--json", action="store_true", help="for a program that watches")
    p.set_defaults(run=status)
