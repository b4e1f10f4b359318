"""Calls nobody would make, as four people and as nobody: `./kalon bench fuzz [calls] [seed]`.

Every operation of the API's own description, with values it allows and values it does not, real ids and made-up ones,
broken bodies and headers. Counted by status; an answer of 500, or none, or one after five seconds is a failure, but for
files that are measured, which may take longer. The slowest are told."""

from __future__ import annotations

import json
import random
import string
import sys
import threading
import time
import uuid
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import quote

import httpx

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.calls import new_athlete, pulled, ready_to_pull, sell, signed_in
from tests.running import Web, database_server, demo_database, web

PEOPLE = ("marrow", "ilse", "pip", "sorrel", None)
HANDS = 6
HEAVY = {"/api/fittings/{fitting_id}/captures": 0.05, "/api/fittings/{fitting_id}/practice": 0.02,
         "/api/fittings/{fitting_id}/fit-sheet.pdf": 0.2, "/api/stock": 0.1, "/api/session": 0.1, "/api/failures": 0.1,
         "/api/fittings/{fitting_id}/spec/what-if": 3, "/api/calc/{name}": 6,
         "/api/fittings/{fitting_id}/parts/{part}": 6}  # fmt: skip
"""How often an operation is called, against one for the others."""
LONGEST_S = 5.0
MEASURES = ("captures", "practice", "/export/", "/sheets")
"""A file is measured or a list read by a worker here, or a whole table written as one: it may take longer."""

TEXTS = ["", " ", "\x00", "a\x00b", "x" * 300, "x" * 9000, "𝔘ñï", "\u202eabc", "'; DROP TABLE staff; --", "%", "_", "\\",
         "../../etc/passwd", "2026-02-30", "0001-01-01", "9999-12-31", "9999-12-31T23:59:59Z", "-1", "1e999", "NaN",
         "Infinity", "null", "true", "{}", "[]", "<svg onload=x>", "\r\nset-cookie: a=b", "\ud800"]  # fmt: skip
NUMBERS = [0, -1, 1, 0.5, 2**31 - 1, 2**31, -(2**31), 2**63, 10**25, 1e308, -1e308, 5e-324, 1e-7, 99999.999,
           float("nan"), float("inf"), float("-inf")]  # fmt: skip
PATHS = ["left/length_mm", "right/ball_girth_mm", "sport", "discipline", "left", "also", "also/0", "a/b/c/d", "", "/", "\x00",
         "history", "body_kg", "schools", "pairs/x/verdict", "note", "start_on", "__proto__", "weights"]  # fmt: skip


class Maker:
    """Values by schema, or against it."""

    def __init__(self, document: dict[str, Any], rng: random.Random, wild: float) -> None:
        self.schemas, self.rng, self.wild = document["components"]["schemas"], rng, wild

    def hostile(self, depth: int = 0) -> Any:
        """Anything that JSON can say."""
        pick = self.rng.random()
        if pick < 0.35:
            return self.rng.choice(TEXTS)
        if pick < 0.7:
            return self.rng.choice(NUMBERS)
        if pick < 0.8 or depth > 3:
            return self.rng.choice([None, True, False, [], {}])
        if pick < 0.9:
            return [self.hostile(depth + 1) for _ in range(self.rng.randint(0, 4))]
        return {self.rng.choice([*PATHS, *TEXTS]): self.hostile(depth + 1) for _ in range(self.rng.randint(0, 4))}

    def value(self, schema: dict[str, Any], depth: int = 0) -> Any:
        """A value the schema asks for, or now and then another."""
        rng = self.rng
        if rng.random() < self.wild or depth > 8:
            return self.hostile()
        if "$ref" in schema:
            return self.value(self.schemas[schema["$ref"].rsplit("/", 1)[1]], depth + 1)
        for many in ("anyOf", "oneOf", "allOf"):
            if many in schema:
                return self.value(rng.choice(schema[many]), depth + 1)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return rng.choice(schema["enum"])
        if schema.get("type") == "object" or "properties" in schema:
            return self.object(schema, depth)
        if schema.get("type") == "array":
            most = min(schema.get("maxItems", 4), 4)
            return [self.value(schema.get("items", {}), depth + 1) for _ in range(rng.randint(0, most))]
        return self.plain(schema)

    def object(self, schema: dict[str, Any], depth: int) -> dict[str, Any]:
        """An object: what must be there, some of what may, sometimes more."""
        needs = schema.get("required", [])
        found = {
            name: self.value(of, depth + 1)
            for name, of in schema.get("properties", {}).items()
            if self.rng.random() < (0.98 if name in needs else 0.5)
        }
        if more := schema.get("additionalProperties"):
            for _ in range(self.rng.randint(0, 3)):
                of = more if isinstance(more, dict) else {}
                found[self.rng.choice(PATHS)] = self.value(of, depth + 1)
        return found

    def plain(self, schema: dict[str, Any]) -> Any:
        """A text, a number or a truth."""
        rng, kind = self.rng, schema.get("type")
        if kind == "boolean":
            return rng.random() < 0.5
        if kind in ("integer", "number"):
            low = schema.get("minimum", schema.get("exclusiveMinimum", -10))
            high = schema.get("maximum", schema.get("exclusiveMaximum", 1000))
            return rng.choice([low, high, rng.randint(int(low), max(int(low), int(high))), rng.uniform(low, high)])
        if kind == "null":
            return None
        if kind == "string":
            if schema.get("format") == "uuid":
                return str(uuid.UUID(int=rng.getrandbits(128)))
            if schema.get("format") == "date":
                return rng.choice(["2026-11-26", "2024-02-29", "1900-01-01", "9999-12-31"])
            return "".join(rng.choices(string.ascii_letters + " ", k=rng.randint(1, 12)))
        return self.hostile()


