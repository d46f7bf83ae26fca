"""Where the shell comes in: Ctrl-C is quiet from the first moment, while everything else is still read in."""

from __future__ import annotations

import os
import sys

INTERRUPTED = 130
ONE_THREAD = ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS")
"""Linear algebra is of small matrices here: threads of its own only cost, and workers fill the cores."""


def main() -> None:
    """Run the command."""
    for name in ONE_THREAD:
        os.environ.setdefault(name, "1")
    try:
        from curve_rank.cli.main import main as command

        command()
    except KeyboardInterrupt:
        sys.exit(INTERRUPTED)


if __name__ == "__main__":
    main()
