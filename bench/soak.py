"""Edits, sales, counts, holds, transfers, erasures and undo while the web process or PostgreSQL is killed: `./kalon bench
soak [rounds]`.

Through the browser (fields, undo, settling, stock presses, reloads) and through the API beside it. After every round
what was acknowledged is looked for in the tables: nothing lost, nothing twice, nothing half there, nothing kept of whom
was erased. How long the bench was away after each kill is said at the end."""

from __future__ import annotations

import contextlib
import random
import sys
import threading
import time
import uuid
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from statistics import median
from typing import Any

import httpx
import psycopg
from playwright.sync_api import Error, Page

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.calls import PASSWORDS, new_fitting, pulled, signed_in
from tests.browser.driver import VIEW, chromium, sign_in
from tests.running import Web, database_server, demo_database, web

from kalon.host.postgres import LocalServer

FIELDS = {"Length": ("length_mm", 230, 300), "Ball width": ("ball_width_mm", 85, 115),
          "Ball girth": ("ball_girth_mm", 215, 275), "Heel width": ("heel_width_mm", 55, 75)}  # fmt: skip
PATIENCE_S = 90.0


@dataclass
class Book:
    """What was acknowledged."""

    changes: list[str] = field(default_factory=list)
    moves: Counter[str] = field(default_factory=Counter)
    sold: dict[str, str | None] = field(default_factory=dict)
    """By fitting: the line sold, or none."""
    writes: int = 0
    lost: list[str] = field(default_factory=list)
    doubled: list[str] = field(default_factory=list)
    half: list[str] = field(default_factory=list)
    kept: list[str] = field(default_factory=list)
    erased: list[tuple[str, str]] = field(default_factory=list)
    """Whom it was acknowledged of, with the word that only they had in their records."""
    away: dict[str, list[float]] = field(default_factory=dict)
    """Seconds until the bench answered again, by what was killed."""
    lock: threading.Lock = field(default_factory=threading.Lock)

    @property
    def troubles(self) -> list[str]:
        """Whatever isn't as it was acknowledged."""
        return self.lost + self.doubled + self.half + self.kept


def until_answered(client: httpx.Client, method: str, path: str, **more: Any) -> httpx.Response:
    """Ask again, the same, until the server has said yes or no."""
    deadline = time.monotonic() + PATIENCE_S
    while True:
        try:
            answer = client.request(method, path, **more)
            if answer.status_code < 500 and answer.status_code not in (408, 429):
                return answer
        except httpx.TransportError:
            pass
        if time.monotonic() > deadline:
            raise TimeoutError(f"{method} {path} was never answered")
        time.sleep(random.uniform(0.02, 0.3))


def edits(client: httpx.Client, fitting: str, book: Book, count: int) -> None:
    """Numbers set one after the other; the last one must stand."""
    base = until_answered(client, "GET", f"/api/fittings/{fitting}").json()["parts"]["feet"]["version"]
    for _ in range(count):
        change = str(uuid.uuid4())
        value = random.randrange(2300, 3000) / 10
        body = {"base_version": base, "change_id": change, "set": {"right/length_mm": value}}
        answer = until_answered(client, "PATCH", f"/api/fittings/{fitting}/parts/feet", json=body)
        if answer.status_code != 200:
            book.lost.append(f"an edit was refused: {answer.text}")
            return
        base = answer.json()["version"]
        with book.lock:
            book.changes.append(change)
            book.writes += 1


def counts(client: httpx.Client, lines: list[str], book: Book, count: int) -> None:
    """Pairs found or missed on the shelf."""
    for _ in range(count):
        line, by = random.choice(lines), random.choice([-1, 1, 1, 2])
        body = {"id": str(uuid.uuid4()), "by": by}
        answer = until_answered(client, "POST", f"/api/stock/{line}/moves", json=body)
        if answer.status_code == 200:
            with book.lock:
                book.moves[line] += by
                book.writes += 1


def sales(client: httpx.Client, fitting: str, line: str, book: Book, count: int) -> None:
    """Sold and taken back in turn."""
    for _ in range(count):
        sale = str(uuid.uuid4())
        body = {"sale_id": sale, "line_id": line}
        answer = until_answered(client, "POST", f"/api/fittings/{fitting}/sale", json=body)
        if answer.status_code != 201:
            book.lost.append(f"a sale was refused: {answer.text}")
            return
        back = until_answered(client, "DELETE", f"/api/fittings/{fitting}/sale/{sale}")
        if back.status_code != 200:
            book.lost.append(f"a sale could not be taken back: {back.text}")
            return
        with book.lock:
            book.writes += 2


