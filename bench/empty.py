"""A season over HTTP from an empty shop: fifteen models of three makers, a hundred and ten fittings by three fitters of
whom one calls everything fine, and the model tried most, which came on another last half-way without a word.

Everything is done as the interface does it; only the days are moved back. What is true (feet, insides, what is felt) is
made here with numbers of its own. Told: how often the first pair's size is right for athletes who come before and after
the season, how often the learned insides of tried sizes hold, what the ledger says of the fitters and the changed model.
With several seeds what came of all of them is told together. `./kalon bench empty [seed …]`.
"""

from __future__ import annotations

import sys
import uuid
from collections import Counter
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import psycopg
from psycopg.rows import dict_row

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests import plainly
from tests.ordinary import FEET_APART, MISREAD, SHARE_OF_LENGTH, ZONES, Habits, Untruth, _truth, typed
from tests.running import Web, database_server, web

from kalon.host.postgres import LocalServer
from kalon.store.learning import run_due
from kalon.store.migrate import migrate
from kalon.store.staff import add_chain, add_shop, add_staff

MAKERS, MODELS, SIZES = 3, 5, 22
FIRST_EU = 35.5
FITTINGS, MOST_PAIRS, DAYS = 110, 4, 150
JUDGES = 40
"""Athletes who come before and after the season."""
CHANGED_MM = -3.5
PASSWORD = "plumb and chalk 7"
PEOPLE = (Habits("Anke Roe", asks=1.0), Habits("Bertil Moss", asks=0.9), Habits("Carla Finn", all_fine=1.0, asks=0.9))
BRIEF = {"sport": "football", "discipline": "match", "surface": "firm_natural", "body_kg": 74}
INTERVAL = 1.645


def answered(answer: httpx.Response) -> Any:
    """Its body; an answer that isn't a good one ends the season."""
    if answer.status_code >= 400:
        raise SystemExit(f"{answer.request.method} {answer.request.url}: {answer.status_code} {answer.text[:300]}")
    return answer.json() if answer.content else None


def new_id() -> str:
    return str(uuid.uuid4())


