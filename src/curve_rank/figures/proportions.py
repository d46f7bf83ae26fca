"""The outlines of a person that `person.toml` has."""

from __future__ import annotations

from functools import cache
from typing import Any

from curve_rank.data_files import read_toml
from curve_rank.figures.tubes import Sections


@cache
def drawn() -> dict[str, Any]:
    """All of them."""
    return read_toml("curve_rank.figures", "person.toml")


@cache
def sections(limb: str) -> Sections:
    """A limb's half widths."""
    return Sections.read(drawn()[limb])