def begins(client: httpx.Client, athlete: str, book: Book) -> None:
    """The same new fitting sent by three hands at once."""
    body = {"id": str(uuid.uuid4()), "athlete_id": athlete}
    with ThreadPoolExecutor(3) as hands:
        said = list(hands.map(lambda _: until_answered(client, "POST", "/api/fittings", json=body), range(3)))
    if {a.status_code for a in said} != {201} or len({a.json()["id"] for a in said}) != 1:
        book.doubled.append(f"a fitting begun thrice at once: {[a.status_code for a in said]}")
    with book.lock:
        book.writes += 1


def holds(client: httpx.Client, line: str, book: Book) -> None:
    """A pair kept back for a customer, and given up; sent twice each."""
    body = {"id": str(uuid.uuid4()), "name": "Soaked customer", "days": 1}
    for _ in range(2):
        kept = until_answered(client, "POST", f"/api/stock/{line}/held", json=body)
        if kept.status_code not in (200, 201):
            book.lost.append(f"a pair could not be kept back: {kept.text}")
            return
    for _ in range(2):
        given = until_answered(client, "DELETE", f"/api/stock/{line}/held/{body['id']}")
        if given.status_code not in (200, 204):
            book.lost.append(f"a pair could not be given up: {given.text}")
    with book.lock:
        book.writes += 2


def transfers(asking: httpx.Client, giving: httpx.Client, wish: tuple[str, str, str], book: Book) -> None:
    """A pair asked of a sister shop, held there, sent, received; each step sent twice. `wish` is the size, the sister
    shop, and the line here."""
    variant, sister, line = wish
    order = {"id": str(uuid.uuid4()), "variant_id": variant, "from_shop": sister}
    for _ in range(2):
        asked = until_answered(asking, "POST", "/api/orders", json=order)
    if asked.status_code not in (200, 201, 409):
        book.lost.append(f"a pair could not be asked for: {asked.text}")
        return
    for client, to in ((giving, "held"), (giving, "sent"), (asking, "received")):
        body = {"change_id": str(uuid.uuid4()), "to": to}
        for _ in range(2):
            step = until_answered(client, "POST", f"/api/orders/{order['id']}/steps", json=body)
            if step.status_code != 200:
                book.lost.append(f"an order was not {to}: {step.text}")
                return
        with book.lock:
            book.writes += 1
    with book.lock:
        book.moves[line] += 1


def erasures(manager: httpx.Client, fitter: httpx.Client, book: Book) -> None:
    """Somebody comes, is measured, and wants all of it gone, while their feet are still being typed."""
    word = f"Soak{uuid.uuid4().hex[:10]}"
    values = {"name": f"{word} Goes", "born_on": None, "squad": word, "note": f"{word} was here"}
    begun = until_answered(fitter, "POST", "/api/athletes", json=values | {"change_id": str(uuid.uuid4())})
    athlete = begun.json()["id"]
    fitting = str(uuid.uuid4())
    until_answered(fitter, "POST", "/api/fittings", json={"id": fitting, "athlete_id": athlete})

    def types_on() -> None:
        for base in range(4):
            body = {"base_version": base, "change_id": str(uuid.uuid4()), "set": {"note": f"{word} {base}"}}
            until_answered(fitter, "PATCH", f"/api/fittings/{fitting}/parts/feet", json=body)

    with ThreadPoolExecutor(1) as hand:
        typing = hand.submit(types_on)
        time.sleep(random.uniform(0, 0.3))
        done = until_answered(manager, "POST", f"/api/athletes/{athlete}/erase")
        typing.result()
    with book.lock:
        if done.status_code not in (200, 204):
            book.lost.append(f"somebody could not be erased: {done.text}")
        else:
            book.erased.append((athlete, word))
            book.writes += 1


def until_back(running: Web) -> float:
    """Seconds until the bench answers a question of the database."""
    began = time.monotonic()
    while time.monotonic() - began < PATIENCE_S:
        with contextlib.suppress(httpx.TransportError):
            if httpx.get(f"{running.url}/ready", timeout=2).status_code == 200:
                break
        time.sleep(0.02)
    return time.monotonic() - began


