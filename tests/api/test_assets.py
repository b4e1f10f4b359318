"""Files of the interface are sent as they were packed, to whoever takes that, and are the same file to everybody."""

from __future__ import annotations

import gzip
from collections.abc import Iterator
from pathlib import Path

import pytest
from starlette.applications import Starlette
from starlette.testclient import TestClient

from kalon.api.assets import Assets

WHOLE = b"let shoe = 1;" * 200


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    folder = tmp_path / "assets"
    folder.mkdir()
    (folder / "a.js").write_bytes(WHOLE)
    (folder / "a.js.gz").write_bytes(gzip.compress(WHOLE))
    (folder / "a.js.br").write_bytes(b"as brotli has it")
    (folder / "small.css").write_bytes(b"b{}")
    (folder / "gone.js.gz").write_bytes(gzip.compress(b"of a file that isn't there"))
    (tmp_path / "secret.js").write_bytes(b"no")
    (tmp_path / "secret.js.gz").write_bytes(b"no")
    app = Starlette()
    app.mount("/assets", Assets(directory=folder))
    with TestClient(app) as found:
        yield found


# RFC 9110, 12.5.3 and 8.4: what is taken, with weights; nought is refused.
@pytest.mark.parametrize(
    ("accepted", "encoding"),
    [("gzip, deflate, br, zstd", "br"), ("br", "br"), ("gzip", "gzip"), ("gzip;q=0.5, br;q=0", "gzip"), ("", None),
     ("identity", None), ("GZIP", "gzip"), ("br; q=0.0, gzip;q=0", None), ("deflate", None)],
)  # fmt: skip
def test_a_file_is_sent_as_it_is_taken(client: TestClient, accepted: str, encoding: str | None) -> None:
    with client.stream("GET", "/assets/a.js", headers={"accept-encoding": accepted}) as answer:
        raw = b"".join(answer.iter_raw())
    assert answer.headers.get("content-encoding") == encoding
    assert answer.headers["vary"] == "Accept-Encoding"
    assert "javascript" in answer.headers["content-type"]
    unpacked = gzip.decompress(raw) if encoding == "gzip" else raw
    assert unpacked == (b"as brotli has it" if encoding == "br" else WHOLE)


def test_what_is_not_packed_or_not_there_is_as_it_was(client: TestClient) -> None:
    assert client.get("/assets/small.css").content == b"b{}"
    for path in ("/assets/gone.js", "/assets/..%2fsecret.js", "/assets/%2e%2e/secret.js", "/assets/none.js"):
        assert client.get(path, headers={"accept-encoding": "gzip"}).status_code == 404
    head = client.head("/assets/a.js", headers={"accept-encoding": "gzip"})
    tag = client.get("/assets/a.js", headers={"accept-encoding": "gzip"}).headers["etag"]
    assert head.headers["content-encoding"] == "gzip"
    again = client.get("/assets/a.js", headers={"accept-encoding": "gzip", "if-none-match": tag})
    assert again.status_code == 304
