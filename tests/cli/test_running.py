"""`check`, `backup`, `restore`, `people` and `sessions`: as whoever runs an installation types them."""

from __future__ import annotations

import io
import json
import os
import shutil
import sqlite3
import zipfile
from pathlib import Path

import pytest
from click.testing import CliRunner, Result
from sqlalchemy import select

from curve_rank.cli.main import COMMANDS, main
from curve_rank.data_files import read_bytes
from curve_rank.settings import DATABASE, PREFIX, Settings
from curve_rank.store import people
from curve_rank.store.database import open_store
from curve_rank.store.house import accounts, audit
from curve_rank.store.safe.restore import in_use
from curve_rank.store.tables import CoachClient
from curve_rank.store.viewers import local_educator, viewer_of


def run(*arguments: str | Path, **environment: str) -> Result:
    return CliRunner().invoke(main, [str(one) for one in arguments], env=environment)


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    store = open_store(tmp_path / "data")
    with store.writing() as session:
        person = accounts.make_first(
            session, name="Maude Ellerby", email="maude@lanternfield.example", password="seven quiet owls"
        )
        accounts.begin(session, person, "Firefox on Linux")
    store.engine.dispose()
    return tmp_path / "data"


def test_every_command_is_found_by_its_name() -> None:
    listed = run("--help").output
    for name in COMMANDS:
        assert f"  {name} " in listed
        assert run(name, "--help").output.startswith(f"Usage: main {name}")
    assert "No such command" in run("nonsense").output


def test_a_backup_is_made_looked_through_and_restored(folder: Path, tmp_path: Path) -> None:
    file, fresh = tmp_path / "b.zip", tmp_path / "fresh"
    made = json.loads(run("backup", "--data", folder, "--out", file, "--json").output)
    assert made["bytes"] == file.stat().st_size
    assert made["manifest"]["counts"]["people"] == 1
    assert "--out" in run("backup", "--data", folder, "--out", file).output
    looked = run("restore", file, "--data", fresh, "--dry-run")
    assert "The backup is whole." in looked.output
    assert "Nothing was changed." in looked.output
    assert not fresh.exists()
    done = json.loads(run("restore", file, "--data", fresh, "--json").output)
    assert (done["restored"], done["present"], done["before"]) == (True, None, None)
    again = run("restore", file, "--data", fresh)
    assert "What stood there before" in again.output
    assert "1 people" in run("backup", "--data", fresh).output
    assert len(list((fresh / "backups").glob("curve-rank-2*.zip"))) == 1
    refused = run("restore", folder / "secret-key", "--data", fresh)
    assert refused.exit_code == 2
    assert "backup:" in refused.output