@dataclass
class Tally:
    """What came back."""

    statuses: Counter[str] = field(default_factory=Counter)
    failures: list[str] = field(default_factory=list)
    unsent: int = 0
    slowest: dict[str, float] = field(default_factory=dict)
    """Seconds of the slowest answer, by operation."""
    before: dict[httpx.Client, str] = field(default_factory=dict)
    """By connection: what was answered last on it."""
    lock: threading.Lock = field(default_factory=threading.Lock)


def known_ids(running: Web) -> dict[str, list[str]]:
    """Ids that are there: an open fitting, one with a brief, one settled; their athletes, lines, captures, sales."""
    client = signed_in(running)
    found: dict[str, list[str]] = {
        name: [] for name in ("fitting_id", "athlete_id", "line_id", "model_id", "capture_id", "sale_id")
    }
    sold, (line,) = pulled(client, 1)
    sell(client, sold, line)
    tried, lines = pulled(client, 2)
    for fitting in (sold, tried, ready_to_pull(client), ready_to_pull(client, sport="climbing", discipline="trad")):
        capture = str(uuid.uuid4())
        practice = {"id": capture, "device": "mat", "side": "left", "seed": 3}
        if client.post(f"/api/fittings/{fitting}/practice", json=practice).status_code == 201:
            found["capture_id"].append(capture)
        whole = client.get(f"/api/fittings/{fitting}").json()
        found["fitting_id"].append(fitting)
        found["athlete_id"].append(whole["athlete"]["id"])
        found["line_id"] += [p["id"] for p in whole["tray"]]
        found["model_id"] += [p["model_id"] for p in whole["tray"]]
        if whole["sale"]:
            found["sale_id"].append(whole["sale"]["id"])
    found["athlete_id"].append(new_athlete(client))
    found["part"] = ["feet", "brief", "spec", "trial", "settle", "return"]
    found["form"] = ["json", "csv", "svg"]
    found["width"] = ["narrow", "regular", "wide"]
    found["name"] = [c["name"] for c in client.get("/api/calc").json()]
    assert lines
    return found


def body_for(operation: dict[str, Any], make: Maker) -> tuple[bytes | None, dict[str, str]]:
    """A body and its headers: as described, spoilt, or of another kind."""
    content = operation.get("requestBody", {}).get("content", {})
    pick = make.rng.random()
    if not content and pick > 0.05:
        return None, {}
    if "application/json" not in content or pick < 0.02:
        return make.rng.randbytes(make.rng.choice([0, 1, 90, 5000])), {"content-type": "application/octet-stream"}
    if pick < 0.03:
        return b"[" * make.rng.choice([10, 5000, 100_000]), {"content-type": "application/json"}
    text = json.dumps(make.value(content["application/json"]["schema"]))
    if pick < 0.05:
        text = text[: make.rng.randint(0, len(text))]
    return text.encode("utf-8", "surrogatepass"), {"content-type": "application/json"}


