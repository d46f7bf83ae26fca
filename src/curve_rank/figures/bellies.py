"""The working heads as bellies between tendons, from where they begin to where they insert."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array, cross, length_of
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.figures.arms import arm_sections
from curve_rank.figures.outlines import MovingPath, Plane, unit
from curve_rank.figures.palette import palette
from curve_rank.figures.projection import Projection, Stance, solid
from curve_rank.figures.tubes import closed_curve, open_curve

FLEXORS = ("biceps_short", "brachialis", "biceps_long", "brachioradialis")
EXTENSORS = ("triceps_medial", "triceps_long", "triceps_lateral")
"""From the deepest on."""
STATIONS, FINE, TENDON_POINTS = 9, 49, 4
"""Points of a belly's side; of the path that is measured; of a tendon."""
THINNER = 0.7
"""How thickness goes with length, as a power: 0.5 keeps the volume, 1 the area that is seen."""
SLACK, DRIVEN = 0.80, 0.28
"""Thickness without any drive over that at rest, and what a whole drive adds [1]."""
LEAST_BELLY = 0.2
"""A belly is never shorter than this part of its path [1]."""
FULLNESS = 0.68
"""Exponent of the profile: below 1 a belly is full."""
BENT_FROM, BENT_TO = 50.0, 110.0
"""Between which bends of the elbow a flexor's end leaves the bone for the straight line [°]."""
LAST_ON_BONE = 0.8
"""From this part of the upper arm on a flexor's path does so [1]."""
MOST_NEARER = 0.9
"""How much nearer to its path's next place a head may begin than its place in `bellies.toml` is [1]."""
BONE_SIDE = 1.12
"""How much deeper than half its thickness a belly's middle lies under the skin [1]."""


@dataclass(frozen=True)
class Belly:
    """How a head is drawn, as `bellies.toml` has it."""

    half: float
    tendons: tuple[float, float]
    thickest: float
    rest: float
    length: tuple[float, float]
    path: tuple[tuple[Any, ...], ...]

    @property
    def profile(self) -> Array:
        """Half thickness along the belly over that at the thickest, (stations,)."""
        along = np.linspace(0, 1, STATIONS)
        return np.asarray(np.sin(np.pi * along ** (np.log(0.5) / np.log(self.thickest))) ** FULLNESS)


@cache
def drawn_bellies() -> dict[str, Belly]:
    """All heads that are drawn, by key."""
    table = read_toml("curve_rank.figures", "bellies.toml")
    return {
        key: Belly(
            half=one["half"],
            tendons=tuple(one["tendons"]),
            thickest=one["thickest"],
            rest=one["rest"],
            length=tuple(one["length"]),
            path=tuple(tuple(place) for place in one["path"]),
        )
        for key, one in table.items()
    }


def heads(scene: Projection, only: tuple[str, ...] = ()) -> list[MovingPath]:
    """The target group's heads along the limb, or some of them, thicker with drive and when short."""
    drawn = {
        head: (SLACK + DRIVEN * scene.drive_along(head), scene.length_along(head))
        for head in only or heads_of(scene.variant)
    }
    return bellies(scene, drawn)


def heads_of(variant: Variant) -> tuple[str, ...]:
    """The heads that are drawn of a variant, from the deepest on."""
    return FLEXORS if variant.group == "flexors" else EXTENSORS


def bellies(scene: Stance, drawn: Mapping[str, tuple[Array, Array]]) -> list[MovingPath]:
    """Heads along the limb, each so thick, 1 a resting one, and so long in every frame, (frames,) each.

    Lengths are per cent of a head's range; the deepest stands first.
    """
    shapes = []
    for head, (thick, percent) in drawn.items():
        one = drawn_bellies()[head]
        line = path_of(scene, one, percent)
        upper, belly, half = sizes(scene, one, line.length, thick)
        middle, *tendons = _along(
            line,
            (upper, upper + belly, STATIONS),
            (0 * belly, upper + 0.06 * belly, TENDON_POINTS),
            (upper + 0.94 * belly, line.length, TENDON_POINTS),
        )
        across = 1j * unit(np.gradient(middle, axis=1)) * half[:, None] * one.profile
        outline = np.concatenate((middle + across, (middle - across)[:, -2:0:-1]), axis=1)
        shapes += [
            solid(f"tendon-{head}-{n}", "fig-tendon", open_curve(points)) for n, points in enumerate(tendons)
        ]
        shapes.append(solid(f"head-{head}", f"fig-muscle head-{head}", closed_curve(outline)))
        fibre = "fig-fibre" + (f" fibre-{head}" if palette().heads[head].dash else "")
        shapes.append(solid(f"fibre-{head}", fibre, open_curve(middle[:, 1:-1:2])))
    return shapes


def sizes(scene: Stance, one: Belly, length: Array, thick: Array) -> tuple[Array, Array, Array]:
    """Of a belly on a path so long, (frames,): where it begins, how long it is, half its thickness [mm]."""
    upper, lower = (part * 1000 * scene.body.upper_arm + 0 * length for part in one.tendons)
    belly = np.maximum(length - upper - lower, LEAST_BELLY * length)
    return (
        upper,
        belly,
        one.half * scene.body.scale * thick * (one.rest * scene.body.scale / belly) ** THINNER,
    )


def opacity(scene: Projection) -> dict[str, list[float]]:
    """How dense each head is drawn, by its shape's key and frame: driven is denser."""
    return {
        f"head-{head}": np.round(0.45 + 0.55 * np.clip(scene.drive_along(head), 0, 1), 2).tolist()
        for head in heads_of(scene.variant)
    }