class Season:
    """The shop, what is true in it, and its people signed in."""

    def __init__(self, running: Web, url: str, seed: int) -> None:
        self.url, self.rng = url, np.random.default_rng(seed)
        with psycopg.connect(url) as cx:
            self.shop = add_shop(cx, "An empty shop", add_chain(cx, "A chain"))  # type: ignore[arg-type]
            add_staff(cx, self.shop, "marta", "Marta Stone", "manager", PASSWORD)  # type: ignore[arg-type]
            for i, who in enumerate(PEOPLE):
                add_staff(cx, self.shop, f"fitter{i}", who.name, "fitter", PASSWORD)  # type: ignore[arg-type]
        self.manager = self._in(running, "marta")
        self.fitters = [self._in(running, f"fitter{i}") for i in range(len(PEOPLE))]
        self.true = _truth(self.rng, MAKERS, MODELS)[:, :, :SIZES]
        self.model_of: dict[str, tuple[int, int]] = {}
        self.place: dict[str, tuple[int, int, int]] = {}
        self.variant: dict[tuple[int, int, int], str] = {}
        self.tried: set[tuple[int, int, int]] = set()
        self.trials: Counter[tuple[int, int]] = Counter()
        self.changed: tuple[int, int] | None = None
        self.since = 0
        self.opened: list[tuple[str, int]] = []

    @staticmethod
    def _in(running: Web, login: str) -> httpx.Client:
        client = plainly.Client(base_url=running.url, timeout=90)
        answered(client.post("/api/session", json={"login": login, "password": PASSWORD}))
        return client

    def stock(self) -> None:
        """Fifteen models from labels alone, two pairs of every size."""
        for m in range(MAKERS):
            for k in range(MODELS):
                model_id = new_id()
                made = {"maker": f"Maker {m}", "name": f"Model {m}{k}", "sport": "football", "upper": "synthetic",
                        "build": "plate", "price_minor": 9000 + 500 * k}  # fmt: skip
                answered(self.manager.put(f"/api/models/{model_id}", json={"change_id": new_id(), "model": made}))
                sizes = [f"{FIRST_EU + 0.5 * s:g}" for s in range(SIZES)]
                kept = answered(self.manager.post(f"/api/models/{model_id}/sizes",
                                                  json={"change_id": new_id(), "sizes": sizes}))  # fmt: skip
                self.model_of[model_id] = (m, k)
                for line in kept:
                    at = (m, k, round((line["eu_label"] - FIRST_EU) * 2))
                    self.place[line["id"]], self.variant[at] = at, line["id"]
                    answered(self.manager.post(f"/api/stock/{line['id']}/moves",
                                               json={"id": new_id(), "by": 2, "kind": "received"}))  # fmt: skip

    def inside(self, at: tuple[int, int, int], *, changed: bool) -> np.ndarray:
        """What a size truly is inside, mm."""
        label = (FIRST_EU + 0.5 * at[2]) * 20 / 3
        off = self.true[at[0], at[1], at[2]].copy()
        if changed and at[:2] == self.changed:
            off += CHANGED_MM * np.array(SHARE_OF_LENGTH)
        girth = np.array([1, 0.900, 0.915, 0.2385])
        return label * girth + off

    def foot(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        """The larger true foot, and both as the gauge reads them, mm by zone."""
        middle = self.rng.uniform(246, 278) * np.array([1, 0.93, 0.96, 0.248]) + self.rng.normal(0, [0, 5, 5, 1.5])
        apart = self.rng.normal(0, FEET_APART) / 2
        pair = np.stack([middle + apart, middle - apart])
        left, right = pair + self.rng.normal(0, 1, (2, 4)) * np.array(MISREAD)
        return pair.max(axis=0), left, right

    def open(self, client: httpx.Client, left: np.ndarray, right: np.ndarray, name: str) -> str:
        """A fitting of somebody new, with feet and a brief."""
        athlete = answered(client.post("/api/athletes", json={"change_id": new_id(), "name": name}))["id"]
        fitting = str(answered(client.post("/api/fittings", json={"id": new_id(), "athlete_id": athlete}))["id"])
        feet = {
            f"{side}/{zone}_mm": round(float(v), 1)
            for side, foot in (("left", left), ("right", right))
            for zone, v in zip(ZONES, foot, strict=True)
        }
        wide = {
            f"{side}/ball_width_mm": round(float(f[1]) * 0.405, 1) for side, f in (("left", left), ("right", right))
        }
        shape = {f"{side}/{n}": v for side in ("left", "right")
                 for n, v in (("arch", "medium"), ("toe_shape", "first_longest"))}  # fmt: skip
        for part, values in (("feet", feet | wide | shape | {"time_of_day": "17:30"}), ("brief", BRIEF)):
            answered(client.patch(f"/api/fittings/{fitting}/parts/{part}",
                                  json={"base_version": 0, "change_id": new_id(), "set": values}))  # fmt: skip
        return fitting

    def room(self, client: httpx.Client, fitting: str, line: str, left: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """Between which new gaps each zone of a size would come right, (4, 2) mm: as one who has seen many settle
        knows, read off what the run of its sizes is said to settle to; and what sock and hour add to a foot, (4,)."""
        m, k, _ = self.place[line]
        model = next(i for i, of in self.model_of.items() if of == (m, k))
        told = answered(client.get(f"/api/fittings/{fitting}/pull/{model}/regular"))
        fit = told["fit"]
        worn = np.array([told["foot_mm"]["left"][zone] for zone in ZONES]) - left.round(1)
        found = np.zeros((4, 2))
        for zone in range(4):
            runs = sorted((s["zones"][zone]["new_mm"], s["zones"][zone]["settled_mm"]) for s in fit["sizes"])
            one = fit["sizes"][0]["zones"][zone]
            found[zone] = [beyond(runs, one[end]) for end in ("low_mm", "high_mm")]
        return found, worn

    def visit(self, n: int) -> None:
        """Somebody comes, tries pairs until one passes, and the day is moved to where it belongs in the season."""
        day = int(DAYS * n / FITTINGS)
        if day >= DAYS // 2 and not self.changed:
            self.changed = self.trials.most_common(1)[0][0]
        which = int(self.rng.integers(len(PEOPLE)))
        client, who = self.fitters[which], PEOPLE[which]
        true, left, right = self.foot()
        fitting = self.open(client, left, right, f"Athlete {n}")
        places = answered(client.get(f"/api/fittings/{fitting}/pull"))["places"]
        line, trials = places[int(self.rng.integers(min(3, len(places))))]["pair"]["id"], 0
        while line and trials < MOST_PAIRS:
            trials += 1
            answered(client.put(f"/api/fittings/{fitting}/tray/{line}"))
            at = self.place[line]
            self.tried.add(at)
            self.trials[at[:2]] += 1
            self.since += at[:2] == self.changed
            wanted, worn = self.room(client, fitting, line, left)
            gaps = self.inside(at, changed=day >= DAYS // 2) - true - worn
            trial = as_typed(self.rng, gaps, wanted, who)
            version = answered(client.get(f"/api/fittings/{fitting}"))["parts"]["trial"]["version"]
            answered(client.patch(
                f"/api/fittings/{fitting}/parts/trial",
                json={"base_version": version, "change_id": new_id(),
                      "set": {f"pairs/{line}/{n}": v for n, v in trial.items()}},
            ))  # fmt: skip
            if trial["verdict"] == "pass":
                break
            following = answered(client.get(f"/api/fittings/{fitting}/trial/next", params={"pair": line}))["places"]
            line = next((p["pair"]["id"] for p in following if (self.place[p["pair"]["id"]]) != at), None)
        self.opened.append((fitting, DAYS - day))

    def learn(self) -> None:
        """The days of what was opened are moved back, and the learner does what is due."""
        with psycopg.connect(self.url) as cx:
            for fitting, days in self.opened:
                cx.execute("UPDATE fitting SET opened_at = now() - make_interval(days => %s) WHERE id = %s",
                           [days, fitting])  # fmt: skip
            self.opened.clear()
        with psycopg.connect(self.url, row_factory=dict_row, autocommit=True) as cx:
            run_due(cx)

    def first_right(self, fitting: str, true: np.ndarray, left: np.ndarray, *, changed: bool) -> tuple[bool, float]:
        """Whether the first pair on the shelf truly has the room that is wanted in length, and how far it is off, mm."""
        client = self.fitters[0]
        line = answered(client.get(f"/api/fittings/{fitting}/pull"))["places"][0]["pair"]["id"]
        room, worn = self.room(client, fitting, line, left)
        low, high = room[0]
        gap = float(self.inside(self.place[line], changed=changed)[0] - true[0] - worn[0])
        return low <= gap <= high, max(low - gap, gap - high, 0.0)


def beyond(runs: list[tuple[float, float]], settled_mm: float) -> float:
    """From which new gap one settles to `settled_mm`, by pairs of new and settled ones; beyond the tightest and the
    loosest size, as it went on between the last two, and millimetre for millimetre."""
    new, settled = np.array(sorted(runs)).T
    if settled_mm > settled[-1]:
        return float(new[-1] + settled_mm - settled[-1])
    if settled_mm < settled[0]:
        return float(new[0] + (settled_mm - settled[0]) * (new[1] - new[0]) / max(settled[1] - settled[0], 0.1))
    return float(np.interp(settled_mm, settled, new))


def as_typed(rng: np.random.Generator, gaps: np.ndarray, wanted: np.ndarray, who: Habits) -> dict[str, Any]:
    """What is typed of a pair: `typed` knows a room of its own, so gaps are told to it by where they lie in the wanted."""
    from tests.ordinary import WANTED

    own = np.array(WANTED)
    moved = np.where(gaps > wanted[:, 1], own[:, 1] + gaps - wanted[:, 1],
                     np.where(gaps < wanted[:, 0], own[:, 0] + gaps - wanted[:, 0],
                              own[:, 0] + (gaps - wanted[:, 0]) * (own[:, 1] - own[:, 0])
                              / (wanted[:, 1] - wanted[:, 0])))  # fmt: skip
    return typed(rng, moved, who, Untruth())


Found = dict[str, list[float]]
"""By what is told, what was found of each judge, size or season."""


def main(*seeds: int) -> None:
    """Seasons, and what came of them."""
    every: Found = {}
    with database_server() as server:
        for seed in seeds or (1,):
            print(f"season {seed}", flush=True)
            found: Found = {}
            with web(url := fresh(server)) as running:
                played(Season(running, url, seed), found)
            told(found)
            for name, values in found.items():
                every.setdefault(name, []).extend(values)
    if len(seeds) > 1:
        print(f"all {len(seeds)} seasons")
        told(every)


def played(season: Season, found: Found) -> None:
    """One season."""
    season.stock()
    judges = [season.foot() for _ in range(JUDGES)]
    before = [season.open(season.fitters[0], f[1], f[2], f"Judge {i}") for i, f in enumerate(judges)]
    for n in range(FITTINGS):
        season.visit(n)
        if n % 10 == 9:
            season.learn()
            print(f"  {n + 1} fittings, {len(season.tried)} sizes tried", flush=True)
    after = [season.open(season.fitters[0], f[1], f[2], f"Judge {i} again") for i, f in enumerate(judges)]
    for name, fittings in (("before", before), ("after", after)):
        first = [season.first_right(f, j[0], j[1], changed=True) for f, j in zip(fittings, judges, strict=True)]
        found[f"right size at the first pair, {name}"] = [float(r) for r, _ in first]
        found[f"first pair off by, mm, {name}"] = [o for _, o in first]
    for at in sorted(season.tried):
        zones = answered(season.manager.get(f"/api/stock/{season.variant[at]}/inside"))["zones"]
        true = season.inside(at, changed=True)
        for z, zone in enumerate(ZONES):
            error = zones[zone]["mm"] - float(true[z])
            found.setdefault(f"{zone}, off by, mm", []).append(error)
            held = abs(error) <= INTERVAL * zones[zone]["sigma_mm"]
            found.setdefault(f"{zone}, 90 % interval holds", []).append(float(held))
    ledger = answered(season.manager.get("/api/ledger"))
    for fitter in ledger["fitters"]:
        who = (
            "the careless fitter" if any(p.all_fine and p.name == fitter["name"] for p in PEOPLE) else "another fitter"
        )
        found.setdefault(f"{who} named careless", []).append(float(fitter["careless"]))
        print("  ledger:", " ".join(fitter["says"]) or f"nothing of {fitter['name']}")
    assert season.changed
    name = f"Maker {season.changed[0]} Model {season.changed[0]}{season.changed[1]} "
    found["changed model named"] = [float(any(c.startswith(name) for c in ledger["changed"]))]
    found["another model named changed"] = [float(any(not c.startswith(name) for c in ledger["changed"]))]
    print(f"  {name}tried {season.trials[season.changed]} times, {season.since} of them changed; ledger:",
          " | ".join(ledger["changed"]) or "nothing")  # fmt: skip
    assert not ledger["parked"], ledger["parked"]


def told(found: Found) -> None:
    """The means, and how many of what they are of."""
    for name, values in found.items():
        size = f", its size {np.sqrt(np.mean(np.square(values))):.2f}" if "off by" in name else ""
        print(f"  {name}: {np.mean(values):+.2f}{size} (of {len(values)})" if size else
              f"  {name}: {np.mean(values):.2f} (of {len(values)})", flush=True)  # fmt: skip


def fresh(server: LocalServer) -> str:
    """A database with nothing in it."""
    url = server.ensure_database("empty_shop", fresh=True)
    migrate(url)
    return url


if __name__ == "__main__":
    main(*(int(a) for a in sys.argv[1:]))
