"""`./kalon …`: every command of the project."""

from __future__ import annotations

import argparse
import getpass
import json
import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .host.postgres import Addresses, LocalServer
    from .host.tablets import Front, Tablets

ROOT = Path(__file__).parents[2]
MOST_AT_ONCE = 4
"""Test processes at once at most; one more than there are cores, for each waits for its database and its browser."""


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
    from .host import archive, home
    from .host.postgres import Addresses, HostTrouble, LocalServer
    from .host.supervise import only_one

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
        _put_right(server)
        say("PostgreSQL")
        server.start()
        try:
            yield server.addresses(), server
        finally:
            server.stop()


def _put_right(server: LocalServer) -> None:
    """What an upgrade that was cut off left; the data are held."""
    if (server.home / "upgrading.json").exists():
        from .host import upgrade

        upgrade.put_right(server, ROOT, say)


def _migrate(url: str) -> None:
    import psycopg

    from .host.postgres import APP, GATE, HostTrouble
    from .store.migrate import migrate

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


def demo(args: argparse.Namespace) -> None:
    """Install, start everything, load the made-up scenario, serve."""
    from .demo.people import DATABASE, SIGN_INS
    from .host import archive, home
    from .host.postgres import LocalServer
    from .host.supervise import listen, only_one, serve

    os.environ.setdefault("KALON_LOG", "WARNING")
    opened = listen(args.host, args.port, say)
    at_home = home.ready(say)
    # The journal of a machine that has an archive goes there whatever is served: a hole in it can't be played over.
    server = LocalServer(at_home, say, settings=archive.server_settings(at_home))
    wanted = _tablets(args, free=True)
    with only_one(server.home, f"http://{args.host}:{args.port}", DATABASE):
        front = _front(wanted, args, server.home)
        _put_right(server)
        say("PostgreSQL")
        server.start()
        try:
            url = server.ensure_database(DATABASE, fresh=args.fresh)
            _migrate(url)
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
        from .demo.load import load

        load(url, say)


def serve_for_real(args: argparse.Namespace) -> None:
    """Serve the shop's own data."""
    from .host import home
    from .host.postgres import HostTrouble
    from .host.supervise import listen, serve

    opened = listen(args.host, args.port, say)
    wanted = _tablets(args, free=True)
    with database(at=f"http://{args.host}:{args.port}") as (to, server):
        if not (to.app and to.gate):
            raise HostTrouble(
                "With KALON_DATABASE_URL, set KALON_APP_URL and KALON_GATE_URL too: the addresses of the roles "
                f"kalon_app and kalon_gate, as whom the web signs in. If they don't exist yet:\n{ROLES_SQL}"
            )
        _migrate(to.owner)
        _first_hour(to.owner, args)
        front = _front(wanted, args, server.home if server else home.default_home())
        serve(to, opened, args.workers, say, _at(args, front), server, front)


def _tablets(args: argparse.Namespace, *, free: bool = False) -> Tablets | None:
    """What was said of tablets, if they are served at all; with `free`, its ports can be had now. Raises `HostTrouble`
    where it can't be done."""
    from .host import tablets
    from .host.postgres import HostTrouble

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
    from .host import tablets
    from .host.supervise import reached_at

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

    from .host.postgres import HostTrouble

    with psycopg.connect(url) as cx:
        if cx.execute("SELECT 1 FROM shop LIMIT 1").fetchone():
            return
    if not (args.yes or args.shop or sys.stdin.isatty()):
        raise HostTrouble(
            "There is no shop on this machine yet. Run ./kalon serve at a terminal, which asks what it has to know; or "
            "./kalon shop add --shop NAME --name PERSON --login NAME."
        )
    say("no shop on this machine yet: this makes it")
    _new_shop(url, args)


def _new_shop(url: str, args: argparse.Namespace) -> None:
    import psycopg
    from psycopg.rows import dict_row

    from .host import shops

    given = {q.slug: getattr(args, q.slug) for q in shops.NEW}
    asking = None if args.yes or not sys.stdin.isatty() else input
    said = shops.answers(shops.NEW, given, asking, say)
    password = _first_password(said["login"])
    with psycopg.connect(url, row_factory=dict_row) as cx:
        who = shops.add(cx, said, password, args.chain)
    say(f"{who.shop_name} is made; {who.login} signs in there as its manager")


def shop_add(args: argparse.Namespace) -> None:
    """Make a shop with its first manager."""
    with database(alone=False) as (to, _):
        _migrate(to.owner)
        _new_shop(to.owner, args)


