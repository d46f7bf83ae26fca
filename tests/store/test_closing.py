"""What a restore closes and whose its files are; and that what is deleted, or left half written, goes."""

from __future__ import annotations

import os
import shutil
import zipfile
from collections.abc import Callable
from contextlib import suppress
from datetime import timedelta
from pathlib import Path

import pytest

from curve_rank.background.leaving import delete_due
from curve_rank.background.schedule import Schedule
from curve_rank.errors import (
    BadInputError,
    CurveRankError,
    NotAllowedError,
    UnknownNameError,
)
from curve_rank.exchange import outbox
from curve_rank.settings import DATABASE, Settings
from curve_rank.store import calendars, people, plans
from curve_rank.store.database import open_store
from curve_rank.store.house import access_tokens, accounts, endings, invitations
from curve_rank.store.safe import backup
from curve_rank.store.safe.backup import back_up
from curve_rank.store.safe.restore import preview, restore
from curve_rank.store.tables import Person, now
from curve_rank.store.viewers import local_educator, viewer_of


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
        script = access_tokens.make(session, owner, "nightly", "write")
        assert wren
        links = [
            invitations.invite(session, owner, name="N", email=f"n{n}@x.example", roles=("coach",))
            for n in range(3)
        ]
        feed = calendars.set_feed(session, wren, plans.handed_to(session, wren)[0].id, on=True)
    back_up(folder, file := tmp_path / "before.zip")
    with store.writing() as session:
        accounts.end(session, ended)
        accounts.reset(session, reset, "lantern and rope")  # ends every sign-in
        kept = accounts.begin(session, maude, "Firefox")
        invitations.accept(session, links[0], name="N", password="seven quiet owls")
        invitations.withdraw(session, owner, invitations.invitations(session, owner)[1].id)
        endings.set_locked(session, owner, 4, locked=True)
        calendars.set_feed(session, wren, plans.handed_to(session, wren)[0].id, on=False)
    store.engine.dispose()
    shutil.copytree(folder, other := tmp_path / "other")
    told = preview(file, folder).closes
    closed = {"sign_ins": 2, "access_tokens": 1, "resets": 1, "invitations": 3}
    assert told == closed | {"passwords": 1, "locks": 1, "calendars": 1}
    assert restore(file, folder)[0].closes == told
    moved = preview(file, tmp_path / "new house", keep_sign_ins=True)
    assert moved.closes == {}  # nothing stands there that has ended since
    assert restore(file, other, keep_sign_ins=True)[0].closes["invitations"] == 2
    for place, open_links in ((folder, []), (other, [links[2]])):
        store = open_store(place)
        with store.reading() as session:
            assert access_tokens.arrival(session, script) is None  # a new password ended it since
            for token in (ended, kept):
                assert accounts.viewer_by(session, token) is None
            with pytest.raises(UnknownNameError):
                accounts.reset_of(session, reset)
            with pytest.raises(UnknownNameError):
                calendars.by_feed(session, str(feed))
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
