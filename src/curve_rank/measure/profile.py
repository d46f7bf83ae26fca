"""A machine's profile out of samples of angle and torque: one smooth curve with an interval."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.interpolate import BSpline
from scipy.linalg import cho_factor, cho_solve
from scipy.stats import norm

from curve_rank.arm.arrays import Array
from curve_rank.errors import BadInputError

DEGREE, KNOT_EVERY, PENALTY_ORDER = 3, 6.0, 2
"""Cubic pieces every so many degrees, with a penalty on changes of slope."""
STEP = 5.0
"""Between two angles of a profile [degrees]."""
LEAST_SWEEP = 20.0
"""The least range of angles that makes a profile [degrees]."""
SMOOTHNESS = np.logspace(-4, 6, 41)
INTERVAL = 0.95
"""Part of the angles at which the interval holds the true curve."""


@dataclass(frozen=True)
class Profile:
    """Torque against angle.

    Attributes
    ----------
    angle : array, shape (n,)
        Evenly spaced [degrees].
    torque, low, high : array, shape (n,)
        The smooth curve, and the interval around it [N·m].
    noise : float
        Standard deviation of one sample around the curve [N·m].
    samples : int
    """

    angle: Array
    torque: Array
    low: Array
    high: Array
    noise: float
    samples: int


def fold(angle: Array, torque: Array) -> Profile:
    """Fold samples of one or many sweeps into one smooth profile.

    A penalised cubic spline (Eilers & Marx 1996); how smooth it is, is chosen by generalised cross-validation
    (Craven & Wahba 1979), and the interval is the Bayesian one, which holds the true curve over the stated
    part of its points (Nychka 1988).

    Parameters
    ----------
    angle, torque : array, shape (samples,)
        [degrees], [N·m]

    Raises
    ------
    BadInputError
        When there is too little of it.
    """
    low, high = (float(angle.min()), float(angle.max())) if angle.size else (0.0, 0.0)
    if angle.size < 2 * DEGREE + 2 or high - low < LEAST_SWEEP:
        right = f"at least {2 * DEGREE + 2} samples over {LEAST_SWEEP:g}°"
        raise BadInputError("samples", f"{angle.size} over {high - low:.0f}°", right)
    pieces = max(2, round((high - low) / KNOT_EVERY))
    inner = np.linspace(low, high, pieces + 1)
    knots = np.concatenate(([low] * DEGREE, inner, [high] * DEGREE))
    basis = BSpline.design_matrix(np.clip(angle, low, high), knots, DEGREE)
    gram, moment = (basis.T @ basis).toarray(), np.asarray(basis.T @ torque)
    rough = np.diff(np.eye(gram.shape[0]), n=PENALTY_ORDER, axis=0)
    penalty, squares = rough.T @ rough, float(torque @ torque)
    best: tuple[float, float, float, Array] | None = None
    for smoothness in SMOOTHNESS:
        factor = cho_factor(gram + smoothness * penalty + 1e-9 * np.eye(len(gram)))
        weights = cho_solve(factor, moment)
        freedom = float(np.trace(cho_solve(factor, gram)))
        left = max(squares - 2 * float(weights @ moment) + float(weights @ gram @ weights), 0.0)
        score = angle.size * left / max(angle.size - freedom, 1e-9) ** 2
        if best is None or score < best[0]:
            best = (score, float(smoothness), left / max(angle.size - freedom, 1.0), weights)
    assert best is not None
    _, smoothness, variance, weights = best
    steps = max(2, int(np.ceil((high - low) / STEP)))
    at = np.linspace(low, high, steps + 1)
    rows = BSpline.design_matrix(at, knots, DEGREE).toarray()
    factor = cho_factor(gram + smoothness * penalty + 1e-9 * np.eye(len(gram)))
    spread = np.sqrt(variance * np.einsum("ij,ji->i", rows, cho_solve(factor, rows.T)))
    curve, width = rows @ weights, float(norm.ppf((1 + INTERVAL) / 2)) * spread
    return Profile(at, curve, curve - width, curve + width, float(np.sqrt(variance)), int(angle.size))
