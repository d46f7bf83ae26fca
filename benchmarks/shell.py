"""CPU of commands from a shell, beside a Python that does nothing; best of several runs each.

    python -m benchmarks.shell

Draws are kept in a folder of its own, so that `rank` finds them from the second run on.
"""

from __future__ import annotations

import os
import resource
import subprocess
import sys
import tempfile

RUNS = 5
COMMAND = [sys.executable, "-m", "curve_rank.cli.entry"]
ASKED = {
    "--version": ["--version"],
    "--help": ["--help"],
    "variants": ["variants"],
    "model": ["model", "standing-dumbbell-curl"],
    "rank, from the shelf": ["rank", "--target", "biceps_long"],
}


def seconds_of(command: list[str], environment: dict[str, str]) -> float:
    """CPU of a command and all it starts, the least of several runs [s]."""
    found = []
    for _ in range(RUNS):
        before = resource.getrusage(resource.RUSAGE_CHILDREN)
        subprocess.run(command, env=environment, check=True, capture_output=True)
        after = resource.getrusage(resource.RUSAGE_CHILDREN)
        found.append(after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime)
    return min(found)


def main() -> None:
    """Print a line a command."""
    with tempfile.TemporaryDirectory() as folder:
        environment = {**os.environ, "CURVE_RANK_DRAWS": folder, "CURVE_RANK_DATA": f"{folder}/nowhere"}
        nothing = seconds_of([sys.executable, "-c", "pass"], environment)
        print(f"{'python -c pass':24} {nothing:6.2f} s")
        for name, words in ASKED.items():
            took = seconds_of([*COMMAND, *words], environment)
            print(f"{name:24} {took:6.2f} s   {took / nothing:6.0f} times a Python that does nothing")


if __name__ == "__main__":
    main()