def test_a_backup_goes_through_a_pipe(folder: Path, tmp_path: Path) -> None:
    fresh = tmp_path / "fresh"
    made = CliRunner().invoke(main, ["backup", "--data", str(folder), "--out", "-"])
    assert made.stderr.startswith("Holds 1 people")
    assert zipfile.ZipFile(io.BytesIO(made.stdout_bytes)).testzip() is None
    looked = CliRunner().invoke(
        main, ["restore", "-", "--data", str(fresh), "--dry-run"], input=made.stdout_bytes
    )
    assert "Nothing was changed." in looked.output
    assert not fresh.exists()
    back = CliRunner().invoke(main, ["restore", "-", "--data", str(fresh)], input=made.stdout_bytes)
    assert back.exit_code == 0, back.output
    assert "maude@lanternfield.example" in run("people", "--data", fresh).output
    half = CliRunner().invoke(
        main, ["restore", "-", "--data", str(fresh)], input=made.stdout_bytes[: len(made.stdout_bytes) // 2]
    )
    assert half.exit_code == 2
    assert "nothing was changed" in half.output
    assert "maude@lanternfield.example" in run("people", "--data", fresh).output
    assert {one.name for one in (fresh / "backups").iterdir()} <= {"curve-rank-schedule.lock"}


def test_people_and_sessions_are_listed_and_one_is_ended(folder: Path) -> None:
    assert "maude@lanternfield.example" in run("people", "--data", folder).output
    (person,) = json.loads(run("people", "--data", folder, "--json").output)
    assert person["roles"] == ["educator"]
    (one,) = json.loads(run("sessions", "--data", folder, "--json").output)
    assert (one["person"], one["browser"]) == ("Maude Ellerby", "Firefox on Linux")
    assert "signed out" in run("sessions", "--data", folder, "--end", str(one["id"])).output
    assert json.loads(run("sessions", "--data", folder, "--json").output) == []
    assert run("sessions", "--data", folder, "--end", "99").exit_code == 2
    assert run("people", "--data", folder / "none").exit_code == 2


def test_check_tells_what_is_wrong_and_what_would_be_right(folder: Path) -> None:
    well = json.loads(run("check", "--data", folder, "--json", CURVE_RANK_LOCAL_VIEWER="0").output)
    assert well["ok"] is True
    for code, environment, what, says in (
        (2, {"CURVE_RANK_THREADS": "none"}, "CURVE_RANK_THREADS", "whole number"),
        (2, {"CURVE_RANK_THREADS": "99"}, "CURVE_RANK_THREADS", "at most 32"),
        (1, {"CURVE_RANK_HOST": "arm.example"}, "CURVE_RANK_HOST", "CURVE_RANK_HOSTS"),
        (1, {"CURVE_RANK_SCHEDULER": "tcp://127.0.0.1:1"}, "CURVE_RANK_SCHEDULER", "Dask"),
        (1, {"CURVE_RANK_LOCAL_VIEWER": "1", "CURVE_RANK_HOSTS": "arm.example"}, "sign-in", "signs in"),
    ):
        asked = ("check", "--data", folder, "--json")
        found = run(*asked, **({"CURVE_RANK_LOCAL_VIEWER": "0"} | environment))
        before_start = run(*asked, "--start", **({"CURVE_RANK_LOCAL_VIEWER": "0"} | environment))
        assert (found.exit_code, before_start.exit_code) == (code, code if code == 2 else 0), environment
        named = {one["what"]: one for one in json.loads(found.output)["findings"]}
        assert named[what]["state"] == ("wrong" if code == 2 else "look")
        assert says in named[what]["right"]
    with sqlite3.connect(folder / DATABASE) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    assert "! database: at “9999” — the newer version" in run("check", "--data", folder).output
    (folder / DATABASE).write_bytes(b"no database " * 600)
    assert "restore" in run("check", "--data", folder).output


def test_commands_know_the_installation_and_never_call_well_what_nobody_serves(
    folder: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in [name for name in os.environ if name.startswith(PREFIX)]:
        monkeypatch.delenv(name)
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "nobody"))
    file = tmp_path / "curve-rank.env"
    monkeypatch.setattr("curve_rank.settings.INSTALLATION", file)
    nowhere = run("check")
    assert nowhere.exit_code == 1
    assert "Nothing is wrong" not in nowhere.output
    assert run("people").exit_code == 2
    file.write_text(f"CURVE_RANK_DATA={folder}\nCURVE_RANK_BACKUPS={tmp_path / 'b'}\nCURVE_RANK_HOST=x\n")
    found = run("check")
    assert found.exit_code == 1
    assert f"nobody serves {folder}" in found.output
    assert "CURVE_RANK_HOST: is no setting" in found.output
    assert "maude@lanternfield.example" in run("people").output
    assert str(tmp_path / "b") in run("backup").output
    with in_use(folder):
        assert f"{folder} is being served" in run("check").output
    assert run("people", "--data", tmp_path / "other").exit_code == 2  # what is typed wins


def test_things_end_from_a_shell_and_the_audit_shows_it(demo_folder: Path, tmp_path: Path) -> None:
    folder = tmp_path / "demo"
    shutil.copytree(demo_folder, folder)
    store = open_store(folder)
    with store.writing() as session:
        accounts.add_account(session, 4, name="W", email="wren@x.example", password="seven quiet owls")
        accounts.begin(session, 4, "Firefox")
        coach = session.scalar(select(CoachClient.coach_id).where(CoachClient.client_id == 4))
    data = ("--data", folder)
    assert "is kept out" in run("people", "--lock", "4", *data).output
    assert json.loads(run("sessions", "--json", *data).output) == []
    assert "may sign in again" in run("people", "--let-back", "4", *data).output
    assert "wren@x.example" in run("people", "--address", "4", "w@y.example", *data).output
    assert " part." in run("people", "--part", str(coach), "4", *data).output
    for wrong in (
        ("--lock", "1"), ("--lock", "99"), ("--take-role", "4", "client"), ("--take-role", "4", "coach"),
        ("--part", str(coach), "4"), ("--address", "x", "w@y.example"), ("--address", "4", "nobody"),
    ):  # fmt: skip
        refused = run("people", *wrong, *data)
        assert (refused.exit_code, refused.output.startswith("curve-rank: ")) == (2, True), wrong
    with store.reading() as session:
        owner = local_educator(session)
        assert owner
        acts = [line.page for line in audit.trail(session, owner)]
        assert {"account locked", "account let back", "address changed", "coach and client part"} <= set(acts)
        alone = viewer_of(session, coach)
        assert alone
        assert 4 not in {one.id for one in people.clients(session, alone)}
    store.engine.dispose()


def test_the_file_of_settings_names_every_one_and_holds(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    text = read_bytes("curve_rank", "settings.env").decode()
    assert run("check", "--example").output == text
    lines = [line.lstrip("#").strip() for line in text.splitlines() if "CURVE_RANK_" in line and "=" in line]
    given = dict(line.split("=", 1) for line in lines)
    assert {name.removeprefix(PREFIX).lower() for name in given} == set(Settings.model_fields)
    for name in list(os.environ):
        if name.startswith(PREFIX):
            monkeypatch.delenv(name)
    usual = Settings(data=tmp_path)
    shown = ("data", "draws", "hosts", "https", "proxies", "backups", "scheduler")
    for name, value in given.items():
        monkeypatch.setenv(name, value)
    said = Settings()
    for name in set(Settings.model_fields) - set(shown):
        assert getattr(said, name) == getattr(usual, name), name  # what is told as usual is so
    assert said.https
