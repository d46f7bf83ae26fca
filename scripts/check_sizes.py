"""Names files over 400 lines, lines that are too wide, and style rules with two declarations a line.

Part of `make lint`.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
FOLDERS = ("src", "tests", "benchmarks", "scripts")
MOST_LINES = 400
WIDEST = {".py": 0, ".html": 120, ".js": 110, ".css": 110}
"""Characters of a line, by kind of file; those of Python are ruff's to measure."""
TWO = re.compile(r";\s*[a-z-]+\s*:|\{\s*[a-z-]+\s*:")
"""A declaration after another one, or after the brace that opens its rule."""


def too_large() -> list[str]:
    """What is too large, in words."""
    found = []
    for path in sorted(path for folder in FOLDERS for path in (ROOT / folder).rglob("*")):
        name = path.relative_to(ROOT)
        if path.suffix not in WIDEST or {"vendor", "node_modules"} & set(name.parts):
            continue
        lines, most = path.read_text(encoding="utf-8").splitlines(), WIDEST[path.suffix]
        if len(lines) > MOST_LINES:
            found.append(f"{name}: {len(lines)} lines, at most {MOST_LINES}")
        for n, line in enumerate(lines, start=1):
            if 0 < most < len(line):
                found.append(f"{name}:{n}: {len(line)} characters, at most {most}")
            if path.suffix == ".css" and TWO.search(line):
                found.append(f"{name}:{n}: more than one declaration")
    return found


if __name__ == "__main__":
    found = too_large()
    print("\n".join(found) or "No file is too long, and no line too wide.")
    sys.exit(bool(found))
