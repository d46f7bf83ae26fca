"""The command among others: pipes, full disks, Ctrl-C, completion, and what it reads in to say little."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
from pathlib import Path

import click
import pytest
from scripts.write_shell import COMPLETIONS, FOLDER, files

from curve_rank.cli.main import COMMANDS, main
from curve_rank.store.newest import newest_revision
from curve_rank.store.revisions import known_revisions

COMMAND = [sys.executable, "-m", "curve_rank.cli.entry"]
CURL = "standing-dumbbell-curl"
SLOW = "rank --target biceps_long"
QUICK = ("variants", "variants --json-lines")


def run(text: str, stdin: bytes = b"", **how: object) -> subprocess.CompletedProcess[bytes]:
    environment = {**os.environ, "CURVE_RANK_DATA": "/nowhere"}
    return subprocess.run(
        [*COMMAND, *text.split()], input=stdin, capture_output="stdout" not in how, check=False,
        env=environment, timeout=120, **how,
    )  # type: ignore[call-overload,no-any-return]  # fmt: skip


@pytest.mark.parametrize("text", QUICK)
def test_a_reader_that_goes_away_is_no_trouble(text: str) -> None:
    line = f"set -o pipefail; {' '.join(COMMAND)} {text} | head -n 1 > /dev/null"
    done = subprocess.run(["bash", "-c", line], capture_output=True, check=False, timeout=120)
    assert done.returncode in (0, 141)  # 0 where all of it went into the pipe before
    assert done.stderr == b""


@pytest.mark.parametrize("text", QUICK)
def test_a_full_disk_is_said_once(text: str) -> None:
    with Path("/dev/full").open("wb") as full:
        done = subprocess.run(
            [*COMMAND, *text.split()], stdout=full, stderr=subprocess.PIPE, check=False, timeout=120
        )
    assert done.returncode == 74
    assert done.stderr == b"curve-rank: output: No space left on device\n"


@pytest.mark.parametrize("text", [f"{SLOW} --draws 5000", "claims"])
def test_ctrl_c_ends_at_once_and_says_nothing_odd(text: str) -> None:
    process = subprocess.Popen(
        [*COMMAND, *text.split()], stdout=subprocess.PIPE, stderr=subprocess.PIPE, start_new_session=True
    )
    with pytest.raises(subprocess.TimeoutExpired):
        process.wait(1.5)  # it is at work, and far from over
    process.send_signal(signal.SIGINT)
    _, told = process.communicate(timeout=60)
    assert process.returncode in (130, -signal.SIGINT)  # the signal itself, while code is read in
    assert b"Traceback" not in told


SWALLOWS = """
import os, signal, time
from curve_rank.cli import entry
entry.PATIENCE = 0.5
signal.signal(signal.SIGINT, entry._interrupt)
try:
    os.kill(os.getpid(), signal.SIGINT)
    time.sleep(60)
except KeyboardInterrupt:
    pass  # as code that is read in just then may do
