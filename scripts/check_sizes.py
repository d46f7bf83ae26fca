"""Names files over 400 lines, and template lines over 160 characters; part of `make lint`."""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
FOLDERS = ("src", "tests", "benchmarks", "scripts")
KINDS = (".py", ".html", ".js", ".css")
MOST_LINES, MOST_CHARACTERS = 400, 160


def too_large() -> list[str]:
    """What is too large, in words."""
    found = []
    for path in sorted(path for folder in FOLDERS for path in (ROOT / folder).rglob("*")):
        name = path.relative_to(ROOT)
        if path.suffix not in KINDS or {"vendor", "node_modules"} & set(name.parts):
            continue
        lines = path.read_text(encoding="utf-8").splitlines()
        if len(lines) > MOST_LINES:
            found.append(f"{name}: {len(lines)} lines, at most {MOST_LINES}")
        if path.suffix == ".html":
            found += [
                f"{name}:{n}: {len(line)} characters, at most {MOST_CHARACTERS}"
                for n, line in enumerate(lines, start=1)
                if len(line) > MOST_CHARACTERS
            ]
    return found


if __name__ == "__main__":
    found = too_large()
    print("\n".join(found) or "No file and no line of a template is too long.")
    sys.exit(bool(found))
