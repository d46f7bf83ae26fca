"""What each number of the model alone does to every exercise's load."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.interpolate import PchipInterpolator

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.draws import SETUP, one_off, uncertain
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.keeping import Keeping
from curve_rank.rating.criteria import carried
from curve_rank.rating.draws import loads_of_arms
from curve_rank.rating.modelling import content_keys
from curve_rank.study.draw_bank import RowShelf
from curve_rank.study.personal import stray

STOPS = (-2.0, -1.0, 0.0, 1.0, 2.0)
"""By how many spreads a number is off; between them the effect follows a monotone cubic, beyond them a
line."""
KEPT_BYTES = 8 * 1024 * 1024


def numbers() -> tuple[str, ...]:
    """Numbers that a house may say something of.

    Not how a thing was set up, nor how long somebody's arm is for their height: both are each person's own,
    and come to nothing over a house.
    """
    return tuple(name for name in uncertain() if name not in SETUP and not name.startswith("body."))


@dataclass(frozen=True)
class Effects:
    """How the logarithms of loads follow the numbers, each alone.

    Attributes
    ----------
    variants : tuple of str
    names : tuple of str
        Of the numbers.
    table : array, shape (numbers, stops, exercises)
        Logarithm of what the hands hold, over the middle arm's [1].
    """

    variants: tuple[str, ...]
    names: tuple[str, ...]
    table: Array

    def at(self, number: int, spreads: Array | float) -> Array:
        """What one number does, (…, exercises) [1]; by how many spreads it is off."""
        inside = np.clip(spreads, STOPS[0], STOPS[-1])
        beyond = np.asarray(spreads) - inside
        return np.asarray(self._curves[number](inside) + beyond[..., None] * self._slopes[number](inside))

    def rise(self, number: int, spreads: float) -> Array:
        """How that rises with one spread more, (exercises,) [1]."""
        return np.asarray(self._slopes[number](float(np.clip(spreads, STOPS[0], STOPS[-1]))))

    def whole(self, spreads: Array) -> Array:
        """What all numbers do together, (exercises,) [1]."""
        each = [self.at(k, float(value)) for k, value in enumerate(spreads)]
        return np.asarray(np.sum(each, axis=0))

    def slopes(self, spreads: Array) -> Array:
        """How that rises with each of them, (exercises, numbers) [1]."""
        return np.stack([self.rise(k, float(value)) for k, value in enumerate(spreads)], axis=1)

    @cached_property
    def _curves(self) -> list[PchipInterpolator]:
        return [PchipInterpolator(STOPS, rows, axis=0) for rows in self.table]

    @cached_property
    def _slopes(self) -> list[PchipInterpolator]:
        return [curve.derivative() for curve in self._curves]


class EffectTable:
    """Effects of all numbers in the default body, by variant: made when they are first asked for.

    Parameters
    ----------
    shelf : RowShelf, optional
    """

    def __init__(self, shelf: RowShelf | None = None) -> None:
        self._shelf, self._rows = shelf, Keeping(KEPT_BYTES)

    def of(self, variants: Sequence[Variant]) -> Effects:
        """Effects on variants that can be modelled."""
        body, effort, names = Body(), usual_effort(), numbers()
        shape = (len(names), len(STOPS))
        keys = {
            f"one number off {len(names)} {key}": one
            for key, one in zip(content_keys(tuple(variants), body, effort), variants, strict=True)
        }
        rows: dict[str, Array] = dict(self._rows.found(list(keys)))
        if self._shelf and (lacking := [key for key in keys if key not in rows]):
            rows |= {k: row for k, row in self._shelf.take_rows(lacking).items() if row.shape == shape}
        missing = {key: one for key, one in keys.items() if key not in rows}
        if missing:
            made = _made(tuple(missing.values()))
            new = {key: made[n] for n, key in enumerate(missing)}
            rows |= new
            if self._shelf:
                self._shelf.put_rows(new)
        self._rows.keep(rows)
        table = np.stack([rows[key] for key in keys], axis=-1) if keys else np.zeros((*shape, 0))
        return Effects(tuple(one.id for one in variants), names, table)


def _made(variants: tuple[Variant, ...]) -> Array:
    """By variant what each number does at every stop, (variants, numbers, stops) [1]."""
    body, names = Body(), numbers()
    places = [uncertain().index(name) for name in names]
    arms = [one_off(0, 0.0)] + [one_off(at, stop) for at in places for stop in STOPS if stop]
    loads = loads_of_arms(variants, body, usual_effort(), np.stack(arms))
    table = np.zeros((len(variants), len(names), len(STOPS)))
    off = [n for n, stop in enumerate(STOPS) if stop]
    for n, variant in enumerate(variants):
        strays = stray(loads[:, n], carried(variant) * body.mass, float(loads[0, n]))
        table[n][:, off] = strays[1:].reshape(len(names), len(off))
    return table
