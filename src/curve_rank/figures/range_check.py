"""Pictures of the guided check: a person at a joint's angle, one small figure a step."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.figures import arms, hands, person
from curve_rank.figures.outlines import MovingPath
from curve_rank.figures.projection import Stance, stroke
from curve_rank.figures.shapes import Path, Picture
from curve_rank.figures.standing import standing

SOFT = 8.0
"""Bend of an elbow that is not locked [°]."""
AROUND_SHOULDER, AROUND_ELBOW, AROUND_FIST = 700, 340, 170
"""Half of the width that is shown, around the joint that moves [mm]."""
THUMB = 150
"""Length of the line along which a thumb begins [mm]."""


@dataclass(frozen=True)
class RangeCheck:
    """One question of the guided check.

    Attributes
    ----------
    key : str
        Of `Limits`.
    asks, how : str
    steps : tuple of float
        Angles to choose from, the fullest range first [°].
    """

    key: str
    asks: str
    how: str
    steps: tuple[float, ...]


CHECKS = (
    RangeCheck(
        "elbow_straight",
        "How straight does the elbow go?",
        "Let the arm hang, palm forward, and straighten it slowly. Stop before it hurts.",
        (0, 5, 10, 20, 30),
    ),
    RangeCheck(
        "shoulder_back",
        "How far back does the upper arm go?",
        "Stand side-on to a mirror, elbow soft, and take the arm straight back without leaning forward.",
        (60, 45, 30, 15, 0),
    ),
    RangeCheck(
        "shoulder_overhead",
        "How far up does the upper arm go in front?",
        "Ribs down, raise the arm forward and up, as far as it goes without arching the back.",
        (180, 165, 150, 130, 100),
    ),
    RangeCheck(
        "shoulder_out",
        "How far out to the side?",
        "Thumb up, raise the arm out to the side. Stop before it pinches.",
        (120, 90, 70, 50, 30),
    ),
    RangeCheck(
        "palm_up",
        "How far does the palm turn up?",
        "Elbow at the side and bent to a right angle, thumb up; turn the palm up without moving the elbow.",
        (90, 75, 60, 45, 30),
    ),
    RangeCheck(
        "palm_down",
        "How far does the palm turn down?",
        "Elbow at the side and bent to a right angle, thumb up; turn the palm down without moving the elbow.",
        (90, 75, 60, 45, 30),
    ),
)


def check_picture(key: str, angle: float) -> Picture:
    """A person at an angle of the check; a dashed line is where the arm, or the thumb, begins.

    Parameters
    ----------
    key : str
        Of `CHECKS`.
    angle : float
        [°]
    """
    is_palm = key.startswith("palm")
    scene = _standing(key, angle)
    shapes = [
        *(() if is_palm else person.person(person.Person(scene))),
        *arms.arm(scene),
        *hands.fingers(scene),
        _from_zero(scene, _standing(key, 0.0), is_palm=is_palm),
    ]
    left, top, width, height = _frame(scene, key)
    return Picture(
        role="range-check",
        left=left,
        top=top,
        width=width,
        height=height,
        shapes=tuple(Path(one.role, one.at(0), one.key) for one in shapes),
        label="",
        scaled=True,
    )


def _standing(key: str, angle: float) -> Stance:
    """Somebody who stands, one arm as the check has it."""
    at = {
        "elbow_straight": {"elbow": angle},
        "shoulder_back": {"shoulder": -angle, "elbow": SOFT},
        "shoulder_overhead": {"shoulder": angle, "elbow": SOFT},
        "shoulder_out": {"abduction": angle, "elbow": SOFT, "forearm": 0.0},
        "palm_up": {"elbow": 90.0, "forearm": -angle},
        "palm_down": {"elbow": 90.0, "forearm": angle},
    }[key]
    view = "front" if key == "shoulder_out" or key.startswith("palm") else "side"
    return standing(view, at={"forearm": -60.0} | at)


def _from_zero(scene: Stance, zero: Stance, *, is_palm: bool) -> MovingPath:
    if is_palm:
        centre = scene.flat(scene.frame.grip)
        return stroke("zero", "fig-ghost", centre, centre - 1j * THUMB)
    return stroke("zero", "fig-ghost", zero.flat(0 * zero.frame.elbow), zero.flat(zero.frame.grip))


def _frame(scene: Stance, key: str) -> tuple[float, float, float, float]:
    """What is shown: the fist, the arm that straightens, or head, trunk and the arm wherever it goes."""
    joint, frame = key.partition("_")[0], scene.frame
    at, half = {
        "palm": (frame.grip, AROUND_FIST),
        "elbow": (frame.elbow, AROUND_ELBOW),
        "shoulder": (0 * frame.elbow, AROUND_SHOULDER),
    }[joint]
    centre = complex(scene.flat(at)[0])
    return round(centre.real - half), round(centre.imag - 1.15 * half), 2 * half, round(2.3 * half)
