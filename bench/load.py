"""Many fitters at once: `./kalon bench load [fitters] [seconds] [large]`.

Each fitter does whole fittings, from the search for the athlete to the closed follow-up, with the calls the interface makes
(recorded from one driven by keys) and 0.75 to 2.25 s of thought between two of them; they begin over a minute, on a shop
served as the product serves: two web processes, the learner, PostgreSQL with its own settings. The fitters run beside
them on the same machine, in a process of their own whose processor time is counted
apart, as the learner's is, which stands back behind whoever waits. Before that each call alone, for its
processor time, the web's and the database's, with the platform's bare bound beside it: a route of the same framework that
reads one row by its key. With `large`, in a shop of 20,000 athletes and 100,000 lines.
"""

from __future__ import annotations

import asyncio
import contextlib
import multiprocessing
import os
import random
import signal
import socket
import statistics
import sys
import time
import uuid
from collections import Counter, defaultdict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import timedelta
from pathlib import Path
from typing import Any

import httpx
import numpy as np
import psycopg

sys.path.insert(0, str(Path(__file__).parents[1]))

from bench.bare import bare_url
from tests.api.calls import today
from tests.large import grow, stock
from tests.running import addresses_of, database_server, demo_database, superuser_of

from kalon.host.postgres import Addresses, LocalServer
from kalon.host.supervise import answers, serve
from kalon.store.staff import digest

FITTERS, SECONDS, BEGIN_WITHIN_S = 150, 90, 60
THOUGHT_S = (0.75, 2.25)
WORKERS = 2
P95_MS, CPU_MS = 150.0, 12.0
ALONE = 12
"""Times each call is made alone."""
TICK = os.sysconf("SC_CLK_TCK")
BRIEFS: list[list[dict[str, Any]]] = [
    [{"sport": "football", "discipline": "match"}, {"surface": "firm_natural"}, {"history": []}],
    [{"sport": "climbing", "discipline": "steep_sport"}, {"level": "club", "toe_strength": "average"}, {"edge_mm": 8}],
    [{"sport": "cycling", "discipline": "road_race"}, {"pedal": "three_bolt"}, {"ride_km": 80}],
    [{"sport": "court", "discipline": "badminton"}, {"floor": "sprung_wood"}, {"history": ["ankle"]}],
    [{"sport": "lifting", "discipline": "olympic"}, {"knee_to_wall_cm": 9}, {"bar_kg": 110}],
]


@dataclass
class Taken:
    """What one call of a fitter took."""

    at: float
    what: str
    ms: float
    status: int


@dataclass
class Book:
    """All calls of all fitters, and the fittings done."""

    calls: list[Taken] = field(default_factory=list)
    done: int = 0
    refused: Counter[str] = field(default_factory=Counter)


