"""The evidence that stands of some sizes, in columns: a maker's years are read at once."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, fields
from datetime import date
from typing import Any, NamedTuple
from uuid import UUID

import numpy as np
from numpy.typing import NDArray
from psycopg.rows import tuple_row

from ..core.fit.foot import FIT_ZONES
from ..core.formats import newest
from ..core.learn.effects import NOW
from ..core.learn.evidence import ReturnEvidence, TrialEvidence, gap_when_new
from ..core.learn.observe import ALL, VERDICT_SIGMA_MM, VERDICTS, Floats, Ints, bands_of
from ..core.learn.zone import Rows
from .database import Cx, Row
from .evidence import NEWEST, body_of

MARKS = NDArray[np.bool_]
NUMBERS = (
    "low_mm", "high_mm", "foot_mm", "foot_sigma_mm", "seen_mm", "seen_sigma_mm", "predicted_mm", "new_mm",
    "fine_chance", "predicted_sigma_mm",
)  # fmt: skip
LOW, HIGH, FOOT, FOOT_SIGMA, SEEN, SEEN_SIGMA, PREDICTED, NEW, CHANCE, PREDICTED_SIGMA = range(len(NUMBERS))
OF_TRIAL, OF_RETURN = (LOW, HIGH, FOOT, FOOT_SIGMA), (FOOT, FOOT_SIGMA, SEEN, SEEN_SIGMA, PREDICTED, NEW)
NUMBER = "CASE WHEN jsonb_typeof(e.body -> '{0}') = 'number' THEN (e.body ->> '{0}')::float END"
COLUMNS = f"""
    SELECT e.id, s.at::int AS size, e.zone, e.kind = 'return' AS is_return, e.staff_id::text,
           coalesce('foot ' || nullif(e.body ->> 'measured', ''), e.fitting_id::text) AS foot,
           e.body ->> 'verdict' AS verdict, (e.body -> 'sides') ? 'jam' AS jam, (e.body -> 'sides') ? 'slack' AS slack,
           e.body ->> 'on' AS on, e.at::date AS at, coalesce(e.body ->> 'last', '') AS last, e.body ->> 'kind' AS gives,
           coalesce(e.body ->> 'sport', '') AS sport, e.format, {", ".join(NUMBER.format(n) for n in NUMBERS)}
    FROM ({NEWEST.format(which="WHERE e.variant_id = ANY(%(sizes)s)")}) e
    JOIN unnest(%(sizes)s::uuid[]) WITH ORDINALITY s (id, at) ON s.id = e.variant_id
    WHERE e.counts AND NOT e.aside ORDER BY e.id
