"""Raw samples of a load cell and an angle sensor: zero, calibration, and the sweeps among them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import minimize_scalar
from scipy.special import ndtri

from curve_rank.arm.arrays import Array
from curve_rank.arm.parameters import parameter_set
from curve_rank.errors import BadInputError
from curve_rank.measure.profile import INTERVAL, LEAST_SWEEP, Profile, fold

SPEED_OVER = 0.15
"""Samples over which the speed is taken [s]."""
LEAST_SPEED = 0.15
"""Slower samples than this part of the median speed are turning points, where friction has no way."""
LAGS = (-0.05, 0.25)
"""By how much the cell may lag behind the angle [s]."""
ENDS = (1, 99)
"""Between which percentiles of the swept angles the profile is told; beyond them samples are too few."""
LAG_STEP = 1e-3
FEWEST = 20
"""Samples of a zero or of a known weight."""


@dataclass(frozen=True)
class Calibration:
    """What the cell reads with nothing on it, and how much torque a count is.

    Attributes
    ----------
    zero, zero_error : float
        With its standard error [counts].
    torque_per_count : float
        [N·m]
    part_error : float
        Standard error of that over it [1].
    """

    zero: float
    zero_error: float
    torque_per_count: float
    part_error: float


@dataclass(frozen=True)
class Swept:
    """A profile, and by how much the angle's sensor is ahead of the cell [s]."""

    profile: Profile
    lag: float


def calibration(empty: Array, loaded: Array, weight: float, lever: float) -> Calibration:
    """From the readings with nothing on the cell, and with a known weight on a known lever.

    Parameters
    ----------
    empty, loaded : array, shape (samples,)
        [counts]
    weight, lever : float
        [kg], [m]

    Raises
    ------
    BadInputError
        When there are too few readings, or the weight does not stand out from what the readings scatter.
    """
    for name, read in (("zero", empty), ("calibration", loaded)):
        if read.size < FEWEST:
            raise BadInputError(name, f"{read.size} samples", f"at least {FEWEST}")
    if not (weight > 0 and lever > 0):
        raise BadInputError("known weight", f"{weight:g} kg at {lever:g} m", "more than nothing")
    apart = float(loaded.mean() - empty.mean())
    scatter = float(np.std(empty) + np.std(loaded))
    if abs(apart) <= 3 * scatter or apart == 0:
        raise BadInputError(
            "calibration",
            f"{apart:.0f} counts between empty and loaded",
            f"more than {3 * scatter:.0f}; is the weight on it?",
        )
    zero_error, loaded_error = (float(np.std(read) / np.sqrt(read.size)) for read in (empty, loaded))
    return Calibration(
        zero=float(empty.mean()),
        zero_error=zero_error,
        torque_per_count=weight * parameter_set().number("body.gravity") * lever / apart,
        part_error=float(np.hypot(zero_error, loaded_error)) / abs(apart),
    )


def fold_sweeps(time: Array, angle: Array, counts: Array, known: Calibration) -> Swept:
    """The profile of a machine that was swept to and fro; friction, drift and lag told apart.

    How much the cell lags behind the angle is what leaves the least scatter.

    Parameters
    ----------
    time : array, shape (samples,)
        Since the zero was taken, rising [s].
    angle, counts : array, shape (samples,)
        [degrees], [counts]
    known : Calibration
        The load cell's calibration.

    Raises
    ------
    BadInputError
        When too little was swept.
    """
    right = f"at least one sweep over {LEAST_SWEEP:g}°"
    if time.size < FEWEST:
        raise BadInputError("sweeps", f"{time.size} samples", right)
    speed = _speed(time, angle)
    quick = np.abs(speed) > LEAST_SPEED * np.median(np.abs(speed))
    if not quick.any():
        raise BadInputError("sweeps", "no movement", right)
    torque, way = known.torque_per_count * (counts - known.zero), np.sign(speed)
    bounds = parameter_set().row_of("ranges.elbow")
    first, last = np.clip(np.percentile(angle[quick], ENDS), bounds[0], bounds[1]).tolist()
    quick &= (angle >= first) & (angle <= last)
    if not quick.any():
        raise BadInputError("sweeps", "none within what an elbow does", right)
    both = way[quick].min() < 0 < way[quick].max()
    again = both and _turns(way[quick]) >= 2

    def folded(lag: float) -> Profile:
        ahead = np.clip(np.interp(time - lag, time, angle), first, last)
        if not both:
            return fold(ahead[quick], torque[quick])
        return fold(ahead[quick], torque[quick], way[quick], time[quick] if again else None)

    lag = 0.0
    if again:
        found = minimize_scalar(
            lambda one: folded(one).noise, bounds=LAGS, method="bounded", options={"xatol": LAG_STEP}
        )
        lag = float(found.x)
    return Swept(_widened(folded(lag), known), lag)


def _widened(profile: Profile, known: Calibration) -> Profile:
    """The interval with what the calibration is unsure of."""
    sure = profile.high - profile.torque
    unsure = np.hypot(known.zero_error * known.torque_per_count, known.part_error * profile.torque)
    width = np.hypot(sure, float(ndtri((1 + INTERVAL) / 2)) * unsure)
    return replace(profile, low=profile.torque - width, high=profile.torque + width)


def _speed(time: Array, angle: Array) -> Array:
    """How fast the elbow bends around each sample [degrees/s]; gaps in the samples do no harm."""
    before = np.searchsorted(time, time - SPEED_OVER)
    after = np.searchsorted(time, time + SPEED_OVER, side="right") - 1
    passed = np.maximum(time[after] - time[before], 1e-6)
    return np.asarray((angle[after] - angle[before]) / passed)


def _turns(way: Array) -> int:
    return int((np.diff(way) != 0).sum())