def kill_one(running: Web, server: LocalServer, tally: Counter[str], book: Book) -> None:
    """As `kill -9`, at a random moment; started again a moment later."""
    time.sleep(random.uniform(0, 1.5))
    if random.random() < 0.5:
        running.kill()
        time.sleep(random.uniform(0, 0.5))
        running.start()
        tally["web"] += 1
        what = "web"
    else:
        server.kill()
        time.sleep(random.uniform(0, 0.5))
        server.start()
        tally["PostgreSQL"] += 1
        what = "PostgreSQL"
    book.away.setdefault(what, []).append(until_back(running))


class Hands:
    """One browser with three pages: feet, the shelf, the sale."""

    def __init__(self, page: Page, shelf: Page, sale: Page, fitting: str, sold: str, line: str, book: Book) -> None:
        self.page, self.shelf, self.sale = page, shelf, sale
        self.fitting, self.sold, self.line, self.book = fitting, sold, line, book
        self.typed: dict[str, float] = {}
        self.presses = 0

    def input(self, label: str) -> Any:
        """The field of the left foot."""
        return self.page.get_by_role("group", name="Left", exact=True).get_by_role("textbox", name=label, exact=True)

    def feet(self) -> None:
        """Type, sometimes take back, sometimes reload in the middle."""
        self.page.bring_to_front()
        for label in random.sample(list(FIELDS), random.randint(1, 4)):
            _, low, high = FIELDS[label]
            value = random.randrange(2 * low, 2 * high) / 2
            self.input(label).fill(f"{value:g}")
            self.typed[label] = value
            self.book.writes += 1
        if random.random() < 0.2:
            self.page.get_by_role("heading", name="Feet").first.click()
            self.page.keyboard.press("Control+z")
            self.typed.clear()  # which change that takes back is its own tests' concern: here, screen and record
        if random.random() < 0.15:
            self.page.reload()

    def press(self) -> None:
        """One more of a line, so often."""
        self.shelf.bring_to_front()
        button = self.shelf.locator(f"[data-line='{self.line}']").get_by_role("button", name="more")
        for _ in range(random.randint(1, 3)):
            button.click()
            self.presses += 1
            with self.book.lock:
                self.book.moves[self.line] += 1
                self.book.writes += 1

    def settle(self) -> None:
        """Settle and take it back, pressing again when it did not go through."""
        self.sale.bring_to_front()
        for button, then in (("Settle on this pair", "Undo the sale"), ("Undo the sale", "Settle on this pair")):
            deadline = time.monotonic() + PATIENCE_S
            while self.sale.get_by_role("button", name=then).count() == 0:
                if time.monotonic() > deadline:
                    raise TimeoutError(button)
                with contextlib.suppress(Error):  # gone, or waiting for its answer: look again
                    self.sale.get_by_role("button", name=button).click(timeout=2000)
                self.sale.wait_for_timeout(300)
            self.book.writes += 1

    def done(self) -> None:
        """Wait until the screen says that everything is saved."""
        self.page.locator('[data-saved="saved"]').wait_for(timeout=PATIENCE_S * 1000)
        self.shelf.locator(f"[data-line='{self.line}'] [data-moving='0']").wait_for(timeout=PATIENCE_S * 1000)


CHECKS = {
    "state and sale differ": "SELECT f.id FROM fitting f LEFT JOIN sale s ON s.fitting_id = f.id AND s.undone_at IS NULL "
    "WHERE (f.state = 'open') <> (s.id IS NULL) AND f.id = ANY(%s)",
    "sale without a follow-up, or a follow-up without its sale": "SELECT f.id FROM fitting f "
    "JOIN follow_up u ON u.fitting_id = f.id LEFT JOIN sale s ON s.fitting_id = f.id AND s.undone_at IS NULL "
    "WHERE (u.withdrawn_at IS NULL) <> (s.id IS NOT NULL)",
    "a part's version is not its changes": "SELECT p.fitting_id, p.part FROM fitting_part p WHERE p.fitting_id = ANY(%s) "
    "AND p.version <> (SELECT count(*) FROM change c WHERE c.fitting_id = p.fitting_id AND c.part = p.part)",
    "a tray that holds what is settled": "SELECT r.fitting_id FROM reservation r JOIN fitting f ON f.id = r.fitting_id "
    "WHERE r.kind = 'tray' AND r.ended_at IS NULL AND r.until > now() AND f.state <> 'open' "
    "AND f.id = ANY(%s)",
    "a pair on its way that is in two shops, or in none": "SELECT 1 WHERE (SELECT coalesce(sum(pairs), 0) FROM movement "
    "WHERE kind = 'transferred') <> -(SELECT count(*) FROM shoe_order WHERE state = 'sent' AND from_shop IS NOT NULL)",
    "a pair sent twice, or without its order": "SELECT 1 WHERE (SELECT count(*) FROM movement WHERE kind = 'transferred' "
    "AND pairs < 0) <> (SELECT count(*) FROM shoe_order WHERE state IN ('sent', 'received') AND from_shop IS NOT NULL)",
    "a pair kept back for nobody any more": "SELECT id FROM reservation WHERE kind = 'customer' "
    "AND name = 'Soaked customer' AND ended_at IS NULL",
}


