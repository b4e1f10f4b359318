"""Data folders and serving benches of a test's own."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from kalon.host.postgres import LocalServer, free_port
from kalon.host.supervise import answers
from tests.api.calls import eventually
from tests.running import own_home


@pytest.fixture
def home() -> Iterator[Path]:
    """A data folder of the test's own, which the database's user can reach."""
    found = own_home()
    yield found
    LocalServer(found).stop()
    shutil.rmtree(found, ignore_errors=True)


@pytest.fixture
def serving(home: Path) -> Iterator[tuple[Path, int]]:
    """A bench served by the command line, with one manager: its data folder and its port."""
    port = free_port()
    env = {**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR", "KALON_PASSWORD": "last-and-sock-4"}
    command = [sys.executable, "-m", "kalon.cli"]
    subprocess.run(
        [*command, "shop", "add", "--shop", "A Shop", "--name", "First", "--login", "first"],
        env=env,
        check=True,
        capture_output=True,
    )
    process = subprocess.Popen([*command, "serve", "--port", str(port), "--workers", "1"], env=env)
    try:
        eventually(lambda: answers("127.0.0.1", port) or None, seconds=60)
        yield home, port
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(timeout=30)