def shop_set(args: argparse.Namespace) -> None:
    """Change what a shop is called and counts in."""
    import psycopg
    from psycopg.rows import dict_row

    from .host import shops

    given = {q.slug: value for q in shops.HOUSE if (value := getattr(args, q.slug)) is not None}
    said = shops.answers(tuple(q for q in shops.HOUSE if q.slug in given), given, None, say)
    with database(alone=False) as (to, _):
        _migrate(to.owner)
        with psycopg.connect(to.owner, row_factory=dict_row) as cx:
            shops.change(cx, args.shop, said, args.rename)
    say(f"{args.rename or args.shop} changed")


def shop_list(args: argparse.Namespace) -> None:
    """Every shop, its chain, and how many sign in there."""
    import psycopg
    from psycopg.rows import dict_row

    from .host import shops

    del args
    with database(alone=False) as (to, _):
        _migrate(to.owner)
        with psycopg.connect(to.owner, row_factory=dict_row) as cx:
            rows = list(shops.listing(cx))
    for r in rows:
        print(f"{r['name']:30} {r['chain']:30} {r['people']} sign in")
    if not rows:
        say(NO_SHOP)


NO_SHOP = "no shop on this machine yet: ./kalon serve asks what it has to know, or ./kalon shop add makes one"


def _password() -> str:
    """`KALON_PASSWORD`, or asked for twice at a terminal. Raises `BadInput`."""
    from .core.errors import BadInput

    if told := os.environ.get("KALON_PASSWORD"):
        return told
    if not sys.stdin.isatty():
        raise BadInput("There is nobody to ask for a password: give it as KALON_PASSWORD.")
    first = getpass.getpass("Password: ")
    if getpass.getpass("The same again: ") != first:
        raise BadInput("Those two were not the same.")
    return first


def _first_password(login: str) -> str:
    """A password that may be one; at a terminal asked for until it is, so that nothing has to be said twice."""
    from .core.errors import BadInput
    from .store.staff import check_password, plain_login

    while True:
        try:
            password = _password()
            check_password(password, plain_login(login))
            return password
        except BadInput as error:
            if "KALON_PASSWORD" in os.environ or not sys.stdin.isatty():
                raise
            say(error.text)


def user_add(args: argparse.Namespace) -> None:
    """Add a person to a shop that is there."""
    import psycopg
    from psycopg.rows import dict_row

    from .host import shops
    from .store import staff

    password = _password()
    with database(alone=False) as (to, _):
        _migrate(to.owner)
        with psycopg.connect(to.owner, row_factory=dict_row) as cx:
            shop = shops.named(cx, args.shop)
            staff.add_staff(cx, shop["id"], args.login, args.name or args.login, args.role, password)
    say(f"{args.login} is now a {args.role} of {shop['name']}")


def user_set(args: argparse.Namespace) -> None:
    """Let somebody in or shut them out, give a new role or password; their sessions all end at once."""
    import psycopg
    from psycopg.rows import dict_row

    from .core.errors import NotFound
    from .store import staff

    password = _password() if args.password else None
    active = {"in": True, "out": False}.get(args.let or "")
    with database(alone=False) as (to, _):
        _migrate(to.owner)
        with psycopg.connect(to.owner, row_factory=dict_row) as cx:
            found = cx.execute(
                "SELECT s.id FROM staff s JOIN shop h ON h.id = s.shop_id WHERE s.login = %s AND h.name = %s",
                [staff.plain_login(args.login), args.shop],
            ).fetchone()
            if not found:
                raise NotFound(f"Nobody signs in as {args.login} at {args.shop}.")
            staff.alter(cx, found["id"], active=active, role=args.role)
            if password:
                staff.set_password(cx, found["id"], password)
            ended = staff.end_sessions(cx, found["id"])
    say(f"{args.login} changed; {ended} session{'s' if ended != 1 else ''} ended")


def user_list(args: argparse.Namespace) -> None:
    """Everyone of every shop."""
    import psycopg

    del args

    with database(alone=False) as (to, _):
        _migrate(to.owner)
        with psycopg.connect(to.owner) as cx:
            rows = cx.execute(
                "SELECT h.name, s.login, s.name, s.role, s.active FROM staff s JOIN shop h ON h.id = s.shop_id "
                "ORDER BY 1, 2"
            ).fetchall()
    if not rows:
        say(NO_SHOP)
    for shop, login, name, role, active in rows:
        print(f"{shop:30} {login:16} {name:24} {role:8} {'' if active else 'shut out'}".rstrip())


