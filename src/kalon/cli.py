"""`./kalon …`: every command of the project."""

from __future__ import annotations

import argparse
import json
import sys

from .commands import keeping, lists, making, measuring, people, serving


def parser() -> argparse.ArgumentParser:
    """The command line."""
    top = argparse.ArgumentParser(prog="kalon", description="A fitting bench for sports footwear fitters.")
    commands = top.add_subparsers(dest="command", metavar="COMMAND", required=True)
    for of in (serving, people, measuring, keeping, lists, making):
        of.add(commands.add_parser)
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
