"""Where the shell comes in: Ctrl-C, a closed pipe and a full disk are quiet, each with its usual code."""

from __future__ import annotations

import os
import signal
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

INTERRUPTED, PIPE_CLOSED, NOT_WRITTEN = 130, 141, 74
"""Exit codes: of Ctrl-C and a reader that went away, as shells have them; of what cannot be written."""
PATIENCE = 20.0
"""So long what was interrupted may take to end [s]."""
NAME, COMPLETE = "curve-rank", "_CURVE_RANK_COMPLETE"
ONE_THREAD = ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS")
"""Linear algebra is of small matrices here: threads of its own only cost, and workers fill the cores."""


@contextmanager
def ends_at_once() -> Iterator[None]:
    """While code is read in, Ctrl-C ends the process itself: what is imported may swallow an exception."""
    if threading.current_thread() is not threading.main_thread():
        yield
        return
    before = signal.signal(signal.SIGINT, signal.SIG_DFL)
    try:
        yield
    finally:
        signal.signal(signal.SIGINT, before)


def _interrupt(_signal: int, _frame: FrameType | None) -> None:
    """Ctrl-C, as ever; where whatever runs just then swallows it, the process ends a little later still."""
    over = threading.Timer(PATIENCE, os._exit, (INTERRUPTED,))
    over.daemon = True
    over.start()
    raise KeyboardInterrupt


def main() -> None:
    """Run the command."""
    for name in ONE_THREAD:
        os.environ.setdefault(name, "1")
    signal.signal(signal.SIGINT, _interrupt)
    try:
        sys.exit(_run())
    except KeyboardInterrupt:
        sys.exit(INTERRUPTED)


def _run() -> int:
    """The command's exit code, once all it says is written."""
    with ends_at_once():
        import click

        from curve_rank.cli.main import main as command

    if COMPLETE in os.environ:
        command(prog_name=NAME)
    try:
        with command.make_context(NAME, sys.argv[1:]) as context:
            command.invoke(context)
        sys.stdout.flush()
    except click.exceptions.Exit as over:
        return over.exit_code
    except click.ClickException as error:
        error.show()
        return error.exit_code
    except click.Abort:
        return INTERRUPTED
    except BrokenPipeError:
        _say_no_more()
        return PIPE_CLOSED
    except OSError as error:
        _say_no_more()
        sys.stderr.write(f"curve-rank: output: {error.strerror or error}\n")
        return NOT_WRITTEN
    return 0


def _say_no_more() -> None:
    """What is still to be written goes nowhere: Python would complain of it at its end."""
    os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())


if __name__ == "__main__":
    main()
