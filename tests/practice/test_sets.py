"""Sets from the catalogue: every reachable cell is covered, wishes are kept, and reasons say what is so."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.equipment import lacking
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.practice.choose_set import Wishes
from curve_rank.practice.coverage import heads_of
from curve_rank.practice.rules import rule
from curve_rank.practice.sets import SetAnswer, _pool, choose_for, is_heavy, minutes_of, set_question
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.joints import spare_above
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from tests.practice.test_choose_set import best_by_trying, worth

KIT = ("dumbbell", "cable", "incline_bench")


def answer(modeller: Modeller, *targets: str, wishes: Wishes | None = None, **named: object) -> SetAnswer:
    asked = set_question(targets, lenses()["long_length"], wishes=wishes, **named)  # type: ignore[arg-type]
    return choose_for(asked, built_in(), modeller, lambda v, b, e: fixed_draws(v, b, e, modeller))


def test_every_cell_that_anything_reaches_is_covered_with_room_enough(modeller: Modeller) -> None:
    found = answer(modeller, "flexors", "extensors", wishes=Wishes(at_most=8))
    assert found.uncovered == ()
    assert found.optimal
    asked = found.coverage.asked
    assert found.coverage.covered.any(axis=0)[asked].all()
    assert len(found.picks) <= 5
    shares = found.coverage.placed.max(axis=0)[asked]
    assert (shares >= rule("coverage.least") - 1e-9).all()


def test_what_equipment_and_joints_keep_out_is_never_picked(modeller: Modeller) -> None:
    found = answer(
        modeller, "flexors", "extensors", equipment=KIT, spare=("elbow",), wishes=Wishes(at_most=6)
    )
    for pick in found.picks:
        assert lacking(pick.variant, KIT) == ""
        (strain,) = [s for s in pick.row.strains if s.joint.key == "elbow"]
        assert strain.strain <= spare_above()
        for swap in pick.swaps:
            assert lacking(swap.variant, KIT) == ""
    assert all("would, but it" in one.why or "no room" in one.why for one in found.uncovered)


ROOMS = (
    (("dumbbell",), ()),
    (("dumbbell", "incline_bench"), ("elbow",)),
    (("dumbbell", "cable"), ("shoulder",)),
    (("band", "body_weight", "dip_bars", "pull_up_bar"), ("wrist",)),
    (("angled_bar", "flat_bench", "pad_bench"), ("elbow", "lower_back")),
)


@pytest.mark.parametrize(("there", "spare"), ROOMS, ids=str)
def test_no_set_of_a_room_is_better_than_the_one_that_is_chosen(
    modeller: Modeller, there: tuple[str, ...], spare: tuple[str, ...]
) -> None:
    """Every set of at most three is tried, of what the room has and the joints allow."""
    asked = set_question(
        ("biceps_long", "triceps_long"),
        lenses()["long_length"],
        equipment=there,
        spare=spare,
        wishes=Wishes(at_most=3),
    )

    def draw(some: tuple[Variant, ...], body: Body, effort: float) -> tuple[Readings, ...]:
        return fixed_draws(some, body, effort, modeller)

    candidates = _pool(asked, built_in(), modeller, draw).candidates
    found = choose_for(asked, built_in(), modeller, draw)
    assert len(candidates.ids) >= 3
    chosen = tuple(candidates.ids.index(pick.variant.id) for pick in found.picks)
    assert best_by_trying(candidates, Wishes(at_most=3)) == worth(candidates, chosen)


def test_more_equipment_is_never_worse(modeller: Modeller) -> None:
    def covered(*there: str) -> int:
        found = answer(modeller, "flexors", "extensors", equipment=there, wishes=Wishes(at_most=4))
        return int(found.coverage.covered[:, found.coverage.asked].any(axis=0).sum())

    chain = ("dumbbell", "incline_bench", "cable", "angled_bar", "pad_bench", "body_weight", "dip_bars")
    counts = [covered(*chain[: n + 1]) for n in range(len(chain))]
    assert counts == sorted(counts)
    assert counts[0] < counts[-1] <= covered()


def test_wishes_are_kept(modeller: Modeller) -> None:
    wishes = Wishes(at_most=4, minutes=40, heavy=True, brachialis=True, pinned=frozenset({"chin-up"}))
    found = answer(modeller, "biceps_long", "triceps_long", wishes=wishes)
    ids = [pick.variant.id for pick in found.picks]
    assert "chin-up" in ids
    assert len(ids) <= 4
    assert found.minutes <= 40 + 1e-6
    assert any(is_heavy(pick.variant) for pick in found.picks)
    assert found.minutes == pytest.approx(sum(minutes_of(find_variant(i, built_in())) for i in ids))
    without = answer(modeller, "biceps_long", "triceps_long", wishes=Wishes(banned=frozenset(ids), at_most=4))
    assert not {pick.variant.id for pick in without.picks} & set(ids)


def test_reasons_say_what_the_coverage_shows(modeller: Modeller) -> None:
    found = answer(modeller, "biceps_long", "triceps_long")
    covered, cells = found.coverage.covered, found.coverage.cells
    for n, pick in enumerate(found.picks):
        mine = {cells[i] for i in np.flatnonzero(covered[n] & found.coverage.asked)}
        assert set(pick.covers) == mine
        rest = np.delete(covered, n, axis=0).any(axis=0)
        assert set(pick.alone) == {c for c in mine if not rest[cells.index(c)]}
        assert all(cell.name in pick.why for cell in pick.alone)
        assert f"{pick.row.score:.0f} points" in pick.why
    assert [pick.row.score for pick in found.picks] == sorted(
        (pick.row.score for pick in found.picks), reverse=True
    )


def test_swaps_cost_what_they_say(modeller: Modeller) -> None:
    found = answer(modeller, "biceps_long", "triceps_long", equipment=KIT)
    ids = [pick.variant.id for pick in found.picks]
    first = found.picks[0]
    swap = first.swaps[0]
    pinned = frozenset({*ids[1:], swap.variant.id})
    forced = answer(
        modeller, "biceps_long", "triceps_long", equipment=KIT,
        wishes=Wishes(at_most=len(ids), pinned=pinned),
    )  # fmt: skip
    asked = found.coverage.asked
    before, after = (a.coverage.covered.any(axis=0)[asked].sum() for a in (found, forced))
    assert after - before == swap.cells
    total = [sum(p.row.score for p in a.picks) for a in (found, forced)]
    assert total[1] - total[0] == pytest.approx(swap.score, abs=0.01)


def test_heads_the_model_cannot_tell_apart_stand_for_one(modeller: Modeller) -> None:
    assert heads_of(["extensors"]) == ("triceps_long", "triceps_lateral")
    assert heads_of(["triceps_medial", "triceps_lateral"]) == ("triceps_lateral",)
    small = Body(height=1.55, mass=52)
    found = answer(modeller, "biceps_long", body=small, equipment=("dumbbell", "no_bench"))
    assert found.picks
    assert found.picks[0].row.modelled.body == small
    assert effort_for_reps(found.question.reps) == found.question.of(found.question.targets[0]).effort


@pytest.mark.parametrize(
    ("targets", "named", "error"),
    [
        ((), {}, BadInputError),
        (("nose",), {}, UnknownNameError),
        (("biceps_long",), {"equipment": ("rocks",)}, UnknownNameError),
        (("biceps_long",), {"spare": ("ego",)}, UnknownNameError),
        (
            ("triceps_long",),
            {"equipment": ("neutral_bar",), "wishes": Wishes(pinned=frozenset({"chin-up"}))},
            BadInputError,
        ),
    ],
)
def test_questions_that_make_no_sense_are_refused(
    modeller: Modeller, targets: tuple[str, ...], named: dict[str, object], error: type[Exception]
) -> None:
    with pytest.raises(error):
        answer(modeller, *targets, **named)  # type: ignore[arg-type]
