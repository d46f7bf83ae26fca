"""The documentation as pages: all that is written stands in its contents, and what writes it is locked."""

from __future__ import annotations

import re
from pathlib import Path

ROOT = Path(__file__).parents[2]
DOCS = ROOT / "docs"
CONTENTS = re.compile(r"```\{toctree\}\n(.*?)```", re.DOTALL)
PINNED = re.compile(r"^([A-Za-z0-9._-]+)==", re.MULTILINE)


def test_every_document_stands_in_the_contents_once() -> None:
    lines = [
        line
        for block in CONTENTS.findall((DOCS / "index.md").read_text(encoding="utf-8"))
        for line in block.splitlines()
        if line and not line.startswith(":")
    ]
    there = {one.stem for one in DOCS.glob("*.md")} - {"index", "validation"}
    there |= {f"guide/{one.stem}" for one in (DOCS / "guide").glob("*.md")}
    assert sorted(lines) == sorted(there)


def test_what_writes_them_is_locked_and_nothing_is_locked_twice() -> None:
    locked = {
        name: set(PINNED.findall((ROOT / f"requirements{name}.lock").read_text(encoding="utf-8")))
        for name in ("", "-dev", "-docs")
    }
    assert {"sphinx", "myst-parser"} <= locked["-docs"]
    assert not locked["-docs"] & (locked[""] | locked["-dev"])
