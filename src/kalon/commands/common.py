"""What commands share: where Kalon is, what they say, the database they work on, whether somebody is sure."""

from __future__ import annotations

import argparse
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from ..host.postgres import Addresses, LocalServer

Add = Callable[..., argparse.ArgumentParser]
"""By which a command is added to the command line: its name, what it is for."""
ROOT = Path(__file__).parents[3]


def say(text: str) -> None:
    """One step, announced."""
    print(f"· {text}", file=sys.stderr, flush=True)


ROLES_SQL = """CREATE ROLE kalon_app LOGIN PASSWORD '…';
CREATE ROLE kalon_gate LOGIN PASSWORD '…';
GRANT kalon_app TO the owner of the tables WITH ADMIN OPTION;"""


@contextmanager
def database(*, alone: bool = True, at: str = "") -> Iterator[tuple[Addresses, LocalServer | None]]:
    """The operator's database by its three addresses, or our own server for as long as this lasts, served `at` some
    address.

    Without `alone`, a server that a running Kalon keeps is used as it is and left running."""
    from ..host import archive, home
    from ..host.postgres import Addresses, HostTrouble, LocalServer
    from ..host.supervise import only_one

    if url := os.environ.get("KALON_DATABASE_URL"):
        yield Addresses(url, os.environ.get("KALON_APP_URL", ""), os.environ.get("KALON_GATE_URL", "")), None
        return
    at_home = home.ready(say)
    server = LocalServer(at_home, say, settings=archive.server_settings(at_home))
    with ExitStack() as holding:
        try:
            holding.enter_context(only_one(server.home, at))
        except HostTrouble:
            if alone or not server.running():
                raise
            yield server.addresses(), server
            return
        put_right(server)
        say("PostgreSQL")
        server.start()
        try:
            yield server.addresses(), server
        finally:
            server.stop()


def put_right(server: LocalServer) -> None:
    """What an upgrade that was cut off left; the data are held."""
    if (server.home / "upgrading.json").exists():
        from ..host import upgrade

        upgrade.put_right(server, ROOT, say)


def up_to_date(url: str) -> None:
    """Bring a database to this version. Raises `HostTrouble`."""
    import psycopg

    from ..host.postgres import APP, GATE, HostTrouble
    from ..store.migrate import migrate

    try:
        with psycopg.connect(url) as cx:
            roles = cx.execute("SELECT count(*) FROM pg_roles WHERE rolname IN (%s, %s)", [APP, GATE]).fetchone()
        if roles != (2,):
            raise HostTrouble(f"The database lacks the roles Kalon signs in as. Once, as its superuser:\n{ROLES_SQL}")
        applied = migrate(url)
    except psycopg.OperationalError as error:
        raise HostTrouble(f"The database doesn't answer: {str(error).strip().splitlines()[0]}") from None
    if applied:
        say(f"database brought up to date: {', '.join(applied)}")


def sure(question: str, args: argparse.Namespace) -> None:
    """Whether somebody wants that, who was told what it does. Raises `HostTrouble` where nobody says so."""
    from ..host.postgres import HostTrouble

    if args.yes:
        return
    if not sys.stdin.isatty():
        raise HostTrouble(f"{question} Nobody can be asked whether that is meant: say --yes.")
    if input(f"{question} Go on? Type yes: ").strip().lower() != "yes":
        raise HostTrouble("Nothing was changed.")
