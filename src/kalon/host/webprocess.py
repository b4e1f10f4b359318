"""One web process: serves on a socket the supervisor opened, and ends when the supervisor does, whatever ends it.

Run as `python -m kalon.host.webprocess SOCKET LIFELINE SUPERVISOR`: two inherited file numbers, and the supervisor's
process number, by which a later start knows whose leftover this is. It makes ready and serves once something comes on
standard input: a spare one takes the place of one that ended without anybody waiting for it to be made ready.
"""

from __future__ import annotations

import os
import signal
import socket
import sys
import time
from importlib import import_module
from threading import Thread

import uvicorn

from .door import DoorProtocol, proxies

GRACE_S = 5
"""How long requests under way may take to finish when told to end."""


def _watch(lifeline: int) -> None:
    """Wait for the end of the supervisor, which alone holds the other end of the pipe; then end."""
    while os.read(lifeline, 1):
        pass
    os.kill(os.getpid(), signal.SIGTERM)
    time.sleep(GRACE_S + 3)
    os._exit(1)


def configured() -> uvicorn.Config:
    """How a web process serves. Nobody's word for who asks is taken, but that of the proxies named."""
    DoorProtocol.trusted = proxies()
    return uvicorn.Config(
        "kalon.api.app:create_app",
        factory=True,
        http=DoorProtocol,
        access_log=False,
        log_level="warning",
        proxy_headers=bool(DoorProtocol.trusted),
        forwarded_allow_ips=sorted(DoorProtocol.trusted),
        timeout_graceful_shutdown=GRACE_S,
        timeout_keep_alive=75,
        server_header=False,
    )


def main(listening: int, lifeline: int) -> None:
    """Make ready; once told to, serve until told to end."""
    Thread(target=_watch, args=(lifeline,), daemon=True).start()
    config = configured()
    import_module("kalon.api.app")
    if sys.stdin.buffer.read(1):
        uvicorn.Server(config).run(sockets=[socket.socket(fileno=listening)])


if __name__ == "__main__":
    main(int(sys.argv[1]), int(sys.argv[2]))
