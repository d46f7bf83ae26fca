"""Do the modelled loads look right to a lifter? Same-effort loads against bands of gym experience."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from importlib.resources import files

from curve_rank.arm.body import Body
from curve_rank.arm.setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.library import find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import Modelled, Modeller


@dataclass(frozen=True)
class LoadBand:
    """One variant's load over the reference's, its band, and why it is outside if it is."""

    band: str
    variant: str
    name: str
    load: float
    ratio: float
    low: float
    high: float
    inside: bool
    miss: str


def load_bands(variants: tuple[Variant, ...], body: Body, modeller: Modeller) -> tuple[LoadBand, ...]:
    """Every band's members, modelled now."""
    table = tomllib.loads(files("curve_rank.rating").joinpath("load_bands.toml").read_text(encoding="utf-8"))
    effort = effort_for_reps(DEFAULT_EFFORT_REPS)

    def load(variant_id: str) -> tuple[Variant, float]:
        variant = find_variant(variant_id, variants)
        (modelled,) = modeller.model((variant,), body, effort=effort)
        if not isinstance(modelled, Modelled):
            raise modelled
        return variant, modelled.readings.load

    _, reference = load(table["reference"])
    result = []
    for band in table["bands"]:
        for member in band["members"]:
            variant, kilograms = load(member)
            ratio = kilograms / reference
            inside = band["low"] <= ratio <= band["high"]
            result.append(
                LoadBand(
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
