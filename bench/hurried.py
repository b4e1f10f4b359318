"""Hurried hands: `./kalon bench hurried [scripts] [seed]`, or with a line it told, `./kalon bench hurried 'return, 0.6 s,
quiet: 3 Enter …'`, that script ten times over.

Scripts of random keys out of the interface's own list, at random speed, over every station and room, at three
latencies, with somebody else's change, a caution to acknowledge or a lost answer thrown in. A watcher in the page, which
knows nothing of the interface's gate but the words on its buttons, says since when each has been in sight, and what was
asked of the server when. Wanted: nothing weighty asked for sooner than it can have been seen, and nothing typed that is
neither kept nor told of.
"""

from __future__ import annotations

import random
import re
import sys
import time
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path
from typing import Any

import httpx
from playwright.sync_api import BrowserContext, Error, Page, TimeoutError

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.calls import new_fitting, patch, pulled, ready_to_pull, sell, signed_in, today
from tests.browser.driver import VIEW, chromium
from tests.running import Web, database_server, demo_database, web

ROOT = Path(__file__).parents[1]
PRESSES = {
    "Ctrl Enter": ["Control+Enter"], "Ctrl Shift Enter": ["Control+Shift+Enter"], "G, then 1 … 7": ["g"],
    "Enter in a number": ["Enter"], "1 … 9, 0": list("1234567890"), "Enter": ["Enter"], "Delete": ["Delete"],
    "Up, Down": ["ArrowUp", "ArrowDown"], "Left, Right": ["ArrowLeft", "ArrowRight"], "[ and ]": ["[", "]"], "C": ["c"],
    "A": ["a"], "W": ["w"], "S": ["s"], "P and F": ["p", "f"], "M": ["m"], "Space": [" "], "V and U": ["v", "u"], "B and P": ["p"],
    "N": ["n"], "/": ["/"], "Ctrl K": ["Control+k"], "Ctrl Z, Ctrl Y": ["Control+z", "Control+y"], "?": ["?"],
}  # fmt: skip
"""How each line of the interface's list of keys is pressed. B would open the browser's own dialog for files."""
ALSO = ["Tab", "Shift+Tab", "Escape", "Enter", "Enter", "Backspace", "255", "98", "12o", "1", "2"]
LATENCY_S = (0.0, 0.15, 0.6)
KEYS_A_SCRIPT = 24
SLACK_MS = 120
"""A frame or two are lost between what is painted and what the watcher sees."""

WATCHER = """
(() => {
  if (window.hurried) return;
  const SENT_LATER_MS = 21_000;
  const first = new WeakMap(), words = new WeakMap();
  const hurried = (window.hurried = { asked: [], clashes: [], typed: {}, errors: [] });
  window.addEventListener("error", (e) => hurried.errors.push(String(e.message)));
  const wordsOf = (e) => e.closest("[data-caution]") ? "Acknowledged" : (e.innerText || e.textContent || "").trim();
  let clash = null;
  const look = () => {
    const now = performance.now();
    for (const e of document.querySelectorAll("button, [data-caution] input")) {
      const r = e.getBoundingClientRect();
      const seen = r.width > 0 && r.bottom > 0 && r.top < innerHeight;
      if (!seen) first.delete(e);
      else if (!first.has(e) || words.get(e) !== wordsOf(e)) { first.set(e, now); words.set(e, wordsOf(e)); }
    }
    const bar = document.querySelector("[data-clash]");
    if (bar && !clash) clash = now;
    if (!bar && clash) { hurried.clashes.push(now - clash); clash = null; }
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
  // What is pressed may be sent later, once what was typed has arrived, from wherever one is by then.
  const presses = [];
  document.addEventListener("click", (e) => {
    const on = e.target.closest?.("button, [data-caution] input"), now = performance.now();
    if (on && first.has(on)) presses.push([words.get(on), now - first.get(on), now]);
  }, true);
  document.addEventListener("input", (e) => {
    const figure = e.target.closest?.("[data-figure]");
    if (figure && e.isTrusted) hurried.typed[figure.dataset.figure] = e.target.value;
  }, true);
  const plain = window.fetch;
  window.fetch = async (request, more) => {
    const method = request.method ?? more?.method ?? "GET", url = request.url ?? String(request);
    if (method !== "GET") {
      const now = performance.now();
      const body = await request.clone?.().text().catch(() => "") ?? "";
      const sights = [...document.querySelectorAll("button, [data-caution] input")]
        .filter((e) => first.has(e)).map((e) => [words.get(e), now - first.get(e)])
        .concat(presses.filter((p) => now - p[2] < SENT_LATER_MS).map((p) => p.slice(0, 2)));
      hurried.asked.push({ method, url, body, sights });
    }
    return plain(request, more);
  };
})();
"""
"""Of each button its words and since when it is in sight; what was asked for, and how long each had been seen then."""

