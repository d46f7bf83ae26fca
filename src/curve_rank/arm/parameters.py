"""Reads the one parameter file: every number with its unit, spread and source."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache, cached_property
from typing import Any

import tomli

from curve_rank.data_files import read_bytes


@dataclass(frozen=True)
class Parameter:
    """One number, or one short row of numbers, of the model.

    Attributes
    ----------
    key : str
        Dotted name in the file ("heads.biceps_long.peak_force").
    value : tuple of float
        The number or the row.
    unit : str
    spread : float
        One standard deviation: a ratio, or in `unit` where `spread_is_absolute`.
    sources : tuple of str
        Names in `ParameterSet.sources`.
    note : str
    """

    key: str
    value: tuple[float, ...]
    unit: str
    spread: float
    spread_is_absolute: bool
    sources: tuple[str, ...]
    note: str

    @property
    def number(self) -> float:
        """The value of a parameter that is a single number."""
        if len(self.value) != 1:
            raise ValueError(f"{self.key} is a row of {len(self.value)} numbers")
        return self.value[0]


@dataclass(frozen=True)
class HeadEntry:
    """What the file says of one head beyond its numbers."""

    key: str
    name: str
    group: str
    counted: bool
    has_passive: bool


@dataclass(frozen=True)
class ParameterSet:
    """The whole file, checked: parameters by dotted key, heads in order, sources by name."""

    parameters: tuple[Parameter, ...]
    heads: tuple[HeadEntry, ...]
    sources: tuple[tuple[str, str], ...]
    fingerprint: str

    @cached_property
    def _by_key(self) -> dict[str, Parameter]:
        return {parameter.key: parameter for parameter in self.parameters}

    @cached_property
    def _numbers(self) -> dict[str, float]:
        return {one.key: one.value[0] for one in self.parameters if len(one.value) == 1}

    def __iter__(self) -> Iterator[Parameter]:
        return iter(self.parameters)

    def get(self, key: str) -> Parameter | None:
        """The parameter named `key`, or None."""
        return self._by_key.get(key)

    def __getitem__(self, key: str) -> Parameter:
        return self._by_key[key]

    def number(self, key: str) -> float:
        """The single number named `key`; KeyError when the file has none."""
        found = self._numbers.get(key)
        return self[key].number if found is None else found

    def row_of(self, key: str) -> tuple[float, ...]:
        """The row named `key`; KeyError when the file has none."""
        return self[key].value

    def row(self, key: str) -> tuple[float, ...] | None:
        """The row named `key`, or None when the file has none."""
        found = self.get(key)
        return found.value if found else None


@cache
def parameter_set() -> ParameterSet:
    """The shipped parameters, read once.

    Raises
    ------
    ValueError
        When an entry names an unknown source or lacks value, unit, spread or source.
    """
    raw = read_bytes("curve_rank.arm", "parameters.toml")
    document = tomli.loads(raw.decode())
    sources = tuple(document["sources"].items())
    parameters = tuple(_walk(document, (), frozenset(document["sources"])))
    heads = tuple(
        HeadEntry(key, table["name"], table["group"], table["counted"], table.get("passive", True))
        for key, table in document["heads"].items()
    )
    return ParameterSet(parameters, heads, sources, hashlib.sha256(raw).hexdigest()[:16])


def _walk(table: dict[str, Any], path: tuple[str, ...], sources: frozenset[str]) -> Iterator[Parameter]:
    for name, entry in table.items():
        if not isinstance(entry, dict) or (*path, name) == ("sources",):
            continue
        if "value" not in entry:
            yield from _walk(entry, (*path, name), sources)
            continue
        key = ".".join((*path, name))
        missing = {"value", "unit", "spread", "source"} - entry.keys()
        named = tuple(entry.get("source", "").split())
        if missing or not named or not sources.issuperset(named):
            raise ValueError(f"{key}: missing {sorted(missing)} or unknown source {named}")
        value = entry["value"] if isinstance(entry["value"], list) else [entry["value"]]
        yield Parameter(
            key=key,
            value=tuple(float(v) for v in value),
            unit=entry["unit"],
            spread=float(entry["spread"]),
            spread_is_absolute=entry.get("spread_kind") == "absolute",
            sources=named,
            note=entry.get("note", ""),
        )
