"""Waiting is not a thread: a bench that measures and verifies as much as it can still answers everybody else."""

from __future__ import annotations

import contextlib
import resource
import time
import uuid
from concurrent.futures import ThreadPoolExecutor

import httpx
import pytest

from kalon.devices.practice import make
from kalon.files import workers
from kalon.files.reading import read_mesh
from tests import plainly
from tests.api.calls import new_fitting, signed_in
from tests.running import Web


def test_forty_eight_measurings_at_once_leave_other_pages_quick_and_the_rest_is_told_to_wait(running: Web) -> None:
    client = signed_in(running)
    fitting = new_fitting(client)
    data, _ = make("stl", 5, "left")
    patience = httpx.Timeout(120)

    def send(_: int) -> httpx.Response:
        with plainly.Client(base_url=running.url, cookies=client.cookies, timeout=patience) as own:
            query = {"id": str(uuid.uuid4()), "name": "scan.stl"}
            return own.post(f"/api/fittings/{fitting}/captures", params=query, content=data)

    with ThreadPoolExecutor(48) as pool:
        sent = [pool.submit(send, i) for i in range(48)]
        time.sleep(0.5)
        waits = []
        begun = time.monotonic()
        while not all(s.done() for s in sent):
            began = time.monotonic()
            assert client.get("/api/today").status_code == 200
            waits.append(time.monotonic() - began)
        whole = time.monotonic() - begun
        answers = [s.result() for s in sent]
    codes = [a.status_code for a in answers]
    assert set(codes) == {201, 503}
    assert 1 <= codes.count(201) <= 12
    full = next(a for a in answers if a.status_code == 503)
    assert "Try again in a moment" in full.json()["title"]
    assert int(full.headers["retry-after"]) >= 1
    assert max(waits) < whole / 2, "others waited for the crowd to be served"


def test_places_are_given_back(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(workers, "MOST_WAITING", 2)
    with workers.place(), workers.place(), pytest.raises(workers.Busy), workers.place():
        pass
    with workers.place(), workers.place():
        pass


def test_links_have_one_place_each_and_leave_the_others_to_the_shop() -> None:
    with workers.place(link="one"):
        with pytest.raises(workers.Busy, match="before this one"), workers.place(link="one"):
            pass
        with pytest.raises(workers.Busy), workers.place(link="two"):
            pass
        with contextlib.ExitStack() as shop:
            for _ in range(workers.MOST_WAITING - 1):
                shop.enter_context(workers.place())
            with pytest.raises(workers.Busy), workers.place():
                pass
    with workers.place(link="two"):
        pass


def test_who_waits_for_a_worker_is_told_how_many_are_before(running: Web) -> None:
    """Told as the interface asks: by the progress of each file."""
    client = signed_in(running)
    fitting = new_fitting(client)
    data, _ = make("stl", 5, "left")
    ids = [str(uuid.uuid4()) for _ in range(6)]

    def send(id: str) -> int:
        with plainly.Client(base_url=running.url, cookies=client.cookies, timeout=httpx.Timeout(120)) as own:
            query = {"id": id, "name": "scan.stl"}
            return own.post(f"/api/fittings/{fitting}/captures", params=query, content=data).status_code

    told: set[str] = set()
    with ThreadPoolExecutor(6) as pool:
        sent = [pool.submit(send, i) for i in ids]
        while not all(s.done() for s in sent):
            for i in ids:
                answer = client.get(f"/api/captures/{i}/progress")
                told |= {answer.json()["step"]} if answer.status_code == 200 and answer.json() else set()
    assert [s.result() for s in sent] == [201] * 6
    waits = {t for t in told if t.startswith("waiting: ")}
    assert waits
    assert waits <= {f"waiting: {n} before it" for n in range(1, 6)}


def test_a_full_disk_is_said_and_keeps_nothing(running: Web) -> None:
    """As the system says it: a write that can't be made because there is no room for it (a limit of the process)."""
    client = signed_in(running)
    fitting = new_fitting(client)
    data, _ = make("stl", 5, "left")
    assert running.process
    process = running.process.pid
    usual = resource.prlimit(process, resource.RLIMIT_FSIZE)
    path = f"/api/fittings/{fitting}/captures"
    resource.prlimit(process, resource.RLIMIT_FSIZE, (100_000, usual[1]))
    try:
        full = client.post(path, params={"id": str(uuid.uuid4()), "name": "scan.stl"}, content=data)
    finally:
        resource.prlimit(process, resource.RLIMIT_FSIZE, usual)
    assert (full.status_code, full.json()["code"]) == (507, "disk-full")
    assert "disk is full" in full.json()["title"]
    again = client.post(path, params={"id": str(uuid.uuid4()), "name": "scan.stl"}, content=data, timeout=60)
    assert again.status_code == 201


def test_a_hundred_and_sixty_sign_ins_leave_other_pages_quick(running: Web) -> None:
    client = signed_in(running)

    def attempt(i: int) -> int:
        body = {"login": f"nobody{i}", "password": "not any of ours"}
        return plainly.post(f"{running.url}/api/session", json=body, timeout=60).status_code

    with ThreadPoolExecutor(60) as pool:
        sent = [pool.submit(attempt, i) for i in range(160)]
        waits = []
        begun = time.monotonic()
        while not all(s.done() for s in sent):
            began = time.monotonic()
            assert client.get("/api/today").status_code == 200
            waits.append(time.monotonic() - began)
        whole = time.monotonic() - begun
        codes = {s.result() for s in sent}
    assert codes <= {401, 429, 503}
    assert max(waits) < whole / 2, "others waited for the crowd to be served"


def test_a_file_of_thirty_thousand_groups_is_read_like_any_other() -> None:
    corners = [f"v {x} {y} {z}" for x in range(30) for y in range(30) for z in (0, 50)]
    faces = [f"g part{i}\nusemtl m{i}\nf {1 + i % 1700} {2 + i % 1700} {4 + i % 1700}" for i in range(30_000)]
    data = "\n".join([*corners, *faces, ""]).encode()
    began = time.monotonic()
    surface = read_mesh(data, "groups.obj")
    assert len(surface.faces) > 1000
    assert time.monotonic() - began < 20  # minutes before