@dataclass(frozen=True)
class HeadPath:
    """A head's path, finely: its points in the plane, and how far along it each lies in space [mm].

    Both (frames, FINE): a belly that is seen end on is no shorter for it.
    """

    points: Plane
    along: Array

    @property
    def length(self) -> Array:
        """Of the whole path, (frames,) [mm]."""
        return self.along[:, -1]


def path_of(scene: Stance, one: Belly, percent: Array) -> HeadPath:
    """A head's path from where it begins to where it inserts, as long as the model says [% of its range].

    What the places leave is made up where it begins: it lies nearer to the next place, or farther from it.
    """
    places = np.stack(_places(scene, one))
    shortest, longest = (scene.body.scale * length for length in one.length)
    over = _lengths(_fine(places))[:, -1] - (shortest + (longest - shortest) * percent / 100)
    ahead = places[1] - places[0]
    away = length_of(ahead)
    places[0] += ahead * np.clip(0.001 * over / away, -1, MOST_NEARER)
    fine = _fine(places)
    return HeadPath(scene.flat(np.moveaxis(fine, 1, 0)).T, _lengths(fine))


def _fine(places: Array) -> Array:
    """The smooth path through places (places, 3, frames), (FINE, 3, frames)."""
    return np.asarray(np.tensordot(_smooth(len(places)), places, axes=1))


def _lengths(fine: Array) -> Array:
    """How far along it each of a path's points lies, (frames, FINE) [mm]."""
    steps = 1000 * np.sqrt((np.diff(fine, axis=0) ** 2).sum(axis=1)).T
    return np.concatenate((np.zeros((len(steps), 1)), np.cumsum(steps, axis=1)), axis=1)


@cache
def _smooth(count: int) -> Array:
    """What each of so many places weighs at each point of the smooth curve through them, (FINE, count)."""
    at = np.linspace(0, count - 1, FINE)
    piece = np.minimum(at.astype(int), count - 2)
    u = at - piece
    cubic = (
        (-u + 2 * u**2 - u**3) / 2,
        (2 - 5 * u**2 + 3 * u**3) / 2,
        (u + 4 * u**2 - 3 * u**3) / 2,
        (u**3 - u**2) / 2,
    )
    found = np.zeros((FINE, count))
    for n, weight in enumerate(cubic, start=-1):
        np.add.at(found, (np.arange(FINE), np.clip(piece + n, 0, count - 1)), weight)
    return found


def _places(scene: Stance, one: Belly) -> list[Array]:
    """The places that a head's path goes through, (3, frames) each in the trunk frame."""
    frame, body = scene.frame, scene.body
    still = 0 * frame.elbow
    aside = cross(frame.upper_arm, scene.bend_side)
    upper = arm_sections(scene)[0]
    sign = 1.0 if scene.variant.group == "flexors" else -1.0
    skin = upper.front if sign > 0 else upper.back
    found: list[Array] = []
    on_bone: list[int] = []
    for kind, *place in one.path:
        if kind == "trunk":
            x, y, z = (0.001 * scene.body.scale * v for v in place)
            point = scene.with_blade(still + np.array([[x], [y], [z]]))
        elif kind in ("upper", "under"):
            t, f, out = place[:3]
            if kind == "under":
                deep = (BONE_SIDE * f * one.half + place[3]) * 0.001 * scene.body.scale / body.upper_arm
                f = sign * (float(np.interp(t, upper.at, skin)) - deep)
            point = body.upper_arm * (t * frame.upper_arm + f * scene.bend_side + out * aside)
            if sign > 0 and t >= LAST_ON_BONE:
                on_bone.append(len(found))
        elif kind == "fore":
            t, f, out = place
            point = frame.elbow + body.forearm * (t * frame.forearm + f * frame.bend + out * frame.elbow_axis)
        else:
            t, out = place
            way = frame.thumb if kind == "thumb" else frame.palm
            point = frame.elbow + body.forearm * (t * frame.forearm + out * way)
        found.append(point)
    return _unwrapped(scene, found, on_bone)


def _unwrapped(scene: Stance, places: list[Array], on_bone: list[int]) -> list[Array]:
    """With the last places on the bone moved onto the straight line to the forearm, as the elbow bends."""
    if not on_bone or on_bone[0] == 0:
        return places
    bent = np.clip((scene.posture.elbow - BENT_FROM) / (BENT_TO - BENT_FROM), 0, 1)
    start, end = places[on_bone[0] - 1], places[on_bone[-1] + 1]
    for n, place in enumerate(on_bone, start=1):
        straight = start + (end - start) * n / (len(on_bone) + 1)
        places[place] = places[place] + bent * (straight - places[place])
    return places


def _along(line: HeadPath, *stretches: tuple[Array, Array, int]) -> list[Plane]:
    """So many points of each stretch of a path, from one length along it to another [mm], (frames, count)."""
    wanted = np.concatenate(
        [
            start[:, None] + (end - start)[:, None] * np.linspace(0, 1, count)
            for start, end, count in stretches
        ],
        axis=1,
    )
    piece = (line.along[:, None, :] <= wanted[:, :, None]).sum(axis=2) - 1
    piece = np.clip(piece, 0, line.along.shape[1] - 2)
    start, end = (np.take_along_axis(line.along, piece + n, axis=1) for n in (0, 1))
    a, b = (np.take_along_axis(line.points, piece + n, axis=1) for n in (0, 1))
    points = a + (b - a) * np.clip((wanted - start) / np.maximum(end - start, 1e-9), 0, 1)
    return np.split(points, np.cumsum([count for _, _, count in stretches])[:-1], axis=1)
