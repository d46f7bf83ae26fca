"""A bank of draws that everybody's learning draws on: loads alone, made when they are first asked for."""

from __future__ import annotations

import threading
from collections.abc import Callable, Collection, Mapping, Sequence
from typing import Protocol

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.keeping import Keeping
from curve_rank.rating.criteria import carried
from curve_rank.rating.draws import draw_loads
from curve_rank.rating.modelling import Modeller, content_keys
from curve_rank.study.personal import BANK, stray

ROOM = 4096
"""Draws that one exercise may have."""
KEPT_BYTES = 24 * 1024 * 1024
"""Memory for all rows."""
DrawLoads = Callable[[tuple[Variant, ...], Sequence[int]], Array]
"""Makes the loads of some draws, (numbers, variants) [kg]."""


class RowShelf(Protocol):
    """Where rows of loads stand between one run of the program and the next."""

    def take_rows(self, keys: Collection[str]) -> dict[str, Array]: ...
    def put_rows(self, values: Mapping[str, Array]) -> None: ...


def draw_here(variants: tuple[Variant, ...], numbers: Sequence[int]) -> Array:
    """Make loads of the bank in this thread."""
    return draw_loads(variants, Body(), usual_effort(), BANK, numbers)


class DrawBank:
    """Loads of the bank's draws in the default body, by variant; NaN where they are not made yet.

    Safe to share between threads.

    Parameters
    ----------
    modeller : Modeller
        Models the middle arm.
    draw : callable
        Makes what is missing.
    shelf : RowShelf, optional
    most_bytes : int
        Memory for rows.
    """

    def __init__(
        self,
        modeller: Modeller,
        draw: DrawLoads = draw_here,
        shelf: RowShelf | None = None,
        most_bytes: int = KEPT_BYTES,
    ) -> None:
        self._modeller, self._draw, self._shelf = modeller, draw, shelf
        self._rows = Keeping(most_bytes)
        self._making = threading.Lock()

    def strays(self, variants: Sequence[Variant], numbers: Sequence[int]) -> dict[str, Array]:
        """How each of some draws strays on each variant that can be modelled, by id [1]."""
        models = self._modeller.able(tuple(dict.fromkeys(variants)), Body(), effort=usual_effort())
        able = {m.variant.id: m for m in models}
        loads = self.loads(tuple(m.variant for m in models), numbers)
        hands = {key: carried(m.variant) * m.body.mass for key, m in able.items()}
        return {key: stray(loads[key], hands[key], m.load) for key, m in able.items()}

    def loads(self, variants: tuple[Variant, ...], numbers: Sequence[int]) -> dict[str, Array]:
        """Loads of some draws by variant id, (numbers,) each [kg]; what is missing is made together."""
        if not variants:
            return {}
        keys = dict(zip(content_keys(variants, Body(), usual_effort()), variants, strict=True))
        at = np.asarray(numbers)
        with self._making:  # two who ask for the same would make it twice
            rows = self._found(keys)
            lacking = [key for key in keys if np.isnan(rows[key][at]).any()]
            if lacking:
                needed = np.isnan(np.stack([rows[key][at] for key in lacking])).any(axis=0)
                wanted = at[needed]
                made = self._draw(tuple(keys[key] for key in lacking), wanted.tolist())
                for n, key in enumerate(lacking):
                    rows[key] = rows[key].copy()
                    rows[key][wanted] = made[:, n]
                self._rows.keep({key: rows[key] for key in lacking})
                if self._shelf:
                    self._shelf.put_rows({key: rows[key] for key in lacking})
        return {variant.id: rows[key][at] for key, variant in keys.items()}

    def _found(self, keys: Mapping[str, Variant]) -> dict[str, Array]:
        rows: dict[str, Array] = dict(self._rows.found(list(keys)))
        missing = [key for key in keys if key not in rows]
        if missing and self._shelf:
            shelved = {k: row for k, row in self._shelf.take_rows(missing).items() if row.shape == (ROOM,)}
            self._rows.keep(shelved)
            rows |= shelved
        return rows | {key: np.full(ROOM, np.nan) for key in keys if key not in rows}
