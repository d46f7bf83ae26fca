"""Backups and restores: under writes, damaged, newer, killed half way, of every earlier version."""

from __future__ import annotations

import json
import os
import random
import shutil
import sqlite3
import threading
import zipfile
from collections.abc import Callable
from contextlib import closing, suppress
from datetime import timedelta
from pathlib import Path

import pytest
from sqlalchemy import delete

from curve_rank.background.leaving import delete_due
from curve_rank.background.schedule import Schedule
from curve_rank.errors import (
    BadInputError,
    CurveRankError,
    NotAllowedError,
    UnavailableError,
    UnknownNameError,
)
from curve_rank.exchange import outbox
from curve_rank.settings import Settings
from curve_rank.store import accounts, backup, documents, endings, invitations, people, plans
from curve_rank.store.backup import DATABASE, back_up
from curve_rank.store.database import Store, open_store
from curve_rank.store.private import whole_file
from curve_rank.store.restore import STAGED, finish, in_use, preview, restore
from curve_rank.store.revisions import known_revisions
from curve_rank.store.tables import Document, Person, now
from curve_rank.store.viewers import Viewer, local_educator, viewer_of
from tests.store.test_database import migrate
from tests.store.test_faults import save


@pytest.fixture
def folder(tmp_path: Path, demo_folder: Path) -> Path:
    """A data folder with the demo, a key and a letter."""
    made = tmp_path / "data"
    shutil.copytree(demo_folder, made)
    whole_file(made / "secret-key", b"k" * 32)
    outbox.send(made, to="wren@lanternfield.example", subject="Hello", text="Come in.")
    return made


def test_a_restore_closes_the_doors_that_the_backup_would_open(folder: Path, tmp_path: Path) -> None:
    store = open_store(folder)
    with store.writing() as session:
        maude = accounts.make_first(session, name="Maude", email="m@x.example", password="seven quiet owls")
        accounts.add_account(session, 4, name="W", email="w@x.example", password="seven quiet owls")
        ended, kept = (accounts.begin(session, maude, "Firefox") for _ in range(2))
        reset = accounts.ask_reset(session, "m@x.example")[0]
        owner = viewer_of(session, maude)
        wren = viewer_of(session, 4)
        assert owner
        assert wren
        links = [
            invitations.invite(session, owner, name="N", email=f"n{n}@x.example", roles=("coach",))
            for n in range(3)
        ]
        feed = plans.set_feed(session, wren, plans.handed_to(session, wren)[0].id, on=True)
    back_up(folder, file := tmp_path / "before.zip")
    with store.writing() as session:
        accounts.end(session, ended)
        accounts.reset(session, reset, "lantern and rope")  # ends every sign-in
        kept = accounts.begin(session, maude, "Firefox")
        invitations.accept(session, links[0], name="N", password="seven quiet owls")
        invitations.withdraw(session, owner, invitations.invitations(session, owner)[1].id)
        endings.set_locked(session, owner, 4, locked=True)
        plans.set_feed(session, wren, plans.handed_to(session, wren)[0].id, on=False)
    store.engine.dispose()
    shutil.copytree(folder, other := tmp_path / "other")
    told = preview(file, folder).closes
    assert told == {"sign_ins": 2, "resets": 1, "invitations": 3, "passwords": 1, "locks": 1, "calendars": 1}
    assert restore(file, folder)[0].closes == told
    moved = preview(file, tmp_path / "new house", keep_sign_ins=True)
    assert moved.closes == {}  # nothing stands there that has ended since
    assert restore(file, other, keep_sign_ins=True)[0].closes["invitations"] == 2
    for place, open_links in ((folder, []), (other, [links[2]])):
        store = open_store(place)
        with store.reading() as session:
            for token in (ended, kept):
                assert accounts.viewer_by(session, token) is None
            with pytest.raises(UnknownNameError):
                accounts.reset_of(session, reset)
            with pytest.raises(UnknownNameError):
                plans.by_feed(session, str(feed))
            still = []
            for link in links:
                with suppress(UnknownNameError):
                    still.append(invitations.invitation_of(session, link) and link)
            assert still == open_links
            with pytest.raises(BadInputError):
                accounts.check_password(session, "m@x.example", "seven quiet owls")
            assert accounts.check_password(session, "m@x.example", "lantern and rope") == maude
            with pytest.raises(NotAllowedError):
                accounts.check_password(session, "w@x.example", "seven quiet owls")
        store.engine.dispose()


