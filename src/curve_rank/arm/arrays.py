"""Arrays as every module here shapes them, and the arithmetic they share.

Vectors carry their three components on the first axis, heads sit on the first axis of per-head arrays, and
the samples of a rep on the last.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
BoolArray = NDArray[np.bool_]
Index = NDArray[np.intp]
Parts = TypeVar("Parts")

DEGREE = np.pi / 180


def cross(a: Array, b: Array) -> Array:
    """Vector product with components on the first axis."""
    return np.stack((a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]))


def dot(a: Array, b: Array) -> Array:
    """Scalar product with components on the first axis."""
    return np.asarray(a[0] * b[0] + a[1] * b[1] + a[2] * b[2])


def length_of(vector: Array) -> Array:
    """Euclidean length with components on the first axis."""
    return np.asarray(np.sqrt(dot(vector, vector)))


def sin_cos(degrees: Array) -> tuple[Array, Array]:
    """Sine and cosine of angles [degrees]."""
    radians = np.deg2rad(degrees)
    return np.sin(radians), np.cos(radians)


def by_arm(values: Sequence[float | Array], reps: int) -> Array:
    """Each arm's number or numbers (…) for all its reps in a row, (…, arms · reps, 1)."""
    return np.repeat(np.stack(values, axis=-1), reps, axis=-1)[..., None]


def for_arms(reps: Index, arms: int, count: int) -> Index:
    """The places of some of an arm's `count` reps in those of several arms, each arm's in a row."""
    return np.asarray((count * np.arange(arms)[:, None] + reps).ravel())


def of_arms(parts: Parts, reps: Index) -> Parts:
    """A dataclass with some of its reps, where its numbers are several arms' (…, reps, 1)."""
    arrays = {k: v for k, v in vars(parts).items() if isinstance(v, np.ndarray) and v.shape[-2] > 1}
    cut = {name: values[..., reps, :] for name, values in arrays.items()}
    return replace(parts, **cut) if cut else parts  # type: ignore[type-var]


def smooth_step(value: Array, start: float, end: float) -> Array:
    """0 up to `start`, 1 from `end`, a smooth cubic between."""
    t = np.clip((value - start) / (end - start), 0.0, 1.0)
    result: Array = t * t * (3 - 2 * t)
    return result


def over_postures(values: Array, dimensions: int) -> Array:
    """A number of each head, (heads,), shaped to go with arrays (heads, *S) of so many dimensions S.

    Several arms' numbers are (heads, reps, 1) already and stay as they are.
    """
    return values.reshape(-1, *(1,) * dimensions) if values.ndim == 1 else values


def mean_over_rep(values: Array) -> Array:
    """Mean over the last axis by the trapezoidal rule (samples are evenly spaced in the coordinate)."""
    result: Array = (values.sum(axis=-1) - 0.5 * (values[..., 0] + values[..., -1])) / (values.shape[-1] - 1)
    return result


def midpoints(values: Array) -> Array:
    """Means of neighbours on the last axis, one fewer."""
    return np.asarray(0.5 * (values[..., 1:] + values[..., :-1]))


def of_reps(parts: Parts, reps: Any) -> Parts:
    """A dataclass of arrays (…, reps, samples), or of such dataclasses, with some of its reps."""
    return _each(parts, lambda values: values[..., reps, :])


def copy_of_reps(parts: Parts, reps: Any) -> Parts:
    """The same with memory of its own."""
    return _each(parts, lambda values: values[..., reps, :].copy())


def _each(parts: Parts, change: Callable[[Any], Any]) -> Parts:
    # Not dataclasses.replace, which asks each field anew: this is done for every variant of the catalogue.
    values = {name: getattr(parts, name) for name in parts.__dataclass_fields__}  # type: ignore[attr-defined]
    changed = {
        name: change(value) if isinstance(value, np.ndarray) else _each(value, change)
        for name, value in values.items()
    }
    return type(parts)(**changed)


def peak_between(values: Array) -> tuple[Array, Array]:
    """Where rows of samples are largest, counted in samples, and how large: by the parabola through the
    largest sample and its neighbours, so that it hardly depends on how many samples there are.

    Parameters
    ----------
    values : array, shape (rows, samples)
        Demand or effort, say.

    Returns
    -------
    place, peak : array, shape (rows,)
    """
    top, last = values.argmax(axis=1), values.shape[1] - 1
    before, most, after = (
        np.take_along_axis(values, np.clip(top + step, 0, last)[:, None], axis=1)[:, 0] for step in (-1, 0, 1)
    )
    inside = (top > 0) & (top < last)
    bend = np.where(inside, before - 2 * most + after, 0.0)
    off = np.where(bend < 0, 0.5 * (before - after) / np.where(bend < 0, bend, -1.0), 0.0)
    return top + off, most - (before - after) * off / 4


def at_place(values: Array, place: Array) -> Array:
    """Values (…, rows, samples) at places (rows,) counted in samples, linear between, shape (…, rows)."""
    first = np.minimum(place.astype(np.intp), values.shape[-1] - 2)
    rows, part = np.arange(place.size), place - first
    return np.asarray((1 - part) * values[..., rows, first] + part * values[..., rows, first + 1])
