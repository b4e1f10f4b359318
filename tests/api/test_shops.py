"""The first hour of a machine and its shops: asked for, said by flags, never made by a slip."""

from __future__ import annotations

import os
import pty
import signal
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import psycopg
import pytest
from psycopg.rows import dict_row

from kalon.core.errors import BadInput
from kalon.core.house import HOUSE as USUAL
from kalon.host import shops
from kalon.host.postgres import LocalServer, free_port
from kalon.host.supervise import answers, only_one
from kalon.store import house
from tests.api.calls import eventually
from tests.api.test_host import cli

SAID = ("--shop", "Harbour Sports", "--name", "Ada Quill", "--login", "ada")
PASSWORD = "sock-and-last-9"


@pytest.fixture
def machine(home: Path) -> Iterator[LocalServer]:
    """An empty machine whose database runs, as beside a Kalon that serves."""
    with only_one(home):
        server = LocalServer(home)
        server.start()
        yield server


def said(*words: str, home: Path) -> tuple[int, str, str]:
    """A command without anybody at the keyboard: what it ended with, printed and told."""
    run = cli(*words, home=home, KALON_PASSWORD=PASSWORD)
    out, told = run.communicate(timeout=300)
    assert "Traceback" not in told
    return run.returncode, out, told


def asking(*given: str) -> shops.Ask:
    waiting = iter(given)
    return lambda _: next(waiting)


def test_each_answer_is_checked_before_the_next_question() -> None:
    told: list[str] = []
    found = shops.answers(
        shops.NEW, {"currency": "chf"},
        asking("", "Harbour Sports", "Berlin", "europe/berlin", "", "twenty", "8,1", "perhaps", "n", "Ada Quill", "ada"),
        told.append,
    )  # fmt: skip
    assert found == {
        "shop": "Harbour Sports", "zone": "Europe/Berlin", "currency": "CHF", "sizes": "eu", "tax": "8.1",
        "tax_within": "no", "name": "Ada Quill", "login": "ada",
    }  # fmt: skip
    assert [t.split(".")[0] for t in told] == [
        "It needs a name", "There is no time zone called Berlin", "twenty is no number of percent", "Say yes or no",
    ]  # fmt: skip


def test_where_nobody_can_be_asked_what_is_missing_is_a_sentence() -> None:
    with pytest.raises(BadInput, match="What is the shop called"):
        shops.answers(shops.NEW, {}, None, print)
    with pytest.raises(BadInput, match="isn't a size system"):
        shops.answers(shops.NEW, {"shop": "A", "sizes": "french"}, None, print)


def test_one_rate_is_one_band_and_none_is_no_tax() -> None:
    body = shops.body_of({"tax": "20", "tax_within": "no"}, USUAL)
    assert (body["tax"]["bands"], body["tax"]["price_includes"]) == ([{"up_to": None, "rate_pct": 20.0}], False)
    assert shops.body_of({"tax": "0"}, USUAL)["tax"]["bands"] == []


def test_shops_are_made_listed_and_changed_and_never_by_a_slip(machine: LocalServer) -> None:
    home = machine.home
    code, _, told = said("serve", "--port", str(free_port()), home=home)
    assert (code, "Another Kalon already runs" in told) == (2, True)
    assert said("user", "add", "--login", "b", "--role", "fitter", "--shop", "Harbor Sports", home=home)[0] == 2
    assert said("shop", "list", home=home)[:2] == (0, "")
    code, _, told = said("shop", "add", *SAID, "--zone", "Europe/Paris", "--tax", "20", "--yes", home=home)
    assert (code, "ada signs in there as its manager" in told) == (0, True), told
    for words, why in (
        (("shop", "add", *SAID, "--yes"), "There is a shop called “Harbour Sports” already."),
        (("shop", "add", "--shop", "Two", "--name", "B", "--login", "b", "--chain", "Harbor", "--yes"),
         "There is no chain called “Harbor” here (“Harbour Sports”)"),
        (("shop", "add", "--shop", "Two", "--name", "B", "--login", "b", "--zone", "Nowhere", "--yes"), "no time zone"),
        (("shop", "set", "--shop", "Harbour", "--tax", "10"), "There is no shop called “Harbour” here"),
        (("user", "add", "--login", "b", "--role", "fitter", "--shop", "Harbor Sports"), "./kalon shop add makes one."),
    ):  # fmt: skip
        code, _, told = said(*words, home=home)
        assert (code, why in told) == (2, True), told
    assert (
        said("user", "add", "--login", "b", "--shop", "Harbour Sports", home=home)[0] == 2
    )  # no role is taken for granted
    sister = ("--shop", "Hill Sports", "--name", "Cy", "--login", "cy", "--chain", "harbour sports", "--yes")
    assert said("shop", "add", *sister, home=home)[0] == 0
    changes = ("--shop", "hill sports", "--currency", "gbp", "--sizes", "uk", "--rename", "Hilltop")
    assert said("shop", "set", *changes, home=home)[0] == 0
    assert [line.split() for line in said("shop", "list", home=home)[1].splitlines()] == [
        ["Harbour", "Sports", "Harbour", "Sports", "1", "sign", "in"],
        ["Hilltop", "Harbour", "Sports", "1", "sign", "in"],
    ]
    with psycopg.connect(machine.url(), row_factory=dict_row) as cx:
        first, hill = (house.newest_of(cx, shops.named(cx, name)["id"]) for name in ("Harbour Sports", "Hilltop"))
        open_sessions = cx.execute("SELECT count(*) AS n FROM session").fetchone()
    assert (first.time_zone, first.currency, first.tax.bands[0].rate_pct) == ("Europe/Paris", "EUR", 20)
    assert (hill.currency, hill.size_system, hill.version) == ("GBP", "uk", 2)
    assert open_sessions == {"n": 0}


