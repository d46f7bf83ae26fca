"""Marks on pictures from the side: joint angles, the line of pull and its lever, with what is unsure of each.

A picture's x runs to the right and its y down [px]; what is read is in the plane of the picture, forward
being where the lifter faces::

            pull
             :         upper arm: from hanging straight down, + forward
    shoulder :         elbow: 0 straight, + as the forearm comes round the front
        \\    :         trunk: 0 upright, + leaning forward
         \\   :
       elbow——grip
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator
from scipy.special import ndtri

from curve_rank.arm.arrays import Array
from curve_rank.errors import BadInputError
from curve_rank.validation import validated

MOST_PICTURES, MOST_PIXELS = 5, 20_000
INTERVAL = 0.80
"""Part of the times that the stated interval holds what is measured."""
UNKNOWN_TILT = 3.0
"""Standard deviation of a camera's tilt where neither floor nor plumb line is marked [degrees]."""
NUDGE = 0.25
"""By which marks are moved to see what hangs on them [px]."""
OFF_PLANE = 0.15
"""The known length and the arm lie at most so far one before the other, as the camera sees them [m]."""
SLANTS = 1.0
"""A floor that slants by more, and surely so, is said to [degrees]."""
BACKWARDS = 5.0
"""An elbow that is past straight by more, and surely so, faces the other side [degrees]."""
OVER_THE_TOP = -100.0
"""An upper arm that reads further back has come over the top [degrees]."""

Coordinate = Annotated[float, Field(ge=-MOST_PIXELS, le=MOST_PIXELS, allow_inf_nan=False)]
Point = tuple[Coordinate, Coordinate]
Pair = tuple[Point, Point]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class PictureMarks(_Part):
    """What is marked on one picture [px]; pairs of them count for others too that have none."""

    shoulder: Point | None = None
    elbow: Point | None = None
    grip: Point | None = None
    hip: Point | None = None
    pull: Annotated[Point | None, Field(description="Pulley or anchor; none for a hanging weight")] = None
    scale: Annotated[Pair | None, Field(description="Both ends of the known length")] = None
    level: Annotated[Pair | None, Field(description="Two points of the floor or of a plumb line")] = None
    plumb: Annotated[Pair | None, Field(description="Two points of a plumb line, besides the floor's")] = None


class Marks(_Part):
    """Marks on the pictures of one rep."""

    facing: Annotated[Literal["right", "left"], Field(description="Where the lifter looks")] = "right"
    known_cm: Annotated[float, Field(gt=0, le=1000, description="The known length [cm]")] = 30.0
    known_error_cm: Annotated[float, Field(ge=0, le=100, description="Its standard deviation [cm]")] = 0.5
    level_is: Annotated[Literal["floor", "plumb"], Field(description="What the level marks are on")] = "floor"
    marking_px: Annotated[float, Field(ge=0, le=100, description="Standard deviation of one mark [px]")] = 3.0
    turned_deg: Annotated[float, Field(ge=0, le=45, description="The arm is out of the plane by at most")] = (
        10.0
    )
    camera_m: Annotated[float, Field(ge=0.5, le=50, description="How far off the camera stood [m]")] = 3.0
    pictures: Annotated[tuple[PictureMarks, ...], Field(min_length=1, max_length=MOST_PICTURES)]

    @model_validator(mode="after")
    def _lines_have_length(self) -> Marks:
        for number, picture in enumerate(self.pictures, 1):
            for name in ("scale", "level", "plumb"):
                pair = getattr(picture, name)
                if pair is not None and math.dist(*pair) < 2:
                    raise ValueError(f"picture {number}: the two ends of {name} must lie apart")
        return self


@dataclass(frozen=True)
class MarkReading:
    """A value, the half-width of its interval, and how far off it is if the arm is out of the plane."""

    value: float
    error: float
    turned: float


@dataclass(frozen=True)
class PictureReading:
    """What one picture shows.

    Attributes
    ----------
    elbow, upper_arm : MarkReading
        [degrees]
    trunk, shoulder : MarkReading, optional
        Lean, and the upper arm from the trunk, where the hip is marked [degrees].
    lever, forearm, upper_arm_length : MarkReading, optional
        Where a known length is marked [cm]; the lever is positive where the pull straightens the elbow.
    pulley : tuple of MarkReading, optional
        Pulley or anchor from the hip, forward and up, where hip, pull and scale are marked [cm].
    floor : MarkReading, optional
        Height of the pulley over the floor line, where that is marked as well [cm].
    slope : MarkReading, optional
        How the floor slants, up to where the lifter faces, where a plumb line is marked besides [degrees].
    foot : tuple of float
        Where the lever meets the line of pull, on the picture [px].
    problems : tuple of str
    """

    elbow: MarkReading
    upper_arm: MarkReading
    trunk: MarkReading | None
    shoulder: MarkReading | None
    lever: MarkReading | None
    forearm: MarkReading | None
    upper_arm_length: MarkReading | None
    pulley: tuple[MarkReading, MarkReading] | None
    floor: MarkReading | None
    slope: MarkReading | None
    foot: tuple[float, float]
    problems: tuple[str, ...] = ()


