"""The tables of a house: how the bank's arms stray on two dozen exercises, and what each number does."""

from __future__ import annotations

from dataclasses import dataclass

import pytest
from scripts.write_demo_house import EXERCISES

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.house.effects import Effects, EffectTable
from curve_rank.rating.modelling import Modeller
from curve_rank.study.draw_bank import DrawBank
from curve_rank.study.personal import Prior, Strays, strays_of
from curve_rank.training.learning import prior_of_anybody

DRAWS = 192


@dataclass(frozen=True)
class House:
    """What simulated houses are made of, and held against."""

    effects: Effects
    strays: Strays
    prior: Prior


@pytest.fixture(scope="session")
def house() -> House:
    variants = tuple(find_variant(key, built_in()) for key in sorted(EXERCISES))
    strays = strays_of(DrawBank(Modeller()).strays(variants, range(DRAWS)), range(DRAWS))
    return House(EffectTable().of(variants), strays, prior_of_anybody())
