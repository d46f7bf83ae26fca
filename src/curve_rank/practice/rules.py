"""The practice rules' numbers."""

from __future__ import annotations

from functools import cache

from curve_rank.data_files import read_toml


@cache
def _table() -> dict[str, dict[str, dict[str, float]]]:
    return read_toml("curve_rank.practice", "practice.toml")


def rule(name: str) -> float:
    """A number by its dotted name, in the unit that `practice.toml` gives."""
    part, _, key = name.partition(".")
    return float(_table()[part][key]["value"])
