"""Scores: readings to criteria, criteria through a lens to a score.

The same arithmetic serves one modelled variant and many draws of it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.rating.criteria import Basis, Criterion
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.spreads import quantiles
from curve_rank.rating.targets import Target


@dataclass(frozen=True)
class CriterionScore:
    """One criterion of one variant: the reading, its 0–100 score and its weight in the lens."""

    criterion: Criterion
    value: float
    score: float
    weight: float


def basis_of(modelled: VariantModel, target: Target) -> Basis:
    """What criteria of one modelled variant are worked out from."""
    return Basis(modelled.readings, modelled.variant, modelled.body, target)


def score_parts(basis: Basis, lens: Lens) -> tuple[CriterionScore, ...]:
    """The parts of one variant's score, in the lens's order."""
    parts = []
    for key, weight in lens.weights:
        criterion = lens.criterion(key)
        value = criterion.value(basis)
        parts.append(CriterionScore(criterion, float(value), float(criterion.score(value, basis)), weight))
    return tuple(parts)


def score_variant(
    modelled: VariantModel, target: Target, lens: Lens
) -> tuple[float, tuple[CriterionScore, ...]]:
    """Score of a variant for a target through a lens, 0–100, and its parts.

    Depends on this variant alone: what else is listed changes nothing.
    """
    parts = score_parts(basis_of(modelled, target), lens)
    return sum(part.score * part.weight for part in parts), parts


def drawn_parts(basis: Basis, lens: Lens) -> tuple[CriterionScore, ...]:
    """The medians of the parts over draws, S = (draws,), in the lens's order."""
    used = [(lens.criterion(key), weight) for key, weight in lens.weights]
    values = [criterion.value(basis) for criterion, _ in used]
    graded = [criterion.score(value, basis) for (criterion, _), value in zip(used, values, strict=True)]
    middle = quantiles(np.stack((*values, *graded)), (0.5,))[:, 0].tolist()
    return tuple(
        CriterionScore(criterion, value, score, weight)
        for (criterion, weight), value, score in zip(
            used, middle[: len(used)], middle[len(used) :], strict=True
        )
    )


def scores(basis: Basis, lens: Lens) -> Array:
    """Scores of shape S."""
    graded = [(lens.criterion(key), weight) for key, weight in lens.weights]
    return np.asarray(sum(weight * c.score(c.value(basis), basis) for c, weight in graded))