def calc(args: argparse.Namespace) -> None:
    """Run a computation on the JSON of standard input."""
    from .core.calc import TABLE, call
    from .core.errors import BadInput

    if args.list or not args.name:
        for c in TABLE.values():
            print(f"{c.name:16} {c.summary}")
        return
    try:
        given = json.loads(sys.stdin.buffer.read())
    except (ValueError, RecursionError) as error:
        raise BadInput(f"Standard input is not JSON: {error}", code="not-json") from None
    print(json.dumps(call(args.name, given), ensure_ascii=False))


def measure(args: argparse.Namespace) -> None:
    """Measure a file: a scan, a photograph, a mat's CSV, a record, or the JSON of gauge numbers."""
    from .core.errors import BadInput
    from .core.feet.combine import Captured, FootMeasureOut, foot_measure, foot_measures
    from .core.feet.gauge import Feet
    from .core.feet.said import Said
    from .files.captures import measure as measure_file

    try:
        data = args.file.read_bytes()
    except OSError as error:
        raise BadInput(f"{args.file} can't be read: {error.strerror}.", code="no-file") from None
    given = {"side": args.side, "unit": args.unit, "paper": args.paper, "cell_mm": args.cell_mm, "stance": args.stance}
    said = Said.model_validate({k: v for k, v in given.items() if v is not None})
    results: list[FootMeasureOut]
    if data[:1] == b"{" and b'"foot"' in data[:4000]:
        from .core.calc import TABLE
        from .core.errors import read

        results = [foot_measure(read(TABLE["foot-measure"].takes, json.loads(data)))]  # type: ignore[arg-type]
    else:
        found = measure_file(data, args.file.name, said)
        results = [foot_measures(m.reading.side, Feet(), [Captured(id="file", reading=m.reading)]) for m in found]
    out = [r.model_dump(mode="json", exclude_none=True) for r in results]
    print(json.dumps(out[0] if len(out) == 1 else out, ensure_ascii=False))


def simulate(args: argparse.Namespace) -> None:
    """Write practice files of a made-up pair of feet, and what is true of them."""
    from dataclasses import asdict

    from .devices.practice import make

    args.into.mkdir(parents=True, exist_ok=True)
    for side in ("left", "right") if args.side == "both" else (args.side,):
        data, dims = make(args.form, args.seed, side)
        file = args.into / f"foot-{args.seed}-{side}.{args.form}"
        file.write_bytes(data)
        truth = {**asdict(dims), "arch_height_index": dims.arch_height_index, "heel_to_ball_mm": dims.heel_to_ball_mm}
        file.with_suffix(".truth.json").write_text(json.dumps(truth, indent=1) + "\n", encoding="utf-8")
        print(file)


SHOE_SAYS = {
    "paper": None, "thick_mm": "how thick the insole is", "stud_mm": "how tall the studs stand",
    "sole_mm": "how long the sole is, by rule", "wide_mm": "how wide the sole is at the ball",
    "upper_heel_mm": "how wide the upper is at the heel",
}  # fmt: skip
"""What may be said of a shoe's picture, and in which words it is asked for."""


def measure_shoe(args: argparse.Namespace) -> None:
    """Measure the picture of an insole on paper, or of a sole or a side over a hung sheet."""
    from .core.errors import BadInput, read
    from .files.shoes import ShoeSaid
    from .files.shoes import measure_shoe as measured

    try:
        data = args.file.read_bytes()
    except OSError as error:
        raise BadInput(f"{args.file} can't be read: {error.strerror}.", code="no-file") from None
    said = read(ShoeSaid, {k: v for k in SHOE_SAYS if (v := getattr(args, k)) is not None})
    print(measured(data, said, way=args.way).reading.model_dump_json(indent=1))


def simulate_shoe(args: argparse.Namespace) -> None:
    """Write a practice picture of a made-up shoe, and what is true of it."""
    from .devices.shoe_pictures import practice_picture

    args.into.mkdir(parents=True, exist_ok=True)
    file = args.into / f"shoe-{args.seed}-{args.form}.png"
    data, truth = practice_picture(
        args.form, args.seed, kind=args.kind, tilt_deg=args.tilt,
        studs_worn_mm=args.studs_worn, hook_lost_deg=args.hook_lost,
    )  # fmt: skip
    file.write_bytes(data)
    file.with_suffix(".truth.json").write_text(json.dumps(truth, indent=1) + "\n", encoding="utf-8")
    print(file)


def _sure(question: str, args: argparse.Namespace) -> None:
    """Whether somebody wants that, who was told what it does. Raises `HostTrouble` where nobody says so."""
    from .host.postgres import HostTrouble

    if args.yes:
        return
    if not sys.stdin.isatty():
        raise HostTrouble(f"{question} Nobody can be asked whether that is meant: say --yes.")
    if input(f"{question} Go on? Type yes: ").strip().lower() != "yes":
        raise HostTrouble("Nothing was changed.")


