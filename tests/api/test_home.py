"""One directory a machine: independent of the clone, and what an older layout left is found there."""

from __future__ import annotations

from pathlib import Path

import psycopg
import pytest

from kalon.host import home as homes
from kalon.host.postgres import HostTrouble, LocalServer, programs
from kalon.host.supervise import only_one

CLONE = Path("/srv/a clone/kalon")


@pytest.fixture
def place(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The machine's directory, as nobody has used it yet."""
    monkeypatch.delenv("KALON_DATA", raising=False)
    monkeypatch.setattr(homes, "base", lambda: tmp_path / "kalon")
    return tmp_path / "kalon"


def a_cluster(at: Path) -> Path:
    """What a stopped cluster looks like from outside."""
    (at / "pgdata").mkdir(parents=True)
    (at / "pgdata" / "PG_VERSION").write_text("15\n")
    (at / "secret").write_text(f"of {at.name}")
    return at


def ready(clone: Path = CLONE) -> tuple[Path, list[str]]:
    said: list[str] = []
    return homes.ready(said.append, clone), said


def test_the_directory_is_the_machines_and_is_named_first(place: Path) -> None:
    assert ready() == (place, [f"data in {place}"])
    a_cluster(place)
    assert ready(Path("/elsewhere/moved"))[0] == place


def test_who_says_where_is_heard(place: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    a_cluster(place / "srv-a-clone-kalon")
    monkeypatch.setenv("KALON_DATA", str(tmp_path / "other"))
    assert ready() == (tmp_path / "other", [f"data in {tmp_path / 'other'}"])
    assert (place / "srv-a-clone-kalon" / "pgdata").is_dir()


@pytest.mark.parametrize("clone", [CLONE, Path("/srv/moved")])
def test_an_older_folder_is_taken_over_by_its_clone_or_by_a_moved_one(place: Path, clone: Path) -> None:
    old = a_cluster(place / "srv-a-clone-kalon")
    a_cluster(place / "test-0a1b2c3d")  # what a killed test left is nobody's data
    (old / "kalon.lock").touch()
    found, said = ready(clone)
    assert found == place
    assert said[-1] == f"taking over the data in {old}"
    assert (place / "secret").read_text() == "of srv-a-clone-kalon"
    assert (place / "pgdata" / "PG_VERSION").exists()
    assert not old.exists()


def test_of_several_the_clones_own_are_taken_and_others_are_asked_about(place: Path) -> None:
    a_cluster(place / "srv-one")
    a_cluster(place / "srv-two")
    with pytest.raises(HostTrouble, match="several folders") as trouble:
        ready()
    assert str(place / "srv-two") in trouble.value.text
    a_cluster(place / "srv-a-clone-kalon")
    ready()
    assert (place / "secret").read_text() == "of srv-a-clone-kalon"
    assert (place / "srv-two" / "pgdata").is_dir()


def test_a_move_that_was_cut_off_goes_on(place: Path) -> None:
    old = a_cluster(place / "srv-a-clone-kalon")
    (old / "secret").rename(place / "secret")
    ready()
    assert (place / "secret").read_text() == "of srv-a-clone-kalon"
    assert (place / "pgdata").is_dir()


def test_what_another_kalon_serves_is_left_alone(place: Path) -> None:
    old = a_cluster(place / "srv-a-clone-kalon")
    with only_one(old), pytest.raises(HostTrouble, match="Another Kalon already runs"):
        ready()
    assert (old / "pgdata").is_dir()


def test_a_served_shop_is_the_same_after_it_was_taken_over(home: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("KALON_DATA", raising=False)
    monkeypatch.setattr(homes, "base", lambda: home)
    was = LocalServer(home / "srv-a-clone-kalon")
    home.mkdir(mode=0o755, parents=True)
    was.start()  # and left running, as a killed Kalon leaves it
    with psycopg.connect(was.url()) as cx:
        cx.execute("CREATE TABLE kept AS SELECT 42 AS it")
    now = LocalServer(ready()[0])
    now.start()
    with psycopg.connect(now.url()) as cx:
        assert cx.execute("SELECT it FROM kept").fetchone() == (42,)
    assert not LocalServer(home / "srv-a-clone-kalon").running()


def test_data_of_a_version_that_isnt_here_any_more_are_a_sentence() -> None:
    with pytest.raises(HostTrouble, match=r"The data are of PostgreSQL 9, and this machine has \d+"):
        programs("9")
