"""A stranger's first hour: a machine that has nothing, a shop, and a tablet at another address of the network, which trusts
the machine by what the page tells it and then has camera and offline work."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import cv2
import numpy as np
import pytest
from playwright.sync_api import Browser, Error, Page, expect

from kalon.host import tablets
from kalon.host.postgres import LocalServer, free_port
from tests.api.calls import eventually
from tests.browser.driver import ARGS, WHOLE
from tests.browser.sizes import found_at_every_size
from tests.running import own_home

TABLET = {"width": 820, "height": 1180}
PASSWORD = "last-and-sock-4"
NETWORK = f"kalon{os.getpid() % 10_000}"
OURS, THEIRS = "10.213.7.1", "10.213.7.2"


def _do(*command: str) -> bool:
    return subprocess.run(command, capture_output=True, check=False).returncode == 0


@contextmanager
def _wire() -> Iterator[bool]:
    """A network namespace with one wire to this machine; whether this machine lets us make one."""
    made = _do("ip", "netns", "add", NETWORK)
    try:
        yield made and all([
            _do("ip", "link", "add", f"{NETWORK}a", "type", "veth", "peer", "name", f"{NETWORK}b", "netns", NETWORK),
            _do("ip", "address", "add", f"{OURS}/24", "dev", f"{NETWORK}a"),
            _do("ip", "link", "set", f"{NETWORK}a", "up"),
            _do("ip", "-n", NETWORK, "address", "add", f"{THEIRS}/24", "dev", f"{NETWORK}b"),
            _do("ip", "-n", NETWORK, "link", "set", f"{NETWORK}b", "up"),
            _do("ip", "-n", NETWORK, "link", "set", "lo", "up"),
        ])  # fmt: skip
    finally:
        _do("ip", "link", "delete", f"{NETWORK}a")
        _do("ip", "netns", "delete", NETWORK)


@dataclass
class Shop:
    """A machine just begun, and the tablet's way to it."""

    home: Path
    host: str
    secure: int
    clear: int
    tablet: Path
    """The tablet's browser."""
    store: Path
    """The tablet's home, with the certificates it trusts."""

    def page(self, path: str) -> str:
        return f"https://{self.host}:{self.secure}{path}"

    @contextmanager
    def open(self, browser: Browser) -> Iterator[Page]:
        """The tablet's browser, begun anew, on an empty page."""
        beside = browser.browser_type.launch(
            executable_path=self.tablet, args=[*ARGS, "--use-fake-device-for-media-stream"],
            env={**os.environ, "HOME": str(self.store)},
        )  # fmt: skip
        context = beside.new_context(viewport=TABLET, accept_downloads=True, has_touch=True)
        context.grant_permissions(["camera"])
        try:
            yield context.new_page()
        finally:
            beside.close()


@pytest.fixture(scope="module")
def machine(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    """`./kalon serve --tablets` where nothing was before; the tablet in a network of its own where one can be made."""
    home, folder = own_home(), tmp_path_factory.mktemp("tablet")
    secure, clear = free_port(), free_port()
    with _wire() as wired:
        browser = folder / "browser"
        inside = f"ip netns exec {NETWORK} " if wired else ""
        browser.write_text(f'#!/bin/sh\nexec {inside}{WHOLE} "$@"\n')
        browser.chmod(0o755)
        process = subprocess.Popen(
            [sys.executable, "-m", "kalon.cli", "serve", "--port", str(free_port()), "--workers", "1", "--yes",
             "--shop", "Harbour Sports", "--name", "Ada Quill", "--login", "ada", "--tablets",
             "--https-port", str(secure), "--http-port", str(clear)],
            env={**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR", "KALON_PASSWORD": PASSWORD},
        )  # fmt: skip
        try:
            eventually(lambda: tablets.told(home) or None, seconds=120)
            host = OURS if wired else tablets.addresses()[0]
            eventually(lambda: _up(host, clear) or None, seconds=60)
            yield Shop(home, host, secure, clear, browser, folder)
        finally:
            process.terminate()
            process.wait(timeout=40)
            LocalServer(home).stop()
            shutil.rmtree(home, ignore_errors=True)


def _up(host: str, clear: int) -> bool:
    done = subprocess.run(["curl", "-fs", f"http://{host}:{clear}/api/trust"], capture_output=True, check=False)
    return done.returncode == 0


def trust(machine: Shop, certificate: Path) -> None:
    """What a person does in the settings of a tablet, for this browser's."""
    store = machine.store / ".pki" / "nssdb"
    store.mkdir(parents=True)
    at = ["-d", f"sql:{store}"]
    subprocess.run(["certutil", *at, "-N", "--empty-password"], check=True)
    subprocess.run(["certutil", *at, "-A", "-t", "C,,", "-n", "kalon", "-i", certificate], check=True)


def test_from_nothing_to_a_tablet_that_works_without_connection(machine: Shop, browser: Browser) -> None:
    with machine.open(browser) as page:
        page.goto(f"http://{machine.host}:{machine.clear}/trust")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Let this tablet trust")
        assert not found_at_every_size(page)
        page.get_by_role("radio", name="Android").click()
        expect(page.get_by_text("there CA certificate")).to_be_visible()
        with page.expect_download() as got:
            page.get_by_role("link", name="Get the certificate").click()
        certificate = machine.store / "kalon-authority.crt"
        got.value.save_as(certificate)
        with pytest.raises(Error, match="ERR_CERT_AUTHORITY_INVALID"):
            page.goto(machine.page("/trust"))
    trust(machine, certificate)
    with machine.open(browser) as page:
        page.goto(f"http://{machine.host}:{machine.clear}/trust")
        page.get_by_role(
            "link", name=machine.page("").rstrip("/")
        ).click()  # the address: no name server knows kalon.local here
        expect(page.get_by_text("Secure: camera and offline work here.")).to_be_visible()
        assert page.evaluate("navigator.serviceWorker.getRegistration().then(r => r.active.state)") == "activated"
        camera = "navigator.mediaDevices.getUserMedia({video: true}).then(s => s.getVideoTracks()[0].readyState)"
        assert page.evaluate(camera) == "live"
        page.get_by_role("link", name="To the bench").click()
        page.get_by_label("Sign-in name").fill("ada")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_text("Let a tablet in").click()  # leads to that part of the house
        code = page.get_by_role("img", name="Where a tablet is let in")
        code.wait_for()
        picture = cv2.imdecode(np.frombuffer(code.screenshot(), np.uint8), cv2.IMREAD_GRAYSCALE)
        read, _, _ = cv2.QRCodeDetector().detectAndDecode(
            cv2.resize(picture, None, fx=3, fy=3, interpolation=cv2.INTER_NEAREST)
        )
        assert read == tablets.trust_url(tablets.Tablets(plain_port=machine.clear), tablets.addresses())
        page.get_by_label("What it is called").fill("By the window")
        page.get_by_role("button", name="It is the shop's").click()
        expect(page.get_by_role("listitem").filter(has_text="By the window")).to_contain_text("Ada Quill")
        page.get_by_role("link", name="Today").click()
        expect(page.get_by_text("Let a tablet in")).to_have_count(0)  # done
        page.wait_for_timeout(1500)  # what was looked at is kept a second later
        page.context.set_offline(True)
        page.reload()
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        expect(page.get_by_text("No connection.")).to_be_visible()
        page.context.set_offline(False)
        cookies = {c["name"]: c for c in page.context.cookies()}
        assert all(cookies[n]["secure"] and cookies[n]["httpOnly"] for n in ("kalon_session", "kalon_tablet"))
