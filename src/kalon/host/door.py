"""The HTTP protocol of a web process: a connection that asks nothing is cut, and one address holds only so many.

The server library waits for ever for the rest of a request's head; whoever opened as many connections as there may be
files, and said nothing, would keep everybody else out.
"""

from __future__ import annotations

import asyncio
import os
from collections import Counter
from typing import Any

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

HEAD_S = 10.0
"""Longest from the opening of a connection, or the first sign of a request, to the end of its head. House default."""
MOST_OF_ONE = 256
"""So many connections of one address at a time, in each web process. House default."""
FULL = b"HTTP/1.1 503 Service Unavailable\r\nretry-after: 5\r\ncontent-length: 0\r\nconnection: close\r\n\r\n"


def proxies() -> frozenset[str]:
    """The addresses of proxies before this machine, named by KALON_PROXIES: what they say of who asks is believed."""
    return frozenset(p.strip() for p in os.environ.get("KALON_PROXIES", "").split(",") if p.strip())


class DoorProtocol(HttpToolsProtocol):
    """One connection."""

    held: Counter[str] = Counter()
    """How many connections each address has open in this process."""
    trusted: frozenset[str] = frozenset()
    """Addresses of which there may be any number."""
    _address: str = ""
    _head: asyncio.TimerHandle | None = None

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Count it, and wait for a head only so long."""
        super().connection_made(transport)
        peer: Any = transport.get_extra_info("peername")
        address = str(peer[0]) if isinstance(peer, tuple) else ""
        if address not in self.trusted and self.held[address] >= MOST_OF_ONE:
            transport.write(FULL)
            transport.close()
            return
        self._address = address
        self.held[address] += 1
        self._await_head()

    def connection_lost(self, exc: Exception | None) -> None:
        """It is over."""
        super().connection_lost(exc)
        self._head_came()
        if self._address:
            self.held[self._address] -= 1
            if self.held[self._address] <= 0:
                del self.held[self._address]
            self._address = ""

    def on_message_begin(self) -> None:
        """A request's first sign."""
        super().on_message_begin()
        self._await_head()

    def on_headers_complete(self) -> None:
        """Its head is whole."""
        self._head_came()
        super().on_headers_complete()

    def _await_head(self) -> None:
        if self._head is None:
            self._head = asyncio.get_running_loop().call_later(HEAD_S, self._too_slow)

    def _head_came(self) -> None:
        if self._head is not None:
            self._head.cancel()
            self._head = None

    def _too_slow(self) -> None:
        self._head = None
        if not self.transport.is_closing():
            self.transport.abort()
