"""Maps of one head: moment arms, length and strength over elbow × shoulder, or elbow × forearm."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.muscle import Anatomy, HeadGeometry, active_force_length, default_anatomy, head_geometry
from curve_rank.arm.ranges import ELBOW_RANGE, FOREARM_RANGE, SHOULDER_REACHED
from curve_rank.errors import BadInputError, UnknownNameError

Across = Literal["shoulder", "forearm"]
RANGES = {"shoulder": SHOULDER_REACHED, "forearm": FOREARM_RANGE}
MAP_STEP = 5.0
"""Between two angles of a map that is drawn [degrees]."""
STEPS = (1.0, 45.0)
"""Finest and coarsest step of a map [degrees]."""


@dataclass(frozen=True)
class Atlas:
    """One head over two joints, upper arm not turned out to the side, for the default body.

    Attributes
    ----------
    head : str
    across : str
        The second joint, "shoulder" or "forearm".
    elbow : array, shape (columns,)
        [degrees]
    other : array, shape (rows,)
        Angles of the second joint [degrees].
    held : dict
        The third joint's angle [degrees].
    moment_arms : dict of array, each shape (rows, columns)
        Per joint (elbow, shoulder, forearm) [m], + flexes or pronates.
    length : array, shape (rows, columns)
        Fibre length over optimal length [1].
    percent : array, shape (rows, columns)
        Length as percent of the head's own range.
    strength : array, shape (rows, columns)
        Moment it makes about the elbow at full drive, its passive part left out; + flexes [N·m].
    """

    head: str
    across: Across
    elbow: Array
    other: Array
    held: dict[str, float]
    moment_arms: dict[str, Array]
    length: Array
    percent: Array
    strength: Array


def atlas(
    head: str,
    across: Across = "shoulder",
    *,
    step: float = MAP_STEP,
    held: float = 0.0,
    anatomy: Anatomy | None = None,
) -> Atlas:
    """A head's maps.

    Parameters
    ----------
    head : str
        The head's key.
    across : str
        The second joint, "shoulder" or "forearm".
    step : float
        Between two angles [degrees]; the joints' ends are always there.
    held : float
        Angle of the third joint, the forearm's or the shoulder's [degrees].
    anatomy : Anatomy, optional
        Other than the shipped parameters'.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    anatomy = anatomy or default_anatomy()
    if head not in anatomy.keys:
        raise UnknownNameError("head", head, "one of: " + ", ".join(anatomy.keys))
    if across not in RANGES:
        raise UnknownNameError("across", across, "shoulder or forearm")
    if not STEPS[0] <= step <= STEPS[1]:
        raise BadInputError("step", step, f"{STEPS[0]:g} to {STEPS[1]:g} degrees")
    third = "forearm" if across == "shoulder" else "shoulder"
    low, high = RANGES[third]
    if not low <= held <= high:
        raise BadInputError(third, held, f"{low:g} to {high:g} degrees")
    elbow, other = _angles(ELBOW_RANGE, step), _angles(RANGES[across], step)
    grid = {"elbow": np.tile(elbow, (other.size, 1)), across: np.repeat(other[:, None], elbow.size, axis=1)}
    grid[third] = np.full_like(grid["elbow"], held)
    geometry = head_geometry(anatomy, abduction=np.zeros_like(grid["elbow"]), **grid)
    place = anatomy.index(head)
    return Atlas(
        head=head,
        across=across,
        elbow=elbow,
        other=other,
        held={third: held},
        moment_arms=_arms(geometry, place),
        length=geometry.length[place],
        percent=geometry.percent[place],
        strength=_strength(anatomy, geometry, place),
    )


def _angles(bounds: tuple[float, float], step: float) -> Array:
    """Multiples of a step between two ends, and the ends."""
    low, high = bounds
    inside = step * np.arange(np.ceil(low / step), np.floor(high / step) + 1)
    return np.unique(np.concatenate(([low], inside, [high])))


def _arms(geometry: HeadGeometry, place: int) -> dict[str, Array]:
    return {
        joint: getattr(geometry, f"{joint}_moment_arm")[place] for joint in ("elbow", "shoulder", "forearm")
    }


def _strength(anatomy: Anatomy, geometry: HeadGeometry, place: int) -> Array:
    force = anatomy.peak_force[place] * anatomy.cos_pennation[place]
    active = active_force_length(geometry.length[place], anatomy.active_width)
    return np.asarray(force * active * geometry.elbow_moment_arm[place])
