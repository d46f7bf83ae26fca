"""A number doubted: with nothing off all stands as it does elsewhere, and only what it touches moves."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART, uncertain
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import parse_setup
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.ranking import Ranking, question, rank
from curve_rank.study.claims import built_in_claims
from curve_rank.study.doubt import AS_IT_IS, STOPS, doubted, doubted_claims, stands_on
from curve_rank.study.verdicts import asked_of, verdicts

SOME = (
    "band-standing-curl", "standing-dumbbell-curl", "reclined-30-dumbbell-curl", "reclined-60-dumbbell-curl",
    "pad-45-cable-curl", "cable-curl-arm-behind", "chin-up",
)  # fmt: skip
BODY, EFFORT = Body(), 0.75


@pytest.fixture(scope="module")
def ranking(modeller: Modeller) -> Ranking:
    some = tuple(v for v in built_in() if v.id in SOME)
    return rank(question("biceps_long", "long_length"), some, modeller)


def test_as_published_a_list_is_the_board_and_only_what_a_number_touches_moves(ranking: Ranking) -> None:
    found = doubted(ranking, "band.tension")
    assert found.order(AS_IT_IS) == tuple(range(len(ranking.rows)))
    assert found.scores[:, AS_IT_IS] == pytest.approx([row.score for row in ranking.rows])
    assert found.loads[:, AS_IT_IS] == pytest.approx([row.load.median for row in ranking.rows])
    for row, loads in zip(ranking.rows, found.loads, strict=True):
        rises = np.diff(loads)  # a band that pulls harder at the end is told by that
        assert (
            (rises > 0).all()
            if row.variant.id == "band-standing-curl"
            else rises == pytest.approx(0.0, abs=1e-9)
        )


def test_what_a_list_stands_on_is_what_moves_it(ranking: Ranking, modeller: Modeller) -> None:
    asked = ranking.question
    apart = fixed_draws(
        tuple(r.variant for r in ranking.rows), asked.body, asked.effort, modeller, seed=APART
    )
    on = stands_on(ranking, apart)
    assert sum(one.part for one in on) == pytest.approx(1.0)
    assert [one.part for one in on] == sorted((one.part for one in on), reverse=True)
    parts = {one.parameter: one.part for one in on}
    assert parts["heads.triceps_medial.reference_length"] < 1e-3 < parts["heads.biceps_long.shoulder_arm"]
    assert set(parts) == set(uncertain())
    most = on[0]
    found = doubted(ranking, most.parameter)
    firsts = (ranking.rows[found.order(STOPS.index(stop))[0]].variant.id for stop in (1.0, -1.0))
    assert set(most.other_first) == set(firsts) - {ranking.rows[0].variant.id}


def test_as_published_claims_read_as_the_ledger_and_turn_where_it_says(modeller: Modeller) -> None:
    some = {key: claim for key, claim in built_in_claims().items() if claim.test and claim.test.setups}
    some = dict(list(some.items())[:12])

    def resolve(line: str):  # type: ignore[no-untyped-def]
        setup = parse_setup(line)
        return setup.of(find_variant(setup.variant, built_in()))

    ledger = dict(
        verdicts(
            some, resolve, lenses(), modeller=modeller, body=BODY, effort=EFFORT,
            draw=lambda v: fixed_draws(v, BODY, EFFORT, modeller),
            draw_apart=lambda v: fixed_draws(v, BODY, EFFORT, modeller, APART),
        )
    )  # fmt: skip
    asked = {key: one for key, claim in some.items() if (one := asked_of(claim, resolve, lenses()))}
    turning = next(v.turns[0] for v in ledger.values() if v.turns and v.outcome != "too_close")

    def found_with(number: str, besides: dict[str, float]):  # type: ignore[no-untyped-def]
        def draw(some: tuple[Variant, ...]) -> tuple[Readings, ...]:
            return fixed_draws(some, BODY, EFFORT, modeller)

        return doubted_claims(asked, number, draw, BODY, EFFORT, besides)

    found = found_with(turning.parameter, {})
    assert [one.outcomes[AS_IT_IS] for one in found] == [ledger[one.key].outcome for one in found]
    assert any(not one.stands for one in found)
    stop = max(STOPS) if turning.spreads > 0 else min(STOPS)
    besides = found_with("heads.triceps_medial.reference_length", {turning.parameter: stop})
    assert [one.now for one in besides] == [one.now for one in found], "as published, whatever is off besides"
    assert [one.outcomes[AS_IT_IS] for one in besides] == [one.outcomes[STOPS.index(stop)] for one in found]


def test_several_numbers_off_together_are_one_arm_in_whatever_order(ranking: Ranking) -> None:
    one, other = "heads.biceps_long.shoulder_arm", "heads.brachialis.peak_force"
    there = doubted(ranking, one, {other: 1.5})
    back = doubted(ranking, other, {one: -1.0})
    assert there.scores[:, STOPS.index(-1.0)] == pytest.approx(back.scores[:, STOPS.index(1.5)])
    assert there.loads[:, STOPS.index(-1.0)] == pytest.approx(back.loads[:, STOPS.index(1.5)])
    alone = doubted(ranking, other)
    assert there.loads[:, AS_IT_IS] == pytest.approx(alone.loads[:, STOPS.index(1.5)])
    assert doubted(ranking, one, {other: 0.0}).loads == pytest.approx(doubted(ranking, one).loads)