"""


class Said(NamedTuple):
    """Sites of one zone, with the names and spreads of their feet, mm, and the names of the fitters."""

    rows: Rows
    feet: list[str]
    foot_sigma: Floats
    fitters: list[str]


@dataclass(frozen=True)
class Stands:
    """Pieces of evidence, (n,) each; `numbers` (n, `NUMBERS`), not a number where there is none. Zones and verdicts are
    places among their names (a verdict of none below nought), sizes among those asked for; `on` is the day the body
    names, or `NOW`, `kept_on` the day it was kept."""

    id: Ints
    size: Ints
    zone: Ints
    is_return: MARKS
    fitter: NDArray[np.str_]
    foot: NDArray[np.str_]
    verdict: Ints
    can_jam: MARKS
    can_slack: MARKS
    on: Ints
    kept_on: Ints
    last: Ints
    odd: MARKS
    """Which of them their contract may not take: they are to be read by it."""
    numbers: Floats
    gives: NDArray[np.str_]
    sport: NDArray[np.str_]
    lasts: list[str]

    def of(self, which: MARKS) -> Stands:
        """Some of them."""
        parts: dict[str, Any] = {f.name: getattr(self, f.name) for f in fields(self) if f.name != "lasts"}
        return Stands(**{name: column[which] for name, column in parts.items()}, lasts=self.lasts)

    def raise_where_odd(self, cx: Cx) -> None:
        """Read by their contract what may be outside it. Raises what that raises."""
        if self.odd.any():
            ids = self.id[self.odd].tolist()
            for row in cx.execute("SELECT * FROM evidence WHERE id = ANY(%s) ORDER BY id", [ids]).fetchall():
                (ReturnEvidence if row["kind"] == "return" else TrialEvidence).model_validate(body_of(row))

    def returns(self, models: list[UUID]) -> dict[tuple[UUID, str], set[int]]:
        """Follow-ups by model and by what gives together; `models` has that of every size."""
        found: dict[tuple[UUID, str], set[int]] = defaultdict(set)
        for n in np.flatnonzero(self.is_return).tolist():
            found[models[self.size[n]], str(self.gives[n])].add(int(self.id[n]))
        return found

    def rows(self, base: Floats, line: Ints, lasts: Lasts) -> Said:
        """As sites of `line`, (n,), whose labels say `base`, mm. Pairs on one foot share its error, and so do fittings
        it was carried to. What could not have been otherwise says nothing."""
        tells = self.is_return | (self.verdict != VERDICTS.index("fine")) | self.can_jam | self.can_slack
        feet, foot = np.unique(self.foot, return_inverse=True)
        sigma = np.zeros(len(feet))
        np.maximum.at(sigma, foot, np.maximum(self.numbers[:, FOOT_SIGMA], 0.01))
        fitters, fitter = np.unique(self.fitter, return_inverse=True)
        room = base[line] - self.numbers[:, FOOT]
        low, high = bands_of(
            self.verdict, self.numbers[:, LOW], self.numbers[:, HIGH], self.can_jam, self.can_slack
        )  # fmt: skip
        gap, unsure = gap_when_new(*(self.numbers[:, n] for n in (SEEN, SEEN_SIGMA, PREDICTED, NEW)))
        day = np.where(self.on == NOW, self.kept_on, self.on)
        number = np.array([lasts.number(name) for name in self.lasts], dtype=np.intp)
        said = ~self.is_return
        rows = Rows(
            name=[str(n) for n in self.id.tolist()],
            line=line,
            last=lasts.named(self.size, number[self.last], day),
            day=day,
            fitter=np.where(said, fitter, ALL),
            foot=foot,
            mm=np.where(said, np.nan, gap - room),
            sigma=np.where(said, VERDICT_SIGMA_MM, unsure),
            low=np.where(said, low - room, 0.0),
            high=np.where(said, high - room, 0.0),
            verdict=np.where(said, self.verdict, 0),
        )
        return Said(rows.of(np.flatnonzero(tells)), feet.tolist(), sigma, fitters.tolist())


@dataclass(frozen=True)
class Lasts:
    """The lasts of some sizes' models: their names; by size the number of the one now; and of models those of before,
    with the day each was first met."""

    names: list[str]
    now: Ints
    model: list[UUID]
    met: dict[UUID, list[tuple[int, int]]]

    @classmethod
    def of(cls, sizes: list[Row], stands: Stands, readings: list[Row]) -> Lasts:
        """Which lasts models were met on; `readings` name some too. The first name a last is given isn't a change of
        it."""
        model = [s["model_id"] for s in sizes]
        named = dict(zip(model, (s["last"] for s in sizes), strict=True))
        names = sorted({"", *named.values(), *stands.lasts, *(r["last"] for r in readings)})
        at = {name: n for n, name in enumerate(names)}
        met: dict[UUID, dict[str, int]] = defaultdict(dict)
        worth = np.array([bool(last) for last in stands.lasts], dtype=bool)[stands.last] & (stands.on != NOW)
        for n in np.flatnonzero(worth).tolist():
            of, last, on = met[model[stands.size[n]]], stands.lasts[stands.last[n]], int(stands.on[n])
            of[last] = min(of.get(last, on), on)
        known = {m: sorted((day, at[last]) for last, day in of.items()) for m, of in met.items()}
        now = {m: at[last] if last or m not in known else known[m][-1][1] for m, last in named.items()}
        return cls(names, np.array([now[m] for m in model], dtype=np.intp), model, known)

    def number(self, last: str) -> int:
        """The number of a last. Raises `ValueError` for one unheard of."""
        return self.names.index(last)

    def on(self, size: int, day: int) -> int:
        """The last a size was made on at a day; before the first was named, that one."""
        known = self.met.get(self.model[size], [])
        found = [last for met, last in known if NOW < met <= day]
        return found[-1] if found else known[0][1] if known else int(self.now[size])

    def named(self, size: Ints, last: Ints, day: Ints) -> Ints:
        """Lasts as they were named then; where they weren't, as `on` has it."""
        found = np.where(last == self.names.index(""), self.now[size], last)
        for n in np.flatnonzero(last == self.names.index("")).tolist():
            if self.model[size[n]] in self.met:
                found[n] = self.on(int(size[n]), int(day[n]))
        return found