def backup(args: argparse.Namespace) -> None:
    """Write a backup."""
    from .host import backup as backups
    from .host.status import note_backup, size

    with database(alone=False) as (to, server):
        _not_empty(to.owner)
        if args.file.is_file():
            there = args.file.stat()
            when = datetime.fromtimestamp(there.st_mtime).astimezone()
            _sure(
                f"{args.file} is there already, {size(there.st_size)} of {when:%-d %B %Y, %H:%M}, and would go.", args
            )
        backups.backup(to.owner, args.file)
    if server:
        note_backup(server.home, args.file, datetime.now().astimezone())
    say(f"backup written to {args.file}")


def _not_empty(url: str) -> None:
    """Raises `HostTrouble` where there is nothing to back up."""
    import psycopg

    from .host.postgres import HostTrouble

    with psycopg.connect(url) as cx:
        made = cx.execute("SELECT to_regclass('shop')").fetchone() != (None,)
        if not made or not cx.execute("SELECT 1 FROM shop LIMIT 1").fetchone():
            raise HostTrouble("There is no shop on this machine yet, and so nothing to write.")


def status(args: argparse.Namespace) -> None:
    """Say how this machine's Kalon is; nothing is started. Ends with 1 where something is wrong."""
    from .host import home
    from .host import status as of
    from .host.postgres import HostTrouble

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
    from .host import archive, home, service

    data = home.default_home()
    wanted = service.Service(ROOT, data, args.host, args.port, args.workers, _tablets(args), archive.where(data))
    service.check(wanted)
    service.rest(say)
    with database() as (to, _):
        _migrate(to.owner)
        _first_hour(to.owner, args)
    service.install(wanted, say)


def uninstall(_: argparse.Namespace) -> None:
    """Take the service out; the data stay."""
    from .host import home, service

    service.uninstall(home.default_home(), say)


def upgrade(args: argparse.Namespace) -> None:
    """Bring this machine to another version, tried beforehand; back by itself where it fails."""
    from .host import archive, home
    from .host import upgrade as upgrades
    from .host.postgres import HostTrouble, LocalServer

    if os.environ.get("KALON_DATABASE_URL"):
        raise HostTrouble("KALON_DATABASE_URL is set: whoever runs that database sees to its copies. Fetch and serve.")
    at_home = home.ready(say)
    server = LocalServer(at_home, say, settings=archive.server_settings(at_home))
    source = str(Path(args.source).resolve()) if Path(args.source).exists() else args.source
    upgrades.upgrade(ROOT, server, source, args.to, say, lambda text: _sure(text, args))


def archive_on(args: argparse.Namespace) -> None:
    """Keep an archive in a folder from now on, with a first full backup; its key is said once."""
    from .host import archive, home, service
    from .host.postgres import HostTrouble

    to = args.folder.resolve()
    archive.check(home.default_home(), to)
    with database() as (url, server):
        if server is None:
            raise HostTrouble("KALON_DATABASE_URL is set: whoever runs that database keeps its archive.")
        _not_empty(url.owner)
        to.mkdir(parents=True, exist_ok=True)
        if archive.same_disk(server.home, to):
            _sure(f"{to} is on the disk the data are on: when that dies, both are gone.", args)
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
    from .host.postgres import HostTrouble

    day = f"{datetime.now():%Y-%m-%d} " if len(text) <= 8 else ""
    try:
        return datetime.fromisoformat(day + text).astimezone()
    except ValueError:
        raise HostTrouble(f"“{text}” is no moment: write it as 2026-11-30 14:05, or 14:05 for today.") from None


def _go_back(args: argparse.Namespace) -> None:
    from .host import archive, goback, home
    from .host.postgres import HostTrouble, LocalServer
    from .host.supervise import only_one

    when = _moment(args.at)
    at_home = home.ready(say)
    with only_one(at_home):
        server = LocalServer(at_home, say)
        _put_right(server)
        if args.source:
            key = os.environ.get("KALON_ARCHIVE_KEY") or (sys.stdin.isatty() and getpass.getpass("The archive's key: "))
            if not key:
                raise HostTrouble("There is nobody to ask for the archive's key: give it as KALON_ARCHIVE_KEY.")
            archive.begin(server, args.source.resolve(), key)
        if archive.where(at_home) is None:
            raise HostTrouble("There is no archive of this machine. On a new one say where it is: --from FOLDER.")
        server.settings = archive.server_settings(at_home)
        if (server.data / "PG_VERSION").exists():
            _sure(f"All that was done since {when:%-d %B %Y, %H:%M:%S} would be gone from the shop.", args)
        try:
            kept = goback.go_back(server, when, say)
        except HostTrouble:
            if args.source:
                archive.end(at_home)  # not this machine's before something came out of it
            raise
        try:
            _migrate(server.addresses().owner)
        finally:
            server.stop()
    say(f"it is as it was on {when:%-d %B %Y, %H:%M:%S}")
    if kept:
        say(f"what was there before is in {kept}; when nobody misses anything, remove that folder")


