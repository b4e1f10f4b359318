"""How long a start takes, until the bench answers: `./kalon bench start`. The baseline is starting Python itself."""

from __future__ import annotations

import os
import shutil
import signal
import statistics
import subprocess
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[1]))

from tests.running import own_home

from kalon.host.postgres import free_port
from kalon.host.supervise import answers

ROOT = Path(__file__).parents[1]
LIMIT_S = 4.0
REPEATS = 5


def start_s(home: Path) -> float:
    """Seconds from the command to the first answer; stopped again afterwards."""
    port = free_port()
    env = {**os.environ, "KALON_DATA": str(home), "KALON_LOG": "ERROR"}
    began = time.monotonic()
    process = subprocess.Popen(
        [str(ROOT / "kalon"), "demo", "--port", str(port)],
        env=env, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    try:
        while not answers("127.0.0.1", port):
            if process.poll() is not None or time.monotonic() - began > 120:
                raise RuntimeError("the bench did not start")
            time.sleep(0.02)
        return time.monotonic() - began
    finally:
        process.send_signal(signal.SIGINT)
        process.wait(timeout=60)


def python_s() -> float:
    """Seconds to start and end Python."""
    began = time.monotonic()
    subprocess.run([sys.executable, "-c", ""], check=True)
    return time.monotonic() - began


def main() -> None:
    """The first start, which makes the database and loads the demo, and the ones after it."""
    home = own_home()
    try:
        base = statistics.median(python_s() for _ in range(REPEATS))
        first = start_s(home)
        later = sorted(start_s(home) for _ in range(REPEATS))
        print(f"python              {base:6.2f} s   1.0 ×")
        print(f"first start, demo   {first:6.2f} s {first / base:5.1f} ×")
        median = later[REPEATS // 2]
        print(
            f"start after that    {median:6.2f} s {median / base:5.1f} × ({later[0]:.2f} … {later[-1]:.2f}; aim {LIMIT_S:g} s)"
        )
    finally:
        shutil.rmtree(home, ignore_errors=True)


if __name__ == "__main__":
    main()
