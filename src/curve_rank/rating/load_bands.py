"""Do the modelled loads look right to a lifter? Same-effort loads against ranges of gym experience."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.library import find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.criteria import held
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller

READS: dict[str, tuple[str, Callable[[float, float, float, float], float]]] = {
    "ratio": ("×", lambda load, other, _mass, _held: load / other),
    "below": ("kg", lambda load, other, _mass, _held: other - load),
    "apart": ("kg", lambda load, other, _mass, _held: load - other),
    "over_hung": ("×", lambda load, other, mass, _held: load / (mass + other)),
    "load": ("kg", lambda load, _other, _mass, _held: load),
    "on_hands": ("×", lambda _load, other, _mass, held: held / other),
}
"""How a relation is read from its load, the other's, body mass and what the hands hold; and in which unit."""


@dataclass(frozen=True)
class LoadRange:
    """One variant's load, what is made of it and its range, and why it is outside if it is.

    Attributes
    ----------
    band, variant, name : str
    load : float
        Median of the fixed draws [kg].
    ratio : float
        Over the reference's load, or what a relation reads, in `unit`.
    unit : str
        "×" or "kg".
    low, high : float
    inside : bool
    miss : str
    """

    band: str
    variant: str
    name: str
    load: float
    ratio: float
    unit: str
    low: float
    high: float
    inside: bool
    miss: str


def load_bands(variants: tuple[Variant, ...], body: Body, modeller: Modeller) -> tuple[LoadRange, ...]:
    """Every range's members and every relation, modelled now."""
    table = read_toml("curve_rank.rating", "load_bands.toml")
    loads = _loads(table, variants, body, modeller)
    return tuple(_ranges(table, variants, loads)) + tuple(_relations(table, variants, loads, body.mass))


def _loads(
    table: dict[str, Any], variants: tuple[Variant, ...], body: Body, modeller: Modeller
) -> dict[str, float]:
    """Median load of every variant that the file names, by its id there [kg]."""
    names = {table["reference"], *(member for band in table["bands"] for member in band["members"])}
    names |= {row[side] for row in table["relations"] for side in ("of", "to") if side in row}
    named = sorted(names)
    found = tuple(find_variant(name, variants) for name in named)
    drawn = fixed_draws(found, body, usual_effort(), modeller)
    return {name: one.load_median for name, one in zip(named, drawn, strict=True)}


def _ranges(
    table: dict[str, Any], variants: tuple[Variant, ...], loads: dict[str, float]
) -> Iterator[LoadRange]:
    for band in table["bands"]:
        for member in band["members"]:
            ratio = loads[member] / loads[table["reference"]]
            yield _range(band, find_variant(member, variants), loads[member], ratio, "×")


def _relations(
    table: dict[str, Any], variants: tuple[Variant, ...], loads: dict[str, float], mass: float
) -> Iterator[LoadRange]:
    for row in table["relations"]:
        unit, read = READS[row["reads"]]
        load, other = loads[row["of"]], loads.get(row.get("to", ""), 0.0)
        variant = find_variant(row["of"], variants)
        yield _range(row, variant, load, read(load, other, mass, held(variant, load, mass)), unit)


def _range(entry: dict[str, Any], variant: Variant, load: float, value: float, unit: str) -> LoadRange:
    inside = entry["low"] <= value <= entry["high"]
    return LoadRange(
        band=entry["name"],
        variant=variant.id,
        name=variant.name,
        load=load,
        ratio=value,
        unit=unit,
        low=entry["low"],
        high=entry["high"],
        inside=inside,
        miss="" if inside else entry.get("miss", ""),
    )
