"""Pictures of the guided check: a person at a joint's angle, one small figure a step."""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

import numpy as np

from curve_rank.figures.outlines import Frames, Outline, capsule, disc
from curve_rank.figures.shapes import Path, Picture, Shape

SIZE = 1000
"""Of the paper [mm]."""
ABOVE = 290
"""Room for an arm overhead [mm]."""
SHOULDER, HIP = 480 + 330j, 480 + 860j
UPPER, FORE = 290.0, 270.0


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
    """A person at an angle of the check.

    Parameters
    ----------
    key : str
        Of `CHECKS`.
    angle : float
        [°]
    """
    turn = angle if key == "palm_up" else -angle
    shapes = _palm(turn) if key.startswith("palm") else _person(key, angle)
    return Picture(
        role="range-check",
        width=SIZE,
        height=SIZE + ABOVE,
        top=-ABOVE,
        shapes=tuple(shapes),
        label="",
        scaled=True,
    )


def _person(key: str, angle: float) -> list[Shape]:
    """From the side, or from the front for the arm out to the side; down is a hanging arm."""
    front = key == "shoulder_out"
    turn = {
        "elbow_straight": 0.0,
        "shoulder_back": angle,
        "shoulder_overhead": -angle,
        "shoulder_out": -angle,
    }
    shoulder = SHOULDER + (95 if front else 0)
    upper = cmath.rect(UPPER, math.radians(90 + turn[key]))
    elbow = shoulder + upper
    bend = angle if key == "elbow_straight" else 8.0
    hand = elbow + cmath.rect(FORE, cmath.phase(upper) - math.radians(bend))
    body = [
        ("fig-trunk", capsule(_at(HIP), 105 if front else 88, _at(SHOULDER + 40j), 135 if front else 98)),
        ("fig-limb", disc(_at(SHOULDER - 185j), 78)),
    ]
    if not front:  # a nose says which way somebody looks
        head = SHOULDER - 185j
        body.append(("fig-limb", capsule(_at(head + 66 + 8j), 17, _at(head + 92 + 12j), 9)))
    arm = [
        ("fig-limb", capsule(_at(shoulder), 52, _at(elbow), 40)),
        ("fig-limb", capsule(_at(elbow), 40, _at(hand), 27)),
    ]
    zero = shoulder + cmath.rect(UPPER + FORE, math.radians(90))
    return [*_drawn(body), Path("fig-ghost", _stroke(shoulder, zero)), *_drawn(arm)]


def _palm(turn: float) -> list[Shape]:
    """The fist from in front: a thumb that turns from up towards the side."""
    centre = 500 + 520j
    thumb = cmath.rect(1.0, math.radians(-90 + turn))
    fist = [
        ("fig-limb", capsule(_at(centre - 150 * thumb), 120, _at(centre + 110 * thumb), 105)),
        ("fig-limb", capsule(_at(centre + 120 * thumb), 60, _at(centre + 290 * thumb), 40)),
    ]
    return [Path("fig-ghost", _stroke(centre, centre - 400j)), *_drawn(fist)]


def _at(point: complex) -> np.ndarray:
    return np.array([point], dtype=complex)


def _drawn(parts: list[tuple[str, Outline]]) -> list[Shape]:
    return [Path(role, Frames.of(outline).at(0)) for role, outline in parts]


def _stroke(start: complex, end: complex) -> str:
    return f"M{start.real:.0f} {start.imag:.0f}L{end.real:.0f} {end.imag:.0f}"
