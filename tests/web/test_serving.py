"""What the style sheets may say."""

from __future__ import annotations

import re

from curve_rank.web.serving import STATIC

LEFT_OUT = r"/\*.*?\*/|:is\([^)]*\)|@media print \{(?:[^{}]*\{[^{}]*\})*\s*\}"
ALONE = ("frozen", "phone-room")
"""Sheets of pages that have no other."""
SHARED = {".bench-strip", ".form-select", ".question", ".scroll", ".within"}


def test_no_class_is_given_its_looks_by_two_style_sheets() -> None:
    """All sheets are there on every page: a second one would change a page it does not know of."""
    alone: set[str] = set()
    said: dict[str, set[str]] = {}
    for sheet in (STATIC / "css").glob("*.css"):
        text = re.sub(LEFT_OUT, "", sheet.read_text(), flags=re.S)
        for selectors in re.findall(r"([^{};]+)\{", text if sheet.stem not in ALONE else ""):
            for one in map(str.strip, selectors.split(",")):
                if found := re.match(r"\.[\w-]+", one):
                    said.setdefault(found[0], set()).add(sheet.stem)
                    alone |= {one} if one == found[0] else set()
    assert len(alone) > 250
    assert {name for name in alone if len(said[name]) > 1} == SHARED