def restore(args: argparse.Namespace) -> None:
    """Put a backup in place, or the database as it was at a moment."""
    from .host import backup as backups
    from .host.postgres import HostTrouble

    if bool(args.file) == bool(args.at):
        raise HostTrouble("Say what to restore: a backup's FILE, or --at a moment of the archive.")
    if args.at:
        _go_back(args)
        return
    with database() as (to, _):
        if args.file.is_file() and (lost := backups.lost(to.owner, args.file)):
            _sure(lost.text, args)
        backups.restore(to.owner, args.file)
    say(f"restored from {args.file}")


def ratio() -> str:
    """Test lines against all code lines, blank lines aside."""

    def count(*patterns: str) -> int:
        files = {f for p in patterns for f in ROOT.glob(p) if "schema.d.ts" not in f.name}
        return sum(1 for f in files for line in f.read_text(encoding="utf-8").splitlines() if line.strip())

    tests = count("tests/**/*.py", "tests/**/*.ts")
    code = count("src/**/*.py", "src/**/*.sql", "web/src/**/*.ts", "web/src/**/*.tsx")
    return f"tests {tests} of {tests + code} lines: {100 * tests / (tests + code):.1f} %"


def test(args: argparse.Namespace) -> None:
    """Run the tests: all, the fast core ones, or those that what was changed can reach."""
    if args.ratio:
        print(ratio())
        return
    where = {"core": ["tests/core"], "all": ["tests"]}.get(args.what) or _reached()
    interface = "web" in where or (args.what == "all" and not args.rest)
    where = [w for w in where if w != "web"]
    if interface:
        done = subprocess.run(["npm", "--prefix", "web", "run", "--silent", "test"], cwd=ROOT, check=False)
        if done.returncode:
            sys.exit(done.returncode)
    if not where:
        say("nothing of Python's was changed that a test reaches")
        return
    waits = where != ["tests/core"]  # one more than there are cores, where some always wait
    at_once = min((os.cpu_count() or 1) + waits, MOST_AT_ONCE)
    spread = ["-n", str(at_once), "--dist", "loadfile", "--no-loadscope-reorder"]
    ends = ["--durations=10", "--durations-min=1"]
    command = [sys.executable, "-m", "pytest", *spread, *ends, *where, *args.rest]
    sys.exit(subprocess.run(command, cwd=ROOT, check=False).returncode)


def _reached() -> list[str]:
    """The test files that what was changed since the last commit can reach; `web` for the interface's unit tests.

    Of the core by imports; of what runs behind the application its whole layer. What a change of the core does behind
    the application is left to the whole run."""
    sys.path.insert(0, str(ROOT))
    from tests.changed import changed_files, reached

    found = reached(changed_files())
    say("reached: " + (" ".join(found) or "nothing"))
    return found


def openapi(_: argparse.Namespace) -> None:
    """Print the OpenAPI document."""
    from .api.app import create_app

    print(json.dumps(create_app().openapi(), indent=1))


@contextmanager
def _at_shop(args: argparse.Namespace) -> Iterator[tuple[Any, Any]]:
    """A transaction in a shop as one of its managers, and who that is."""
    import psycopg
    from psycopg.rows import dict_row

    from .demo.people import DATABASE
    from .store.staff import a_manager, act_as, digest

    with database(alone=False) as (to, server):
        url = server.addresses(DATABASE).owner if args.demo and server else to.owner
        _migrate(url)
        with psycopg.connect(url, row_factory=dict_row) as cx:
            who = a_manager(cx, args.shop)
            token = act_as(cx, who)
            yield cx, who
            cx.execute("RESET ROLE")
            cx.execute("DELETE FROM session WHERE token_hash = %s", [digest(token)])


def _meant(said: list[str]) -> dict[str, dict[str, str]]:
    """What words of a list mean, as `--mean sport:studio=lifting` says it."""
    found: dict[str, dict[str, str]] = {}
    for one in said:
        field, _, rest = one.partition(":")
        word, sign, answer = rest.rpartition("=")
        if not (sign and word and answer):
            raise SystemExit(f"kalon: “{one}” says nothing: write --mean sport:studio=lifting, or =- to leave it out.")
        found.setdefault(field, {})[word.lower()] = answer
    return found


