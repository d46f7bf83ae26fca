"""`check`, `backup`, `restore`, `people` and `sessions`: as whoever runs an installation types them."""

from __future__ import annotations

import json
import os
import sqlite3
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from curve_rank.cli.main import COMMANDS, main
from curve_rank.data_files import read_bytes
from curve_rank.settings import PREFIX, Settings
from curve_rank.store import accounts
from curve_rank.store.database import DATABASE, open_store


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
    for environment, what, says in (
        ({"CURVE_RANK_THREADS": "none"}, "CURVE_RANK_THREADS", "whole number"),
        ({"CURVE_RANK_THREADS": "99"}, "CURVE_RANK_THREADS", "at most 32"),
        ({"CURVE_RANK_HOST": "arm.example"}, "CURVE_RANK_HOST", "CURVE_RANK_HOSTS"),
        ({"CURVE_RANK_SCHEDULER": "tcp://127.0.0.1:1"}, "CURVE_RANK_SCHEDULER", "Dask"),
        ({"CURVE_RANK_LOCAL_VIEWER": "1", "CURVE_RANK_HOSTS": "arm.example"}, "sign-in", "signs in"),
    ):
        found = run("check", "--data", folder, "--json", **({"CURVE_RANK_LOCAL_VIEWER": "0"} | environment))
        assert found.exit_code == 1, environment
        (wrong,) = (one for one in json.loads(found.output)["findings"] if one["state"] == "wrong")
        assert (wrong["what"], says in wrong["right"]) == (what, True)
    with sqlite3.connect(folder / DATABASE) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '9999'")
    assert "! database: at “9999” — the newer version" in run("check", "--data", folder).output
    (folder / DATABASE).write_bytes(b"no database " * 600)
    assert "restore" in run("check", "--data", folder).output


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
