"""Do the modelled loads look right to a lifter? Same-effort loads against ranges of gym experience."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.library import find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.modelling import Modeller


@dataclass(frozen=True)
class LoadRange:
    """One variant's load over the reference's, its range, and why it is outside if it is."""

    band: str
    variant: str
    name: str
    load: float
    ratio: float
    low: float
    high: float
    inside: bool
    miss: str


def load_bands(variants: tuple[Variant, ...], body: Body, modeller: Modeller) -> tuple[LoadRange, ...]:
    """Every range's members, modelled now."""
    table = read_toml("curve_rank.rating", "load_bands.toml")
    effort = effort_for_reps(DEFAULT_EFFORT_REPS)

    def load(variant_id: str) -> tuple[Variant, float]:
        variant = find_variant(variant_id, variants)
        return variant, modeller.one(variant, body, effort=effort).load

    _, reference = load(table["reference"])
    result = []
    for band in table["bands"]:
        for member in band["members"]:
            variant, kilograms = load(member)
            ratio = kilograms / reference
            inside = band["low"] <= ratio <= band["high"]
            result.append(
                LoadRange(
                    band=band["name"],
                    variant=variant.id,
                    name=variant.name,
                    load=kilograms,
                    ratio=ratio,
                    low=band["low"],
                    high=band["high"],
                    inside=inside,
                    miss="" if inside else band.get("miss", ""),
                )
            )
    return tuple(result)
