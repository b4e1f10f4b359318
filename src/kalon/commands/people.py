"""Shops and who signs in there: `shop …`, `user …`."""

from __future__ import annotations

import argparse
import getpass
import os
import sys

from .common import Add, database, say, up_to_date


def new_shop(url: str, args: argparse.Namespace) -> None:
    """Make a shop of what was said and what is asked for. Raises `BadInput`."""
    import psycopg
    from psycopg.rows import dict_row

    from ..host import shops

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
        up_to_date(to.owner)
        new_shop(to.owner, args)


def shop_set(args: argparse.Namespace) -> None:
    """Change what a shop is called and counts in."""
    import psycopg
    from psycopg.rows import dict_row

    from ..host import shops

    given = {q.slug: value for q in shops.HOUSE if (value := getattr(args, q.slug)) is not None}
    said = shops.answers(tuple(q for q in shops.HOUSE if q.slug in given), given, None, say)
    with database(alone=False) as (to, _):
        up_to_date(to.owner)
        with psycopg.connect(to.owner, row_factory=dict_row) as cx:
            shops.change(cx, args.shop, said, args.rename)
    say(f"{args.rename or args.shop} changed")


def shop_list(args: argparse.Namespace) -> None:
    """Every shop, its chain, and how many sign in there."""
    import psycopg
    from psycopg.rows import dict_row

    from ..host import shops

    del args
    with database(alone=False) as (to, _):
        up_to_date(to.owner)
        with psycopg.connect(to.owner, row_factory=dict_row) as cx:
            rows = list(shops.listing(cx))
    for r in rows:
        print(f"{r['name']:30} {r['chain']:30} {r['people']} sign in")
    if not rows:
        say(NO_SHOP)


NO_SHOP = "no shop on this machine yet: ./kalon serve asks what it has to know, or ./kalon shop add makes one"


def _password() -> str:
    """`KALON_PASSWORD`, or asked for twice at a terminal. Raises `BadInput`."""
    from ..core.errors import BadInput

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
    from ..core.errors import BadInput
    from ..store.staff import check_password, plain_login

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

    from ..host import shops
    from ..store import staff

    password = _password()
    with database(alone=False) as (to, _):
        up_to_date(to.owner)
        with psycopg.connect(to.owner, row_factory=dict_row) as cx:
            shop = shops.named(cx, args.shop)
            staff.add_staff(cx, shop["id"], args.login, args.name or args.login, args.role, password)
    say(f"{args.login} is now a {args.role} of {shop['name']}")


def user_set(args: argparse.Namespace) -> None:
    """Let somebody in or shut them out, give a new role or password; their sessions all end at once."""
    import psycopg
    from psycopg.rows import dict_row

    from ..core.errors import NotFound
    from ..store import staff

    password = _password() if args.password else None
    active = {"in": True, "out": False}.get(args.let or "")
    with database(alone=False) as (to, _):
        up_to_date(to.owner)
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
        up_to_date(to.owner)
        with psycopg.connect(to.owner) as cx:
            rows = cx.execute(
                "SELECT h.name, s.login, s.name, s.role, s.active FROM staff s JOIN shop h ON h.id = s.shop_id "
                "ORDER BY 1, 2"
            ).fetchall()
    if not rows:
        say(NO_SHOP)
    for shop, login, name, role, active in rows:
        print(f"{shop:30} {login:16} {name:24} {role:8} {'' if active else 'shut out'}".rstrip())


def of_shop(p: argparse.ArgumentParser, *, new: bool) -> None:
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


def add(add: Add) -> None:
    """What they take on the command line."""
    shop = add("shop", help="shops: shop add, shop set, shop list").add_subparsers(dest="what", required=True)
    p = shop.add_parser("add", help="a new shop with its first manager; what isn't said is asked for")
    of_shop(p, new=True)
    p.set_defaults(run=shop_add)
    p = shop.add_parser("set", help="what a shop is called and counts in")
    p.add_argument("--rename", metavar="NAME")
    of_shop(p, new=False)
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
