"""Opens copies of a data folder and dies at each writing statement in turn; told as JSON on standard output.

Run by itself, so that it has one thread and may fork: `python -m tests.store.killing FOLDER STEP FILL`. It
dies at every so many statements; FILL is 1 where the demo is filled in besides.
"""

from __future__ import annotations

import json
import os
import shutil
import signal
import sqlite3
import sys
from collections.abc import Callable
from contextlib import closing
from pathlib import Path
from typing import Any

from sqlalchemy import event
from sqlalchemy.engine import Engine

from curve_rank.settings import DATABASE
from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo

WRITES = ("INSERT", "UPDATE", "DELETE", "CREATE", "DROP", "ALTER", "BEGIN IMMEDIATE", "COMMIT")
TABLES = ("people", "documents", "document_versions")


def open_folder(folder: Path, *, fill: bool) -> None:
    store = open_store(folder)
    if fill:
        fill_demo(store)
    store.engine.dispose()


def die_before(number: int) -> None:
    """From here on the process is killed before its writing statement of that number."""
    left = [number]

    def look(_c: Any, _u: Any, statement: str, *_: Any) -> None:
        if statement.lstrip().upper().startswith(WRITES):
            left[0] -= 1
            if left[0] < 0:
                os.kill(os.getpid(), signal.SIGKILL)

    event.listen(Engine, "before_cursor_execute", look)
    event.listen(Engine, "commit", lambda connection: look(connection, None, "COMMIT"))


def in_child(work: Callable[[], None]) -> int:
    """Do something in a process of its own; the signal that ended it, or how it exited."""
    child = os.fork()
    if child == 0:
        try:
            work()
        except BaseException as error:
            print(repr(error), file=sys.stderr)
            os._exit(1)
        os._exit(0)
    _, status = os.waitpid(child, 0)
    return os.waitstatus_to_exitcode(status)


def state(folder: Path) -> list[Any]:
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        found = [connection.execute(f"SELECT count(*) FROM {table}").fetchone()[0] for table in TABLES]
        return [*found, connection.execute("PRAGMA integrity_check").fetchone()[0]]


def killed_at(start: Path, number: int, *, fill: bool) -> list[Any]:
    """How it ended when killed there, how the next start ended, and what there is then."""
    folder = start.with_name(f"killed-{number}")
    shutil.copytree(start, folder)

    def work() -> None:
        die_before(number)
        open_folder(folder, fill=fill)

    found = [in_child(work), in_child(lambda: open_folder(folder, fill=fill)), state(folder)]
    shutil.rmtree(folder)
    return found


def main(start: Path, step: int, *, fill: bool) -> None:
    whole = start.with_name("whole")
    shutil.copytree(start, whole)
    in_child(lambda: open_folder(whole, fill=fill))
    expected, wrong, number, killed = state(whole), [], 0, -1
    while killed != 0:
        killed, again, there = killed_at(start, number, fill=fill)
        if again != 0 or there != expected:
            wrong.append([number, killed, again, there])
        number += step
    print(json.dumps({"statements": number, "expected": expected, "wrong": wrong}))


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]), fill=sys.argv[3] == "1")
