"""Hand paths: where the hand goes, and the arm that follows it (two-link inverse kinematics).

Hand points are fractions of arm length (shoulder to grip, wrist straight) in the trunk frame. Where the
hand is leaves the arm one freedom: the elbow may swing on a circle about the line from shoulder to hand.
A direction says where the elbow points, and a flare angle turns it from there, outwards positive.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from curve_rank.arm.arrays import Array, cross, dot, length_of
from curve_rank.arm.body import Body
from curve_rank.arm.monotone import MonotoneCubic
from curve_rank.arm.ranges import ELBOW_RANGE, OUT_TO_THE_SIDE, SHOULDER_RANGE
from curve_rank.errors import PostureError

FINE = 241
"""Places along the keys at which the elbow angle is found before sampling evenly in it."""


@dataclass(frozen=True)
class HandTrack:
    """Where the hand goes, arrays of shape (3, *S) and S, trunk frame.

    Attributes
    ----------
    point : array, shape (3, *S)
        Hand, over arm length.
    elbow_towards : array, shape (3, *S)
        Direction in which the elbow points, any length.
    flare : array, shape S
        Turn of the elbow about the line from shoulder to hand, + outwards [degrees].
    """

    point: Array
    elbow_towards: Array
    flare: Array

    def between_keys(self) -> Callable[[Array], HandTrack]:
        """Reads the path between its keys, at places (samples,) that count keys from 0."""
        curve = between_keys(np.concatenate((self.point, self.elbow_towards, self.flare[None])))

        def at(places: Array) -> HandTrack:
            rows = curve(places)
            return HandTrack(rows[:3], rows[3:6], rows[6])

        return at

    def widened(self, more: float) -> HandTrack:
        """The keys (keys,) with the hands `more` arm lengths wider apart, or closer together.

        The key at which the elbow is bent most stays where it is; the others come nearer to it, or go
        farther, so that the straightest is as straight as before: a bar held wide is not pressed as far.
        Where no such path is left, the hands go out all the same, and are beyond reach.
        """
        if not more:
            return self
        reach = length_of(self.point)
        near, far = int(reach.argmin()), int(reach.argmax())
        there, out = self.point[:2, near], self.point[2] + more
        ahead = self.point[:2] - there[:, None]
        square, along = ahead[:, far] @ ahead[:, far], ahead[:, far] @ there
        within = along**2 + square * (reach[far] ** 2 - out[far] ** 2 - there @ there)
        part = (np.sqrt(within) - along) / square if within > along**2 else 1.0
        return replace(self, point=np.vstack((there[:, None] + part * ahead, out)))

    def flared(self, more: float | Array) -> HandTrack:
        """The path with the elbows turned outwards by `more` degrees."""
        return replace(self, flare=self.flare + more)


def between_keys(rows: Array) -> Callable[[Array], Array]:
    """Reads values (…, keys) smoothly and without overshoot at places (samples,) that count keys from 0."""
    if (rows == rows[..., :1]).all():
        return lambda places: np.repeat(rows[..., :1], places.size, axis=-1)
    return MonotoneCubic(np.arange(float(rows.shape[-1])), rows)


@dataclass(frozen=True)
class ArmAngles:
    """Angles that put the hand where the path says, arrays of shape S [degrees]."""

    shoulder: Array
    abduction: Array
    rotation: Array
    elbow: Array


def arm_angles(path: HandTrack, body: Body, *, check: bool = True) -> ArmAngles:
    """Two-link inverse kinematics with a straight wrist.

    Parameters
    ----------
    path : HandTrack
        Shape S.
    body : Body
        The person: size, strength, joints.
    check : bool
        Refuse what cannot be reached; otherwise the nearest reachable hand is taken.

    Returns
    -------
    ArmAngles

    Raises
    ------
    PostureError
        Naming the point: beyond reach, elbow bent past 145°, or the shoulder outside −90° to 180° with the
        arm less than 45° out to the side.
    """
    upper, fore = body.upper_arm, body.forearm + body.grip
    hand = path.point * (upper + fore)
    reach = length_of(hand)
    nearest = np.sqrt(upper**2 + fore**2 + 2 * upper * fore * np.cos(np.deg2rad(ELBOW_RANGE[1])))
    if check:
        _refuse_unreachable(path, reach / (upper + fore), nearest / (upper + fore))
    reach = np.clip(reach, nearest, (upper + fore) * (1 - 1e-9))
    towards_hand = hand / np.maximum(length_of(hand), 1e-9)
    outwards = _elbow_direction(towards_hand, path)

    cos_elbow = (reach**2 - upper**2 - fore**2) / (2 * upper * fore)
    cos_lift = (upper**2 + reach**2 - fore**2) / (2 * upper * reach)
    lift = np.arccos(np.clip(cos_lift, -1, 1))
    arm = np.cos(lift) * towards_hand + np.sin(lift) * outwards
    # The direction in which bending the elbow carries the hand; it keeps its sense when the arm is straight.
    side = np.sin(lift) * towards_hand - np.cos(lift) * outwards
    axis = cross(side, -arm)
    found = ArmAngles(
        shoulder=_from_minus_90(np.rad2deg(np.arctan2(arm[0], -arm[1]))),
        abduction=np.rad2deg(np.arcsin(np.clip(arm[2], -1, 1))),
        rotation=np.rad2deg(np.arctan2(-side[2], axis[2])),
        elbow=np.rad2deg(np.arccos(np.clip(cos_elbow, -1, 1))),
    )
    if check:
        _refuse_shoulder(found)
    return found


def sampled(
    keys: HandTrack, body: Body, *, flexes: bool, samples: int, start: float = 0.0, end: float = 1.0
) -> tuple[HandTrack, Array]:
    """The path sampled evenly in the elbow's angle, and where between the keys the samples lie.

    Parameters
    ----------
    keys : HandTrack
        Shape (keys,).
    body : Body
        The person: size, strength, joints.
    flexes : bool
        Whether the elbow should bend along the path (flexors) or straighten.
    samples : int
        How many postures.
    start, end : float
        Part of the path that is used, from 0 (the first key) to 1 (the last).

    Returns
    -------
    HandPath of shape (samples,), array of shape (samples,)

    Raises
    ------
    PostureError
        Also when the elbow turns round along the path.
    """
    arm_angles(keys, body)
    path = keys.between_keys()
    fine = (keys.flare.size - 1) * np.linspace(start, end, FINE)
    elbow = arm_angles(path(fine), body).elbow
    rising = elbow if flexes else -elbow
    wrong = np.flatnonzero(np.diff(rising) <= 0)
    if wrong.size:
        way = "bend" if flexes else "straighten"
        raise PostureError(
            f"hand_path point {int(fine[wrong[0]]) + 1}",
            f"elbow {elbow[wrong[0]]:.0f}°",
            f"a path along which the elbow keeps on going to {way}",
        )
    places = np.interp(np.linspace(rising[0], rising[-1], samples), rising, fine)
    return path(places), places


def _elbow_direction(towards_hand: Array, path: HandTrack) -> Array:
    """Unit vector square to the line to the hand, in which the elbow lies."""
    wanted = path.elbow_towards - dot(path.elbow_towards, towards_hand) * towards_hand
    size = length_of(wanted)
    wanted = wanted / np.maximum(size, 1e-9)
    turned = cross(towards_hand, wanted)
    sense = np.where(turned[2].sum(axis=-1, keepdims=True) < 0, -1.0, 1.0)
    flare = np.deg2rad(path.flare)
    return np.asarray(np.cos(flare) * wanted + np.sin(flare) * sense * turned)


def _from_minus_90(angle: Array) -> Array:
    """The same angle between −90° and 270°."""
    return np.where(angle < -90, angle + 360, angle)


def _refuse_unreachable(path: HandTrack, reach: Array, nearest: float) -> None:
    for bad, right in (
        (~np.isfinite(reach) | (reach > 1), "a point at most one arm length from the shoulder"),
        (reach < nearest, f"a point at least {nearest:.2f} arm lengths from the shoulder (elbow at 145°)"),
    ):
        if bad.any():
            n = int(bad.argmax())
            place = tuple(round(float(v), 3) for v in path.point[:, n])
            raise PostureError(f"hand_path point {n + 1}", place, f"where the hand reaches: {right}")


def _refuse_shoulder(found: ArmAngles) -> None:
    low, high = SHOULDER_RANGE
    outside = ((found.shoulder < low) | (found.shoulder > high)) & (np.abs(found.abduction) < OUT_TO_THE_SIDE)
    if outside.any():
        n = int(outside.argmax())
        raise PostureError(
            f"hand_path point {n + 1}",
            f"shoulder {found.shoulder[n]:.0f}°",
            f"where the shoulder reaches: an upper arm from {low:g}° to {high:g}°, or 45° out to the side",
        )
