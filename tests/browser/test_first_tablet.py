"""A stranger's first hour: a machine that has nothing, a shop, and a tablet at another address of the network, which trusts
the machine by what the page tells it and then has camera and offline work."""

from __future__ import annotations

import os
import re
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
NETWORK = f"kalon{os.getpid()}"
SLOWEST_MS = 90_000
"""A whole browser begun anew beside another's tests."""


def _told(*command: str) -> str | None:
    """What a command says; None where it fails or isn't there."""
    try:
        done = subprocess.run(command, capture_output=True, text=True, check=False, timeout=30)
    except (OSError, subprocess.TimeoutExpired):
        return None
    return done.stdout if done.returncode == 0 else None


def _do(*command: str) -> bool:
    return _told(*command) is not None


def _unmade(network: str) -> None:
    _do("ip", "link", "delete", f"{network}a")
    _do("ip", "netns", "delete", network)


def _left_over() -> list[str]:
    """Networks of tests that were killed."""
    names = [line.split()[0] for line in (_told("ip", "netns", "list") or "").splitlines()]
    mine = [n for n in names if re.fullmatch(r"kalon\d+", n)]
    return [n for n in mine if not Path("/proc", n.removeprefix("kalon")).exists()]


def _free() -> str:
    """The beginning of a network's addresses that nobody here uses."""
    return next(b for n in range(256) if not _told("ip", "route", "show", f"{(b := f'10.213.{n}')}.0/24"))


@contextmanager
def _wire() -> Iterator[str | None]:
    """A network namespace with one wire to this machine: this machine's address on it, where we may make one."""
    for network in _left_over():
        _unmade(network)
    begins = _free() if shutil.which("ip") else ""
    try:
        wired = bool(begins) and _do("ip", "netns", "add", NETWORK) and all([
            _do("ip", "link", "add", f"{NETWORK}a", "type", "veth", "peer", "name", f"{NETWORK}b", "netns", NETWORK),
            _do("ip", "address", "add", f"{begins}.1/24", "dev", f"{NETWORK}a"),
            _do("ip", "link", "set", f"{NETWORK}a", "up"),
            _do("ip", "-n", NETWORK, "address", "add", f"{begins}.2/24", "dev", f"{NETWORK}b"),
            _do("ip", "-n", NETWORK, "link", "set", f"{NETWORK}b", "up"),
            _do("ip", "-n", NETWORK, "link", "set", "lo", "up"),
        ])  # fmt: skip
        yield f"{begins}.1" if wired else None
    finally:
        _unmade(NETWORK)


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
        context.set_default_timeout(SLOWEST_MS)
        try:
            yield context.new_page()
        finally:
            beside.close()


@pytest.fixture(scope="module")
def machine(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    """`./kalon serve --tablets` where nothing was before; the tablet in a network of its own where one can be made."""
    home, folder = own_home(), tmp_path_factory.mktemp("tablet")
    secure, clear = free_port(), free_port()
    with _wire() as wire:
        process = subprocess.Popen(
            [sys.executable, "-m", "kalon.cli", "serve", "--port", str(free_port()), "--workers", "1", "--yes",
             "--shop", "Harbour Sports", "--name", "Ada Quill", "--login", "ada", "--tablets",
             "--https-port", str(secure), "--http-port", str(clear)],
            env={**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR", "KALON_PASSWORD": PASSWORD},
        )  # fmt: skip
        try:
            eventually(lambda: tablets.told(home) or None, seconds=240)
            ours = tablets.addresses()[0]
            eventually(lambda: _reaches(f"http://{ours}:{clear}") or None, seconds=120)
            inside = ["ip", "netns", "exec", NETWORK]
            # Firewalls know nothing of a wire that is new.
            wired = wire is not None and _reaches(f"http://{wire}:{clear}", *inside)
            browser = folder / "browser"
            browser.write_text(f'#!/bin/sh\nexec {" ".join(inside) if wired else ""} {WHOLE} "$@"\n')
            browser.chmod(0o755)
            yield Shop(home, wire if wire and wired else ours, secure, clear, browser, folder)
        finally:
            process.terminate()
            process.wait(timeout=40)
            LocalServer(home).stop()
            shutil.rmtree(home, ignore_errors=True)


def _reaches(machine: str, *inside: str) -> bool:
    return _do(*inside, "curl", "-fs", "--max-time", "20", f"{machine}/api/trust")


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
