"""`serve` and `demo` as processes: from a start to a quiet end, and one clear line where they cannot."""

from __future__ import annotations

import logging
import os
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from http.client import HTTPConnection
from pathlib import Path
from urllib.request import urlopen

import pytest
from click.testing import CliRunner

from curve_rank.cli.main import main
from tests.helpers import LIMIT

Start = Callable[..., subprocess.Popen[str]]
SHELL = (sys.executable, "-m", "curve_rank.cli.entry")


def hear_ctrl_c() -> None:
    """Whoever runs the tests in the background has Ctrl-C turned off, and children inherit that."""
    signal.signal(signal.SIGINT, signal.SIG_DFL)


@pytest.fixture
def start() -> Iterator[Start]:
    """Starts commands in groups of their own, as a terminal does; none outlives its test."""
    started: list[subprocess.Popen[str]] = []

    def one(*arguments: str, **environment: str) -> subprocess.Popen[str]:
        process = subprocess.Popen(
            [*SHELL, *arguments], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
            env=os.environ | environment, start_new_session=True, preexec_fn=hear_ctrl_c,
        )  # fmt: skip
        started.append(process)
        return process

    yield one
    for process in started:
        if process.poll() is None:
            os.killpg(process.pid, signal.SIGKILL)
        process.communicate()


def address_of(process: subprocess.Popen[str]) -> str:
    assert process.stdout
    for line in process.stdout:
        if line.startswith("Curve Rank at "):
            return line.split()[3]
    raise AssertionError(process.communicate()[1])


def get(address: str, path: str) -> str:
    with urlopen(address + path, timeout=LIMIT) as answer:
        return bytes(answer.read()).decode()


def test_demo_serves_its_data_where_the_environment_says_and_ctrl_c_ends_it_quietly(
    start: Start, tmp_path: Path
) -> None:
    process = start("demo", "--port", "0", CURVE_RANK_DATA=str(tmp_path / "mine"))
    address = address_of(process)
    until = time.monotonic() + LIMIT
    while "arms for this body" in (page := get(address, "board?target=biceps_long")):
        assert time.monotonic() < until  # it serves at once, and says how far the draws are
        time.sleep(0.3)
    assert "Hayloft deep recline" in page
    assert (tmp_path / "mine" / "secret-key").stat().st_size == 32
    os.killpg(process.pid, signal.SIGINT)
    _, errors = process.communicate(timeout=LIMIT)
    assert errors == ""
    assert process.returncode == 0


def test_serve_begins_empty_warns_when_others_may_come_and_ends_soon_with_runs_under_way(
    start: Start, tmp_path: Path
) -> None:
    process = start("serve", "--port", "0", "--host", "0.0.0.0", "--data", str(tmp_path / "own"))
    address = address_of(process).replace("0.0.0.0", "127.0.0.1")
    page = get(address, "board")
    assert "Hayloft" not in page
    assert "Open to everyone" in page
    place = ("127.0.0.1", int(address.rpartition(":")[2].strip("/")))
    half_open = [socket.create_connection(place) for _ in range(150)]
    for connection in half_open:
        connection.sendall(b"GET /board HTTP/1.1\r\nHost: 127.0.0.1\r\nX-")
    assert get(address, "healthz")
    half_open[0].sendall(b"A: b\r\nContent-Length: 400000000\r\n\r\n" + b"x" * 100_000)
    assert b" 413 " in half_open[0].recv(100)
    slow = HTTPConnection(*place, timeout=LIMIT)
    slow.request("GET", "/variants/chin-up.pdf")  # a second or two of work
    assert get(address, "healthz")  # who came after is answered: it is under way
    begun = time.monotonic()
    process.send_signal(signal.SIGTERM)
    assert slow.getresponse().read().startswith(b"%PDF")  # what was asked before is answered
    with pytest.raises(OSError, match="refused"):
        socket.create_connection(place, timeout=1)
    _, errors = process.communicate(timeout=LIMIT)
    assert time.monotonic() - begun < LIMIT
    assert process.returncode == 0
    assert "WARNING: CURVE_RANK_LOCAL_VIEWER is on" in errors
    assert "Traceback" not in errors
    for connection in half_open:
        connection.close()


