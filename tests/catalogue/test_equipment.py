"""What is to hand is what is ticked, nothing else."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.catalogue import words
from curve_rank.catalogue.equipment import (
    benches_of,
    check_equipment,
    is_done_with,
    kinds_of_equipment,
    lacking,
)
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import UnknownNameError

MACHINE = find_variant("machine-pad-curl", built_in())
HERE, ELSEWHERE = (MACHINE.model_copy(update={"id": f"own-{name}"}) for name in ("here", "elsewhere"))
SOME = st.lists(st.sampled_from(sorted(words.equipment())), min_size=1, unique=True)


def needs(variant: Variant) -> tuple[str, ...]:
    return (*variant.equipment.loads, *benches_of(variant))


@pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)
def test_a_setup_is_done_with_all_it_needs_and_not_without_any_of_it(variant: Variant) -> None:
    assert lacking(variant, ()) == lacking(variant, needs(variant)) == ""
    for one in needs(variant):
        rest = tuple(item for item in needs(variant) if item != one) or ("no_bench", "band", "barbell")
        if one not in rest:
            assert words.equipment()[one] in lacking(variant, rest)


@given(SOME, SOME)
def test_more_equipment_takes_nothing_away(there: list[str], more: list[str]) -> None:
    for variant in built_in():
        assert lacking(variant, there) or not lacking(variant, (*there, *more))


def test_dumbbells_alone_bring_no_bench() -> None:
    left = [v for v in built_in() if not lacking(v, ("dumbbell",))]
    assert left
    assert {v.equipment.bench for v in left} == {None}
    assert not [v for v in built_in() if not lacking(v, ("flat_bench", "no_bench"))]


def test_a_machine_of_ones_own_stands_where_it_is_said_to() -> None:
    assert lacking(HERE, ("machine",)) == lacking(HERE, ("own-here", "dumbbell")) == lacking(HERE, ()) == ""
    for there in (("dumbbell",), ("machine", "own-elsewhere"), ("own-elsewhere",)):
        assert lacking(HERE, there)
    assert lacking(MACHINE, ("own-here",))  # a machine of any make is another one
    assert kinds_of_equipment((HERE, MACHINE))[-1] == {"own-here": HERE.name}
    assert is_done_with(HERE, ("machine", "own-here"))
    assert not is_done_with(ELSEWHERE, ("own-here",))


def test_what_is_no_equipment_is_refused_with_what_would_be_right() -> None:
    check_equipment(("dumbbell", "own-here", "no_bench"))
    with pytest.raises(UnknownNameError, match=r"spoon.*dumbbell"):
        check_equipment(("dumbbell", "spoon"))