class Fitter:
    """One person at one browser."""

    def __init__(self, client: httpx.AsyncClient, book: Book, seed: int, *, thinks: bool = True) -> None:
        self.client, self.book, self.random, self.thinks = client, book, random.Random(seed), thinks
        self.fitting = ""
        self.versions: dict[str, int] = defaultdict(int)

    async def call(self, method: str, what: str, path: str = "", body: Any = None) -> Any:
        """One call, then thought; its answer, or none where it was refused."""
        began = time.perf_counter()
        answer = await self.client.request(method, (path or what).replace("FITTING", self.fitting), json=body)
        ms = (time.perf_counter() - began) * 1000
        self.book.calls.append(Taken(time.monotonic(), f"{method} {what}", ms, answer.status_code))
        if answer.status_code >= 400:
            self.book.refused[f"{method} {what} {answer.status_code}"] += 1
        if self.thinks:
            await asyncio.sleep(self.random.uniform(*THOUGHT_S))
        return answer.json() if answer.status_code < 300 and answer.content else None

    async def patch(self, part: str, values: dict[str, Any]) -> None:
        """Fields of a part."""
        body = {"base_version": self.versions[part], "change_id": str(uuid.uuid4()), "set": values}
        said = await self.call("PATCH", f"/api/fittings/FITTING/parts/{part}", body=body)
        if said:
            self.versions[part] = said["version"]

    async def feet(self) -> None:
        """Ten numbers, typed in fives of two."""
        length = self.random.gauss(258, 14)
        for name, share in (("length", 1.0), ("ball_width", 0.385), ("ball_girth", 0.94), ("instep_girth", 0.955),
                            ("heel_width", 0.25)):  # fmt: skip
            both = {
                f"{side}/{name}_mm": round(length * share + self.random.gauss(0, 1), 1) for side in ("left", "right")
            }
            await self.patch("feet", both)
        await self.call("GET", "/api/fittings/FITTING")

    async def brief(self) -> None:
        """What they do."""
        await self.call("GET", "/api/stock/models?sport=football")
        first, *rest = self.random.choice(BRIEFS)
        await self.patch("brief", first)
        for answers_ in [*rest, {"body_kg": round(self.random.uniform(48, 95), 1)}]:
            await self.patch("brief", answers_)
        await self.call("GET", "/api/fittings/FITTING")

    async def begin(self) -> None:
        """Somebody new comes in."""
        await self.call("GET", "/api/today")
        name = f"{self.random.choice(['Abel', 'Edda', 'Ilka', 'Hanno'])} Load {self.random.randrange(10**6)}"
        for upto in (3, 6):
            await self.call("GET", "/api/athletes?text=", f"/api/athletes?text={name[:upto]}")
        await self.call("GET", "/api/known?text=", f"/api/known?text={name}")
        body = {"change_id": str(uuid.uuid4()), "name": name}
        athlete = await self.call("POST", "/api/athletes", body=body)
        self.fitting = str(uuid.uuid4())
        self.versions.clear()
        await self.call("POST", "/api/fittings", body={"id": self.fitting, "athlete_id": athlete["id"]})
        await self.call("GET", "/api/fittings/FITTING/feet/over-time")

    async def pull(self) -> str | None:
        """The spec, and the best pair of the shelf into the tray; its line."""
        await self.call("GET", "/api/fittings/FITTING/spec")
        found = await self.call("GET", "/api/fittings/FITTING/pull")
        pairs = [p["pair"] for p in found["places"]] if found else []
        if not pairs:
            return None
        pair = self.random.choice(pairs[:4])
        line = str(pair["id"])
        sizes = f"/api/fittings/FITTING/pull/{pair['model_id']}/{pair['width']}"
        await self.call("GET", "/api/fittings/FITTING/pull/MODEL/WIDTH", sizes)
        await self.call("PUT", "/api/fittings/FITTING/tray/LINE", f"/api/fittings/FITTING/tray/{line}")
        await self.call("GET", "/api/fittings/FITTING/pull")
        return line

    async def settled(self, line: str) -> None:
        """What Settle shows."""
        await self.call("GET", "/api/fittings/FITTING/settle/LINE", f"/api/fittings/FITTING/settle/{line}")
        await self.call("GET", "/api/fittings/FITTING/costs")

    async def whole(self) -> None:
        """One fitting, from the search to the closed follow-up."""
        await self.begin()
        await self.feet()
        await self.brief()
        line = await self.pull()
        if line is None:
            return
        await self.call("GET", "/api/fittings/FITTING/trial/next", f"/api/fittings/FITTING/trial/next?pair={line}")
        await self.patch("trial", {f"pairs/{line}/tests/stand": "pass"})
        await self.patch("trial", {f"pairs/{line}/verdict": "pass"})
        await self.call("GET", "/api/fittings/FITTING")
        await self.settled(line)
        body = {"sale_id": str(uuid.uuid4()), "line_id": line, "anyway": "tried"}
        await self.call("POST", "/api/fittings/FITTING/sale", body=body)
        await self.settled(line)
        on = (today() + timedelta(days=20)).isoformat()
        await self.call("PUT", "/api/fittings/FITTING/follow-up", body={"due_on": on})
        await self.settled(line)
        await self.call("GET", "/api/fittings/FITTING/outcome")
        await self.patch("return", {"hours": 15})
        await self.patch("return", {"length_mm": -2})
        await self.call("GET", "/api/fittings/FITTING/outcome")
        await self.call("GET", "/api/fittings/FITTING/learned")
        await self.call("POST", "/api/fittings/FITTING/follow-up/done")
        self.book.done += 1

    async def until(self, begins: float, ends: float) -> None:
        """Whole fittings, one after the other."""
        await asyncio.sleep(max(begins - time.monotonic(), 0))
        while time.monotonic() < ends:
            await self.whole()


def client_of(url: str, token: str) -> httpx.AsyncClient:
    """A browser, signed in."""
    limits = httpx.Limits(max_connections=6, max_keepalive_connections=6, keepalive_expiry=70)
    return httpx.AsyncClient(base_url=url, cookies={"kalon_session": token}, timeout=60, limits=limits)


