"""The kinds of load: what pulls or pushes on the right hand, or turns the elbow.

Each line carries a `load_part` of one load [kg]; several lines of a rep are summed.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array, Index, for_arms


@dataclass(frozen=True)
class FreeWeight:
    """A weight in the hand: pulls straight down.

    Attributes
    ----------
    load_part : float
        Part of the load this line carries on the right hand [1].
    offset : float
        The weight's centre from the middle of the grip, + towards the thumb [m].
    sideways : float
        Share of the vertical force with which two hands on one bar press apart (+) or together (−).
    """

    load_part: float = 1.0
    offset: float = 0.0
    sideways: float = 0.0


@dataclass(frozen=True)
class Cable:
    """A cable from the hand to a pulley fixed in the room.

    Attributes
    ----------
    pulley : tuple of float
        Metres forward, up, right of the floor under the hip centre.
    load_part : float
    from_middle : bool
        The cable leaves the middle of a bar held in both hands, not the hand itself.
    """

    pulley: tuple[float, float, float]
    load_part: float = 1.0
    from_middle: bool = False


@dataclass(frozen=True)
class Band:
    """A band from the hand to an anchor fixed in the room; pulls harder as it stretches.

    The load of a band is what it pulls at twice its slack length [kg].

    Attributes
    ----------
    anchor : tuple of float
        As a cable's pulley.
    slack : float
        Length up to which it does not pull [m].
    stretch, tension : tuple of float
        Stretch over slack length, and tension over the tension at stretch 1, both rising from 0.
    load_part : float
    """

    anchor: tuple[float, float, float]
    slack: float
    stretch: tuple[float, ...]
    tension: tuple[float, ...]
    load_part: float = 1.0


@dataclass(frozen=True)
class Machine:
    """A machine that turns about the elbow's own axis; it has no lever in metres.

    Attributes
    ----------
    angle, torque : tuple of float
        Elbow angle [degrees], and moment on the elbow per kilogram of stack [N·m/kg], + flexes.
    load_part : float
    """

    angle: tuple[float, ...]
    torque: tuple[float, ...]
    load_part: float = 1.0


@dataclass(frozen=True)
class BodyWeight:
    """What a fixed bar, or the floor, exerts on the hand: straight up.

    Attributes
    ----------
    carried : float
        Part of body mass that this hand carries [1].
    load_part : float
        Part of the load added to (or, negative load, taken off) the body that this hand carries [1].
    sideways : float
        As a free weight's.
    estimated : bool
        The feet share the body, so what the hands carry of it is an estimate.
    """

    carried: float
    load_part: float
    sideways: float = 0.0
    estimated: bool = False


Line = FreeWeight | Cable | Band | Machine | BodyWeight


@dataclass(frozen=True)
class LineGroup:
    """Lines of one kind, at most one for each rep.

    Attributes
    ----------
    kind : type
    reps : array of int, shape (n,)
        Which rep each line belongs to.
    lines : tuple of Line, length n
    """

    kind: type
    reps: Index
    lines: tuple[Line, ...]

    def of_arms(self, arms: int, reps: int) -> LineGroup:
        """The same lines for so many arms of so many reps each."""
        return LineGroup(self.kind, for_arms(self.reps, arms, reps), self.lines * arms)

    def column(self, name: str) -> Array:
        """One number of every line, shape (n, 1)."""
        return np.array([[float(getattr(line, name))] for line in self.lines])

    def places(self, name: str) -> Array:
        """One place in the room of every line, shape (3, n, 1)."""
        return np.array([getattr(line, name) for line in self.lines], dtype=float).T[:, :, None]


def grouped(lines: tuple[tuple[Line, ...], ...]) -> tuple[LineGroup, ...]:
    """All reps' lines, sorted by kind so that each kind is computed at once."""
    return tuple(_groups(lines))


def _groups(lines: tuple[tuple[Line, ...], ...]) -> Iterator[LineGroup]:
    for slot in range(max(len(row) for row in lines)):
        at_slot = [(i, row[slot]) for i, row in enumerate(lines) if slot < len(row)]
        for kind in (FreeWeight, Cable, Band, Machine, BodyWeight):
            chosen = [(i, line) for i, line in at_slot if isinstance(line, kind)]
            if chosen:
                reps = np.array([i for i, _ in chosen], dtype=np.intp)
                yield LineGroup(kind, reps, tuple(line for _, line in chosen))
