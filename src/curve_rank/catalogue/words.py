"""What equipment, handles, families and groups are called."""

from __future__ import annotations

from functools import cache

from curve_rank.data_files import read_toml


@cache
def _words() -> dict[str, dict[str, str]]:
    return read_toml("curve_rank.catalogue", "words.toml")


def unit_after(unit: str) -> str:
    """A unit as it follows a number: degrees stand close, others apart."""
    return unit if unit in ("", "°") else f" {unit}"


def loads() -> dict[str, str]:
    """Kinds of load, by key."""
    return _words()["loads"]


def benches() -> dict[str, str]:
    """Kinds of bench and bar, by key; "no_bench" stands for none."""
    return _words()["benches"]


def equipment() -> dict[str, str]:
    """Loads and benches together."""
    return loads() | benches()


def handles() -> dict[str, str]:
    """Kinds of handle, by key."""
    return _words()["handles"]


def families() -> dict[str, str]:
    """Families of variants, by key, in reading order."""
    return _words()["families"]


def groups() -> dict[str, str]:
    """The two groups of muscles, by key."""
    return _words()["groups"]
