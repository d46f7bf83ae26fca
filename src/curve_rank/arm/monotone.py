"""Shape-preserving cubics: smooth curves that rise and fall only where their points do.

Inside, a slope is the weighted harmonic mean of both neighbouring chords, and zero where they disagree; at
an end it is that of a parabola, bounded so that the curve does not turn (Fritsch and Butland 1984). SciPy has
the same curve; these lines spare every command half a second of reading SciPy in.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from curve_rank.arm.arrays import Array, Index


@dataclass(frozen=True)
class MonotoneCubic:
    """Cubics through points along the last axis; beyond the ends the last cubic goes on.

    Attributes
    ----------
    places : array, shape (K,)
        Where the points stand, ascending; two or more.
    values : array, shape (*S, K)
        What stands there.
    """

    places: Array
    values: Array

    def __call__(self, at: Array) -> Array:
        """Values at places of shape (N,), shape (*S, N)."""
        piece, ahead = self._piece(at)
        start, slope, bend, twist = (one[..., piece] for one in self._cubics)
        return start + ahead * (slope + ahead * (bend + ahead * twist))

    def rise(self, at: Array) -> Array:
        """Slopes at places of shape (N,), shape (*S, N)."""
        piece, ahead = self._piece(at)
        _, slope, bend, twist = (one[..., piece] for one in self._cubics)
        return slope + ahead * (2 * bend + ahead * 3 * twist)

    def slopes(self) -> Array:
        """Slopes at the points, shape (*S, K)."""
        step = np.diff(self.places)
        chord = np.diff(self.values) / step
        if step.size == 1:
            return np.repeat(chord, 2, axis=-1)
        before, after = chord[..., :-1], chord[..., 1:]
        near, far = step[:-1] + 2 * step[1:], 2 * step[:-1] + step[1:]
        agree = before * after > 0
        safe = np.where(agree, before, 1.0), np.where(agree, after, 1.0)
        inner = np.where(agree, (near + far) / (near / safe[0] + far / safe[1]), 0.0)
        first = _end(step[0], step[1], chord[..., 0], chord[..., 1])
        last = _end(step[-1], step[-2], chord[..., -1], chord[..., -2])
        return np.concatenate((first[..., None], inner, last[..., None]), axis=-1)

    @cached_property
    def _cubics(self) -> tuple[Array, Array, Array, Array]:
        """Of each piece, its value, slope, bend and twist at its start."""
        step, slope = np.diff(self.places), self.slopes()
        chord = np.diff(self.values) / step
        bend = (3 * chord - 2 * slope[..., :-1] - slope[..., 1:]) / step
        twist = (slope[..., :-1] + slope[..., 1:] - 2 * chord) / step**2
        return self.values[..., :-1], slope[..., :-1], bend, twist

    def _piece(self, at: Array) -> tuple[Index, Array]:
        piece = np.clip(np.searchsorted(self.places, at, side="right") - 1, 0, self.places.size - 2)
        return piece, at - self.places[piece]


def _end(near: float, far: float, chord: Array, next_chord: Array) -> Array:
    """The slope at an end, of the two chords beside it and their steps."""
    slope = ((2 * near + far) * chord - near * next_chord) / (near + far)
    turns = np.sign(slope) != np.sign(chord)
    steep = (np.sign(chord) != np.sign(next_chord)) & (np.abs(slope) > 3 * np.abs(chord))
    return np.where(turns, 0.0, np.where(steep, 3 * chord, slope))
