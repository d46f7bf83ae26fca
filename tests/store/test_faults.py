"""Kills, full and read-only disks, locked, damaged and newer databases: one clear line, and data kept."""

from __future__ import annotations

import json
import os
import sqlite3
import stat
import subprocess
import sys
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlalchemy import event, text

from curve_rank.catalogue.library import built_in
from curve_rank.errors import UnavailableError
from curve_rank.settings import DATABASE
from curve_rank.store import documents
from curve_rank.store.database import Store, open_store
from curve_rank.store.safe.private import whole_file
from curve_rank.store.viewers import Viewer
from tests.helpers import LIMIT
from tests.store.test_database import document, older, own_document

CURL = built_in()[0]


@pytest.mark.parametrize(
    ("revision", "step", "fill"), [("", 29, False), ("0001", 47, False), ("0002", 41, False), ("", 127, True)]
)
def test_killed_at_any_writing_statement_the_next_start_needs_no_hands(
    tmp_path: Path, revision: str, step: int, fill: bool
) -> None:
    """At some statements of all migrations, of upgrades, and of the demo; `make soak` tries every one."""
    folder = tmp_path / "start"
    folder.mkdir()
    if revision:
        engine = older(folder, revision)
        if revision == "0002":
            own_document(engine, "own-a", [document("own-a"), document("own-a", posture__wrist=-20)])
        engine.dispose()
    command = [sys.executable, "-m", "tests.store.killing", str(folder), str(step), str(int(fill))]
    told = subprocess.run(command, capture_output=True, text=True, timeout=LIMIT)
    assert told.returncode == 0, told.stderr[-2000:]
    found = json.loads(told.stdout)
    assert found["wrong"] == [], told.stderr[-2000:]
    assert found["statements"] > 50
    assert found["expected"][-1] == "ok"


def test_before_an_upgrade_a_copy_is_kept_and_a_second_start_makes_none(tmp_path: Path) -> None:
    older(tmp_path, "0002").dispose()
    for _ in range(2):
        open_store(tmp_path).engine.dispose()
    (copy,) = (tmp_path / "backups").iterdir()
    with sqlite3.connect(copy) as connection:
        assert connection.execute("SELECT version_num FROM alembic_version").fetchone() == ("0002",)
        assert connection.execute("SELECT count(*) FROM people").fetchone() == (2,)


def test_many_who_open_a_new_or_an_old_folder_at_once_all_get_it(tmp_path: Path) -> None:
    older_folder = tmp_path / "old"
    older_folder.mkdir()
    older(older_folder, "0001").dispose()
    for folder in (tmp_path / "new", older_folder):
        gate = threading.Barrier(5)

        def start(_: int, folder: Path = folder, gate: threading.Barrier = gate) -> Store:
            gate.wait(LIMIT)
            return open_store(folder)

        with ThreadPoolExecutor(5) as five:
            stores = list(five.map(start, range(5)))
        with stores[0].reading() as session:
            educators = session.scalar(text("SELECT count(*) FROM person_roles WHERE role = 'educator'"))
            assert educators == 1
        for store in stores:
            store.engine.dispose()


def test_data_is_closed_to_everyone_else(tmp_path: Path) -> None:
    folder = tmp_path / "data"
    folder.mkdir(mode=0o755)
    open_store(folder).engine.dispose()
    whole_file(folder / "secret-key", b"x" * 32)
    assert stat.S_IMODE(folder.stat().st_mode) == 0o700
    assert {stat.S_IMODE(one.stat().st_mode) for one in folder.iterdir()} == {0o600}
    shared = tmp_path / "shared"
    shared.mkdir(mode=0o755)
    (shared / "someone's").touch()
    open_store(shared).engine.dispose()
    assert stat.S_IMODE(shared.stat().st_mode) == 0o755


def test_a_key_file_is_written_whole_or_not_at_all(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def no_room(_: int) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(os, "fsync", no_room)
        with pytest.raises(UnavailableError, match="No space left"):
            whole_file(tmp_path / "key", b"a" * 32)
    assert list(tmp_path.iterdir()) == []
    assert whole_file(tmp_path / "key", b"a" * 32) == whole_file(tmp_path / "key", b"b" * 32) == b"a" * 32


def save(store: Store, viewer: Viewer, name: str) -> None:
    with store.writing() as session:
        documents.save_new(session, viewer, "variant", CURL, name=name)


def save_many(store: Store, viewer: Viewer, name: str) -> None:
    for n in range(200):
        save(store, viewer, f"{name} {n}")


def read_and_write_all(folder: Path) -> None:
    with open_store(folder).writing() as session:
        session.execute(text("SELECT * FROM people, documents, document_versions"))
        session.execute(text("DELETE FROM person_roles"))


def test_a_full_disk_and_a_read_only_one_keep_what_was_there(store: Store, viewer: Viewer) -> None:
    save(store, viewer, "Before")
    for pragma, says in (("max_page_count = 1", "room on the disk"), ("query_only = ON", "may write to")):

        def limit(connection: sqlite3.Connection, _r: object, pragma: str = pragma) -> None:
            connection.execute(f"PRAGMA {pragma}")

        event.listen(store.engine, "connect", limit)
        store.engine.dispose()
        with pytest.raises(UnavailableError, match=says):
            save_many(store, viewer, pragma)
        event.remove(store.engine, "connect", limit)
        store.engine.dispose()
    with store.reading() as session:
        assert "Before" in [v.name for v in documents.own_variants(session, viewer)]
    save(store, viewer, "After")


def test_a_locked_database_is_told_of(store: Store, viewer: Viewer, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("curve_rank.store.database.BUSY_TIMEOUT_MS", 100)
    store.engine.dispose()
    with sqlite3.connect(store.folder / DATABASE) as other:
        other.execute("BEGIN IMMEDIATE")
        with pytest.raises(UnavailableError, match="another program"):
            save(store, viewer, "Late")
        other.rollback()
    save(store, viewer, "Later")


@pytest.mark.parametrize(
    ("damage", "says"),
    [
        (lambda file: file.write_bytes(b"no database at all, but as long as one " * 60), "backups"),
        (lambda file: file.write_bytes(file.read_bytes()[:4096] + b"\x55" * 60_000), "backups"),
        (lambda file: sqlite3.connect(file, isolation_level=None).execute(
            "UPDATE alembic_version SET version_num = '9999'"), "9999"),
        (lambda file: (file.unlink(), file.mkdir()), "may write to"),
    ],
    ids=["no database", "damaged", "newer", "a folder"],
)  # fmt: skip
def test_a_damaged_or_newer_database_is_refused_in_one_line(tmp_path: Path, damage, says: str) -> None:  # type: ignore[no-untyped-def]
    store = open_store(tmp_path)
    with store.reading() as session:
        session.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
    store.engine.dispose()
    for log in ("-wal", "-shm"):
        (tmp_path / f"{DATABASE}{log}").unlink(missing_ok=True)
    damage(tmp_path / DATABASE)
    with pytest.raises(UnavailableError, match=says) as caught:
        read_and_write_all(tmp_path)
    assert "\n" not in str(caught.value)


def test_a_data_path_that_is_a_file_is_refused(tmp_path: Path) -> None:
    (tmp_path / "file").touch()
    for path in (tmp_path / "file", tmp_path / "file" / "below"):
        with pytest.raises(UnavailableError, match="folder"):
            open_store(path)
