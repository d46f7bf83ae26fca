"""Every command, however it ends.

Through a dash, a pipe, a pipe that nobody reads, on a full disk, by Ctrl-C, with words that make no sense.
"""

from __future__ import annotations

import json
import shutil
import threading
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import click
import pytest

from curve_rank.cli.entry import INTERRUPTED, NOT_WRITTEN, PIPE_CLOSED
from curve_rank.cli.main import main
from curve_rank.exchange.simulated_device import DeviceServer, SimulatedDevice, built_in_profile
from curve_rank.store.database import open_store
from curve_rank.store.house import accounts
from tests.cli.zygote import AS_IT_SPEAKS, AT_WORK, FULL, GONE, READ, Ended, Zygote
from tests.conftest import SHELF
from tests.measure.test_marks import document
from tests.photographs import Scene

CURL = "standing-dumbbell-curl"
ROWS = f"""
anatomy
atlas biceps_long --step 20
backup --out <out>
calendar 1 --out <out>
capture <device> --seconds 2 --out <out>
check
choose --targets biceps_long,triceps_long --minutes 15
claims kickback_is_slack
compare {CURL} chin-up
doubt --target biceps_long
export --out <out>
faults {CURL}
figures <out>
handout {CURL} --out <out>
house
import <bundle> --dry-run
improve {CURL} --aim long_tension
log import <log> --client 4
measure csv <sweep> --into machine-pad-curl --stack 20 --out <out>
measure marks <marks>
model --file <variant>
people
personal --file <log> --variants chin-up
plan --client 4
plan-card 1 --out <out>
progress --file <log>
publish /variants/chin-up --title Chins
rank --target biceps_long
restore <backup> --dry-run
review --client 4
schemes {CURL}
series {CURL} --field=posture.forearm --steps=0:40:20
sessions
stretches --client 4
take /variants/{CURL} --as md --out <out>
tempo {CURL}
transfer {CURL} chin-up --load 10
variants
""".strip().splitlines()
"""Each command once, with all that it needs; a file that it reads or writes may be a dash as well."""
SERVED = {"serve", "demo", "device"}
"""Those that go on until they are ended; tests of serving end them."""
READS = ("bundle", "log", "sweep", "marks", "variant", "backup")
DEAR = {"figures", "handout", "plan-card", "take"}
"""They take long to make what they write, and write it as the others do."""
CODES = {"check": 1}
"""Of a folder that nobody serves there is something to look at."""
NONSENSE = "²…"
ANY_WORDS = {"--data", "--name", "--title", "--words", "--override", "--picture", "--out", "-o"}
"""Options that take whatever is typed: words of one’s own, and names of folders, files and pictures."""
WITHOUT_DATA = {"anatomy", "atlas", "capture", "measure marks"}
WRITES_ANEW = {"backup", "export", "figures", "plan-card", "handout", "capture", "calendar"}
"""What they write says when or of what it is made: two files of them are never the same."""


@dataclass(frozen=True)
class Place:
    """Where commands are tried: a data folder, and files that they read."""

    folder: Path
    files: dict[str, Path]
    device: str

    def words(self, row: str, **instead: str) -> list[str]:
        named = {name: str(path) for name, path in self.files.items()} | {"device": self.device} | instead
        for name, path in named.items():
            row = row.replace(f"<{name}>", path)
        data = [] if name_of(row) in WITHOUT_DATA else ["--data", str(self.folder)]
        return [*row.split(), *data]


def name_of(row: str) -> str:
    """The command's own name: two words where it stands in a group."""
    first, second, *_ = [*row.split(), ""]
    return f"{first} {second}" if isinstance(COMMANDS.get(first), click.Group) else first


CONTEXT = click.Context(main)
COMMANDS = {
    name: command for name in main.list_commands(CONTEXT) if (command := main.get_command(CONTEXT, name))
}
LEAVES = {
    f"{name} {inner}".strip(): one
    for name, command in COMMANDS.items()
    for inner, one in (command.commands if isinstance(command, click.Group) else {"": command}).items()
}
every_row = pytest.mark.parametrize("row", ROWS, ids=[name_of(row) for row in ROWS])


@pytest.fixture(scope="module")
def zygote(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Zygote]:
    made = Zygote(tmp_path_factory.mktemp("here"), CURVE_RANK_DRAWS=str(SHELF), CURVE_RANK_DATA="/nowhere")
    yield made
    made.close()


@pytest.fixture(scope="module")
def device() -> Iterator[str]:
    with DeviceServer(0, SimulatedDevice(built_in_profile(), noise=0.5, hurry=10)) as server:
        threading.Thread(target=server.serve_forever, args=(0.02,), daemon=True).start()
        yield f"127.0.0.1:{server.port}"
        server.shutdown()