WORDS = (("athlete", "name"), ("athlete", "note"), ("athlete", "squad"), ("fitting_part", "body"), ("change", "before"),
         ("change", "after"), ("shop_change", "after"), ("reservation", "name"), ("shoe_order", "note"))  # fmt: skip
"""Where a word somebody's records had might still stand."""


def look(url: str, book: Book, hands: Hands, before: dict[str, int], ours: list[str]) -> None:
    """Compare the tables with what was acknowledged."""
    with psycopg.connect(url) as cx:
        have = {str(r[0]) for r in cx.execute("SELECT change_id FROM change WHERE change_id = ANY(%s)", [book.changes])}
        book.lost += [f"change {c}" for c in book.changes if c not in have]
        book.changes.clear()
        for line, count in before.items():
            (now,) = cx.execute("SELECT on_hand FROM stock_line WHERE id = %s", [line]).fetchone() or (None,)
            standing = cx.execute(
                "SELECT 1 FROM sale WHERE stock_line_id = %s AND undone_at IS NULL AND fitting_id = ANY(%s)",
                [line, ours],
            ).rowcount
            wanted = count + book.moves[line] - standing
            if now != wanted:
                (book.lost if now < wanted else book.doubled).append(f"line {line}: {now} on hand, {wanted} counted")
        for athlete, word in book.erased:
            for table, column in WORDS:
                query = f"SELECT 1 FROM {table} WHERE {column}::text LIKE %s LIMIT 1"
                if cx.execute(query, [f"%{word}%"]).fetchone():  # type: ignore[arg-type]
                    book.kept.append(f"{table}.{column} of {athlete}")
        book.erased.clear()
        for name, query in CHECKS.items():
            book.half += [f"{name}: {r}" for r in cx.execute(query, [ours] if "%s" in query else None).fetchall()]
        (body,) = cx.execute(
            "SELECT body FROM fitting_part WHERE fitting_id = %s AND part = 'feet'", [hands.fitting]
        ).fetchone() or ({},)
    foot = body.get("left") or {}
    for label, value in hands.typed.items():
        if foot.get(FIELDS[label][0]) != value:
            book.lost.append(f"{label}: typed {value}, kept {foot.get(FIELDS[label][0])}")
    for label, (name, _, _) in FIELDS.items():
        shown = hands.input(label).input_value()
        if (float(shown) if shown else None) != foot.get(name):
            book.lost.append(f"{label}: shown {shown}, kept {foot.get(name)}")


def wanted_there(url: str, watched: dict[str, int]) -> tuple[str, str, str]:
    """A size both shops have, many of it there: the size, the sister shop, the line here, which is watched from now on."""
    with psycopg.connect(url) as cx:
        row = cx.execute(
            "SELECT o.variant_id, t.shop_id, o.id, o.on_hand, t.id FROM stock_line o JOIN shop h ON h.id = o.shop_id "
            "JOIN stock_line t ON t.variant_id = o.variant_id JOIN shop g ON g.id = t.shop_id "
            "WHERE h.name LIKE '%%Harbour' AND g.name LIKE '%%North Isle' AND o.id <> ALL(%s::uuid[]) AND t.on_hand > 0 "
            "ORDER BY o.id LIMIT 1",
            [list(watched)],
        ).fetchone()
        assert row
        variant, sister, line, here, there = row
        cx.execute(
            "INSERT INTO movement (shop_id, stock_line_id, kind, pairs, change_id) VALUES (%s, %s, 'received', 900, %s)",
            [sister, there, uuid.uuid4()],
        )
    watched[str(line)] = here
    return str(variant), str(sister), str(line)


