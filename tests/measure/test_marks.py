"""Marks: known postures are measured back, whatever the camera did, and the interval is what it says."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.errors import BadInputError
from curve_rank.measure.marks import (
    INTERVAL,
    Marks,
    PictureMarks,
    PictureReading,
    all_read,
    read_marks,
    validate_marks,
)
from tests.photographs import FOREARM, KNOWN, TRUNK, UPPER_ARM, Scene

SCENES = st.builds(
    Scene,
    elbow=st.floats(0, 145),
    upper_arm=st.floats(-60, 190),
    trunk=st.floats(-90, 90),
    tilt=st.floats(-20, 20),
    per_cm=st.floats(2, 9),
    facing=st.sampled_from(["left", "right"]),
    pulley=st.none() | st.tuples(st.floats(60, 150), st.floats(0, 220)),
)


def document(scene: Scene, marks: dict[str, tuple[float, float]] | None = None, **said: object) -> dict:
    """The marks of one picture as a document."""
    at = scene.marks if marks is None else marks
    one = {name: at[name] for name in ("shoulder", "elbow", "grip", "hip", "pull") if name in at}
    one |= {
        pair: (at[f"{pair}_a"], at[f"{pair}_b"]) for pair in ("scale", "level", "plumb") if f"{pair}_a" in at
    }
    return {"facing": scene.facing, "known_cm": KNOWN, "known_error_cm": 0, "pictures": [one]} | said


def read(scene: Scene, marks: dict[str, tuple[float, float]] | None = None, **said: object) -> PictureReading:
    return all_read(read_marks(validate_marks(document(scene, marks, **said))))[0]


@given(SCENES)
def test_a_known_posture_is_measured_back(scene: Scene) -> None:
    found = read(scene)
    assert found.elbow.value == pytest.approx(scene.elbow, abs=1e-6)
    assert math.remainder(found.upper_arm.value - scene.upper_arm, 360) == pytest.approx(0, abs=1e-6)
    assert found.trunk is not None
    assert found.trunk.value == pytest.approx(scene.trunk, abs=1e-6)
    assert found.shoulder is not None
    assert math.remainder(found.shoulder.value - scene.upper_arm - scene.trunk, 360) == pytest.approx(
        0, abs=1e-6
    )
    assert found.forearm is not None
    assert found.forearm.value == pytest.approx(FOREARM)
    assert found.upper_arm_length is not None
    assert found.upper_arm_length.value == pytest.approx(UPPER_ARM)
    assert found.problems == ()
    assert found.lever is not None
    if scene.pulley is None:
        straight_down = FOREARM * math.sin(math.radians(scene.upper_arm + scene.elbow))
        assert found.lever.value == pytest.approx(straight_down, abs=1e-6)
    else:
        assert found.pulley is not None
        assert found.floor is not None
        hip = -TRUNK * math.sin(math.radians(scene.trunk))
        assert found.pulley[0].value == pytest.approx(scene.pulley[0] - hip, abs=1e-6)
        assert found.floor.value == pytest.approx(scene.pulley[1], abs=1e-6)


def test_the_interval_holds_as_often_as_it_says() -> None:
    chance = np.random.default_rng(7)
    fields = ("elbow", "upper_arm", "trunk", "shoulder", "lever", "forearm")
    held = dict.fromkeys(fields, 0)
    for _ in range(300):
        scene = Scene(
            elbow=chance.uniform(0, 140),
            upper_arm=chance.uniform(-50, 180),
            trunk=chance.uniform(-60, 60),
            tilt=chance.uniform(-12, 12),
            facing=str(chance.choice(["left", "right"])),
        )
        off = {name: tuple(np.array(at) + chance.normal(0, 3, 2)) for name, at in scene.marks.items()}
        marked, true = read(scene, off), read(scene)
        for name in fields:
            one, exact = getattr(marked, name), getattr(true, name)
            held[name] += abs(one.value - exact.value) <= one.error
    assert {name: count / 300 for name, count in held.items()} == pytest.approx(
        dict.fromkeys(fields, INTERVAL), abs=0.07
    )


def test_what_is_unsure_grows_with_what_makes_it_so() -> None:
    scene = Scene(elbow=50, upper_arm=30)
    plain = read(scene)
    assert read(scene, marking_px=6).elbow.error == pytest.approx(2 * plain.elbow.error, rel=0.01)
    rough = read(scene, known_error_cm=4)
    assert rough.lever is not None
    assert plain.lever is not None
    assert rough.lever.error > plain.lever.error
    assert rough.elbow.error == pytest.approx(plain.elbow.error)
    untilted = document(scene)
    untilted["pictures"][0].pop("level")
    without = all_read(read_marks(validate_marks(untilted)))[0]
    assert without.upper_arm.error > plain.upper_arm.error + 2
    assert without.elbow.error == pytest.approx(plain.elbow.error)
    assert read(scene, turned_deg=20).elbow.turned > 2 * read(scene, turned_deg=10).elbow.turned


def test_a_plumb_line_is_as_good_as_a_floor() -> None:
    scene = Scene(elbow=80, upper_arm=20, tilt=9)
    at = scene.marks
    string = {"level_a": scene.seen(np.array([40.0, 150.0])), "level_b": scene.seen(np.array([40.0, 20.0]))}
    for ends in (string, {"level_a": string["level_b"], "level_b": string["level_a"]}):
        found = read(scene, at | ends, level_is="plumb")
        assert found.upper_arm.value == pytest.approx(20)


@pytest.mark.parametrize("facing", ["right", "left"])
def test_a_slanting_floor_is_told_from_a_tilted_camera(facing: str) -> None:
    scene = Scene(elbow=80, upper_arm=20, tilt=9, facing=facing)
    string = {"plumb_a": scene.seen(np.array([40.0, 150.0])), "plumb_b": scene.seen(np.array([40.0, 20.0]))}
    slope = math.tan(math.radians(4.0))
    floor = {
        "level_a": scene.seen(np.array([0.0, 0.0])),
        "level_b": scene.seen(np.array([200.0, 200.0 * slope])),
    }
    told_apart = read(scene, scene.marks | floor | string)
    assert told_apart.upper_arm.value == pytest.approx(20)
    assert told_apart.slope is not None
    assert told_apart.slope.value == pytest.approx(4.0)
    assert "slants by 4.0°" in told_apart.problems[0]
    by_floor = read(scene, scene.marks | floor)
    assert abs(by_floor.upper_arm.value - 20) == pytest.approx(4.0)
    assert by_floor.slope is None
    flat = read(scene, scene.marks | string)
    assert flat.problems == ()


def test_a_near_camera_bounds_lengths_and_no_angle() -> None:
    near, far = (read(Scene(elbow=80, upper_arm=20), camera_m=m, turned_deg=0) for m in (1.0, 10.0))
    assert near.forearm is not None
    assert far.forearm is not None
    assert near.forearm.turned == pytest.approx(0.15 * FOREARM)
    assert far.forearm.turned == pytest.approx(0.015 * FOREARM)
    assert near.elbow.turned == pytest.approx(0, abs=1e-9)


def test_scale_and_level_of_one_picture_count_for_all() -> None:
    first, second = (document(Scene(elbow=e, tilt=5))["pictures"][0] for e in (20, 90))
    second.pop("scale"), second.pop("level")
    found = read_marks(validate_marks({"known_cm": KNOWN, "pictures": [second, first, {}]}))
    assert [None if one is None else round(one.elbow.value) for one in found] == [90, 20, None]
    assert found[0] is not None
    assert found[0].lever is not None
    assert found[0].upper_arm.value == pytest.approx(Scene().upper_arm)


def test_facing_the_other_way_is_noticed() -> None:
    found = read(Scene(elbow=90, facing="right"), facing="left")
    assert "face the other way" in found.problems[0]


@pytest.mark.parametrize(
    ("wrong", "says"),
    [
        ({"pictures": []}, "pictures"),
        ({"facing": "up"}, "facing"),
        ({"known_cm": 0}, "known_cm"),
        ({"pictures": [{"scale": [[1, 1], [1, 2]]}]}, "lie apart"),
        ({"pictures": [{"elbow": [1, "nan"]}]}, "elbow"),
        ({"pictures": [{"nose": [1, 2]}]}, "nose"),
        ("marks", "marks"),
    ],
)
def test_what_are_no_marks_is_refused(wrong: object, says: str) -> None:
    data = document(Scene()) | wrong if isinstance(wrong, dict) else wrong
    with pytest.raises(BadInputError, match=says):
        validate_marks(data)


def test_too_few_marks_are_told() -> None:
    with pytest.raises(BadInputError, match="shoulder, elbow and grip"):
        all_read(read_marks(Marks(pictures=(PictureMarks(shoulder=(1, 2)),))))
