"""What is sore before a session bends it."""

from __future__ import annotations

from datetime import date

import pytest

from curve_rank.errors import CurveRankError
from curve_rank.practice.block import Exercise, Session, checked
from curve_rank.practice.profile import ClientProfile
from curve_rank.rating.joints import joints, spare_above
from curve_rank.training.pain import strained
from curve_rank.training.soreness import Soreness, soreness_of
from curve_rank.training.today import exercises_today
from tests.training.quick import planner

MONDAY = date(2026, 3, 2)
CONTEXT = planner(ClientProfile()).context()
FACTS = CONTEXT.facts


def done(sore: Soreness, *keys: str) -> dict[str, tuple[float, tuple[int, ...], str]]:
    """Per exercise its load and repetitions, nothing where it is not for today, and why."""
    session = Session(day=0, exercises=tuple(Exercise(variant=key) for key in keys))
    block = checked({"name": "B", "targets": ["biceps_long"], "weeks": [{"sessions": [session]}]})
    found = exercises_today(block, 0, session, CONTEXT, (), MONDAY, {}, sore)
    return {
        one.planned.variant: (one.target.load, tuple(s.reps for s in one.sets), one.target.reason)
        for one in found
    }


@pytest.mark.parametrize("joint", sorted(joints()))
def test_a_sore_joint_is_spared_and_what_strains_it_a_little_is_light(joint: str) -> None:
    keys = sorted(FACTS, key=lambda key: FACTS[key].strain[joint])
    some = [keys[0], keys[-1], *(k for k in keys if strained() <= FACTS[k].strain[joint] <= spare_above())][
        :6
    ]
    usual, bent = done(Soreness(), *some), done(Soreness(joints=(joint,)), *some)
    for key in some:
        strain = FACTS[key].strain[joint]
        if strain > spare_above():
            assert not bent[key][1]
            assert joints()[joint].name.lower() in bent[key][2]
            assert "licensed clinician" in bent[key][2]
        elif strain >= strained():
            held, before = (one[key][0] + FACTS[key].on_hands for one in (bent, usual))
            assert held <= before
            assert "Light today" in bent[key][2]
        else:
            assert bent[key] == usual[key]


def test_a_sore_muscle_makes_its_exercises_light_and_leaves_the_others() -> None:
    sore = Soreness(groups=("flexors",), side="left")
    usual, bent = (
        done(one, "bent-over-pull-back", "band-arm-behind-curl", "chin-up") for one in (Soreness(), sore)
    )
    assert bent["bent-over-pull-back"] == usual["bent-over-pull-back"]
    assert bent["band-arm-behind-curl"][0] <= 0.85 * usual["band-arm-behind-curl"][0]
    assert "the left side first" in bent["band-arm-behind-curl"][2]
    assert "side first" not in bent["chin-up"][2]
    assert bent["chin-up"][0] < usual["chin-up"][0]  # help is taken, not a smaller minus


def test_what_is_ticked_is_read_or_refused() -> None:
    assert soreness_of(("elbow", "extensors", "elbow"), "right") == Soreness(
        ("elbow",), ("extensors",), "right"
    )
    assert not soreness_of((), "")
    for keys, side in ((("nose",), ""), (("elbow",), "top")):
        with pytest.raises(CurveRankError, match=r"sore|side"):
            soreness_of(keys, side)