def main(rounds: int = 200, seed: int = 8) -> int:
    """So many rounds; the figures at the end. Nought when nothing was lost, doubled or half-written."""
    random.seed(seed)
    book, tally = Book(), Counter[str]()
    with database_server() as server, web(url := demo_database(server, "soak")) as running, chromium() as browser:
        ilse = browser.new_context(viewport=VIEW)  # type: ignore[arg-type]
        marrow = browser.new_context(viewport=VIEW)  # type: ignore[arg-type]
        page, shelf = ilse.new_page(), marrow.new_page()
        sign_in(page, running.url)
        sign_in(shelf, running.url, "marrow", PASSWORDS["marrow"])
        sale = ilse.new_page()
        fitter, seller, manager = signed_in(running), signed_in(running), signed_in(running, "marrow")
        typed, written = new_fitting(fitter), new_fitting(fitter)
        by_hand, _ = pulled(fitter, 1)
        by_api, (line_sold,) = pulled(fitter, 1)
        tray = fitter.get(f"/api/fittings/{by_hand}").json()["tray"]
        for line in (line_sold, tray[0]["id"]):  # enough of both, also when they are the same
            counted = manager.post(f"/api/stock/{line}/moves", json={"id": str(uuid.uuid4()), "by": 5})
            assert counted.status_code == 200
        stock = manager.get("/api/stock", params={"limit": 5000}).json()
        lines = [r["id"] for r in stock[1:6]]
        hands = Hands(page, shelf, sale, typed, by_hand, stock[0]["id"], book)
        watched = {r["id"]: r["on_hand"] for r in stock if r["id"] in {*lines, hands.line, line_sold, tray[0]["id"]}}
        sister = signed_in(running, "sorrel")
        wish = wanted_there(url, watched)
        athlete = fitter.get(f"/api/fittings/{written}").json()["athlete"]["id"]
        ours = [typed, written, by_hand, by_api]
        for each in (page, sale):
            each.on("dialog", lambda d: d.accept())
        page.goto(f"{running.url}/fittings/{typed}/feet")
        shelf.goto(f"{running.url}/stockroom")
        shelf.locator("[data-model] > button").first.click()
        sale.goto(f"{running.url}/fittings/{by_hand}/settle")
        page.evaluate("navigator.serviceWorker.ready.then(() => true)")
        began = time.monotonic()
        with ThreadPoolExecutor(9) as pool:
            for n in range(1, rounds + 1):
                work = [
                    pool.submit(kill_one, running, server, tally, book),
                    pool.submit(edits, fitter, written, book, 4),
                    pool.submit(counts, manager, lines, book, 4),
                    pool.submit(sales, seller, by_api, line_sold, book, 1),
                    pool.submit(begins, fitter, athlete, book),
                    pool.submit(holds, seller, lines[0], book),
                    pool.submit(transfers, manager, sister, wish, book),
                    pool.submit(erasures, manager, fitter, book),
                ]
                for act in random.sample([hands.feet, hands.press, hands.settle], random.randint(1, 3)):
                    act()
                for each in work:
                    each.result()
                hands.done()
                look(url, book, hands, watched, ours)
                if n % 10 == 0 or book.troubles:
                    minutes = (time.monotonic() - began) / 60
                    print(f"round {n}: {book.writes} writes, {dict(tally)} killed, {minutes:.1f} min", flush=True)
                if book.troubles:
                    break
    print(
        f"{n} rounds, {sum(tally.values())} kills ({tally['web']} of the web process, {tally['PostgreSQL']} of "
        f"PostgreSQL), {book.writes} writes acknowledged: {len(book.lost)} lost, {len(book.doubled)} doubled, "
        f"{len(book.half)} half-written, {len(book.kept)} kept"
    )
    for what, times in book.away.items():
        later = sorted(times)[int(0.95 * (len(times) - 1))]
        print(f"  away after a kill of {what}: median {median(times):.1f} s, 95 in 100 within {later:.1f} s")
    for trouble in book.troubles:
        print(" ", trouble)
    return 1 if book.troubles else 0


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:3])))