time.sleep(60)
"""


def test_an_interrupt_that_is_swallowed_ends_the_process_all_the_same() -> None:
    done = subprocess.run([sys.executable, "-c", SWALLOWS], capture_output=True, check=False, timeout=30)
    assert done.returncode == 130
    assert done.stderr == b""


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("nope", b"nope"),
        ("rank --target biceps_long --draws 0", b"draws"),
        ("model nothing", b"nothing"),
        ("model --file -", b"schema_version"),
        (f"model {CURL} --set posture.forearm=far", b"posture.forearm"),
        ("measure csv -", b"columns"),
    ],
)
def test_what_makes_no_sense_is_named_and_ends_with_two(text: str, says: bytes) -> None:
    done = run(text, b"{}")
    assert done.returncode == 2
    assert says in done.stderr
    assert done.stdout == b""


def test_a_dash_reads_and_writes(tmp_path: Path) -> None:
    document = run("handout nothing --out -")
    assert document.returncode == 2
    rows = "\n".join(f"{a},{20 + a / 10}" for a in range(5, 125, 3))
    by_pipe = run("measure csv - --json", f"angle,torque\n{rows}".encode())
    sheet = tmp_path / "sheet.csv"
    sheet.write_text(f"angle,torque\n{rows}", encoding="utf-8")
    assert by_pipe.stdout == run(f"measure csv {sheet} --json").stdout
    into = "measure csv - --into machine-pad-curl --stack 20 --out - --json"
    both = run(into, f"angle,torque\n{rows}".encode()).stdout
    made, end = json.JSONDecoder().raw_decode(both.decode())
    assert made["lines"][0]["kind"] == "machine"
    assert both.decode()[end:].strip().startswith("{")
    again = run("model --file - --json", json.dumps(made).encode())
    assert json.loads(again.stdout)["variant"] == made["id"]


def test_a_file_goes_to_standard_output_and_what_is_said_of_it_beside(tmp_path: Path) -> None:
    there = tmp_path / "one.pdf"
    told = run(f"handout {CURL} --out {there} --json")
    assert json.loads(told.stdout) == {"file": str(there), "setups": [CURL]}
    piped = run(f"handout {CURL} --out -")
    assert piped.stdout.startswith(b"%PDF")
    assert piped.stdout.rstrip().endswith(b"%%EOF")
    assert piped.stderr == b"-: 1 page\n"
    unwritable = run(f"handout {CURL} --out /nowhere/at/all.pdf")
    assert unwritable.returncode == 2
    assert b"can be written" in unwritable.stderr


def test_progress_is_for_those_who_look_on() -> None:
    done = run(f"{SLOW} --with band --draws 20 --json")
    assert done.stderr == b""
    assert json.loads(done.stdout)["certainty"]["draws"] == 20


def test_every_command_has_json_and_the_help_that_the_list_shows() -> None:
    context = click.Context(main)
    for name, (_, words) in COMMANDS.items():
        command = main.get_command(context, name)
        assert command is not None
        assert command.get_short_help_str(limit=300) == words, name
        inner = command.commands.values() if isinstance(command, click.Group) else [command]
        for one in inner:
            options = {option for parameter in one.params for option in parameter.opts}
            assert "--json" in options or name in ("serve", "demo", "device"), (name, one.name)


READ_IN = "import sys; from curve_rank.cli.main import main\n{}\nprint(*[m for m in {} if m in sys.modules])"


@pytest.mark.parametrize(
    ("does", "spared"),
    [
        ("", ("numpy", "pydantic", "sqlalchemy", "scipy", "flask")),
        ("import curve_rank.cli.variants", ("sqlalchemy", "scipy", "flask", "alembic")),
        ("import curve_rank.cli.ranking", ("sqlalchemy", "scipy", "flask", "alembic", "weasyprint")),
        ("import curve_rank.cli.modelling", ("sqlalchemy", "scipy", "flask", "alembic")),
    ],
)
def test_what_a_command_does_not_need_is_not_read_in(does: str, spared: tuple[str, ...]) -> None:
    found = subprocess.check_output([sys.executable, "-c", READ_IN.format(does, spared)], text=True)
    assert found.strip() == ""


def test_the_newest_revision_is_that_of_the_migrations() -> None:
    assert newest_revision() == known_revisions()[-1]


def test_what_shells_read_in_is_of_this_version() -> None:
    for path, text in files().items():
        assert path.read_text(encoding="utf-8") == text, "python -m scripts.write_shell"
    assert {path.name for path in FOLDER.iterdir()} == {"curve-rank.1", *COMPLETIONS.values()}


def test_a_shell_completes_commands_and_options() -> None:
    def completed(words: str, place: int) -> str:
        asks = {"_CURVE_RANK_COMPLETE": "bash_complete", "COMP_WORDS": words, "COMP_CWORD": str(place)}
        return subprocess.check_output(COMMAND, env={**os.environ, **asks}, text=True)

    assert completed("curve-rank ra", 1).split() == ["plain,rank"]
    assert "plain,--target" in completed("curve-rank rank --t", 2)
