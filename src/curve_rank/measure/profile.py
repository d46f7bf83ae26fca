"""A machine's profile out of samples of angle and torque: smooth curves with an interval, friction apart."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.interpolate import BSpline
from scipy.linalg import block_diag, cho_factor, cho_solve
from scipy.sparse import csr_array, hstack
from scipy.special import ndtri

from curve_rank.arm.arrays import Array
from curve_rank.errors import BadInputError

DEGREE, KNOT_EVERY, PENALTY_ORDER = 3, 6.0, 2
"""Cubic pieces every so many degrees, with a penalty on changes of slope."""
RIDGE = 1e-9
STEP = 5.0
"""Between two angles of a profile [degrees]."""
LEAST_SWEEP = 20.0
"""The least range of angles that makes a profile [degrees]."""
SMOOTHNESS = np.logspace(-4, 6, 41)
INTERVAL = 0.99
"""Part of the angles at which the interval holds the true curve."""


@dataclass(frozen=True)
class Profile:
    """Torque against angle.

    Attributes
    ----------
    angle : array, shape (n,)
        Evenly spaced [degrees].
    torque, low, high : array, shape (n,)
        The smooth curve, and the interval around it [N·m]; between bending and straightening where the
        samples tell them apart.
    friction : array, shape (n,)
        By how much bending asks more than the curve, and straightening less [N·m], evenly more or less along
        it; zero where the samples do not tell them apart.
    drift : float
        Of the torque's zero [N·m/s].
    noise : float
        Standard deviation of one sample around the curve [N·m].
    samples : int
    """

    angle: Array
    torque: Array
    low: Array
    high: Array
    friction: Array
    drift: float
    noise: float
    samples: int

    @property
    def bending(self) -> Array:
        """While the elbow bends, (n,) [N·m]."""
        return np.asarray(self.torque + self.friction)

    @property
    def straightening(self) -> Array:
        """While the elbow straightens, (n,) [N·m]."""
        return np.asarray(self.torque - self.friction)


def fold(angle: Array, torque: Array, way: Array | None = None, time: Array | None = None) -> Profile:
    """Fold samples of one or many sweeps into one smooth profile.

    A penalised cubic spline (Eilers & Marx 1996); how smooth it is, is chosen by generalised cross-validation
    (Craven & Wahba 1979), and the interval is the Bayesian one, which holds the true curve over the stated
    part of its points (Nychka 1988). With the way of each sample a straight line, added while bending and
    taken off while straightening, tells friction apart; with times the zero may drift evenly.

    Parameters
    ----------
    angle, torque : array, shape (samples,)
        [degrees], [N·m]
    way : array, shape (samples,), optional
        1 while the elbow bends, −1 while it straightens.
    time : array, shape (samples,), optional
        Since the zero was taken [s].

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
    basis = csr_array(BSpline.design_matrix(np.clip(angle, low, high), knots, DEGREE))
    rough = np.diff(np.eye(basis.shape[1]), n=PENALTY_ORDER, axis=0)
    bends = rough.T @ rough
    columns, penalties = [basis], [bends]
    if way is not None:
        columns.append(csr_array(np.stack((way, way * angle / high), axis=1)))
        penalties.append(np.zeros((2, 2)))
    if time is not None:
        columns.append(csr_array(time.reshape(-1, 1)))
        penalties.append(np.zeros((1, 1)))
    design = csr_array(hstack(columns))
    weights, covariance, variance = _solved(design, torque, block_diag(*penalties))
    steps = max(2, int(np.ceil((high - low) / STEP)))
    at, size = np.linspace(low, high, steps + 1), basis.shape[1]
    rows = BSpline.design_matrix(at, knots, DEGREE).toarray()
    spread = np.sqrt(np.einsum("ij,jk,ik->i", rows, covariance[:size, :size], rows))
    curve, width = rows @ weights[:size], float(ndtri((1 + INTERVAL) / 2)) * spread
    return Profile(
        angle=at,
        torque=curve,
        low=curve - width,
        high=curve + width,
        friction=np.zeros_like(at) if way is None else weights[size] + weights[size + 1] * at / high,
        drift=float(weights[-1]) if time is not None else 0.0,
        noise=float(np.sqrt(variance)),
        samples=int(angle.size),
    )


def _solved(design: csr_array, torque: Array, penalty: Array) -> tuple[Array, Array, float]:
    """Weights, their covariance and the noise's variance, as smooth as generalised cross-validation says."""
    gram, moment = (design.T @ design).toarray(), np.asarray(design.T @ torque)
    count, squares = torque.size, float(torque @ torque)
    best: tuple[float, Array, Array, float] | None = None
    for smoothness in SMOOTHNESS:
        factor = cho_factor(gram + smoothness * penalty + RIDGE * np.eye(len(gram)))
        weights = cho_solve(factor, moment)
        freedom = float(np.trace(cho_solve(factor, gram)))
        left = max(squares - 2 * float(weights @ moment) + float(weights @ gram @ weights), 0.0)
        score = count * left / max(count - freedom, RIDGE) ** 2
        if best is None or score < best[0]:
            variance = left / max(count - freedom, 1.0)
            best = (score, weights, variance * cho_solve(factor, np.eye(len(gram))), variance)
    assert best is not None
    return best[1:]