def validate_marks(data: Any, *, name: str = "marks") -> Marks:
    """Marks from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(Marks, data, name)


def read_marks(marks: Marks) -> tuple[PictureReading | None, ...]:
    """What each picture shows; None for one on which shoulder, elbow and grip are not all marked.

    Errors are carried to first order from the marks, the known length and the tilt. A turn of the arm out of
    the plane shortens what lies across, and a camera that is near makes large what lies before the known
    length; both are told apart, as one bound. A floor may slant: where a plumb line is marked besides, that
    is what is upright.
    """
    shared = {
        name: next((pair for p in marks.pictures if (pair := getattr(p, name))), None)
        for name in ("scale", "level", "plumb")
    }
    return tuple(
        _read(marks, picture, {name: getattr(picture, name) or pair for name, pair in shared.items()})
        for picture in marks.pictures
    )


def _places(picture: PictureMarks, pairs: dict[str, Pair | None]) -> dict[str, Array]:
    """Every point that is marked, by name [px]."""
    named: dict[str, Any] = {
        "shoulder": picture.shoulder, "elbow": picture.elbow, "grip": picture.grip, "hip": picture.hip,
        "pull": picture.pull,
    }  # fmt: skip
    for name, pair in pairs.items():
        for end, point in zip("ab", pair or (None, None), strict=True):
            named[f"{name}_{end}"] = point
    return {name: np.array(point, dtype=float) for name, point in named.items() if point is not None}


def _read(  # noqa: C901 — one sum over all that may be off
    marks: Marks, picture: PictureMarks, pairs: dict[str, Pair | None]
) -> PictureReading | None:
    if picture.shoulder is None or picture.elbow is None or picture.grip is None:
        return None
    places = _places(picture, pairs)
    names = list(places)
    start = np.concatenate([places[name] for name in names])
    spread = np.full(start.size, marks.marking_px)

    def values(flat: Array, known_cm: float = marks.known_cm, **off: float) -> dict[str, float]:
        at = {name: flat[2 * n : 2 * n + 2] for n, name in enumerate(names)}
        return _values(marks, at, known_cm, **off)

    plain = values(start)
    squares = dict.fromkeys(plain, 0.0)

    def add(high: dict[str, float], low: dict[str, float], factor: float) -> None:
        for name in plain:
            apart = _apart(name, high[name], low[name])
            squares[name] += (factor * apart) ** 2

    for n in range(start.size):
        step = np.zeros(start.size)
        step[n] = NUDGE
        high, low = (values(start + sign * step) for sign in (1, -1))
        add(high, low, float(spread[n]) / (2 * NUDGE))
    if pairs["scale"] is not None:
        add(values(start, marks.known_cm + marks.known_error_cm), plain, 1.0)
    if pairs["level"] is None and pairs["plumb"] is None:
        add(values(start, tilt=UNKNOWN_TILT), plain, 1.0)
    turned = values(
        start, stretch=1 / math.cos(math.radians(marks.turned_deg)), near=1 + OFF_PLANE / marks.camera_m
    )
    factor = float(ndtri((1 + INTERVAL) / 2))

    def told(name: str) -> MarkReading | None:
        if name not in plain:
            return None
        return MarkReading(
            plain[name], factor * math.sqrt(squares[name]), abs(_apart(name, turned[name], plain[name]))
        )

    elbow, upper_arm = told("elbow"), told("upper_arm")
    assert elbow is not None
    assert upper_arm is not None
    problems = []
    if elbow.value < -max(BACKWARDS, 2 * elbow.error):
        problems.append("the elbow bends backwards here: does the lifter face the other way?")
    slope = told("slope")
    if slope is not None and abs(slope.value) > max(SLANTS, slope.error):
        problems.append(f"the floor slants by {abs(slope.value):.1f}°: the plumb line is what counts here")
    forward, up = told("pulley_forward"), told("pulley_up")
    return PictureReading(
        elbow=elbow,
        upper_arm=upper_arm,
        trunk=told("trunk"),
        shoulder=told("shoulder"),
        lever=told("lever"),
        forearm=told("forearm"),
        upper_arm_length=told("upper_arm_length"),
        pulley=(forward, up) if forward is not None and up is not None else None,
        floor=told("floor"),
        slope=slope,
        foot=_foot(marks, places),
        problems=tuple(problems),
    )


def _values(
    marks: Marks,
    at: dict[str, Array],
    known_cm: float,
    *,
    tilt: float = 0.0,
    stretch: float = 1.0,
    near: float = 1.0,
) -> dict[str, float]:
    """Everything that marks show.

    `stretch` makes up for what a turn out of the plane shortens, `near` for what a near camera makes small.
    """
    turn = _upright(marks, at, tilt)

    def apart(start: str, end: str) -> Array:
        forward, up = turn(at[end] - at[start])
        return near * np.array([forward * stretch, up])

    upper, fore = apart("shoulder", "elbow"), apart("elbow", "grip")
    arm = _from_hanging(upper)
    found = {
        "elbow": _wrapped(_from_hanging(fore) - arm),
        "upper_arm": arm if arm > OVER_THE_TOP else arm + 360,
    }
    if "hip" in at:
        found["trunk"] = math.degrees(math.atan2(*apart("hip", "shoulder")))
        found["shoulder"] = _over_the_top(found["upper_arm"] + found["trunk"])
    if "plumb_a" in at and "level_a" in at and marks.level_is == "floor":
        way = 1.0 if marks.facing == "right" else -1.0
        found["slope"] = way * math.degrees(_plumb_roll(at, "plumb") - _floor_roll(at))
    if "scale_a" in at:
        per_px = known_cm / float(np.linalg.norm(at["scale_b"] - at["scale_a"]))
        pull = apart("grip", "pull") if "pull" in at else np.array([0.0, -1.0])
        length = float(np.linalg.norm(pull))
        if length > 0:
            found["lever"] = per_px * float(pull[0] * fore[1] - pull[1] * fore[0]) / length
        found["forearm"] = per_px * float(np.linalg.norm(fore))
        found["upper_arm_length"] = per_px * float(np.linalg.norm(upper))
        if "pull" in at and "hip" in at:
            forward, up = per_px * apart("hip", "pull")
            found |= {"pulley_forward": float(forward), "pulley_up": float(up)}
            if "level_a" in at and marks.level_is == "floor":
                found["floor"] = per_px * float(apart("level_a", "pull")[1])
    return found


def _upright(marks: Marks, at: dict[str, Array], tilt: float) -> Callable[[Array], Array]:
    """Turns what lies apart on the picture into forward and up, the camera's tilt taken out."""
    roll = math.radians(tilt)
    if "plumb_a" in at:
        roll += _plumb_roll(at, "plumb")
    elif "level_a" in at:
        roll += _floor_roll(at) if marks.level_is == "floor" else _plumb_roll(at, "level")
    way = 1.0 if marks.facing == "right" else -1.0
    cosine, sine = math.cos(roll), math.sin(roll)

    def turn(apart: Array) -> Array:
        across, down = apart
        return np.array([way * (across * cosine + down * sine), across * sine - down * cosine])

    return turn


