"""How long each head gets in a position that is held, within somebody's joints; and what to hold when."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.draws import FIXED, FIXED_DRAWS, arm_draw, deviates
from curve_rank.arm.muscle import Anatomy, default_anatomy, head_geometry
from curve_rank.arm.ranges import ELBOW_RANGE, SHOULDER_REACHED
from curve_rank.catalogue.equipment import missing
from curve_rank.catalogue.stretches import Held, Stretch
from curve_rank.practice.limits import Limits
from curve_rank.practice.rules import rule
from curve_rank.rating.spreads import Spread, spread_of

STEPS = {"elbow": 5.0, "shoulder": 5.0, "abduction": 30.0, "forearm": 15.0}
"""Between two angles among which the longest is sought [degrees]."""
SAME = 2.0
"""A head that gets so much longer elsewhere is as long [% of its range]."""
MOST = 4
JOINTS = {"upper_arm": "upper arm", "elbow": "elbow", "abduction": "upper arm out", "forearm": "palm"}


@dataclass(frozen=True)
class HeadReach:
    """How long a head gets.

    Attributes
    ----------
    percent : Spread
        Of its own range over all postures, 100 the longest; over the fixed draws.
    longest : float
        The most that the person's joints allow, by the middle arm [% of its range].
    """

    percent: Spread
    longest: float


@dataclass(frozen=True)
class StretchReach:
    """A position as somebody holds it.

    Attributes
    ----------
    stretch : Stretch
    held : Held
        Within their joints.
    nearer : tuple of str
        What had to stay short of the document, in words.
    heads : mapping
        By head.
    """

    stretch: Stretch
    held: Held
    nearer: tuple[str, ...]
    heads: Mapping[str, HeadReach]


def within(held: Held, limits: Limits) -> Held:
    """A position within somebody's joints: each angle as far as they go."""
    low, high = -limits.shoulder_back, limits.shoulder_overhead
    return held.model_copy(
        update={
            "elbow": max(held.elbow, limits.elbow_straight),
            "upper_arm": float(np.clip(held.upper_arm, low, high)),
            "abduction": float(np.clip(held.abduction, -limits.shoulder_out, limits.shoulder_out)),
            "forearm": float(np.clip(held.forearm, -limits.palm_up, limits.palm_down)),
        }
    )


def arms() -> tuple[Anatomy, ...]:
    """The fixed draws' arms."""
    return tuple(arm_draw(deviates(FIXED, n), Body()).anatomy for n in range(FIXED_DRAWS))


def reaches(
    positions: Iterable[Stretch], limits: Limits, drawn: Sequence[Anatomy]
) -> tuple[StretchReach, ...]:
    """Positions as somebody holds them, with how long each head gets.

    Parameters
    ----------
    positions : iterable of Stretch
        Which.
    limits : Limits
        How far the person's joints go.
    drawn : sequence of Anatomy
        The arms that are drawn.
    """
    wanted = tuple(positions)
    held = [within(one.held, limits) for one in wanted]
    percent = np.stack([_percent(arm, held) for arm in drawn])
    keys, longest = default_anatomy().keys, longest_of(limits)
    return tuple(
        StretchReach(
            one,
            at,
            _nearer(one.held, at),
            {
                key: HeadReach(spread_of(percent[:, head, n]), float(longest[head]))
                for head, key in enumerate(keys)
            },
        )
        for n, (one, at) in enumerate(zip(wanted, held, strict=True))
    )


def _percent(arm: Anatomy, held: Sequence[Held]) -> Array:
    """Lengths of the heads in positions, (heads, positions) [% of each head's range]."""
    angles = {
        name: np.array([getattr(one, name) for one in held]) for name in ("elbow", "forearm", "abduction")
    }
    shoulder = np.array([one.upper_arm for one in held])
    return head_geometry(arm, shoulder=shoulder, **angles).percent


def longest_of(limits: Limits) -> Array:
    """How long each head can get within somebody's joints, by the middle arm, (heads,) [% of its range]."""
    ends = {
        "elbow": (limits.elbow_straight, ELBOW_RANGE[1]),
        "shoulder": (
            max(-limits.shoulder_back, SHOULDER_REACHED[0]),
            min(limits.shoulder_overhead, SHOULDER_REACHED[1]),
        ),
        "abduction": (0.0, min(limits.shoulder_out, 90.0)),
        "forearm": (-limits.palm_up, limits.palm_down),
    }
    axes = [np.unique([*np.arange(low, high, STEPS[name]), high]) for name, (low, high) in ends.items()]
    grid = dict(zip(ends, (one.ravel() for one in np.meshgrid(*axes)), strict=True))
    return np.asarray(head_geometry(default_anatomy(), **grid).percent.max(axis=1))


def _nearer(wanted: Held, held: Held) -> tuple[str, ...]:
    told = []
    for name, words in JOINTS.items():
        before, after = getattr(wanted, name), getattr(held, name)
        if abs(before - after) >= 1:
            told.append(f"{words} at {after:.0f}° instead of {before:.0f}°".replace("-", "−"))
    return tuple(told)


def ranked(head: str, positions: Iterable[StretchReach]) -> tuple[StretchReach, ...]:
    """Those that take a head past the middle of its range, the longest first; equal ones by name."""
    long = [one for one in positions if one.heads[head].percent.median >= rule("stretch.least")]
    return tuple(sorted(long, key=lambda one: (-one.heads[head].percent.median, one.stretch.name)))


def can_be_held(one: StretchReach, spare: Collection[str], there: Collection[str]) -> str:
    """Why somebody does not hold a position: a joint that they spare, or what is not there; else nothing.

    Parameters
    ----------
    one : StretchReach
        The position as they would hold it.
    spare : collection of str
        Joints to spare.
    there : collection of str
        Equipment to hand; empty for everything.
    """
    if any(joint in spare for joint in one.stretch.asks):
        return "takes a joint that is spared near its end"
    if missing(one.stretch.needs, there):
        return "needs what is not here"
    return ""


def after(heads: Collection[str], positions: Sequence[StretchReach]) -> tuple[StretchReach, ...]:
    """What to hold after training some heads: as few positions as take each about as long as any does.

    Of equal ones the first that is given; greedy, at most four.
    """
    best = {head: max((one.heads[head].percent.median for one in positions), default=0.0) for head in heads}
    open_ = {head for head, most in best.items() if most >= rule("stretch.least")}
    found: list[StretchReach] = []
    while open_ and len(found) < MOST:
        gains = [
            {head for head in open_ if one.heads[head].percent.median >= best[head] - SAME}
            for one in positions
        ]
        place = max(range(len(positions)), key=lambda n: (len(gains[n]), -n))
        if not gains[place]:
            break
        found.append(positions[place])
        open_ -= gains[place]
    return tuple(found)