def one_call(
    client: httpx.Client, document: dict[str, Any], ids: dict[str, list[str]], make: Maker, tally: Tally
) -> None:
    """One operation, called once."""
    rng = make.rng
    every = [(p, m) for p, methods in document["paths"].items() for m in methods]
    path, method = rng.choices(every, [HEAVY.get(p, 1.0) for p, _ in every])[0]
    if (path, method) == ("/api/session", "delete") and client.cookies:
        return
    operation = document["paths"][path][method]
    where, query = path, {}
    for parameter in operation.get("parameters", []):
        name = parameter["name"]
        value = make.value(parameter["schema"])
        if parameter["in"] == "path":
            if rng.random() < 0.75 and ids.get(name):
                value = rng.choice(ids[name])
            where = where.replace(f"{{{name}}}", quote(str(value).encode("utf-8", "replace"), safe="") or "x")
        elif parameter["in"] == "query" and rng.random() < 0.8:
            query[name] = str(value).encode("utf-8", "replace").decode()
    body, headers = body_for(operation, make)
    if rng.random() < 0.02:
        headers["origin"] = rng.choice(["null", "http://[", "http://elsewhere.example", "::::", "http://a:99999999"])
    if rng.random() < 0.01:
        where += "/x" * rng.choice([1, 50, 3000])
    if rng.random() < 0.01:
        method = rng.choice(["put", "patch", "delete", "head", "options", "trace"])
    began = time.monotonic()
    before, called = tally.before, f"{method} {path}"
    try:
        answer = client.request(method.upper(), where, params=query, content=body, headers=headers)
    except (httpx.InvalidURL, UnicodeError, ValueError):
        tally.unsent += 1
        return
    except httpx.TransportError as error:
        with tally.lock:
            tally.failures.append(
                f"{method} {path}: no answer ({type(error).__name__}: {error}), after {before.get(client)}"
            )
        return
    took, name = time.monotonic() - began, called
    before[client] = f"{called} {answer.status_code} of {len(body or b'')} bytes, at {time.strftime('%H:%M:%S')}"
    with tally.lock:
        tally.statuses[str(answer.status_code)] += 1
        tally.slowest[name] = max(took, tally.slowest.get(name, 0.0))
        if took > LONGEST_S and not any(part in path for part in MEASURES):
            tally.failures.append(f"{name}: answered after {took:.1f} s")
        if answer.status_code == 500:
            said = body[:400] if body else b""
            tally.failures.append(f"{method} {where[:200]} {query} {said!r}: {answer.text[:200]}")


def main(calls: int = 100_000, seed: int = 8) -> int:
    """So many calls; nought when none was answered by 500 or not at all."""
    tally = Tally()
    with database_server() as server, web(demo_database(server, "fuzz")) as running:
        document = signed_in(running).get("/api/openapi.json").json()
        ids = known_ids(running)
        began = time.monotonic()

        def hand(number: int) -> None:
            rng = random.Random(f"{seed}/{number}")
            people = [httpx.Client(base_url=running.url, timeout=60) for _ in PEOPLE]
            for client, login in zip(people, PEOPLE, strict=True):
                if login:
                    client.cookies = httpx.Cookies(
                        {"kalon_session": signed_in(running, login).cookies["kalon_session"]}
                    )
            while True:
                done = sum(tally.statuses.values())
                if done >= calls:
                    return
                make = Maker(document, rng, rng.choice([0.0, 0.01, 0.05, 0.3]))
                one_call(rng.choice(people), document, ids, make, tally)
                if done and done % 5000 == 0 and number == 0:
                    print(f"{done} calls, {len(tally.failures)} failures, {time.monotonic() - began:.0f} s", flush=True)

        with ThreadPoolExecutor(HANDS) as pool:
            for each in [pool.submit(hand, n) for n in range(HANDS)]:
                each.result()
        whole = signed_in(running)
        for fitting in ids["fitting_id"]:
            answer = whole.get(f"/api/fittings/{fitting}")
            erased = answer.status_code == 404 and answer.json().get("code") == "erased"  # by one of the calls
            if answer.status_code != 200 and not erased:
                tally.failures.append(f"a fitting that opens no more: {answer.text[:300]}")
    total = sum(tally.statuses.values())
    print(f"{total} calls as {len(PEOPLE) - 1} people and nobody in {(time.monotonic() - began) / 60:.1f} min")
    print("by status:", dict(sorted(tally.statuses.items())))
    print(f"{tally.statuses['500']} answers of 500, {len(tally.failures)} failures")
    for name, took in sorted(tally.slowest.items(), key=lambda of: -of[1])[:8]:
        print(f"  {took:5.2f} s at the most: {name}")
    for failure in tally.failures[:20]:
        print(" ", failure)
    return 1 if tally.failures else 0


if __name__ == "__main__":
    sys.exit(main(*map(int, sys.argv[1:3])))