@pytest.mark.skipif(os.geteuid() != 0, reason="only root can act as somebody else")
def test_a_restore_keeps_the_folders_owner_whoever_runs_it(folder: Path, tmp_path: Path) -> None:
    back_up(folder, file := tmp_path / "whole.zip")
    for path in (folder, *folder.rglob("*")):
        os.chown(path, 12345, 12345)
    folder.chmod(0o750)
    restore(file, folder)
    outbox.send(folder, to="w@x.example", subject="Hello", text="Once more.")
    back_up(folder, folder / "backups" / "curve-rank-20260101-000000.zip")
    found = {(path.stat().st_uid, path.stat().st_gid) for path in (folder, *folder.rglob("*"))}
    assert found == {(12345, 12345)}
    assert folder.stat().st_mode & 0o777 == 0o750
    file.chmod(0o644)
    for parent in file.parents:
        if parent.stat().st_mode & 0o5 == 0 and parent != Path("/"):
            parent.chmod(0o755)
    told = in_child_as(54321, lambda: restore(file, folder))
    assert "who owns it" in told


def in_child_as(user: int, work: Callable[[], object]) -> str:
    """What an attempt of another user's comes to, in words."""
    told, tell = os.pipe()
    child = os.fork()
    if child == 0:
        try:
            os.setgroups([])
            os.setgid(user)
            os.setuid(user)
            work()
            os.write(tell, b"done")
        except CurveRankError as error:
            os.write(tell, str(error).encode())
        finally:
            os._exit(0)
    os.waitpid(child, 0)
    return os.read(told, 4000).decode()


def test_what_a_killed_backup_left_goes_at_the_next_look_and_what_is_written_stays(
    folder: Path,
) -> None:
    left = folder / "backups" / "curve-rank-part-killed"
    left.mkdir(parents=True)
    (left / DATABASE).write_bytes(b"half")
    dead = folder / "backups" / "curve-rank-0013-x.999999999.part"
    dead.touch()
    os.utime(left, (0, 0))
    at_work = folder / "backups" / "curve-rank-part-at-work"
    at_work.mkdir()
    os.utime(at_work, (0, 0))
    store = open_store(folder)
    schedule = Schedule(Settings(data=folder, backup_hours=0), store)
    with backup._at_work(at_work):
        schedule.do_what_is_due()
        assert not left.exists()
        assert not dead.exists()
        assert at_work.exists()
    schedule.do_what_is_due()
    assert not at_work.exists()
    store.engine.dispose()


def test_deleted_is_deleted(folder: Path, tmp_path: Path) -> None:
    """Neither database, log, outbox nor a new backup holds a name or an address of who left."""
    store = open_store(folder)
    name, email = "Quillon Zephyrhand", "quillon@zephyrhand.example"
    with store.writing() as session:
        owner = local_educator(session)
        assert owner
        client = people.add_client_record(session, owner, name)
        unused = "quillon.zephyrhand@elsewhere.example"
        _, link = (
            invitations.invite(session, owner, name=name, email=one, roles=("client",), person=client)
            for one in (unused, email)
        )
        invitations.accept(session, link, name=name, password="seven quiet owls")
        session.get_one(Person, client).leaving_at = now() - timedelta(days=1)
    for address in (email, unused):
        outbox.send(folder, to=address, subject="Maude invites you", text="Come in.")
    whole = b"".join(path.read_bytes() for path in folder.rglob("*") if path.is_file())
    assert b"Zephyrhand" in whole
    assert delete_due(store) == 1
    manifest = back_up(folder, file := tmp_path / "after.zip")
    with zipfile.ZipFile(file) as zipped:
        packed = b"".join(zipped.read(member) for member in manifest.members)
    whole = b"".join(path.read_bytes() for path in folder.rglob("*") if path.is_file())
    for held in (whole, packed):
        assert b"zephyrhand" not in held.lower()
    assert [letter.to for letter in outbox.letters(folder)] == ["wren@lanternfield.example"]
    store.engine.dispose()


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
    from curve_rank.store import restore as module

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
