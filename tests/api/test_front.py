"""What stands before Kalon for the tablets of a shop: its settings, its certificates, its life with the supervisor."""

from __future__ import annotations

import contextlib
import http.client
import json
import os
import signal
import socket
import ssl
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from kalon.host import service, tablets
from kalon.host.postgres import HostTrouble, LocalServer, free_port
from kalon.host.tablets import Front, Tablets
from tests.api.calls import eventually
from tests.api.test_serve import children

ROOT = Path(__file__).parents[2]


def certificate(folder: Path, *names: str) -> tuple[Path, Path]:
    """One that signs itself, and its key."""
    one, key = folder / "one.pem", folder / "one.key"
    said = ",".join(f"DNS:{n}" for n in names)
    subprocess.run(["openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days", "2",
                    "-subj", f"/CN={names[0]}", "-addext", f"subjectAltName={said}", "-keyout", key, "-out", one],
                   check=True, capture_output=True)  # fmt: skip
    return one, key


@pytest.mark.parametrize("own", [False, True])
def test_caddy_takes_its_settings(tmp_path: Path, own: bool) -> None:
    given = certificate(tmp_path, "bench.example") if own else None
    of = Tablets(("bench.example", "kalon.local"), 8443, 8080, given)
    file = tmp_path / "Caddyfile"
    file.write_text(tablets.caddyfile(of, ["192.168.1.20"], tmp_path, "127.0.0.1:8000", "shop"))
    done = subprocess.run(["caddy", "validate", "--adapter", "caddyfile", "--config", file], capture_output=True, text=True,
                          env={"PATH": os.environ["PATH"], "HOME": str(tmp_path)}, check=False)  # fmt: skip
    assert done.returncode == 0, done.stderr[-400:]
    apart = tmp_path / "our data"  # a folder with a blank in its name
    file.write_text(tablets.caddyfile(of, [], apart, "127.0.0.1:8000", "shop"))
    adapted = subprocess.run(["caddy", "adapt", "--config", file], capture_output=True, text=True, check=True).stdout
    assert json.loads(adapted)["storage"]["root"] == f"{apart}/store"
    file.write_text(tablets.caddyfile(of, ["192.168.1.20"], tmp_path, "127.0.0.1:8000", "shop"))
    text = file.read_text()
    assert ("https://192.168.1.20:8443" in text) is not own  # a certificate of names is good for no address
    assert f"max-age={180 * 86400 if own else 86400}" in text


