"""Learning a person: simulated lifters are predicted better than by one known set, strangers are noticed."""

from __future__ import annotations

from datetime import timedelta

import numpy as np
import pytest

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.rating.draws import draw_loads
from curve_rank.rating.modelling import Modeller
from curve_rank.study.draw_bank import DrawBank
from curve_rank.training.learning import LogFindings, evidence_of, learn, with_factors
from curve_rank.training.log import LoggedSet
from tests.training.logged import CURL, DOWN, MONDAY, did, fact_of

LOGGED = (
    CURL, "reclined-60-dumbbell-curl", "pad-45-dumbbell-curl", DOWN, "overhead-dumbbell-one-arm",
    "lying-narrow-angled-bar",
)  # fmt: skip
OTHERS = (
    "standing-thumb-up-curl", "cable-curl-arm-behind", "chin-up", "seated-press-down", "bent-over-pull-back",
    "bench-press-narrow",
)  # fmt: skip
USUAL = effort_for_reps(10)
FACTS = {key: fact_of(key) for key in LOGGED + OTHERS}
LIFTERS = 30


@pytest.fixture(scope="module")
def bank() -> DrawBank:
    return DrawBank(Modeller())


def held(key: str, load: Array | float) -> Array:
    return np.asarray(np.log(np.maximum(np.asarray(load) + FACTS[key].on_hands, 0.3)))


def logged(loads: dict[str, float], **told: object) -> list[LoggedSet]:
    """Two sets of eight, with two more left, of each."""
    return [one for key, kg in loads.items() for one in did(0, 8, 8, load=kg, variant=key, reserve=2, **told)]


def noisy(rng: np.random.Generator, key: str, load: float) -> float:
    hands = FACTS[key].on_hands
    return float((load + hands) * np.exp(rng.normal(0, 0.03)) - hands)


def test_lifters_drawn_from_the_spreads_are_predicted_better_and_as_surely_as_is_said(bank: DrawBank) -> None:
    """A log of 12 sets on 6 exercises, with 3 % noise, against one known set: the loads of 6 others."""
    rng = np.random.default_rng(8)
    variants = tuple(find_variant(key, built_in()) for key in LOGGED + OTHERS)
    true = draw_loads(variants, Body(), USUAL, 999, range(LIFTERS))
    strays = bank.strays(variants, range(64))
    by_one, by_log, within = [], [], []
    for lifter in true:
        log = []
        for key, kg in zip(LOGGED, lifter, strict=False):
            for n in (1, 2):
                (one,) = did(0, 8, load=noisy(rng, key, kg), variant=key, reserve=2)
                log.append(one.model_copy(update={"set": n}))
        found = learn(log, FACTS, MONDAY + timedelta(days=1), bank.strays, OTHERS)
        usual = FACTS[CURL].load_for(10, low=False)
        off = float(held(CURL, log[0].load_kg) - held(CURL, usual))
        for key, kg in zip(OTHERS, lifter[len(LOGGED) :], strict=True):
            plain = held(key, FACTS[key].load_for(10, low=False))
            shift = float(held(key, kg) - plain)
            by_one.append(abs(np.expm1(off + np.median(strays[key] - strays[CURL]) - shift)))
            if found.why_not:
                by_log.append(by_one[-1])
                continue
            factor = found.factors[key]
            by_log.append(abs(np.expm1(np.log(factor.median) - shift)))
            within.append(np.log(factor.low) <= shift <= np.log(factor.high))
    assert np.median(by_log) <= 0.7 * np.median(by_one)
    assert 0.73 <= np.mean(within) <= 0.87
    assert len(within) >= 0.85 * LIFTERS * len(OTHERS)


def test_a_lifter_outside_the_model_is_noticed_and_nothing_is_learned(bank: DrawBank) -> None:
    rng = np.random.default_rng(9)
    plain = {key: FACTS[key].load_for(10, low=False) for key in LOGGED}
    strange = {key: kg * float(np.exp(rng.normal(0, 0.5))) for key, kg in plain.items()}
    found = learn(logged(strange), FACTS, MONDAY, bank.strays)
    assert found.why_not
    assert found.effective < 5
    assert with_factors(FACTS, found.factors) == FACTS


def test_what_is_learned_moves_loads_towards_what_was_lifted(bank: DrawBank) -> None:
    plain = {key: FACTS[key].load_for(10, low=False) for key in LOGGED}
    strong = {key: 1.2 * kg for key, kg in plain.items()}
    found: LogFindings = learn(logged(strong), FACTS, MONDAY, bank.strays, LOGGED + OTHERS[:2])
    assert not found.why_not
    assert (found.sets, found.variants) == (12, 6)
    corrected = with_factors(FACTS, found.factors)
    for key, kg in strong.items():
        assert abs(corrected[key].load_for(10, low=False) / kg - 1) < 0.08, key
        assert corrected[key].low_ratio < 1
    assert len(found.moved) == 6


def test_nothing_is_learned_from_pain_parts_guesses_or_few_sets(bank: DrawBank) -> None:
    plain = {key: FACTS[key].load_for(10, low=False) for key in LOGGED}
    for told in ({"pain": 2, "pain_joint": "elbow"}, {"kind": "partial"}, {"guessed": True}):
        assert evidence_of(logged(plain, **told), FACTS, MONDAY) == ()
    unsaid = [one.model_copy(update={"reserve": None}) for one in logged(plain)]
    assert evidence_of(unsaid, FACTS, MONDAY) == ()
    assert evidence_of(logged(plain), FACTS, MONDAY + timedelta(days=200)) == ()
    few = learn(logged({CURL: 12.0}), FACTS, MONDAY, bank.strays)
    assert "are needed" in few.why_not
