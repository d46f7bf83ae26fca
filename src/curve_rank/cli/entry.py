"""Where the shell comes in: Ctrl-C is quiet from the first moment, while everything else is still read in."""

from __future__ import annotations

import sys

INTERRUPTED = 130


def main() -> None:
    """Run the command."""
    try:
        from curve_rank.cli.main import main as command

        command()
    except KeyboardInterrupt:
        sys.exit(INTERRUPTED)


if __name__ == "__main__":
    main()