WEIGHTY: list[tuple[str, str, str, str, int]] = [
    ("POST", r"/sale$", "", "Settle on this pair", 1000),
    ("DELETE", r"/sale/", "", "Undo the sale", 400),
    ("POST", r"/api/orders$", "", "Order it|Ask |Have a pair made", 400),
    ("POST", r"/follow-up/done$", "", "Close the follow-up", 400),
    ("PUT", r"/follow-up$", "", "Book the follow-up|Move", 400),
    ("POST", r"/steps$", "", "", 400),
    ("PATCH", r"/parts/spec$", "acknowledged/", "Acknowledged", 1000),
]
"""Method, address, what its body has, the words of what asks for it, and how long that has to be seen, ms."""


@dataclass
class Place:
    """Where a script begins: how it is made, and where it is in the address bar."""

    name: str
    make: Callable[[httpx.Client], str]


def _with_caution(client: httpx.Client) -> str:
    fitting = ready_to_pull(client, history=["diabetes"])
    return f"/fittings/{fitting}/spec"


def _passed(client: httpx.Client) -> str:
    fitting, (line,) = pulled(client, 1)
    patch(client, fitting, "trial", {f"pairs/{line}/verdict": "pass"})
    return f"/fittings/{fitting}/settle"


def _sold(client: httpx.Client) -> str:
    fitting, (line,) = pulled(client, 1)
    sell(client, fitting, line)
    client.put(f"/api/fittings/{fitting}/follow-up", json={"due_on": (today() + timedelta(days=20)).isoformat()})
    patch(client, fitting, "return", {"hours": 12, "length_mm": 8})
    return f"/fittings/{fitting}/return"


PLACES = [
    Place("feet", lambda c: f"/fittings/{new_fitting(c)}/feet"),
    Place("brief", lambda c: f"/fittings/{ready_to_pull(c)}/brief"),
    Place("spec", _with_caution),
    Place("pull", lambda c: f"/fittings/{ready_to_pull(c)}/pull"),
    Place("trial", lambda c: f"/fittings/{pulled(c, 2)[0]}/trial"),
    Place("settle", _passed),
    Place("return", _sold),
    *(Place(room or "today", lambda _, room=room: f"/{room}")  # type: ignore[misc]
      for room in ("", "athletes", "pairs", "stockroom", "stockroom/orders", "ledger", "house")),
]  # fmt: skip


OFTEN = {"feet": 4, "spec": 3, "pull": 2, "settle": 4, "return": 3}
"""How often a script begins there, against once for the others: where most can be done too early."""


def keys_of_the_list() -> list[str]:
    """All keys of the interface's own list; a line nobody knows how to press is an error."""
    text = (ROOT / "web" / "src" / "shell" / "keys.ts").read_text(encoding="utf-8")
    lines = re.findall(r'^  \["([^"]+)", "', text, re.MULTILINE)
    unknown = [line for line in lines if line not in PRESSES]
    if unknown or not lines:
        raise SystemExit(f"keys of the list that are not pressed here: {unknown}")
    return [key for line in lines for key in PRESSES[line]]


