"""Backups and restores: under writes, damaged, newer, killed half way, of every earlier version."""

from __future__ import annotations

import json
import random
import shutil
import sqlite3
import threading
import zipfile
from contextlib import closing, suppress
from pathlib import Path

import pytest
from sqlalchemy import delete

from curve_rank.errors import (
    BadInputError,
    CurveRankError,
    UnavailableError,
)
from curve_rank.exchange import outbox
from curve_rank.settings import DATABASE
from curve_rank.store import documents
from curve_rank.store.database import Store, open_store
from curve_rank.store.revisions import known_revisions
from curve_rank.store.safe import backup
from curve_rank.store.safe.backup import back_up
from curve_rank.store.safe.restore import STAGED, finish, in_use, preview, restore
from curve_rank.store.tables import Document
from curve_rank.store.viewers import Viewer
from tests.store.test_database import migrate
from tests.store.test_faults import save


def rows(folder: Path) -> dict[str, list[tuple[object, ...]]]:
    """Every row of every table."""
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        tables = [r[0] for r in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
        return {name: connection.execute(f"SELECT * FROM {name} ORDER BY 1").fetchall() for name in tables}


def test_everything_comes_back_in_an_empty_folder_and_over_another(folder: Path, tmp_path: Path) -> None:
    manifest = back_up(folder, file := tmp_path / "whole.zip")
    assert manifest.counts["people"] == 8
    assert set(manifest.members) >= {DATABASE, "secret-key"}
    with pytest.raises(UnavailableError, match="--out"):
        back_up(folder, file)  # never over another
    fresh = tmp_path / "fresh"
    assert preview(file, fresh).present is None
    assert not (fresh / DATABASE).exists()
    restore(file, fresh)
    assert rows(fresh) == rows(folder)
    assert (fresh / "secret-key").read_bytes() == b"k" * 32
    assert [letter.subject for letter in outbox.letters(fresh)] == ["Hello"]

    store = open_store(fresh)
    with store.writing() as session:
        session.execute(delete(Document))
    store.engine.dispose()
    changed = rows(fresh)
    found, before = restore(file, fresh)
    assert found.present is not None
    assert found.present["documents"] == 0
    assert rows(fresh) == rows(folder)
    assert before is not None
    restore(before, fresh)  # and back again
    assert rows(fresh) == changed


def test_a_backup_made_during_writes_is_a_state_that_was(
    store: Store, viewer: Viewer, tmp_path: Path
) -> None:
    saved, stop = [], threading.Event()

    def save_on() -> None:
        while not stop.is_set():
            save(store, viewer, f"Busy {len(saved)}")
            saved.append(len(saved))

    writer = threading.Thread(target=save_on)
    writer.start()
    try:
        for n in range(4):
            least = len(saved)
            back_up(store.folder, file := tmp_path / f"{n}.zip")
            restore(file, tmp_path / f"back-{n}")
            with open_store(tmp_path / f"back-{n}").reading() as session:
                names = {v.name for v in documents.own_variants(session, viewer)}
            assert {f"Busy {one}" for one in range(least)} <= names
            assert len(names) <= len(saved) + 1
    finally:
        stop.set()
        writer.join()


def test_every_damage_of_one_byte_is_refused_and_changes_nothing(folder: Path, tmp_path: Path) -> None:
    back_up(folder, file := tmp_path / "whole.zip")
    sound, there = file.read_bytes(), rows(folder)
    chance = random.Random(4)
    ends = [0, 1, len(sound) - 1, len(sound) - 64, len(sound) - 65]
    for place in ends + [chance.randrange(len(sound)) for _ in range(200)]:
        damaged = bytearray(sound)
        damaged[place] ^= 1 << chance.randrange(8)
        file.write_bytes(damaged)
        with pytest.raises(BadInputError, match="nothing was changed"):
            restore(file, folder)
    for length in (0, 10, 64, len(sound) // 2, len(sound) - 1):
        file.write_bytes(sound[:length])
        with pytest.raises(BadInputError):
            restore(file, folder)
    assert rows(folder) == there
    assert not list((folder).glob("curve-rank-rest*"))


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"format": 2, "version": "9.1"}, "version 9.1"),
        ({"revision": "9999", "version": "9.1"}, "version 9.1"),
        ({"members": {"../evil": {"bytes": 1, "sha256": "0" * 64}}}, "nothing was changed"),
        ({"members": {}}, "nothing was changed"),
    ],
)
def test_a_newer_or_forged_one_is_refused(
    folder: Path, tmp_path: Path, change: dict[str, object], says: str
) -> None:
    """With a right check sum, so that only what it says of itself is wrong."""
    back_up(folder, file := tmp_path / "whole.zip")
    with zipfile.ZipFile(file) as zipped:
        parts = {name: zipped.read(name) for name in zipped.namelist()}
    parts["manifest.json"] = json.dumps(json.loads(parts["manifest.json"]) | change).encode()
    parts["../evil"] = b"x"
    with zipfile.ZipFile(file, "w") as out:
        for name, content in parts.items():
            out.writestr(name, content)
        out.comment = b"0" * 64
    size = file.stat().st_size - 64
    digest = backup.size_and_digest(backup.pieces(file, size)).sha256
    file.write_bytes(file.read_bytes()[:-64] + digest.encode())
    there = rows(folder)
    with pytest.raises(BadInputError, match=says):
        restore(file, folder)
    assert rows(folder) == there
    assert not (tmp_path / "evil").exists()