def bring_in(args: argparse.Namespace) -> None:
    """Read a supplier's list and say what it would change; with --write, write it."""
    from .files.lists import lines_at, read_list
    from .files.workers import spooled
    from .store import house, sheet_words, sheets
    from .store.ids import new_id

    with _at_shop(args) as (cx, who), spooled(args.file.read_bytes()) as path:
        told = {n: v for n in ("sport", "maker", "system", "pairs", "sheet", "list_currency", "child")
                if (v := getattr(args, n))}  # fmt: skip
        settings = {"currency": house.current(cx).currency, "pairs": "ignored", "words": _meant(args.mean)} | told
        found = read_list(path, lambda _, step: say(step), settings, sheet_words.colours(cx))
        sheet = new_id()
        columns = found.as_columns()
        kept = settings | {"columns": [c.field for c in found.columns]}
        sheets.stage(cx, who, sheet, args.file.name, args.file.read_bytes(), columns, kept, lines_at(path))
        for note in found.notes:
            say(note)
        for column in found.columns:
            say(f"{column.heading}: {column.field}")
        for ask in found.asks:
            guess = f"; likely {ask['guess']}" if ask["guess"] else ""
            print(f"{ask['lines']} lines: {ask['said']}?{guess} (--mean {ask['field']}:{ask['word']}=…)")
        staged = sheets.get(cx, sheet)
        for reason in staged["reasons"]:
            print(f"{reason['lines']} lines refused: {reason['said']}")
        for verdict in ("refused", "odd"):
            for row in sheets.rows(cx, sheet, verdict, 0, 40):
                print(f"{found.places.told(row['row'])}: {verdict}: {row['said']}")
        counts = staged["counts"]
        print(", ".join(f"{n} {verdict}" for verdict, n in counts.items()))
        if args.write:
            sheets.write(cx, who, sheet, anyway=args.anyway)
            print("written; it can be taken back in the stockroom")
        else:
            cx.rollback()
            print("nothing was written: --write writes every line that isn't refused")


def take_out(args: argparse.Namespace) -> None:
    """Write what a shop has as a file."""
    from .files.sheets import write
    from .store import exports

    with _at_shop(args) as (cx, _), ExitStack() as closing:
        out = closing.enter_context(args.into.open("wb")) if args.into else sys.stdout.buffer
        columns = exports.columns_of(cx, args.kind)
        rows = exports.rows_of(cx, args.kind, columns)
        for piece in write(args.form, columns, rows):
            out.write(piece)


def shots(_: argparse.Namespace) -> None:
    """Retake docs/screenshots from the demo data."""
    sys.exit(subprocess.run([sys.executable, "tests/browser/shots.py"], cwd=ROOT, check=False).returncode)


BENCHES = {
    "feet": "how near measuring comes, and how fast",
    "calibration": "whether a stated chance comes true that often",
    "large": "database time of each page in a shop of 20,000 athletes",
    "start": "how long a start takes",
    "hand": "typing and changing answers on a busy machine",
    "hurried": "random keys in a hurry over every station and room",
    "keys": "keys, touches and long tasks of a whole fitting of every sport",
    "soak": "edits, sales, holds, transfers and erasures while processes are killed",
    "recovery": "how long the bench is away when something of it is killed",
    "fuzz": "calls nobody would make",
    "shelf": "choosing among 10,000 to 1,000,000 lines",
    "lists": "a supplier's list of 100,000 lines, end to end",
    "ordinary": "how often what is learned holds though people are as they are",
    "season": "how much a shop learns in a made-up season",
    "empty": "a season over HTTP from an empty shop",
    "races": "the last pair grabbed from all sides, 500 times",
    "shoes": "how near measuring shoes from pictures comes, and how fast",
    "mutants": "which faults made on purpose the tests notice",
    "tests": "the tests that try much of the same, at their large size",
    "wear": "whether what is said to be left of pairs comes true in a made-up year",
}


def bench(args: argparse.Namespace) -> None:
    """Run the benchmarks."""
    sys.exit(subprocess.run([sys.executable, f"bench/{args.what}.py", *args.rest], cwd=ROOT, check=False).returncode)