@pytest.fixture(scope="module")
def place(demo_folder: Path, tmp_path_factory: pytest.TempPathFactory, zygote: Zygote, device: str) -> Place:
    here = tmp_path_factory.mktemp("endings")
    folder = here / "data"
    shutil.copytree(demo_folder, folder)
    files = {name: here / f"{name}.in" for name in READS}
    made = Place(folder, files, device)
    for row in ("backup --out <backup>", "export --out <bundle>"):
        assert zygote.run(made.words(row)).code == 0
    store = open_store(folder)
    with store.writing() as session:
        accounts.begin(session, 1, "Firefox on Linux")  # for `sessions` to list
    store.engine.dispose()
    files["log"].write_text("date,variant,load_kg,reps\n2026-04-03,chin-up,0,8\n", encoding="utf-8")
    sweep = "".join(f"{angle},{20 + angle / 10}\n" for angle in range(5, 125, 3))
    files["sweep"].write_text(f"angle,torque\n{sweep}", encoding="utf-8")
    files["marks"].write_text(json.dumps(document(Scene(elbow=72, upper_arm=18, tilt=4))), encoding="utf-8")
    into = "measure csv <sweep> --into machine-pad-curl --stack 20 --out <variant>"
    assert zygote.run(made.words(into)).code == 0
    return made


def test_the_table_holds_every_command() -> None:
    assert {name_of(row) for row in ROWS} | SERVED == set(LEAVES)


@every_row
def test_it_ends_as_commands_do(zygote: Zygote, place: Place, tmp_path: Path, row: str) -> None:
    out = tmp_path / "out"
    done = zygote.all_endings(place.words(row, out=str(out)), b"", READ, GONE, FULL, AS_IT_SPEAKS)
    assert done[READ].code == CODES.get(name_of(row), 0), done
    assert done[READ].told == b""  # nothing of how far it is: nobody looks on
    assert done[READ].out
    assert b"\x1b" not in done[READ].out
    assert (done[GONE].code, done[GONE].told) == (PIPE_CLOSED, b"")
    assert (done[FULL].code, done[FULL].told) == (
        NOT_WRITTEN,
        b"curve-rank: output: No space left on device\n",
    )
    assert (done[AS_IT_SPEAKS].code, done[AS_IT_SPEAKS].told) == (INTERRUPTED, b"")
    assert {path.name for path in tmp_path.iterdir()} <= {"out"}
    out.unlink(missing_ok=True)
    assert zygote.run(place.words(row, out=str(out)), ending=AT_WORK) == Ended(INTERRUPTED, b"", b"")
    assert not list(tmp_path.iterdir())


@every_row
def test_a_dash_stands_for_what_comes_and_what_goes(
    zygote: Zygote, place: Place, tmp_path: Path, row: str
) -> None:
    out, code = tmp_path / "out", CODES.get(name_of(row), 0)
    by_file = zygote.run([*place.words(row, out=str(out)), "--json"])
    assert (by_file.code, by_file.told) == (code, b"")
    view = json.loads(by_file.out)
    for name in (name for name in READS if f"<{name}>" in row):
        words = place.words(row, out=str(tmp_path / "again"), **{name: "-"})
        by_dash = zygote.run([*words, "--json"], place.files[name].read_bytes())
        assert by_dash.code == code, by_dash.told
        assert _unnamed(json.loads(by_dash.out)) == _unnamed(view)
    if "<out>" in row:
        by_dash = zygote.run(place.words(row, out="-"))
        assert by_dash.code == 0, by_dash.told
        assert by_dash.told.count(b"\n") <= 1
        kept = out.read_bytes()
        assert by_dash.out[:4] == kept[:4]
        assert by_dash.out.startswith(kept) or name_of(row) in WRITES_ANEW


def _unnamed(view: object) -> object:
    """What is said, without the names of files."""
    return {key: value for key, value in view.items() if key != "file"} if isinstance(view, dict) else view


@pytest.mark.parametrize(
    "row", [row for row in ROWS if "<out>" in row and name_of(row) not in DEAR], ids=name_of
)
def test_a_file_for_which_there_is_no_room_is_said_once(zygote: Zygote, place: Place, row: str) -> None:
    full = zygote.run(place.words(row, out="/dev/full"))
    there_already = name_of(row) == "backup"  # which it does not write over
    assert (full.code, full.out) == (2 if there_already else NOT_WRITTEN, b"")
    assert full.told.count(b"\n") == 1


@every_row
def test_words_that_make_no_sense_are_named(zygote: Zygote, place: Place, tmp_path: Path, row: str) -> None:
    words = place.words(row, out=str(tmp_path / "out"))
    for wrong in ([*words, "--nope"], [*words, "one-too-many"]):
        done = zygote.run(wrong)
        assert (done.code, done.out) == (2, b""), wrong
        assert wrong[-1].encode() in done.told
    for option in LEAVES[name_of(row)].params:
        if isinstance(option, click.Option) and not option.is_flag and option.opts[0] not in ANY_WORDS:
            done = zygote.run([*words, option.opts[0], *[NONSENSE] * option.nargs])
            assert (done.code, done.out) == (2, b""), (option.opts, done)
            assert NONSENSE.encode() in done.told, (option.opts, done)