def press(page: Page, key: str) -> None:
    """One key, or what is typed; G and a digit together."""
    if key == "g":
        page.keyboard.press("g")
        page.keyboard.press(random.choice("1234567"))
    elif len(key) > 1 and key.isalnum() and key[0].isdigit():
        page.keyboard.type(key)
    else:
        page.keyboard.press(key)


def disturb(page: Page, client: httpx.Client, place: str, what: str) -> None:
    """Somebody else's length comes between; or the next answer is lost on its way."""
    if what == "clash" and place.endswith("/feet"):
        page.route("**/api/fittings/*", lambda r: r.abort() if r.request.method == "GET" else r.continue_())
        patch(client, place.split("/")[2], "feet", {"left/length_mm": 201.5, "left/ball_width_mm": 77.5})
    if what == "lost":
        lost: list[str] = []

        def lose(route: Any) -> None:
            if route.request.method == "PATCH" and not lost:
                lost.append(route.request.url)
                route.fetch()  # it is done, and the answer never comes
                route.abort()
            else:
                route.continue_()

        page.route("**/parts/*", lose)


def unseen(asked: list[dict[str, Any]]) -> list[str]:
    """What was asked for before it can have been seen."""
    found = []
    for each in asked:
        for method, address, has, words, least in WEIGHTY:
            if each["method"] != method or not re.search(address, each["url"].split("?")[0]) or has not in each["body"]:
                continue
            if has and '":null' in each["body"]:
                continue  # taken back
            sights = [ms for said, ms in each["sights"] if words and re.match(words, said)]
            if words and max(sights, default=0.0) < least - SLACK_MS:
                found.append(f"{method} {address} after {max(sights, default=0.0):.0f} ms in sight")
    return found


def lost_words(page: Page, client: httpx.Client, place: str, typed: dict[str, str]) -> list[str]:
    """Numbers typed at Feet that the server doesn't have, and no word on the page tells of."""
    if not typed or not place.startswith("/fittings/"):
        return []
    told = page.locator("body").inner_text()
    fitting = place.split("/")[2]
    feet = client.get(f"/api/fittings/{fitting}").json()["parts"]["feet"]["body"]
    found = []
    for figure, text in typed.items():
        side, name = figure.split("/")
        kept = (feet.get(side) or {}).get(name)
        try:
            meant = float(text.replace(",", ".")) if text else None
        except ValueError:
            meant = float("nan")
        if kept == meant or (meant is not None and kept is not None and abs(kept - meant) < 0.06):
            continue
        field = page.locator(f"[data-figure='{figure}'] input")
        marked = field.count() and field.first.get_attribute("aria-invalid") == "true"
        if marked or "Left behind in a field" in told or "not saved" in told or "you put" in told:
            continue
        found.append(f"{figure}: typed {text!r}, kept {kept}")
    return found


Script = tuple[Place, float, str, list[str]]
"""Where it begins, how late answers are, what comes between, and the keys."""


def drawn(keys: list[str]) -> Script:
    """A script at random."""
    place = random.choices(PLACES, [OFTEN.get(p.name, 1) for p in PLACES])[0]
    what = random.choice(["", "clash", "clash", "lost"] if place.name == "feet" else ["", "", "lost"])
    pressed = [random.choice(keys if random.random() < 0.7 else ALSO) for _ in range(KEYS_A_SCRIPT)]
    return place, random.choice(LATENCY_S), what, pressed


def told(line: str) -> Script:
    """The script of a line that this told."""
    said, _, keys = line.rpartition("| ")[2].partition(": ")
    name, latency, what = said.split(", ")
    place = next(p for p in PLACES if p.name == name)
    return place, float(latency.split()[0]), "" if what == "quiet" else what, keys.split(" ")