def fitters_of(url: str, count: int) -> list[str]:
    """So many people of the shop, each signed in, and enough on every shelf; their sessions' tokens."""
    tokens = [f"load-{i}".ljust(43, "-") for i in range(count)]
    with psycopg.connect(superuser_of(url)) as cx:
        for i, token in enumerate(tokens):
            cx.execute(
                "WITH made AS (INSERT INTO staff (id, shop_id, login, name, role, password_hash) SELECT gen_random_uuid(), "
                "shop_id, %(login)s, %(name)s, 'fitter', '!' FROM staff WHERE login = 'ilse' RETURNING id, shop_id) "
                "INSERT INTO session (token_hash, shop_id, staff_id, expires_at) "
                "SELECT %(token)s, shop_id, id, now() + interval '5 hours' FROM made",
                {"login": f"load{i}", "name": f"Load {i}", "token": digest(token)},
            )
        cx.execute("SET session_replication_role = replica")
        cx.execute("UPDATE stock_line SET on_hand = on_hand + 1000 WHERE on_hand > 0")
    with psycopg.connect(superuser_of(url), autocommit=True) as cx:
        cx.execute("VACUUM ANALYZE")
    return tokens


def _serving(to: Addresses, opened: socket.socket) -> None:
    os.environ["KALON_LOG"] = "ERROR"
    os.set_inheritable(opened.fileno(), True)
    serve(to, opened, WORKERS, lambda text: None, "")


@contextmanager
def served(url: str) -> Iterator[tuple[str, int]]:
    """The product's own serving of a database: its address, and the process all of it hangs on."""
    opened = socket.socket()
    opened.bind(("127.0.0.1", 0))
    opened.listen(256)
    port = opened.getsockname()[1]
    process = multiprocessing.get_context("fork").Process(target=_serving, args=(addresses_of(url), opened))
    process.start()
    try:
        while not answers("127.0.0.1", port):
            time.sleep(0.05)
        time.sleep(8)  # the spare one is made ready
        assert process.pid
        yield f"http://127.0.0.1:{port}", process.pid
    finally:
        assert process.pid
        os.kill(process.pid, signal.SIGTERM)
        process.join()
        opened.close()


def _stats() -> dict[int, tuple[int, float]]:
    """Of every process its parent and its processor seconds, with those of its children that ended."""
    found = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            with contextlib.suppress(OSError):
                stat = (entry / "stat").read_text().rpartition(")")[2].split()
                found[int(entry.name)] = int(stat[1]), sum(map(int, stat[11:15])) / TICK
    return found


def below(root: int, stats: dict[int, tuple[int, float]] | None = None) -> list[int]:
    """A process and all below it."""
    stats = _stats() if stats is None else stats
    found = [root]
    for pid in found:
        found += [child for child, (parent, _) in stats.items() if parent == pid]
    return found


def cpu_s(root: int) -> float:
    """Processor seconds of a process and all below it, of those that ended too."""
    stats = _stats()
    return sum(stats[pid][1] for pid in below(root, stats) if pid in stats)


def postmaster(server: LocalServer) -> int:
    """The database server's first process."""
    return int((server.data / "postmaster.pid").read_text().splitlines()[0])


def quantiles(ms: list[float]) -> str:
    """Their middle and their ends."""
    if not ms:
        return "none"
    p50, p95, p99 = np.percentile(ms, [50, 95, 99])
    return f"p50 {p50:6.1f}  p95 {p95:7.1f}  p99 {p99:7.1f} ms"


async def many(url: str, tokens: list[str], seconds: float, begun: Callable[[], None]) -> tuple[Book, float]:
    """All of them at once; and the moment from which all were at work, when `begun` is called."""
    book, now = Book(), time.monotonic()
    rng = random.Random(7)
    ends = now + BEGIN_WITHIN_S + seconds
    clients = [client_of(url, t) for t in tokens]
    work = [
        asyncio.create_task(Fitter(c, book, i).until(now + rng.uniform(0, BEGIN_WITHIN_S), ends))
        for i, c in enumerate(clients)
    ]
    await asyncio.sleep(BEGIN_WITHIN_S)
    begun()
    await asyncio.sleep(ends - time.monotonic())
    for task in work:
        task.cancel()
    for ended in await asyncio.gather(*work, return_exceptions=True):
        if isinstance(ended, Exception) and not isinstance(ended, asyncio.CancelledError):
            book.refused[f"{type(ended).__name__}: {ended}"] += 1
    for client in clients:
        await client.aclose()
    return book, now + BEGIN_WITHIN_S