def _of_shop(p: argparse.ArgumentParser, *, new: bool) -> None:
    """What can be said of a shop."""
    p.add_argument("--shop", required=not new, metavar="NAME", help="what it is called")
    p.add_argument("--zone", help="its time zone, as Europe/Berlin; else the machine's")
    p.add_argument("--currency", help="what its prices are in; else EUR")
    p.add_argument("--sizes", metavar="SYSTEM", help="the size system it speaks in; else eu")
    p.add_argument("--tax", metavar="PERCENT", help="its sales tax; else none")
    p.add_argument("--tax-within", choices=["yes", "no"], help="whether its prices hold the tax; else yes")
    if new:
        p.add_argument("--chain", metavar="NAME", help="the chain it is a sister shop of; else one of its own")
        p.add_argument("--name", help="its first manager")
        p.add_argument("--login", help="what they sign in as; KALON_PASSWORD or a prompt gives the password")
        p.add_argument("--yes", action="store_true", help="ask nothing: what isn't said is as usual")


def parser() -> argparse.ArgumentParser:
    """The command line."""
    top = argparse.ArgumentParser(prog="kalon", description="A fitting bench for sports footwear fitters.")
    add = top.add_subparsers(dest="command", metavar="COMMAND", required=True).add_parser

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
            _of_shop(p, new=True)
        p.set_defaults(run=run)
    add("uninstall", help="take the service out; the data stay").set_defaults(run=uninstall)
    p = add("status", help="who serves, database, learner, last backup, disk; ends with 1 where something is wrong")
    p.add_argument("--json", action="store_true", help="for a program that watches")
    p.set_defaults(run=status)
    shop = add("shop", help="shops: shop add, shop set, shop list").add_subparsers(dest="what", required=True)
    p = shop.add_parser("add", help="a new shop with its first manager; what isn't said is asked for")
    _of_shop(p, new=True)
    p.set_defaults(run=shop_add)
    p = shop.add_parser("set", help="what a shop is called and counts in")
    p.add_argument("--rename", metavar="NAME")
    _of_shop(p, new=False)
    p.set_defaults(run=shop_set)
    shop.add_parser("list", help="every shop and its chain").set_defaults(run=shop_list)
    user = add("user", help="people: user add, user set, user list").add_subparsers(dest="what", required=True)
    for name, run, help_ in (
        ("add", user_add, "add a person; KALON_PASSWORD or a prompt gives the password"),
        ("set", user_set, "shut somebody out or let them in, new role, new password; ends their sessions"),
        ("list", user_list, "everyone of every shop"),
    ):
        p = user.add_parser(name, help=help_)
        p.set_defaults(run=run)
        if name == "list":
            continue
        p.add_argument("--login", required=True)
        p.add_argument("--shop", required=True)
        p.add_argument("--role", choices=["manager", "fitter", "trainee"], required=name == "add")
        if name == "add":
            p.add_argument("--name")
        else:
            p.add_argument("--let", choices=["in", "out"])
            p.add_argument("--password", action="store_true", help="a new password, from KALON_PASSWORD or a prompt")
    p = add("calc", help="run a named computation: JSON in, JSON out")
    p.add_argument("name", nargs="?")
    p.add_argument("--list", action="store_true")
    p.set_defaults(run=calc)
    p = add("measure", help="measure a scan, photograph, mat CSV or record: JSON out")
    p.add_argument("file", type=Path)
    p.add_argument("--side", choices=["left", "right"])
    p.add_argument("--unit", choices=["mm", "cm", "m", "inch"])
    p.add_argument("--paper", choices=["a4", "letter"])
    p.add_argument("--cell-mm", type=float)
    p.add_argument("--stance", choices=["standing", "sitting"])
    p.set_defaults(run=measure)
    p = add("measure-shoe", help="measure the picture of an insole, a sole or a side: JSON out")
    p.add_argument("file", type=Path)
    p.add_argument("--as", dest="way", choices=["insole", "sole", "side"], default="insole")
    p.add_argument("--paper", choices=["a4", "letter"])
    for name, words in SHOE_SAYS.items():
        if words:
            p.add_argument(f"--{name.replace('_', '-')}", type=float, help=words)
    p.set_defaults(run=measure_shoe)
    made = add("simulate", help="practice devices: simulate foot, simulate shoe").add_subparsers(
        dest="what", required=True
    )
    p = made.add_parser("shoe", help="write a practice picture of a made-up shoe")
    p.add_argument("--seed", type=int, default=1)
    p.add_argument("--as", dest="form", choices=["insole", "sole", "side"], default="insole")
    p.add_argument(
        "--kind", choices=["flat", "studded", "hooked"], help="of a sole or a side; the seed's own if not said"
    )
    p.add_argument("--tilt", type=float, metavar="DEG", help="how far from square the picture is taken, to 25°")
    p.add_argument("--studs-worn", type=float, default=0.0, metavar="MM", help="how far its studs are worn down")
    p.add_argument("--hook-lost", type=float, default=0.0, metavar="DEG", help="how much of its downturn is gone")
    p.add_argument("--into", type=Path, default=Path())
    p.set_defaults(run=simulate_shoe)
    p = made.add_parser("foot", help="write practice files of a made-up pair of feet")
    p.add_argument("--seed", type=int, default=1)
    p.add_argument("--as", dest="form", choices=["stl", "png", "csv"], default="stl")
    p.add_argument("--side", choices=["left", "right", "both"], default="both")
    p.add_argument("--into", type=Path, default=Path())
    p.set_defaults(run=simulate)
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
    add("ready", help="make ready what serving needs, and nothing else").set_defaults(run=lambda _: None)
    p = add("archive", help="keep an archive on another disk: any moment of the last month can be had back")
    p.add_argument("folder", type=Path)
    p.add_argument("--yes", action="store_true", help="also on the disk the data are on")
    p.set_defaults(run=archive_on)
    p = add("import", help="read a supplier's list, a count or a price list and say what it changes; --write writes it")
    p.add_argument("file", type=Path)
    p.add_argument("--sport", help="the sport of every line that names none")
    p.add_argument("--maker", help="the maker of every line that names none")
    p.add_argument(
        "--system", help="the size system: eu, uk, us_men, us_women, uk_child, us_child, jp_cm, mondopoint_mm"
    )
    p.add_argument("--pairs", choices=["received", "counted", "ignored"], help="what a number of pairs means")
    p.add_argument("--sheet", help="the sheet of a workbook; else the first that holds a list")
    p.add_argument("--currency", dest="list_currency", help="what its prices are in, where its cells don't say")
    p.add_argument("--child", choices=["uk", "us"], help="whose children's letters (13C) it has")
    p.add_argument("--mean", action="append", default=[], metavar="FIELD:WORD=ANSWER", help="what a word of it means")
    p.add_argument("--anyway", action="store_true", help="write it though the same file or delivery came before")
    p.add_argument("--write", action="store_true")
    p.set_defaults(run=bring_in)
    q = add(
        "export", help="write stock, models, movements, athletes, fittings, follow-ups or what was learned as a file"
    )
    q.add_argument("kind", choices=["stock", "models", "movements", "athletes", "fittings", "follow-ups", "learned"])
    q.add_argument("--as", dest="form", choices=["csv", "xlsx", "json"], default="csv")
    q.add_argument("--into", type=Path)
    q.set_defaults(run=take_out)
    for one in (p, q):
        one.add_argument("--shop", help="whose, where there is more than one")
        one.add_argument("--demo", action="store_true", help="of the made-up scenario")
    p = add("test", help="run the tests")
    p.add_argument("what", nargs="?", choices=["core", "changed", "all"], default="all")
    p.add_argument("--ratio", action="store_true", help="print test lines against all code lines")
    p.add_argument("rest", nargs=argparse.REMAINDER)
    p.set_defaults(run=test)
    add("shots", help="retake docs/screenshots").set_defaults(run=shots)
    add("openapi", help="print the OpenAPI document").set_defaults(run=openapi)
    add("check", help="make the tools of .ci/run ready").set_defaults(run=lambda _: None)
    p = add("bench", help="figures of views and calls; or " + "; ".join(f"{n}: {w}" for n, w in BENCHES.items()))
    p.add_argument("what", nargs="?", choices=["run", *BENCHES], default="run")
    p.add_argument("rest", nargs=argparse.REMAINDER)
    p.set_defaults(run=bench)
    return top


def _away() -> type[Exception]:
    """What a database that doesn't answer raises; the driver is loaded only once something went wrong."""
    import psycopg

    return psycopg.OperationalError


def main() -> None:
    """Run a command; trouble becomes one sentence, or one JSON problem for `calc`."""
    args = parser().parse_args()  # with nothing but Python: help is said before anything is installed

    from .core.errors import KalonError

    try:
        args.run(args)
    except KalonError as error:
        if args.command in ("calc", "measure", "measure-shoe"):
            print(json.dumps(error.as_problem(), ensure_ascii=False), file=sys.stderr)
        else:
            print(f"kalon: {error.text}", file=sys.stderr)
        sys.exit(2)
    except _away() as error:
        print(f"kalon: the database doesn't answer: {str(error).strip().splitlines()[0]}", file=sys.stderr)
        sys.exit(2)
    except EOFError:
        print("kalon: nobody answers any more; nothing was changed.", file=sys.stderr)
        sys.exit(2)
    except KeyboardInterrupt:
        sys.exit(130)


if __name__ == "__main__":
    main()