def test_serve_on_an_empty_machine_asks_at_a_terminal_and_is_a_sentence_without_one(home: Path) -> None:
    port = free_port()
    code, _, told = said("serve", "--port", str(port), home=home)
    assert (code, "There is no shop on this machine yet." in told) == (2, True), told
    ours, theirs = pty.openpty()
    env = {**os.environ, "KALON_DATA": str(home), "KALON_PASSWORD": PASSWORD}
    serving = subprocess.Popen(
        [sys.executable, "-m", "kalon.cli", "serve", "--port", str(port), "--workers", "1", "--currency", "CHF"],
        env=env, stdin=theirs, stdout=theirs, stderr=subprocess.DEVNULL,
    )  # fmt: skip
    try:
        typed = ["Harbour Sports", "Mars/Base", "Europe/Zurich", "", "8.1", "", "Ada Quill", "ada"]
        os.write(ours, "".join(f"{line}\n" for line in typed).encode())  # ahead of the questions
        eventually(lambda: answers("127.0.0.1", port) or None, seconds=240)
        server = LocalServer(home)
        assert server.running()
        with psycopg.connect(server.url(), row_factory=dict_row) as cx:
            made = house.newest_of(cx, shops.named(cx, "Harbour Sports")["id"])
        assert (made.time_zone, made.currency, made.tax.bands[0].rate_pct) == ("Europe/Zurich", "CHF", 8.1)
    finally:
        serving.send_signal(signal.SIGINT)
        serving.wait(timeout=240)
        for end in (ours, theirs):
            os.close(end)


def test_a_password_that_may_not_be_one_is_asked_for_again_and_an_end_of_file_is_a_sentence(home: Path) -> None:
    env = {n: v for n, v in os.environ.items() if n != "KALON_PASSWORD"} | {"KALON_DATA": str(home)}
    command = [sys.executable, "-m", "kalon.cli", "shop", "add", *SAID, "--zone", "UTC", "--sizes", "eu"]

    def typed(text: bytes, *passwords: str) -> tuple[int, str]:
        """Answers typed ahead, passwords only once they are asked for: a terminal takes none before."""
        ours, theirs = pty.openpty()
        run = subprocess.Popen(
            command, env=env, stdin=theirs, stdout=theirs, stderr=subprocess.PIPE, start_new_session=True
        )
        os.write(ours, text)
        told, waiting = "", list(passwords)
        assert run.stderr
        while piece := run.stderr.read1(1000):  # type: ignore[attr-defined]
            told += piece.decode()
            if told.endswith(("Password: ", "again: ")) and waiting:
                os.write(ours, f"{waiting.pop(0)}\n".encode())
        code = run.wait(timeout=240)
        for end in (ours, theirs):
            os.close(end)
        return code, told

    code, told = typed(b"EUR\n\x04")
    assert (code, "nobody answers any more" in told, "Traceback" in told) == (2, True, False), told
    code, told = typed(b"EUR\n0\nyes\n", "short", "short", PASSWORD, PASSWORD)
    assert (code, "at least" in told, "ada signs in there" in told) == (0, True, True), told


def test_help_installs_nothing(tmp_path: Path) -> None:
    root = Path(__file__).parents[2]
    for name in ("kalon", "src"):
        (tmp_path / name).symlink_to(root / name)
    (tmp_path / "own").write_text((root / "kalon").read_text())
    bare = subprocess.run(["bash", str(tmp_path / "own"), "help"], capture_output=True, text=True, check=False)
    assert bare.returncode == 0, bare.stderr
    assert "install, start, load the made-up scenario, serve" in bare.stdout
    assert {p.name for p in tmp_path.iterdir()} == {"kalon", "src", "own"}
