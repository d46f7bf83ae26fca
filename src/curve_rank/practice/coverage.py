"""Coverage: which heads a set-up loads long, in the middle of their length, and short.

A cell is a head at a length. A set-up covers it when it places at least a part of what the best set-up of the
whole catalogue places there, so that covering does not depend on what happens to be in a room.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array, BoolArray
from curve_rank.arm.readings import LENGTHS, Readings
from curve_rank.practice.rules import rule
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import targets
from curve_rank.study.compare import median_tension

ASKED = ("long", "short")
"""Lengths that a set is asked to load; the middle is shown."""


@dataclass(frozen=True)
class Cell:
    """A head at a length."""

    head: str
    length: str

    @property
    def name(self) -> str:
        """In words."""
        return f"{targets()[self.head].name.lower()} {self.length}"


@dataclass(frozen=True)
class Coverage:
    """What set-ups place where.

    Attributes
    ----------
    cells : tuple of Cell
        Every head of the targets at every length.
    placed : array, shape (set-ups, cells)
        Tension over the best of the catalogue [1].
    best : array, shape (cells,)
        That best [of peak force].
    """

    cells: tuple[Cell, ...]
    placed: Array
    best: Array

    def of(self, rows: Sequence[int], heads: Sequence[str] | None = None) -> Coverage:
        """That of some of the set-ups, in their order; and of some heads alone where they are named."""
        keep = [n for n, cell in enumerate(self.cells) if heads is None or cell.head in heads]
        return Coverage(
            tuple(self.cells[n] for n in keep), self.placed[np.ix_(list(rows), keep)], self.best[keep]
        )

    @property
    def covered(self) -> BoolArray:
        """Whether each set-up covers each cell, (set-ups, cells)."""
        return np.asarray(self.placed >= rule("coverage.least") - 1e-9)

    @property
    def asked(self) -> BoolArray:
        """Whether each cell is asked for, (cells,)."""
        return np.array([cell.length in ASKED for cell in self.cells])


def cells_of(heads: Sequence[str]) -> tuple[Cell, ...]:
    """Every cell of some heads, head by head."""
    return tuple(Cell(head, length) for head in heads for length in LENGTHS)


def heads_of(keys: Sequence[str]) -> tuple[str, ...]:
    """The heads of some targets, each once; what the model cannot tell apart stands for one."""
    heads = (head for key in keys for head in targets()[key].heads)
    return tuple(dict.fromkeys(targets()[head].judged.key for head in heads))


def coverage(
    heads: Sequence[str],
    models: Sequence[VariantModel],
    drawn: Sequence[Readings],
    best: Array | None = None,
) -> Coverage:
    """What set-ups place on heads, over the best of them.

    Nothing for heads of the other group, and for long and short of a head that hardly changes length.

    Parameters
    ----------
    heads : sequence of str
        Whose long and short lengths are to be covered.
    models : sequence of VariantModel
        The whole catalogue.
    drawn : sequence of Readings
        The fixed draws of each, S = (draws,).
    best : array, shape (cells,), optional
        The most that anything places, where the models are not all there are.
    """
    cells = cells_of(heads)
    tension = np.zeros((len(models), len(heads), len(LENGTHS)))
    for row, (modelled, readings) in enumerate(zip(models, drawn, strict=True)):
        every = median_tension(readings)
        for place, head in enumerate(heads):
            if targets()[head].group == modelled.variant.group:
                tension[row, place] = every[modelled.anatomy.index(head)]
    flat = tension.reshape(len(models), len(cells))
    best = flat.max(axis=0, initial=0.0) if best is None else best
    return Coverage(cells, flat / np.maximum(best, 1e-9), best)
