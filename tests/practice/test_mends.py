"""Mends solve: every sequence of them ends, and none comes back to a warning that it had."""

from __future__ import annotations

import random

import pytest

from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block
from curve_rank.practice.edit_kinds import read_edit
from curve_rank.practice.edits import edited
from curve_rank.practice.make_block import BlockWish
from curve_rank.practice.plan_warnings import PlanContext, warnings
from curve_rank.practice.profile import ClientProfile
from tests.practice.test_planning import made_for, random_edit, somebody
from tests.training.quick import GYM, planner


@pytest.fixture(scope="module")
def context() -> PlanContext:
    return planner(ClientProfile()).context()


def told_of(state: Block, here: PlanContext) -> set[tuple[str, int, int, str]]:
    """Every warning by what it says is wrong; that sets alone cannot mend it is no other warning."""
    found = warnings(state, here)
    return {(one.kind, one.week, one.session, one.says.partition(". ")[0].rstrip(".")) for one in found}


def test_no_sequence_of_mends_returns_to_a_warning(context: PlanContext) -> None:
    """Of blocks that were edited at random, whichever mend is taken next: all end, none comes back."""
    keys = sorted(key for key, fact in context.facts.items() if context.may(fact))
    for seed in range(40):
        rng = random.Random(seed)
        found = made_for(*somebody(rng)[:1], GYM, BlockWish(per_week=2))
        assert found
        state, here = found
        for _ in range(8):
            try:
                state = edited(state, read_edit(random_edit(rng, state, keys)), here.facts)
            except BadInputError:
                continue
        gone: set[tuple[str, int, int, str]] = set()
        for _ in range(60):
            told = [one for one in warnings(state, here) if one.mend is not None]
            now = told_of(state, here)
            assert not now & gone, (seed, now & gone)
            if not told:
                break
            state = edited(state, rng.choice(told).mend, here.facts)  # type: ignore[arg-type]
            left = told_of(state, here)
            gone |= now - left
        else:
            pytest.fail(f"{seed}: {[one.says for one in told]}")
