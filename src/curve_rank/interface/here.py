"""With what it works: what ships, one modeller for the process, draws made where they are asked."""

from __future__ import annotations

from functools import cache, partial

from curve_rank.answers.means import Library, Means
from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller
from curve_rank.settings import read_settings
from curve_rank.store.safe.shelf import Shelf


@cache
def means() -> Means:
    """What there is, and a modeller; draws of an earlier run are found where CURVE_RANK_DRAWS says."""
    folder = read_settings().draws
    modeller = Modeller(shelf=Shelf(folder) if folder else None)

    def draw(
        variants: tuple[Variant, ...], body: Body, effort: float, seed: int | None = None
    ) -> tuple[Readings, ...]:
        seeds = () if seed is None else (seed,)
        return fixed_draws(variants, body, effort, modeller, *seeds)

    return Means(Library(), modeller, draw, partial(draw, seed=APART))
