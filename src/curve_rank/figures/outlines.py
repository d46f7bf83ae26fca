"""Outlines of tapered limbs and spindles in a drawing plane, for many frames at once.

Points are arrays (frames, 2) in millimetres, y down as in SVG; outlines are (frames, corners, 2).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array


@dataclass(frozen=True)
class MovingPath:
    """One path of the figure: its key, its role, and its data in every frame, or once if it stands still."""

    key: str
    role: str
    frames: list[str]

    def at(self, frame: int) -> str:
        """Its path data in one frame."""
        return self.frames[frame if len(self.frames) > 1 else 0]


ROUND = 9
"""Corners of each rounded end."""


def capsule(start: Array, start_radius: float, end: Array, end_radius: float) -> Array:
    """A limb from `start` to `end`, round at both ends, radii in millimetres."""
    along = end - start
    angle = np.arctan2(along[:, 1], along[:, 0])[:, None]
    half_turn = np.linspace(np.pi / 2, 3 * np.pi / 2, ROUND)
    back = _arc(start, start_radius, angle + half_turn)
    front = _arc(end, end_radius, angle + half_turn + np.pi)
    return np.concatenate((back, front), axis=1)


def disc(centre: Array, radius: float) -> Array:
    """A circle as a polygon."""
    return _arc(centre, radius, np.linspace(0, 2 * np.pi, 2 * ROUND, endpoint=False)[None, :])


def spindle(points: Array, width: Array) -> Array:
    """A muscle belly along a smooth line through three points.

    Parameters
    ----------
    points : array, shape (frames, 3, 2)
        Origin, a point the belly bows towards, insertion.
    width : array, shape (frames,)
        Half width at the thickest [mm].
    """
    t = np.linspace(0, 1, 9)[None, :, None]
    a, b, c = (points[:, i, None, :] for i in range(3))
    line = (1 - t) ** 2 * a + 2 * t * (1 - t) * b + t**2 * c
    slope = 2 * (1 - t) * (b - a) + 2 * t * (c - b)
    slope /= np.maximum(np.linalg.norm(slope, axis=2, keepdims=True), 1e-9)
    normal = np.stack((-slope[..., 1], slope[..., 0]), axis=2)
    belly = np.sin(np.pi * t) ** 0.8 * width[:, None, None] + 3.0
    return np.concatenate((line + belly * normal, (line - belly * normal)[:, ::-1]), axis=1)


def line(start: Array, end: Array) -> Array:
    """A straight stroke."""
    return np.stack((start, end), axis=1)


def path_text(outlines: Array, *, closed: bool = True) -> list[str]:
    """SVG path data of each frame's outline, whole millimetres; one entry if the frames are all alike."""
    corners = np.rint(outlines).astype(int)
    if np.array_equal(corners, np.broadcast_to(corners[:1], corners.shape)):
        corners = corners[:1]
    form = "M" + "L".join(["%d %d"] * corners.shape[1]) + ("Z" if closed else "")
    return [form % tuple(row) for row in corners.reshape(corners.shape[0], -1).tolist()]


def _arc(centre: Array, radius: float, angles: Array) -> Array:
    return centre[:, None, :] + radius * np.stack((np.cos(angles), np.sin(angles)), axis=2)