def test_ctrl_c_on_draws_is_quiet_wherever_it_comes(start: Start, tmp_path: Path) -> None:
    for wait in (2.0, 4.5):
        process = start("rank", "--draws", "3000", "--data", str(tmp_path))
        time.sleep(wait)
        os.killpg(process.pid, signal.SIGINT)
        _, errors = process.communicate(timeout=LIMIT)
        assert "Traceback" not in errors
        told = {line for line in errors.splitlines() if line and " draws" not in line}
        assert told <= {"Aborted!"}
        assert process.returncode in (1, 130, -signal.SIGINT)  # before Python listens, the signal itself


@pytest.fixture
def quiet_log() -> Iterator[None]:
    """What a command sets up for its process is taken back for that of the tests."""
    loggers = [logging.getLogger(name) for name in ("", "curve_rank", "weasyprint", "waitress.queue")]
    before = [(one.handlers[:], one.level) for one in loggers]
    yield
    for one, (handlers, level) in zip(loggers, before, strict=True):
        one.handlers[:], one.level = handlers, level


@pytest.mark.usefixtures("quiet_log")
@pytest.mark.parametrize("fault", ["port", "host", "key", "file", "hosts", "database", "scheduler"])
def test_what_keeps_it_from_starting_is_one_line(tmp_path: Path, fault: str) -> None:
    folder, arguments, environment = tmp_path / "data", ["serve", "--port", "0"], {}
    folder.mkdir()
    with socket.create_server(("127.0.0.1", 0)) as taken:
        match fault:
            case "port":
                arguments, says = ["serve", "--port", str(taken.getsockname()[1])], "free"
            case "host":
                arguments, says = [*arguments, "--host", "no.such.host.invalid"], "free"
            case "key":
                (folder / "secret-key").touch()
                says = "signing key"
            case "file":
                folder.rmdir()
                folder.touch()
                environment, says = {"CURVE_RANK_DATA": str(folder)}, "folder"
            case "hosts":
                environment, says = {"CURVE_RANK_HTTPS": "perhaps"}, "CURVE_RANK_HTTPS"
            case "database":
                (folder / "curve-rank.sqlite3").write_text("no database " * 500)
                says = "database"
            case _:
                arguments, says = ["rank", "--draws", "30"], "CURVE_RANK_SCHEDULER"
                environment = {"CURVE_RANK_SCHEDULER": "tcp://127.0.0.1:1"}
        if fault != "file":
            arguments += ["--data", str(folder)]
        found = CliRunner().invoke(main, arguments, env=environment)
    assert found.exit_code == 2, found.output
    assert says in found.stderr
    last = found.stderr.strip().splitlines()[-1]
    assert "—" in last
    assert "Traceback" not in found.output
    assert found.stdout == ""


def test_own_variants_and_lenses_are_there_in_the_shell(demo_folder: Path) -> None:
    for command in (
        ("model", "own-hayloft-deep-recline"),
        ("rank", "--lens", "own-lanternfield-house-blend", "--with", "band"),
        ("transfer", "own-steep-pad-palms-in", "chin-up", "--load", "10"),
    ):
        found = CliRunner().invoke(main, [*command, "--data", str(demo_folder), "--json"])
        assert found.exit_code == 0, found.output
        assert found.stdout.startswith("{")


def test_a_file_that_is_no_file_is_refused_at_once(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe")
    (tmp_path / "large.toml").write_text("# " + "x" * 70_000)
    (tmp_path / "dots.toml").write_text("a." * 30_000 + "a = 1")
    (tmp_path / "digits.toml").write_text(f"schema_version = {'9' * 5000}")
    for path in (
        "/dev/zero",
        *(tmp_path / name for name in ("pipe", "large.toml", "dots.toml", "digits.toml")),
    ):
        begun = time.thread_time()
        refused = CliRunner().invoke(main, ["model", "--file", str(path)])
        assert (refused.exit_code, time.thread_time() - begun < 5) == (2, True), path
        assert refused.output.startswith("curve-rank: ")
