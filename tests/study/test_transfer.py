"""Loads carried over: consistent there and back, larger for the larger and stronger, honest about range."""

from __future__ import annotations

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError
from curve_rank.rating.modelling import Modeller
from curve_rank.study.transfer import KnownSet, body_from_set, on_steps, transfer

CURL, RECLINED, CHIN, PAD, BAND = (
    find_variant(name, built_in())
    for name in (
        "standing-dumbbell-curl", "reclined-45-dumbbell-curl", "chin-up", "pad-45-barbell-curl",
        "band-standing-curl",
    )
)  # fmt: skip
MODELLER = Modeller()


@pytest.mark.parametrize("there", [RECLINED, CHIN, PAD, BAND], ids=lambda v: v.id)
@pytest.mark.parametrize("reps", [(10, 10), (12, 6)])
def test_there_and_back_returns_the_load(there, reps: tuple[int, int]) -> None:  # type: ignore[no-untyped-def]
    first = KnownSet(CURL, 12.0, reps[0])
    (out,) = transfer(Body(), first, (there,), MODELLER, reps=reps[1])
    (back,) = transfer(Body(), KnownSet(there, out.nominal, reps[1]), (CURL,), MODELLER, reps=reps[0])
    assert back.nominal == pytest.approx(12.0, abs=1e-4)
    assert out.low <= out.load <= out.high


def test_the_interval_holds_the_load_and_the_same_variant_needs_none() -> None:
    same, other = transfer(Body(), KnownSet(CURL, 12.0, 10), (CURL, RECLINED), Modeller(), reps=10)
    assert same.low == same.load == same.high == pytest.approx(12)
    assert other.low <= other.load <= other.high
    assert other.high - other.low > 0.3


def test_heavier_taller_stronger_people_need_more_and_fewer_reps_too() -> None:
    def load(body: Body, reps: int = 10) -> float:
        known = KnownSet(CURL, 14.0 * body.mass / 80 * body.strength, 10)
        return transfer(body, known, (PAD,), MODELLER, reps=reps)[0].load

    plain = load(Body())
    assert load(Body(height=1.9, mass=98)) > plain
    assert load(Body(strength=1.2)) > plain
    assert load(Body(), 5) > plain


def test_loads_come_on_the_equipments_steps() -> None:
    assert on_steps(13.4, CURL) == 13
    assert on_steps(23.9, PAD) == 25
    assert on_steps(-13.0, CHIN) == -12.5


@pytest.mark.parametrize("load", [0.1, 300.0, float("nan"), float("inf"), -5.0])
def test_a_set_that_no_strength_explains_is_refused(load: float) -> None:
    with pytest.raises(BadInputError, match="load"):
        body_from_set(Body(), KnownSet(CURL, load, 10), Modeller())


def test_repetitions_beyond_trust_are_refused() -> None:
    with pytest.raises(BadInputError, match="reps"):
        transfer(Body(), KnownSet(CURL, 12.0, 40), (PAD,), Modeller(), reps=10)
