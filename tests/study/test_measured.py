"""Pictures against a plan: what differs is told with its interval, and the rep is rebuilt as measured."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError
from curve_rank.measure.marks import PictureReading, all_read, read_marks, validate_marks
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.study.measured import as_measured, deviations
from tests.measure.test_marks import document
from tests.photographs import Scene

EFFORT = effort_for_reps(10)


def readings(*scenes: Scene, hip: bool = True) -> tuple[PictureReading, ...]:
    pictures = [document(scene)["pictures"][0] for scene in scenes]
    for one in pictures:
        if not hip:
            one.pop("hip")
    whole = document(scenes[0]) | {"pictures": pictures}
    return all_read(read_marks(validate_marks(whole)))


def plan(modeller: Modeller, name: str) -> VariantModel:
    return modeller.one(find_variant(name, built_in()), Body(), effort=EFFORT)


def as_planned(modelled: VariantModel, place: int) -> Scene:
    """A picture of the plan itself, at one of its samples."""
    shoulder, trunk = modelled.angle("shoulder"), modelled.angle("trunk_pitch")
    return Scene(
        elbow=float(modelled.angle("elbow")[place]),
        upper_arm=float(shoulder[place] - trunk[place]),
        trunk=float(trunk[place]),
    )


@pytest.mark.parametrize(
    "name", ["standing-dumbbell-curl", "reclined-45-dumbbell-curl", "pad-45-dumbbell-curl", "rope-press-down"]
)
def test_pictures_of_the_plan_itself_differ_in_nothing(modeller: Modeller, name: str) -> None:
    modelled = plan(modeller, name)
    seen = readings(*(as_planned(modelled, place) for place in (0, 15, -1)))
    assert not any(one.is_told for one in deviations(seen, modelled))
    made, fields = as_measured(modelled.variant, seen)
    assert not any(field.is_told for field in fields)
    done = modeller.one(made, Body(), effort=EFFORT)
    for angle in ("elbow", "shoulder", "trunk_pitch"):
        np.testing.assert_allclose(
            done.angle(angle)[[0, -1]], modelled.angle(angle)[[0, -1]], atol=0.11, err_msg=angle
        )
    assert done.load == pytest.approx(modelled.load, rel=0.01)


@pytest.mark.parametrize("hip", [True, False])
def test_an_elbow_that_drifts_is_told_by_how_much_and_rebuilt(modeller: Modeller, hip: bool) -> None:
    modelled = plan(modeller, "standing-dumbbell-curl")
    seen = readings(*(Scene(elbow=e, upper_arm=a) for e, a in ((6, 1), (70, 14), (128, 30))), hip=hip)
    told = [one for one in deviations(seen, modelled) if one.name == "upper arm" and one.is_told]
    assert [(one.picture, round(one.apart)) for one in told] == [(2, 14), (3, 30)]
    assert all("forward of" in one.words for one in told)
    made, fields = as_measured(modelled.variant, seen)
    assert [key.upper_arm for key in made.path] == pytest.approx([1, 14, 30])
    assert [key.elbow for key in made.path] == pytest.approx([6, 70, 128])
    assert [round(f.planned) for f in fields if f.name.startswith("Upper arm")] == [0, 0, 0]


def test_sitting_up_and_stopping_short_are_told(modeller: Modeller) -> None:
    modelled = plan(modeller, "reclined-45-dumbbell-curl")
    lean = float(modelled.angle("trunk_pitch")[0])
    seen = readings(*(Scene(elbow=e, upper_arm=0, trunk=lean + 20) for e in (40, 90, 125)))
    words = {one.name: one.words for one in deviations(seen, modelled) if one.is_told}
    assert "further forward" in words["trunk"]
    assert "short of" in words["straightest"]
    made, _ = as_measured(modelled.variant, seen)
    assert made.posture.trunk_pitch == pytest.approx(lean + 20, abs=0.1)


def test_a_turning_palm_stays_and_a_pulley_comes_from_the_picture() -> None:
    turning = find_variant("standing-turning-curl", built_in())
    seen = readings(*(Scene(elbow=e) for e in (10, 60, 120)))
    made, _ = as_measured(turning, seen)
    assert made.path[0].forearm == turning.path[0].forearm
    assert made.path[-1].forearm == turning.path[-1].forearm
    cable = find_variant("rope-press-down", built_in())
    pulled = readings(*(Scene(elbow=e, upper_arm=10, pulley=(60, 205)) for e in (100, 50, 5)))
    made, fields = as_measured(cable, pulled)
    line = made.lines[0]
    assert (line.forward, line.up) == pytest.approx((0.60, 2.05), abs=0.002)  # type: ignore[union-attr]
    assert {f.unit for f in fields} == {"°", "cm"}
    bends = [key.elbow for key in made.path]
    assert bends == sorted(bends, reverse=True)  # an extension straightens


def test_what_pictures_cannot_rebuild_is_refused_with_the_reason() -> None:
    press, twice = (
        find_variant("bench-press-narrow", built_in()),
        readings(Scene(elbow=50), Scene(elbow=50.2)),
    )
    with pytest.raises(BadInputError, match="joints"):
        as_measured(press, twice)
    with pytest.raises(BadInputError, match="different moments"):
        as_measured(find_variant("standing-dumbbell-curl", built_in()), twice)
    straight = next(v for v in built_in() if v.coordinate == "shoulder")
    with pytest.raises(BadInputError, match="straight-arm"):
        as_measured(straight, readings(Scene(elbow=5), Scene(elbow=20)))