def together(url: str, web: int, db: int, tokens: list[str], seconds: float, owner: str) -> None:
    """Fitters at work, and what they waited."""
    learner = next(p for p in below(web) if b"kalon.host.learner" in Path(f"/proc/{p}/cmdline").read_bytes())

    def spent() -> np.ndarray[Any, np.dtype[np.float64]]:
        return np.array([cpu_s(web) - cpu_s(learner), cpu_s(db), cpu_s(learner), time.process_time()])

    marks: list[np.ndarray[Any, np.dtype[np.float64]]] = []
    book, all_at = asyncio.run(many(url, tokens, seconds, lambda: marks.append(spent())))
    steady = [c.ms for c in book.calls if c.at >= all_at]
    web_ms, db_ms, learner_ms, own_ms = (spent() - marks[0]) * 1000 / max(len(steady), 1)
    with psycopg.connect(owner) as cx:
        row = cx.execute(
            "SELECT count(*) FROM pg_stat_activity WHERE usename LIKE 'kalon%' AND backend_type = 'client backend'"
        ).fetchone()
    print(
        f"{len(tokens)} fitters, {seconds:g} s after all had begun: {len(steady) / seconds:.0f} calls a second, {book.done} fittings done"
    )
    print(f"  {quantiles(steady)}   (wanted: p95 {P95_MS:g})   over the whole: {quantiles([c.ms for c in book.calls])}")
    print(f"  processor a call: web {web_ms:.1f} + database {db_ms:.1f} = {web_ms + db_ms:.1f} ms (wanted: {CPU_MS:g}); "
          f"the learner {learner_ms:.1f}, the fitters themselves {own_ms:.1f} ms; connections {row[0] if row else '?'}")  # fmt: skip
    print(f"  refused or failed: {dict(book.refused) or 'none'}", flush=True)
    by: dict[str, list[float]] = defaultdict(list)
    for c in book.calls:
        if c.at >= all_at:
            by[c.what].append(c.ms)
    for what, ms in sorted(by.items(), key=lambda b: -float(np.percentile(b[1], 95)))[:6]:
        print(f"    {what:46} {len(ms):5}  {quantiles(ms)}")


async def _alone(url: str, token: str, web: int, db: int) -> None:
    async with client_of(url, token) as client:
        book = Book()
        fitter = Fitter(client, book, 1, thinks=False)
        for _ in range(3):
            await fitter.whole()
        spent: dict[str, list[tuple[float, float, float]]] = defaultdict(list)
        plain = fitter.call

        async def counted(method: str, what: str, path: str = "", body: Any = None) -> Any:
            was = cpu_s(web), cpu_s(db), time.perf_counter()
            said = await plain(method, what, path, body)
            took = (time.perf_counter() - was[2]) * 1000
            await asyncio.sleep(0.004)
            spent[f"{method} {what}"].append(((cpu_s(web) - was[0]) * 1000, (cpu_s(db) - was[1]) * 1000, took))
            return said

        fitter.call = counted  # type: ignore[method-assign]
        for _ in range(ALONE):
            await fitter.whole()
    print(f"{'each call alone':48} times   web    db   sum, ms of processor   waited, ms (median)")
    total, count = 0.0, 0
    for what, all_ in sorted(spent.items(), key=lambda s: -sum(w + d for w, d, _ in s[1])):
        web_ms, db_ms = statistics.mean(s[0] for s in all_), statistics.mean(s[1] for s in all_)
        total, count = total + (web_ms + db_ms) * len(all_), count + len(all_)
        print(f"  {what:46} {len(all_):5} {web_ms:5.1f} {db_ms:5.1f} {web_ms + db_ms:5.1f}"
              f"{'':24}{statistics.median(s[2] for s in all_):6.1f}")  # fmt: skip
    print(f"  {'all of a fitting, a call':46} {count:5} {'':11} {total / count:5.1f}", flush=True)


async def _bound(url: str, path: str, root: int, db: int, token: str) -> float:
    """Processor ms a call of one route, web's and database's."""
    async with client_of(url, token) as client:
        for _ in range(100):
            await client.get(path)
        before = cpu_s(root) + cpu_s(db)
        for _ in range(1000):
            (await client.get(path)).raise_for_status()
        return cpu_s(root) + cpu_s(db) - before


def main(*given: str) -> None:
    """Alone, then together."""
    numbers = [float(g) for g in given if g.replace(".", "").isdigit()]
    count, seconds = int(numbers[0]) if numbers else FITTERS, numbers[1] if len(numbers) > 1 else SECONDS
    with database_server() as server:
        url = demo_database(server, "load")
        if "large" in given:
            grow(url)
            stock(url)
        tokens = fitters_of(url, count + 1)
        with bare_url(addresses_of(url).app) as (bare, pid):
            bound = asyncio.run(_bound(bare, "/row", pid, postmaster(server), tokens[-1]))
        with served(url) as (address, web):
            db = postmaster(server)
            own = asyncio.run(_bound(address, "/api/session", web, db, tokens[-1]))
            print(
                f"the bare bound {bound:.2f} ms of processor a call (1.0 ×); who is signed in {own:.2f} ms ({own / bound:.1f} ×)",
                flush=True,
            )
            asyncio.run(_alone(address, tokens[-1], web, db))
            together(address, web, db, tokens[:-1], seconds, superuser_of(url))


if __name__ == "__main__":
    main(*sys.argv[1:])
