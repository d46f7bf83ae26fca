"""The practice rules' numbers."""

from __future__ import annotations

from functools import cache
from typing import Any

from curve_rank.data_files import read_toml


@cache
def _table() -> dict[str, dict[str, dict[str, Any]]]:
    return read_toml("curve_rank.practice", "practice.toml")


def rule(name: str) -> float:
    """A number by its dotted name, in the unit that `practice.toml` gives."""
    return float(_entry(name)["value"])


def row_of_rules(name: str) -> tuple[float, ...]:
    """A row of numbers by its dotted name."""
    return tuple(float(value) for value in _entry(name)["value"])


def names_in(name: str) -> tuple[str, ...]:
    """A row of names."""
    return tuple(_entry(name)["value"])


def spread_of_rule(name: str) -> float:
    """One standard deviation of a rule's number, in its unit."""
    return float(_entry(name)["spread"])


def _entry(name: str) -> dict[str, Any]:
    part, _, key = name.partition(".")
    return _table()[part][key]
