"""Commands as processes of their own, with pipes, disks and signals of the system.

Each is forked from one process that has read everything in before.
"""

from __future__ import annotations

import io
import os
import pickle
import select
import signal
import subprocess
import sys
import tempfile
import time
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Any, NoReturn

READ, GONE, FULL = "read", "gone", "full"
"""What becomes of what a command writes: read to its end; nobody reads it; the disk is full."""
AT_WORK, AS_IT_SPEAKS = "at work", "as it speaks"
"""Where Ctrl-C comes: before a command's own code; with the first line that it would say."""
LONGEST = 300.0
"""So long a command may take before it is taken to hang [s]."""
Told = tuple[int, bytes, bytes]
"""An `Ended` between processes, each of which would know that by another name."""


@dataclass(frozen=True)
class Ended:
    """How a command ended, and what it wrote."""

    code: int
    out: bytes
    told: bytes


class Zygote:
    """The process, at work in a folder, from which commands are forked."""

    def __init__(self, folder: Path, **environment: str) -> None:
        self._process = subprocess.Popen(
            [sys.executable, "-m", __name__],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            env=os.environ | environment | {"PYTHONPATH": str(Path(__file__).parents[2])},
            cwd=folder,
        )

    def run(self, words: list[str], stdin: bytes = b"", ending: str = READ) -> Ended:
        """One command, to its end."""
        return self.all_endings(words, stdin, ending)[ending]

    def all_endings(self, words: list[str], stdin: bytes = b"", *endings: str) -> dict[str, Ended]:
        """One command as far as its first words, and from there to each of some ends."""
        assert self._process.stdin is not None
        assert self._process.stdout is not None
        pickle.dump((words, stdin, endings), self._process.stdin)
        self._process.stdin.flush()
        return {ending: Ended(*one) for ending, one in pickle.load(self._process.stdout).items()}

    def close(self) -> None:
        """No more commands."""
        self._process.communicate()


def _serve() -> None:
    jobs, answers = sys.stdin.buffer, sys.stdout.buffer
    while True:
        try:
            job = pickle.load(jobs)
        except EOFError:
            return
        pickle.dump(_ended(*job), answers)
        answers.flush()


def _ended(words: list[str], stdin: bytes, endings: tuple[str, ...]) -> dict[str, Told]:
    first, *others = endings
    with tempfile.TemporaryFile() as notes:
        done = _forked(first, stdin)
        if done is None:
            _become(words, first, Forks(others, notes))
        said = notes.tell() > 0
        notes.seek(0)
        return {first: done} | (pickle.load(notes) if said else {})


def _forked(ending: str, stdin: bytes = b"") -> Told | None:
    """Go on as two: here, told how the other ended; there, with what it writes becoming what it should."""
    given, out, told = os.pipe(), os.pipe(), os.pipe()
    if ending == GONE:
        os.close(out[0])
    child = os.fork()
    if child == 0:
        os.dup2(given[0], 0)
        os.dup2(os.open("/dev/full", os.O_WRONLY) if ending == FULL else out[1], 1)
        os.dup2(told[1], 2)
        for one in (*given, *out[ending == GONE :], *told):
            os.close(one)
        return None
    for one in (given[0], out[1], told[1]):
        os.close(one)
    with suppress(BrokenPipeError), os.fdopen(given[1], "wb") as to:
        to.write(stdin)
    written = _read_all([told[0], *([] if ending == GONE else [out[0]])], child)
    _, status = os.waitpid(child, 0)
    return os.waitstatus_to_exitcode(status), written.get(out[0], b""), written[told[0]]


class Forks(io.FileIO):
    """Standard output, at whose first write a process becomes one for each of some ends."""

    def __init__(self, endings: list[str], notes: IO[bytes]) -> None:
        super().__init__(1, "wb")
        self._endings, self._notes = endings, notes

    def write(self, data: Any) -> int:
        """As ever, in each of them."""
        endings, self._endings = self._endings, []
        ended = {}
        for ending in endings:
            ended[ending] = _forked(ending)
            if ended[ending] is None:
                if ending == AS_IT_SPEAKS:
                    signal.raise_signal(signal.SIGINT)
                return super().write(data)
        if endings:
            pickle.dump(ended, self._notes)
            self._notes.flush()
        return super().write(data)


def _read_all(ends: list[int], child: int) -> dict[int, bytes]:
    """Everything that comes out of some pipes; whoever hangs is ended."""
    parts, until = {one: bytearray() for one in ends}, time.monotonic() + LONGEST
    waiting = set(ends)
    while waiting:
        ready, _, _ = select.select(list(waiting), [], [], max(until - time.monotonic(), 0))
        if not ready:
            os.kill(child, signal.SIGKILL)
        for one in ready:
            part = os.read(one, 1 << 16)
            parts[one] += part
            if not part:
                waiting.discard(one)
                os.close(one)
    return {one: bytes(part) for one, part in parts.items()}


def _become(words: list[str], ending: str, out: Forks) -> NoReturn:
    """This process is the command from here on."""
    import click

    from curve_rank.cli import entry

    sys.stdin, sys.stdout, sys.stderr = (
        io.TextIOWrapper(open(0, "rb")),  # noqa: SIM115
        io.TextIOWrapper(io.BufferedWriter(out), encoding="utf-8"),
        io.TextIOWrapper(open(2, "wb", buffering=0), encoding="utf-8", write_through=True),  # noqa: SIM115
    )
    sys.argv = [entry.NAME, *words]
    if ending == AT_WORK:
        invoke = click.Command.invoke

        def interrupted(command: click.Command, context: click.Context) -> object:
            if not isinstance(command, click.Group):
                signal.raise_signal(signal.SIGINT)
            return invoke(command, context)

        click.Command.invoke = interrupted  # type: ignore[method-assign]
    code: object = 1
    try:
        entry.main()
    except SystemExit as over:
        code = over.code or 0
    except BaseException:
        import traceback

        traceback.print_exc()
    try:
        sys.stdout.flush()
    except OSError:
        code = 120  # as Python ends itself
    os._exit(code if isinstance(code, int) else 1)


def _read_everything_in() -> None:
    """Code and what ships; and model what commands model, which each then finds done."""
    from importlib import import_module

    import click
    import weasyprint  # noqa: F401
    from click.testing import CliRunner

    from curve_rank.catalogue.library import built_in
    from curve_rank.cli import options
    from curve_rank.cli.main import COMMANDS, main
    from curve_rank.rating.lenses import lenses

    for name in COMMANDS:
        main.get_command(click.Context(main), name)
    for inner in ("answers.means", "store.database", "exchange.pdf", "answers.people", "store.safe.backup"):
        import_module(f"curve_rank.{inner}")
    built_in(), lenses()
    kept = options.modeller_for(None)
    options.modeller_for = lambda _: kept
    for words in (["plan"], ["rank", "--target", "triceps_long"], ["claims", "--json"]):
        CliRunner().invoke(main, words)


if __name__ == "__main__":
    _read_everything_in()
    _serve()