def test_a_folder_in_use_is_left_alone(folder: Path, tmp_path: Path) -> None:
    back_up(folder, file := tmp_path / "whole.zip")
    with in_use(folder), in_use(folder), pytest.raises(UnavailableError, match="stop the application"):
        restore(file, folder)
    store = open_store(folder)  # somebody in a shell
    with store.reading() as session:
        documents.own_variants(session, Viewer(1, "x", frozenset()))
        with pytest.raises(UnavailableError, match="stop the application"):
            restore(file, folder)
    store.engine.dispose()
    with in_use(folder, alone=True), pytest.raises(UnavailableError, match="start again"), in_use(folder):
        pass


def test_killed_at_any_moment_the_next_start_has_the_old_or_the_new(
    folder: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    back_up(folder, file := tmp_path / "whole.zip")
    new = rows(folder)
    other = tmp_path / "other"
    open_store(other).engine.dispose()
    old = rows(other)
    from curve_rank.store.safe import restore as module

    class Killed(BaseException):
        pass

    for steps in range(6):
        place = tmp_path / f"killed-{steps}"
        shutil.copytree(other, place)
        left, really = [steps], module.os.replace

        def replace(a: object, b: object, left: list[int] = left, really: object = really) -> None:
            left[0] -= 1
            if left[0] < 0:
                raise Killed
            really(a, b)  # type: ignore[operator]

        with monkeypatch.context() as patched:
            patched.setattr(module.os, "replace", replace)
            with suppress(Killed):
                restore(file, place)
        moved = (place / STAGED).is_dir() or steps > 0
        finish(place)
        assert rows(place) == (new if moved else old), steps
        store = open_store(place)
        store.engine.dispose()


@pytest.mark.parametrize("revision", known_revisions()[:-1])
def test_every_earlier_version_with_data_comes_to_the_newest_and_back(
    folder: Path, tmp_path: Path, revision: str
) -> None:
    store = open_store(folder)
    migrate(store.engine, revision, down=True)
    store.engine.dispose()
    old = rows(folder)
    assert len(old["people"]) >= 8
    back_up(folder, file := tmp_path / "old.zip")
    for _ in range(2):
        store = open_store(folder)
        with store.reading() as session:
            viewer = Viewer(1, "Maude Ellerby", frozenset({"educator"}))
            assert {v.name for v in documents.own_variants(session, viewer)} >= {"Hayloft deep recline"}
        store.engine.dispose()
        new = rows(folder)
        kept = {table for table in old if table in new} - {"alembic_version"}
        assert all(len(new[table]) >= len(old[table]) for table in kept)
        restore(file, folder)
        assert rows(folder) == old


def test_of_a_damaged_database_there_is_no_backup_and_a_restore_mends_it(
    folder: Path, tmp_path: Path
) -> None:
    back_up(folder, file := tmp_path / "whole.zip")
    sound = rows(folder)
    content = bytearray((folder / DATABASE).read_bytes())
    content[8192:60_000] = b"\x55" * (60_000 - 8192)
    (folder / DATABASE).write_bytes(content)
    with pytest.raises(CurveRankError, match="backup"):
        back_up(folder, tmp_path / "none.zip")
    assert not (tmp_path / "none.zip").exists()
    _, before = restore(file, folder)
    assert before is not None
    assert before.read_bytes()[8192:] == bytes(content)[8192:]
    assert rows(folder) == sound


def test_an_upgrade_that_fails_leaves_the_old_and_says_what_to_do(
    folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    store = open_store(folder)
    migrate(store.engine, "0011", down=True)
    store.engine.dispose()
    old = rows(folder)

    def breaks(*_: object) -> None:
        raise ZeroDivisionError("half way")

    monkeypatch.setattr("curve_rank.store.database.command.upgrade", breaks)
    with pytest.raises(UnavailableError, match="as it was, at “0011”") as told:
        open_store(folder)
    assert "copy" in str(told.value)
    assert rows(folder) == old