def _floor_roll(at: dict[str, Array]) -> float:
    """How far a line along the floor is turned on the picture [rad]."""
    across, down = at["level_b"] - at["level_a"]
    return math.atan2(down, across) if across >= 0 else math.atan2(-down, -across)


def _plumb_roll(at: dict[str, Array], name: str) -> float:
    """How far a plumb line is turned on the picture [rad]."""
    across, down = at[f"{name}_b"] - at[f"{name}_a"]
    return math.atan2(-across, down) if down >= 0 else math.atan2(across, -down)


def _foot(marks: Marks, at: dict[str, Array]) -> tuple[float, float]:
    """Where the perpendicular from the elbow meets the line of pull [px]."""
    if "pull" in at:
        along = at["pull"] - at["grip"]
    else:
        turn = _upright(marks, at, 0.0)
        plumb = np.array([[turn(np.array([1.0, 0.0]))[1], turn(np.array([0.0, 1.0]))[1]]])
        along = -plumb[0]  # the picture's way that is straight down in the room
    along = along / max(float(np.linalg.norm(along)), 1e-9)
    foot = at["grip"] + along * float((at["elbow"] - at["grip"]) @ along)
    return float(foot[0]), float(foot[1])


def _from_hanging(apart: Array) -> float:
    """Angle from straight down, + forward [degrees]."""
    return math.degrees(math.atan2(apart[0], -apart[1]))


def _wrapped(angle: float) -> float:
    return (angle + 180) % 360 - 180


def _over_the_top(angle: float) -> float:
    wrapped = _wrapped(angle)
    return wrapped if wrapped > OVER_THE_TOP else wrapped + 360


def _apart(name: str, one: float, other: float) -> float:
    """Between two values; angles the short way round."""
    return (
        _wrapped(one - other) if name in ("elbow", "upper_arm", "trunk", "shoulder", "slope") else one - other
    )


def all_read(readings: tuple[PictureReading | None, ...]) -> tuple[PictureReading, ...]:
    """The pictures that could be read.

    Raises
    ------
    BadInputError
        When there is none.
    """
    found = tuple(one for one in readings if one is not None)
    if not found:
        raise BadInputError("marks", "too few", "shoulder, elbow and grip marked on at least one picture")
    return found
