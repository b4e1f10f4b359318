"""The door of a web process: what says nothing is cut, one address holds so many connections, and only a proxy that
was named is believed when it says who asks."""

from __future__ import annotations

import contextlib
import socket
import time
from collections.abc import Callable, Iterator
from threading import Thread
from typing import Any

import httpx
import pytest
import uvicorn

from kalon.host import door, webprocess
from tests.api.calls import eventually


async def says_who(scope: Any, receive: Any, send: Any) -> None:
    """Answers with whom it takes the asker for, once the whole body has come."""
    if scope["type"] != "http":
        return
    while (await receive()).get("more_body"):
        pass
    body = f"{scope['client'][0]} {scope['scheme']}".encode()
    await send(
        {"type": "http.response.start", "status": 200, "headers": [(b"content-length", str(len(body)).encode())]}
    )
    await send({"type": "http.response.body", "body": body})


Opens = Callable[[], int]


@pytest.fixture
def served(monkeypatch: pytest.MonkeyPatch) -> Iterator[Opens]:
    """Serves as a web process is told to, and gives the port; the waits are shortened."""
    monkeypatch.setattr(door, "HEAD_S", 0.6)
    monkeypatch.setattr(door, "MOST_OF_ONE", 20)
    running: list[tuple[uvicorn.Server, Thread]] = []

    def serve() -> int:
        config = webprocess.configured()
        config.app, config.factory = says_who, False
        server = uvicorn.Server(config)
        own = socket.create_server(("127.0.0.1", 0))
        thread = Thread(target=server.run, kwargs={"sockets": [own]})
        thread.start()
        running.append((server, thread))
        eventually(lambda: server.started or None)
        return int(own.getsockname()[1])

    yield serve
    for server, thread in running:
        server.should_exit = True
        thread.join(20)


def knock(port: int, said: bytes = b"", address: str = "127.0.0.1") -> socket.socket:
    """A connection on which so much was said."""
    one = socket.create_connection(("127.0.0.1", port), source_address=(address, 0), timeout=5)
    one.sendall(said)
    return one


def cut(one: socket.socket) -> bool:
    """Whether the other side ends it within five seconds, and without a word."""
    with contextlib.suppress(ConnectionResetError):
        return one.recv(100) == b""
    return True


@pytest.mark.parametrize("said", [b"", b"GET / HT", b"GET / HTTP/1.1\r\nhost: x\r\naccept: ", b"\r\n"])
def test_whoever_never_says_what_they_want_is_cut(served: Opens, said: bytes) -> None:
    with knock(served(), said) as one:
        assert cut(one)


def test_a_slow_body_and_a_pause_between_requests_are_not_cut(served: Opens) -> None:
    head = b"POST / HTTP/1.1\r\nhost: x\r\ncontent-length: 4\r\n\r\n"
    with knock(served(), head) as one:
        for piece in (b"ab", b"cd"):
            time.sleep(0.8)
            one.sendall(piece)
        assert one.recv(500).startswith(b"HTTP/1.1 200")
        time.sleep(1)
        one.sendall(b"GET / HTTP/1.1\r\nhost: x\r\n\r\n")
        assert one.recv(500).startswith(b"HTTP/1.1 200")
        one.sendall(b"GET / HTTP/1.1\r\nho")
        assert cut(one), "the next one's head is waited for no longer than the first one's"


def test_one_address_keeps_nobody_else_out(served: Opens) -> None:
    port = served()
    hogs = [knock(port, b"POST / HTTP/1.1\r\nhost: x\r\ncontent-length: 4\r\n\r\n") for _ in range(20)]
    with knock(port) as one_more:
        assert one_more.recv(500).startswith(b"HTTP/1.1 503")
    with knock(port, b"GET / HTTP/1.1\r\nhost: x\r\n\r\n", "127.0.0.2") as other:
        assert other.recv(500).startswith(b"HTTP/1.1 200")
    for hog in hogs:
        hog.close()
    eventually(lambda: httpx.get(f"http://127.0.0.1:{port}/").status_code == 200 or None)
    assert door.DoorProtocol.held["127.0.0.2"] == 0


def test_nobodys_word_for_who_asks_is_taken(served: Opens) -> None:
    told = {"x-forwarded-for": "203.0.113.9", "x-forwarded-proto": "https"}  # a documentation address, RFC 5737
    assert httpx.get(f"http://127.0.0.1:{served()}/", headers=told).text == "127.0.0.1 http"


def test_a_proxy_that_was_named_is_believed_and_may_hold_any_number(
    served: Opens, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("KALON_PROXIES", "127.0.0.1, 192.0.2.1")
    port = served()
    told = {"x-forwarded-for": "203.0.113.9", "x-forwarded-proto": "https"}
    assert httpx.get(f"http://127.0.0.1:{port}/", headers=told).text == "203.0.113.9 https"
    open_ones = [knock(port, b"POST / HTTP/1.1\r\nhost: x\r\ncontent-length: 4\r\n\r\n") for _ in range(25)]
    assert httpx.get(f"http://127.0.0.1:{port}/").status_code == 200
    with knock(port, b"GET / HTTP/1.1\r\nhost: x\r\nx-forwarded-for: 203.0.113.9\r\n\r\n", "127.0.0.3") as liar:
        assert b"127.0.0.3 http" in liar.recv(500)
    for one in open_ones:
        one.close()
