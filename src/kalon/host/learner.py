"""The learner: a process beside the web that learns from what was found, after whoever found it had their answer.

Run as `python -m kalon.host.learner LIFELINE SUPERVISOR`, with the owner's address of the database in
`KALON_DATABASE_URL`; no web process knows that one. It ends when the supervisor does.
"""

from __future__ import annotations

import os
import sys
import time
from threading import Thread

import psycopg
import structlog
from psycopg.rows import dict_row

from ..store import lives, queue, shelves, unnamed
from ..store.learning import run_due, try_again

LONGEST_SLEEP_S = 30.0
"""It looks at least so often, though nobody woke it."""
TOGETHER_S = 1.0
"""How long it lets more of the same come before it works."""
AGAIN_S = 3.0
BEHIND = 10
"""How far it stands back: whoever waits for an answer comes first on a processor."""
log = structlog.get_logger()


def _watch(lifeline: int) -> None:
    """End when the supervisor does; what is half done is undone by the database."""
    while os.read(lifeline, 1):
        pass
    os._exit(0)


def work(url: str) -> None:
    """Learn for as long as the database answers. Raises `psycopg.Error` when it doesn't."""
    with psycopg.connect(url, row_factory=dict_row, autocommit=True) as cx:
        cx.execute("LISTEN kalon_learn")
        if count := try_again(cx):
            log.info("tried again", looked_at=count)
        while True:
            if count := run_due(cx) + lives.run_due(cx):
                log.info("learned", looked_at=count)
            shelves.forget_old(cx)
            if count := unnamed.forget_due(cx):
                log.info("forgot people without a name", count=count)
            queue.described(cx)
            for _ in cx.notifies(timeout=LONGEST_SLEEP_S, stop_after=1):
                time.sleep(TOGETHER_S)


def main(lifeline: int) -> None:
    """Learn until told to end; a database that is away is waited for."""
    Thread(target=_watch, args=(lifeline,), daemon=True).start()
    os.nice(BEHIND)
    url = os.environ["KALON_DATABASE_URL"]
    while True:
        try:
            work(url)
        except psycopg.OperationalError:
            time.sleep(AGAIN_S)


if __name__ == "__main__":
    main(int(sys.argv[1]))
