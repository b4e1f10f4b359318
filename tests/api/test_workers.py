"""The measuring processes: bounded in time, ended when broken, gone with the web process that had them."""

from __future__ import annotations

import importlib
import inspect
import os
import pkgutil
import re
import signal
import time
import uuid
from collections.abc import Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any

import pytest
from fastapi.routing import APIRoute

from kalon.api import routers
from kalon.api.guard import FILES_AT
from kalon.core.errors import BadInput
from kalon.core.feet.said import Said
from kalon.files import workers
from tests.api.calls import eventually, new_fitting, signed_in
from tests.running import Web
from tests.spoilt import good

ROOT = Path(__file__).parents[2]


@pytest.fixture(autouse=True)
def ended() -> Iterator[None]:
    yield
    workers.stop()


def nothing(_: float, __: str) -> None:
    pass


def test_a_file_is_measured_in_a_process_of_its_own_with_progress() -> None:
    told: list[str] = []
    with workers.spooled(good()["photo.png"]) as path:
        found = workers.run(path, "photo.png", Said(), lambda _, step: told.append(step))
        assert path.exists()
    assert found[0].kind == "tracing"
    assert not path.exists()
    assert not Path(f"{path}.progress").exists()


def spin(_path: Path, _report: Any, seconds: float) -> str:
    """Keep a processor busy."""
    until = time.process_time() + seconds
    while time.process_time() < until:
        pass
    return "done"


def sleep(_path: Path, _report: Any, seconds: float) -> str:
    """Wait, as a worker of a busy machine does."""
    time.sleep(seconds)
    return "rested"


def handed(job: Any, seconds: float) -> Any:
    """What comes of a job of a worker."""
    with workers.spooled() as path:
        under_way = workers.Handed(job, path, seconds)
        while (found := under_way.look(0.1)) is None:
            pass
        return found[0]


def test_what_keeps_a_processor_too_long_is_stopped_in_words(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(workers, "SECONDS", 1.0)
    with pytest.raises(BadInput) as caught:
        handed(spin, 30.0)
    assert caught.value.code == "file-slow"
    assert "1 seconds" in caught.value.text
    assert handed(spin, 0.2) == "done", "the next of the same worker has its own time"


def test_a_busy_machine_makes_no_file_too_slow(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(workers, "SECONDS", 1.0)
    assert handed(sleep, 3.0) == "rested"


def test_what_ends_between_two_looks_is_no_failure() -> None:
    """The future says nothing within the time of a look, and is done when it is asked whether it is."""

    class Late(Future[Any]):
        def result(self, timeout: float | None = None) -> Any:
            if not self.done():
                self.set_result(("found", None))
                raise TimeoutError
            return super().result(timeout)

    with workers.spooled() as path:
        asked = workers.Handed(sleep, path, 0.0)
        asked._future = Late()
        assert asked.look(0) == ("found",)


def test_a_problem_in_the_worker_comes_back_as_itself() -> None:
    with workers.spooled(good()["scan.stl"][:900]) as path, pytest.raises(BadInput) as caught:
        workers.run(path, "scan.stl", Said(), nothing)
    assert caught.value.code == "file-short"


def children(pid: int) -> list[int]:
    found = []
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                if int((entry / "stat").read_text().rsplit(")", 1)[1].split()[1]) == pid:
                    found.append(int(entry.name))
            except OSError:
                continue
    return found


def measuring(pid: int) -> set[int]:
    """The measuring processes of a web process."""
    return {p for p in children(pid) if "multiprocessing.spawn" in cmdline(p)}


def test_workers_stay_when_the_request_that_first_needed_one_is_over() -> None:
    def bring() -> set[int]:
        with workers.spooled(good()["mat.csv"]) as path:
            assert workers.run(path, "mat.csv", Said(), nothing)
        return measuring(os.getpid())

    with ThreadPoolExecutor(1) as thread:
        first = thread.submit(bring).result()
    time.sleep(0.5)
    assert len(first) == workers.AT_ONCE
    assert bring() == first


def gone(pid: int) -> bool | None:
    try:
        state = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[0]
    except OSError:
        return True
    return True if state == "Z" else None


def test_a_killed_web_process_leaves_no_worker_and_the_next_measures_again(running: Web) -> None:
    client = signed_in(running)
    client.timeout = 60  # type: ignore[assignment]
    fitting = new_fitting(client)

    def bring() -> int:
        query = {"id": str(uuid.uuid4()), "name": "mat.csv"}
        return client.post(f"/api/fittings/{fitting}/captures", params=query, content=good()["mat.csv"]).status_code

    assert bring() == 201
    assert running.process
    left = children(running.process.pid)
    assert left
    running.kill()
    for pid in left:
        eventually(lambda pid=pid: gone(pid), seconds=15)
    running.start()
    assert bring() == 201
    worker = min(measuring(running.process.pid))
    os.kill(worker, signal.SIGKILL)
    time.sleep(0.5)
    assert bring() == 201


def cmdline(pid: int) -> str:
    return Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode()


def test_the_interface_waits_for_whatever_a_worker_is_handed() -> None:
    """A request the interface gives up after its usual twelve seconds must not be one that measures. What is taken out
    is a link, for which the browser itself waits."""
    client = (ROOT / "web/src/api/client.ts").read_text()
    patient = re.compile(re.search(r"MEASURES =\s*/(.+)/;", client)[1].replace(r"\/", "/"))  # type: ignore[index]
    measuring = [
        (method, route.path)
        for name in (m.name for m in pkgutil.iter_modules(routers.__path__))
        for route in importlib.import_module(f"{routers.__name__}.{name}").router.routes
        if isinstance(route, APIRoute) and "workers.place(" in inspect.getsource(route.endpoint)
        for method in route.methods
        if method != "GET" and not (method == "POST" and route.path.endswith(FILES_AT))
    ]
    assert len(measuring) >= 5
    assert [m for m in measuring if not patient.search(m[1])] == []
