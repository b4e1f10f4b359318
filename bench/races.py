"""The last pair grabbed from all sides, five hundred times: `./kalon bench races [rounds]`.

Each round one pair stands in a sister shop, and at once it is sent to two orders, counted away twice, and put on a
list that counts it anew; and in the shop itself two fittings settle on one last pair. What is wrong: a pair that went
twice, a pair below nought, a ledger that doesn't add up to what is on hand.
"""

from __future__ import annotations

import random
import sys
import time
import uuid
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.api.calls import pulled, ready_to_pull, sell, signed_in, take_back
from tests.api.test_orders import ask, count, shop_of, size_in_both, step
from tests.api.test_sheets import ledger_holds
from tests.running import Web, database_server, demo_database, web


def grabbed(hands: list[Any]) -> Counter[int]:
    """Everybody at once, in any order; how often which status was answered."""
    random.shuffle(hands)
    with ThreadPoolExecutor(len(hands)) as pool:
        return Counter(pool.map(lambda hand: hand(), hands))


def between_shops(running: Web, url: str, north: str) -> bool:
    """One pair in a sister shop: sent twice and counted away twice. Whether one of the four had it."""
    here, there = signed_in(running), signed_in(running, "sorrel")
    variant, _, theirs = size_in_both(url)
    count(there, theirs, 1)
    orders = [ask(here, variant, north).json()["id"] for _ in range(2)]
    hands: list[Any] = [lambda o=o: step(signed_in(running, "sorrel"), o, "sent").status_code for o in orders]
    for _ in range(2):
        body = {"id": str(uuid.uuid4()), "by": -1}
        hands.append(lambda b=body: signed_in(running, "sorrel").post(f"/api/stock/{theirs}/moves", json=b).status_code)
    answers = grabbed(hands)
    return answers == Counter({409: 3, 200: 1}) and there.get(f"/api/stock/{theirs}").json()["on_hand"] == 0


def at_the_till(running: Web, fittings: list[str], line: str) -> bool:
    """One pair, two fittings settle on it, and a count comes between. Whether nothing went twice."""
    manager = signed_in(running, "marrow")
    count(manager, line, 1)
    body = {"id": str(uuid.uuid4()), "by": random.choice([-1, 1])}
    hands: list[Any] = [lambda f=f: sell(signed_in(running), f, line).status_code for f in fittings]
    hands.append(lambda: signed_in(running, "marrow").post(f"/api/stock/{line}/moves", json=body).status_code)
    answers = grabbed(hands)
    left = 1 + (body["by"] if answers[200] else 0) - answers[201]
    fine = left >= 0 and manager.get(f"/api/stock/{line}").json()["on_hand"] == left
    for fitting in fittings:
        if manager.get(f"/api/fittings/{fitting}").json()["sale"]:
            take_back(signed_in(running), fitting)
    return fine


def main(rounds: int) -> None:
    """Half of the rounds between shops, half at the till."""
    wrong: Counter[str] = Counter()
    began = time.perf_counter()
    with database_server() as server:
        url = demo_database(server, "races")
        with web(url) as running:
            north = shop_of(url, "North Isle")
            client = signed_in(running)
            first, (line,) = pulled(client, 1)
            second = ready_to_pull(client)
            client.put(f"/api/fittings/{second}/tray/{line}")
            for n in range(rounds):
                fine = between_shops(running, url, north) if n % 2 else at_the_till(running, [first, second], line)
                wrong["transfer" if n % 2 else "sale"] += not fine
                if n % 100 == 99:
                    wrong["ledger"] += not ledger_holds(url)
                    print(f"{n + 1} rounds: {dict(wrong)} wrong", flush=True)
    print(f"{sum(wrong.values())} wrong in {rounds} rounds, {time.perf_counter() - began:.0f} s")


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 500)
