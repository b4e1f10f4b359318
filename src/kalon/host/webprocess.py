"""One web process: serves on a socket the supervisor opened, and ends when the supervisor does, whatever ends it.

Run as `python -m kalon.host.webprocess SOCKET LIFELINE SUPERVISOR`: two inherited file numbers, and the supervisor's
process number, by which a later start knows whose leftover this is.
"""

from __future__ import annotations

import os
import signal
import socket
import sys
import time
from threading import Thread

import uvicorn

GRACE_S = 5
"""How long requests under way may take to finish when told to end."""


def _watch(lifeline: int) -> None:
    """Wait for the end of the supervisor, which alone holds the other end of the pipe; then end."""
    while os.read(lifeline, 1):
        pass
    os.kill(os.getpid(), signal.SIGTERM)
    time.sleep(GRACE_S + 3)
    os._exit(1)


def main(listening: int, lifeline: int) -> None:
    """Serve until told to end."""
    Thread(target=_watch, args=(lifeline,), daemon=True).start()
    config = uvicorn.Config(
        "kalon.api.app:create_app",
        factory=True,
        access_log=False,
        log_level="warning",
        proxy_headers=True,
        timeout_graceful_shutdown=GRACE_S,
        timeout_keep_alive=75,
        server_header=False,
    )
    uvicorn.Server(config).run(sockets=[socket.socket(fileno=listening)])


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]))
