"""Commands of the README and of looking after people, from their text, in the demo's data."""

from __future__ import annotations

import shlex
import shutil
from pathlib import Path

import pytest
from click.testing import CliRunner

from curve_rank.cli.main import COMMANDS, main
from curve_rank.store.database import open_store
from curve_rank.store.house import accounts
from tests.documents.blocks import blocks, commands

WORDS = "seven quiet owls"


@pytest.fixture
def folder(tmp_path: Path, demo_folder: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """The demo's data, in a place of one's own, with somebody who can sign in."""
    shutil.copytree(demo_folder, tmp_path / "data")
    store = open_store(tmp_path / "data")
    with store.writing() as session:
        accounts.add_account(session, 4, name="Wren", email="wren@x.example", password=WORDS)
    store.engine.dispose()
    monkeypatch.setenv("CURVE_RANK_DATA", str(tmp_path / "data"))
    monkeypatch.chdir(tmp_path)
    return tmp_path


def ask(line: str) -> tuple[int, str]:
    """What a command of the documents comes to."""
    done = CliRunner().invoke(main, shlex.split(line)[1:])
    return done.exit_code, done.output


@pytest.mark.usefixtures("folder")
def test_people_are_looked_after_as_the_document_says() -> None:
    (told,) = (block.text for block in blocks("docs/operating.md") if block.of == "people")
    for line in commands(told):
        code, said = ask(line)
        assert code == 0, (line, said)
    assert "wren@barn.example" in ask("curve-rank people")[1]


FILES = {
    "log.csv": "date,exercise,set,load,reps\n2026-03-02,standing-dumbbell-curl,1,12,10\n"
    "2026-03-05,standing-dumbbell-curl,1,12,11\n2026-03-09,standing-dumbbell-curl,1,14,9\n",
    "sweep.csv": "angle,torque\n" + "".join(f"{n},{30 + n / 10:.1f}\n" for n in range(10, 131, 5)),
    "marks.json": "",
}
"""What commands of the README read."""
APART = {"serve", "device", "capture"}
"""Commands that go on until they are stopped, and what asks them: tests of their own start them."""


@pytest.mark.usefixtures("shell_draws_in_threads")
def test_every_command_of_the_readme_does_what_it_says(folder: Path) -> None:
    for name, text in FILES.items():
        (folder / name).write_text(text)
    asked, wrong = set(), []
    lines = [
        line for block in blocks("README.md") if block.language == "sh" and not block.of
        for line in commands(block.text)
    ]  # fmt: skip
    for line in lines:
        words = shlex.split(line)
        assert words[0] == "curve-rank", line
        if words[1] in APART or words[1:3] == ["measure", "marks"]:
            continue
        if "theirs.json" in words:
            shutil.copy("mine.json", "theirs.json")
        code, said = ask(line.replace("CURVE_RANK", ""))
        asked.add(words[1])
        if code != 0 and not (words[1] == "check" and code == 1):
            wrong.append((line, code, said[-200:]))
    assert wrong == []
    named = {shlex.split(line)[1] for line in lines} - {"--help", "--version"}
    assert set(COMMANDS) - named <= {"demo", "sessions"}  # every command has its line