@pytest.mark.parametrize(
    ("of", "at", "secure", "trust"),
    [
        (Tablets(), ["192.168.1.20"], ["https://192.168.1.20", "https://kalon.local"], "http://192.168.1.20/trust"),
        (Tablets(("a.local",), 8443, 8080), [], ["https://a.local:8443"], "http://a.local:8080/trust"),
        (
            Tablets(("bench.example",), certificate=(Path("c"), Path("k"))),
            ["10.0.0.5"],
            ["https://bench.example"],
            None,
        ),
    ],
)
def test_where_tablets_reach_it(
    of: Tablets, at: list[str], secure: list[str], trust: str | None, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setattr(tablets, "AVAHI", tmp_path / "none")
    assert tablets.urls(of, at) == secure
    assert tablets.trust_url(of, at) == trust


def test_what_cannot_be_is_said_first(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("kalon local", "https://kalon", "x\n}", "-a", ""):
        with pytest.raises(HostTrouble, match="isn't a name a machine can have"):
            tablets.check(Tablets((name,)))
    with pytest.raises(HostTrouble, match=f"There is no certificate at {tmp_path}"):
        tablets.check(Tablets(certificate=(tmp_path / "none", tmp_path / "none")))
    one, _ = certificate(tmp_path, "a.example")
    (tmp_path / "other").mkdir()
    _, other = certificate(tmp_path / "other", "b.example")
    with pytest.raises(HostTrouble, match="aren't a certificate and its key"):
        tablets.check(Tablets(certificate=(one, other)))
    with socket.socket() as taken:
        taken.bind(("", 0))
        taken.listen()
        port = taken.getsockname()[1]
        with pytest.raises(HostTrouble, match=f"Port {port} can't be used .*--http-port 8080"):
            tablets.free(Tablets(secure_port=free_port(), plain_port=port))
    monkeypatch.setenv("PATH", str(tmp_path))
    with pytest.raises(HostTrouble, match="apt-get install caddy"):
        tablets.check(Tablets())


def test_a_machine_that_moves_is_seen_and_its_names_are_announced_anew(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    said: list[str] = []
    at = [["192.168.1.20"], ["192.168.1.20"], ["192.168.1.77"], []]
    monkeypatch.setattr(tablets, "LOOK_EVERY_S", 0)
    monkeypatch.setattr(tablets, "AVAHI", tmp_path)
    told = tmp_path / "told"
    (tmp_path / "avahi-publish").write_text(f'#!/bin/sh\necho "$@" >>{told}\nexec sleep 60\n')
    (tmp_path / "avahi-publish").chmod(0o755)
    monkeypatch.setenv("PATH", f"{tmp_path}:{os.environ['PATH']}")
    front = Front(Tablets(("kalon.local", "bench.example")), tmp_path, "127.0.0.1:8000", said.append, lambda: at.pop(0))
    try:
        assert not front.moved()
        eventually(lambda: (told.exists() and told.read_text().count("\n") == 1) or None)
        (first,) = front.announcers.values()
        assert front.moved()
        # by name first: here it is announced, and the other one is the network's
        assert front.urls == ["https://kalon.local", "https://bench.example", "https://192.168.1.77"]
        eventually(lambda: told.read_text().count("\n") == 2 or None)
        assert first.wait(timeout=10) == -signal.SIGTERM
        assert told.read_text().splitlines() == [
            "--address --no-reverse kalon.local 192.168.1.20", "--address --no-reverse kalon.local 192.168.1.77",
        ]  # fmt: skip
        assert front.moved()
        assert front.announcers == {}
        assert said == [
            "this machine is at other addresses now: 192.168.1.77",
            "this machine is at other addresses now: none",
        ]
    finally:
        for process in front.announcers.values():
            process.kill()


def test_what_came_in_the_clear_is_not_told_once_tablets_are_not_served(tmp_path: Path) -> None:
    folder = tmp_path / tablets.FOLDER
    folder.mkdir()
    (folder / tablets.WHERE).write_text(json.dumps({"secure": ["https://kalon.local"]}))
    (folder / tablets.AUTHORITY).write_bytes(b"kept: tablets trust it")
    assert tablets.told(tmp_path) == ["https://kalon.local"]
    tablets.forget(tmp_path)
    tablets.forget(tmp_path)
    assert tablets.told(tmp_path) == []
    assert (folder / tablets.AUTHORITY).exists()


def test_a_service_for_tablets_may_open_the_webs_ports_and_no_more(tmp_path: Path) -> None:
    plain, low, high = (
        service.unit(service.Service(ROOT, Path("/var/lib/kalon"), tablets=t))
        for t in (None, Tablets(("bench.local",)), Tablets(secure_port=8443, plain_port=8080))
    )
    assert "--tablets" not in plain
    assert "--tablets --as bench.local\n" in low
    assert "--tablets --https-port 8443 --http-port 8080\n" in high
    caps = [[line for line in unit.splitlines() if "Capabilit" in line] for unit in (plain, low, high)]
    assert caps[0] == caps[2] == ["CapabilityBoundingSet=", "AmbientCapabilities="]
    assert caps[1] == ["CapabilityBoundingSet=CAP_NET_BIND_SERVICE", "AmbientCapabilities=CAP_NET_BIND_SERVICE"]
    kept = service.unit(service.Service(ROOT, Path("/var/lib/kalon"), archive=Path("/mnt/second/kalon")))
    assert "ReadWritePaths=/var/lib/kalon /mnt/second/kalon\n" in kept
    assert "ReadWritePaths=/var/lib/kalon\n" in plain
    file = tmp_path / "kalon.service"
    file.write_text(low)
    checked = subprocess.run(["systemd-analyze", "verify", file], capture_output=True, text=True, check=False)
    assert (checked.returncode, checked.stderr) == (0, "")
    # the same measure and bound as for the unit without tablets (tests/api/test_service.py)
    scored = subprocess.run(["systemd-analyze", "security", "--offline=true", "--threshold=20", "--no-pager", file],
                            capture_output=True, text=True, check=False)  # fmt: skip
    assert scored.returncode == 0, scored.stdout[-200:]


@pytest.fixture
def fronted(home: Path) -> Iterator[tuple[Path, int, int, subprocess.Popen[bytes]]]:
    """A shop's machine that serves tablets: data, ports (secure, in the clear), supervisor."""
    secure, clear = free_port(), free_port()
    env = {**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR", "KALON_PASSWORD": "last-and-sock-4"}
    process = subprocess.Popen(
        [sys.executable, "-m", "kalon.cli", "serve", "--port", str(free_port()), "--workers", "1", "--yes", "--shop", "A Shop",
         "--name", "First", "--login", "first", "--tablets", "--https-port", str(secure), "--http-port", str(clear)],
        env=env,
    )  # fmt: skip
    eventually(lambda: tablets.told(home) or None, seconds=240)
    yield home, secure, clear, process
    process.kill()
    process.wait()
    LocalServer(home).stop()


def answers(port: int, host: str, trusting: Path | None = None) -> tuple[int, dict[str, str]]:
    """What a page answers, over TLS where an authority is trusted."""
    context = ssl.create_default_context(cadata=ssl.DER_cert_to_PEM_cert(trusting.read_bytes())) if trusting else None
    asking = (
        http.client.HTTPSConnection(host, port, context=context) if context else http.client.HTTPConnection(host, port)
    )
    asking.request("GET", "/ready", headers={"x-forwarded-for": "203.0.113.9", "x-forwarded-proto": "http"})
    answer = asking.getresponse()
    return answer.status, {k.lower(): v for k, v in answer.getheaders()}


def ready(port: int, host: str, trusting: Path) -> dict[str, str]:
    """The headers of the first answer that is one."""

    def asked() -> dict[str, str] | None:
        with contextlib.suppress(OSError):
            status, headers = answers(port, host, trusting)
            return headers if status == 200 else None
        return None

    found: dict[str, str] = eventually(asked, seconds=240)
    return found


def listens(port: int) -> bool:
    with socket.socket() as s:
        return s.connect_ex(("127.0.0.1", port)) == 0


def test_it_serves_securely_comes_back_and_ends_with_its_supervisor(
    fronted: tuple[Path, int, int, subprocess.Popen[bytes]],
) -> None:
    home, secure, clear, supervisor = fronted
    at = next((a for a in tablets.addresses()), None)
    assert at, "this machine has no address in a network"
    authority = home / tablets.FOLDER / tablets.AUTHORITY
    headers = ready(secure, at, authority)
    assert headers["strict-transport-security"] == "max-age=86400"
    assert "server" not in headers
    assert answers(clear, at)[0] == 307  # what isn't about trusting it is sent to the secure page
    assert answers(clear, at)[1]["location"] == f"https://{at}:{secure}/ready"
    with pytest.raises(ssl.SSLCertVerificationError):  # who doesn't trust it is not deceived about that
        ssl.create_default_context().wrap_socket(socket.create_connection((at, secure)), server_hostname=at)
    before = authority.read_bytes()
    (caddy,) = (p for p in children(supervisor.pid) if "caddy" in Path(f"/proc/{p}/cmdline").read_text())
    os.kill(caddy, signal.SIGKILL)
    eventually(lambda: caddy not in children(supervisor.pid) or None)
    ready(secure, at, authority)
    assert authority.read_bytes() == before  # tablets trust the same one still
    supervisor.kill()
    eventually(lambda: (not listens(secure) and not listens(clear)) or None, seconds=30)
    with contextlib.suppress(ProcessLookupError):
        supervisor.wait(timeout=10)