def one_script(
    context: BrowserContext,
    running: Web,
    client: httpx.Client,
    other: httpx.Client,
    script: Script,
    tally: Counter[str],
) -> list[str]:
    """One script; what is wrong with what it did."""
    place, latency, what, pressed = script
    address = place.make(client)
    tally[place.name] += 1
    page = context.new_page()
    page.add_init_script(WATCHER)
    page.on("dialog", lambda d: d.accept())
    session = context.new_cdp_session(page)
    session.send("Network.enable")
    try:
        page.goto(running.url + address)
        page.locator("main:focus, main :focus").first.wait_for(timeout=20_000)
        if latency:
            net = {"offline": False, "latency": 1000 * latency, "downloadThroughput": -1, "uploadThroughput": -1}
            session.send("Network.emulateNetworkConditions", net)
        disturbed = random.randrange(len(pressed))
        for i, key in enumerate(pressed):
            if i == disturbed and what:
                disturb(page, other, address, what)
            press(page, key)
            if random.random() < 0.5:
                page.wait_for_timeout(random.choice([5, 30, 120, 450]))
        page.unroute_all(behavior="ignoreErrors")
        session.send(
            "Network.emulateNetworkConditions",
            {"offline": False, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1},
        )
        page.wait_for_timeout(1200)
        deadline = time.monotonic() + 10
        while time.monotonic() < deadline and page.get_by_text("saving …").count():
            page.wait_for_timeout(200)
        seen = page.evaluate("window.hurried")
        tally["weighty"] += sum(
            bool(re.search(w[1], a["url"].split("?")[0])) and a["method"] == w[0]
            for a in seen["asked"]
            for w in WEIGHTY
        )
        tally["clashes"] += len(seen["clashes"])
        troubles = unseen(seen["asked"])
        troubles += [f"a clash decided {ms:.0f} ms after it came" for ms in seen["clashes"] if ms < 1000 - SLACK_MS]
        troubles += [f"an error in the page: {text}" for text in seen["errors"]]
        undone = any(k in ("Control+z", "Control+y") for k in pressed)
        troubles += [] if undone else lost_words(page, client, address, seen["typed"])
        if page.locator("body").inner_text().find("can't be drawn") >= 0:
            troubles.append("something could not be drawn")
    except (Error, TimeoutError) as error:
        troubles = [f"the script itself: {str(error).splitlines()[0]}"]
    finally:
        page.close()
    return [f"{t} | {place.name}, {latency} s, {what or 'quiet'}: {' '.join(pressed)}" for t in troubles]


def main(asked: str = "400", seed: str = "8") -> int:
    """So many scripts, or one of a line; nought when nothing weighty was done unseen and nothing typed was lost without a
    word."""
    random.seed(int(seed))
    one = None if asked.isdigit() else told(asked)
    scripts = 10 if one else int(asked)
    keys, tally, troubles = keys_of_the_list(), Counter[str](), list[str]()
    began = time.monotonic()
    with database_server() as server, web(demo_database(server, "hurried")) as running, chromium() as browser:
        client, other = signed_in(running, "bram"), signed_in(running, "marrow")
        context = browser.new_context(viewport=VIEW)  # type: ignore[arg-type]
        for n in range(1, scripts + 1):
            token = signed_in(running).cookies["kalon_session"]  # a script may have signed out
            context.add_cookies([{"name": "kalon_session", "value": token, "url": running.url}])
            troubles += one_script(context, running, client, other, one or drawn(keys), tally)
            if n % 20 == 0:
                print(f"{n} scripts, {len(troubles)} troubles, {(time.monotonic() - began) / 60:.1f} min", flush=True)
    print(f"{scripts} scripts of {KEYS_A_SCRIPT} keys over {len(PLACES)} places: {tally['weighty']} weighty acts, ")
    print(f"{tally['clashes']} clashes decided; {len(troubles)} troubles")
    for trouble in troubles:
        print(" ", trouble)
    return 1 if troubles else 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:3]))