def standing(cx: Cx, sizes: list[UUID]) -> Stands:
    """What stands of some sizes."""
    with cx.cursor(row_factory=tuple_row, binary=True) as cursor:
        rows = cursor.execute(COLUMNS, {"sizes": sizes}).fetchall()
    columns: list[tuple[Any, ...]] = list(zip(*rows, strict=True)) or [()] * (15 + len(NUMBERS))
    ids, size, zone, is_return, staff, foot, verdict, jam, slack, on, at, last, gives, sport, form, *numbers = columns
    zones, verdicts = ({name: n for n, name in enumerate(names)} for names in (FIT_ZONES, VERDICTS))
    lasts = sorted(set(last))
    last_at = {name: n for n, name in enumerate(lasts)}
    days = {day: _day(day) for day in set(on)}
    said_on = np.array([days[day] or NOW for day in on], dtype=np.intp)
    found = Stands(
        id=np.array(ids, dtype=np.intp),
        size=np.array(size, dtype=np.intp) - 1,
        zone=np.array([zones[z] for z in zone], dtype=np.intp),
        is_return=np.array(is_return, dtype=bool),
        fitter=np.array(staff, dtype=np.str_),
        foot=np.array(foot, dtype=np.str_),
        verdict=np.array([verdicts.get(v, -1) for v in verdict], dtype=np.intp),
        can_jam=np.array(jam, dtype=bool),
        can_slack=np.array(slack, dtype=bool),
        on=said_on,
        kept_on=np.array([day.toordinal() for day in at], dtype=np.intp),
        last=np.array([last_at[name] for name in last], dtype=np.intp),
        odd=np.array([days[day] is None for day in on], dtype=bool),
        numbers=np.array(numbers, dtype=float).reshape(len(NUMBERS), -1).T,
        gives=np.array(gives, dtype=np.str_),
        sport=np.array(sport, dtype=np.str_),
        lasts=lasts,
    )
    old = np.array(form, dtype=np.intp) != newest("evidence")
    return _with_odd(_brought_up(cx, found, old))


def _day(said: str | None) -> int | None:
    """A day as a number, `NOW` where none is said; none where it is no day."""
    if said is None:
        return NOW
    try:
        return date.fromisoformat(said).toordinal()
    except ValueError:
        return None


def _brought_up(cx: Cx, found: Stands, old: MARKS) -> Stands:
    """With what was kept in an older format read as the newest has it: of those only what a trial could have said
    differs."""
    if not old.any():
        return found
    place = {int(n): i for i, n in enumerate(found.id)}
    rows: list[Row] = cx.execute("SELECT * FROM evidence WHERE id = ANY(%s)", [found.id[old].tolist()]).fetchall()
    for row in rows:
        body, at = body_of(row), place[row["id"]]
        sides = body.get("sides") or []
        found.can_jam[at], found.can_slack[at] = "jam" in sides, "slack" in sides
    return found


def _with_odd(found: Stands) -> Stands:
    """With those marked that are outside what their contract takes."""
    for kind, of, names in ((TrialEvidence, ~found.is_return, OF_TRIAL), (ReturnEvidence, found.is_return, OF_RETURN)):
        properties = kind.model_json_schema()["properties"]
        for n in names:
            least, most = (properties[NUMBERS[n]].get(k, v) for k, v in (("minimum", -np.inf), ("maximum", np.inf)))
            above = properties[NUMBERS[n]].get("exclusiveMinimum", -np.inf)
            value = found.numbers[:, n]
            found.odd[of & ~((value >= least) & (value <= most) & (value > above))] = True
    found.odd[~found.is_return & (found.verdict < 0)] = True
    return found
