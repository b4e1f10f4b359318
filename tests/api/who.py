"""The page of who may do what, docs/who-may-what.md, made from the routes: `python -m tests.api.who`."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path

from kalon.api.app import ROUTERS
from kalon.api.desk import Needs, who_may

PAGE = Path(__file__).parents[2] / "docs" / "who-may-what.md"
WHO: dict[Needs, str] = {
    "all": "Everybody who is signed in",
    "sells": "Fitters and managers",
    "manages": "Managers",
}
HEAD = """# Who may do what

Made from the routes by `python -m tests.api.who`; a test compares, and calls every route as nobody, a trainee, a fitter
and a manager. A trainee prepares: feet, brief, pull, trial. A fitter also sells, takes back, keeps pairs back, moves
orders on and takes a consent. A manager also keeps the stock, the house, the people, and what is kept of athletes.

Within what everybody may, a trainee may not pull a pair that is promised to another, nor make a calendar of the whole
shop; everybody ends their own calendars, a manager anybody's.
"""


def page(asked: Mapping[tuple[str, str], Needs]) -> str:
    """The page as Markdown."""
    parts = [HEAD]
    for needs, whom in WHO.items():
        lines = sorted((path, method) for (method, path), of in asked.items() if of == needs)
        parts.append(f"## {whom}\n\n" + "\n".join(f"- `{method.upper()} {path}`" for path, method in lines) + "\n")
    return "\n".join(parts)


if __name__ == "__main__":
    PAGE.write_text(page(who_may(route for part in ROUTERS for route in part.router.routes)))
