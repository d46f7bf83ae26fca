"""What a rep amounts to: hard spot, slack, evenness, each head's share, length and tension, joint notes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields
from itertools import pairwise
from typing import Any

import numpy as np

from curve_rank.arm.arrays import (
    Array,
    BoolArray,
    at_place,
    cross,
    dot,
    length_of,
    mean_over_rep,
    midpoints,
    over_postures,
    peak_between,
    smooth_step,
)
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep import RepBatch
from curve_rank.arm.rep_setup import in_hand

THIRDS = ("first", "middle", "last")
"""Parts of the rep, from its stretched end."""
LENGTHS = ("long", "middle", "short")
"""Parts of a head's own range."""
OF_HEADS = (
    "work_share",
    "length_at_hard_spot",
    "hard_length",
    "mean_drive",
    "peak_drive",
    "mean_tension",
    "long_tension",
    "long_active",
    "short_tension",
    "excursion",
    "shortest",
    "longest",
)
NOTES = ("biceps_tendon", "elbow_compression", "shoulder_end", "wrist_forced", "lower_back")


@dataclass(frozen=True)
class Readings:
    """Readings of one rep (S is empty), of a batch (reps,) or of draws (draws,) or (draws, reps).

    Attributes
    ----------
    load : array, shape S
        Load in use [kg].
    limited_by : array of int, shape S
        The link that gives out first, as a place in `rep_setup.LINKS`.
    peak_demand : array, shape S
        [N·m]
    hard_at, effort_peak_at : array, shape S
        Where demand and effort peak, as part of the rep from its stretched end [1].
    hard_spot, effort_peak : array, shape S
        Angle of the rep coordinate there [degrees].
    travel : array, shape S
        How far the rep coordinate goes [degrees].
    slack_share : array, shape S
        Part of the rep under 20 % of the peak demand [1].
    evenness : array, shape S
        Mean demand over peak demand [1].
    demand_stretched, demand_short : array, shape S
        Demand at the stretched and at the short end over its peak; below 0 where it reverses [1].
    moment_per_kg : array, shape S
        Largest moment that a kilogram of load asks at the rep's joint [N·m/kg].
    in_hand : array, shape S
        What one hand holds, its part of the body included [kg].
    multi_joint : array, shape S
        Shoulder work over shoulder and elbow work [1].
    feasible_share : array, shape S
        Part of the rep in which some drives hold the load [1].
    work_share : array, shape (heads, *S)
        Part of the active moment that the target group, with whatever helps it, makes at the rep's joint [1].
    length_at_hard_spot, shortest, longest, excursion : array, shape (heads, *S)
        Percent of the head's own range; excursion is longest minus shortest.
    hard_length : array, shape (heads, *S)
        Mean percent of range where the demand is near its peak: two peaks as high both count.
    mean_drive, peak_drive : array, shape (heads, *S)
        [1]
    mean_tension : array, shape (heads, *S)
        Active force over peak force [1].
    long_tension, short_tension : array, shape (heads, *S)
        Tension of the fibres, active and passive, over peak force, weighted towards long or short lengths;
        0 of a head that hardly changes length in the rep [1].
    long_active : array, shape (heads, *S)
        The active part of long-length tension [1].
    biceps_force : array, shape S
        Largest force of both biceps heads together, at whatever angle [N].
    biceps_tendon : array, shape S
        Largest force of both biceps heads with the elbow near straight and the palm up [N].
    elbow_compression : array, shape S
        Largest triceps force with the elbow bent deep [N]: the tendon then wraps the bone and presses the
        joint.
    shoulder_end : array, shape S
        Largest load about an unsupported shoulder near an end of its range, overhead or behind [N·m].
    wrist_forced : array, shape S
        Largest load on a hand that a straight bar turns past an easy turn [N].
    lower_back : array, shape S
        Largest moment of the load about the hips when nothing supports the trunk [N·m].
    """

    load: Array
    limited_by: Array
    peak_demand: Array
    hard_at: Array
    hard_spot: Array
    effort_peak_at: Array
    effort_peak: Array
    travel: Array
    slack_share: Array
    evenness: Array
    demand_stretched: Array
    demand_short: Array
    moment_per_kg: Array
    in_hand: Array
    multi_joint: Array
    feasible_share: Array
    work_share: Array
    length_at_hard_spot: Array
    hard_length: Array
    mean_drive: Array
    peak_drive: Array
    mean_tension: Array
    long_tension: Array
    long_active: Array
    short_tension: Array
    excursion: Array
    shortest: Array
    longest: Array
    biceps_force: Array
    biceps_tendon: Array
    elbow_compression: Array
    shoulder_end: Array
    wrist_forced: Array
    lower_back: Array

    def of(self, i: int) -> Readings:
        """Those at one place of the last axis of S: one rep of a batch, one variant of its draws."""
        return self._each(lambda values: values[..., i])

    def by_draw(self, draws: int) -> Readings:
        """Those of a batch (draws · reps,), each draw's in a row, as S = (draws, reps)."""
        return self._each(lambda values: values.reshape(*values.shape[:-1], draws, -1))

    def first(self, draws: int) -> Readings:
        """Those of the first draws, where S is (draws,)."""
        return self._each(lambda values: values[..., :draws])

    def head(self, i: int) -> Readings:
        """The same with every per-head array cut down to one head's, shape S."""
        return Readings(
            **{name: values[i] if name in OF_HEADS else values for name, values in vars(self).items()}
        )

    @property
    def load_median(self) -> float:
        """The load's median, where S is (draws,) [kg]."""
        return float(np.median(self.load))

    def as_rows(self) -> Array:
        """All numbers of draws, S = (draws,), as one table (rows, draws) in single precision."""
        parts = [np.atleast_2d(getattr(self, f.name)) for f in fields(self)]
        return np.concatenate(parts).astype(np.float32)

    @classmethod
    def from_rows(cls, rows: Array) -> Readings:
        """Readings back from `as_rows`.

        Raises
        ------
        ValueError
            When it is not such a table.
        """
        names = [f.name for f in fields(cls)]
        heads, rest = divmod(rows.shape[0] - (len(names) - len(OF_HEADS)), len(OF_HEADS))
        if rows.ndim != 2 or rest or heads < 1:
            raise ValueError(f"a table of shape {rows.shape} holds no readings")
        found, at = {}, 0
        for name in names:
            size = heads if name in OF_HEADS else 1
            found[name] = rows[at : at + size] if name in OF_HEADS else rows[at]
            at += size
        return cls(**found)

    def in_single(self) -> Readings:
        """The same in single precision, to be kept."""
        return self._each(lambda values: np.asarray(values, dtype=np.float32))

    def _each(self, change: Callable[[Array], Array]) -> Readings:
        return Readings(**{name: change(values) for name, values in vars(self).items()})


def side_by_side(parts: Sequence[Readings]) -> Readings:
    """Readings joined along the last axis of S."""
    return Readings(
        **{f.name: np.concatenate([getattr(p, f.name) for p in parts], axis=-1) for f in fields(Readings)}
    )


def one_after_another(parts: Sequence[Readings]) -> Readings:
    """Readings joined along the first axis of S."""
    return Readings(
        **{
            f.name: np.concatenate([getattr(p, f.name) for p in parts], axis=1 if f.name in OF_HEADS else 0)
            for f in fields(Readings)
        }
    )


def read_reps(
    batch: RepBatch, *, trunk_supported: tuple[bool, ...], lengths: LengthScale | None = None
) -> Readings:
    """Readings of every rep of a batch.

    Parameters
    ----------
    batch : RepBatch
        The reps, modelled.
    trunk_supported : tuple of bool
        Per rep, whether a bench, the floor or the hands carry the trunk.
    lengths : LengthScale, optional
        Where "long" begins, other than the shipped scale.
    """
    last = batch.demand.shape[1] - 1
    (hard, peak), (effort_peak, _) = peak_between(batch.demand), peak_between(batch.effort)
    loaded = mean_over_rep(np.maximum(batch.demand, 0.0))
    return Readings(
        load=batch.load,
        limited_by=batch.limits.argmin(axis=0),
        peak_demand=peak,
        hard_at=hard / last,
        hard_spot=at_place(batch.angle, hard),
        effort_peak_at=effort_peak / last,
        effort_peak=at_place(batch.angle, effort_peak),
        travel=np.abs(batch.angle[:, -1] - batch.angle[:, 0]),
        slack_share=share_below(batch.demand, _slack_threshold(peak)[:, None]),
        evenness=np.where(peak > 0, loaded / np.maximum(peak, 1e-9), 0.0),
        demand_stretched=batch.demand[:, 0] / np.maximum(peak, 1e-9),
        demand_short=batch.demand[:, -1] / np.maximum(peak, 1e-9),
        moment_per_kg=batch.demand_per_kg.max(axis=1),
        in_hand=np.array(
            [in_hand(setup, batch.body, kg) for setup, kg in zip(batch.setups, batch.load, strict=True)]
        ),
        multi_joint=_multi_joint(batch),
        feasible_share=batch.feasible.mean(axis=1),
        **_of_heads(batch, hard, lengths or length_scale()),
        **_joint_notes(batch, np.array(trunk_supported)),
    )


def third_of(part: float) -> str:
    """Which of `THIRDS` a part of the rep lies in."""
    return THIRDS[min(2, int(3 * part))]


@dataclass(frozen=True)
class LengthScale:
    """Where "long" begins, weight 0, and is whole, weight 1, as parts of a head's range; short mirrors it.

    Of several arms together each is an array (reps, 1).
    """

    start: float | Array
    end: float | Array

    def long(self, percent: Array) -> Array:
        """Weight of long lengths: straight from 0, without a ceiling."""
        return np.asarray(np.maximum(percent / 100 - self.start, 0.0) / (self.end - self.start))

    def short(self, percent: Array) -> Array:
        """Weight of short lengths: the mirror."""
        return self.long(100 - percent)


def length_scale() -> LengthScale:
    """The shipped one."""
    numbers = parameter_set().number
    return LengthScale(numbers("readings.long_from"), numbers("readings.long_to"))


def length_weights(percent: Array) -> dict[str, Array]:
    """Weights of long, middling and short lengths, by the names of `LENGTHS`; they add up to 1."""
    scale = length_scale()
    long, short = np.minimum(scale.long(percent), 1), np.minimum(scale.short(percent), 1)
    return dict(zip(LENGTHS, (long, np.maximum(1 - long - short, 0), short), strict=True))


def share_below(values: Array, threshold: Array) -> Array:
    """Part of the last axis over which `values`, linear between samples, lie under `threshold` [1]."""
    gap = values - threshold
    start, end = gap[..., :-1], gap[..., 1:]
    crossing = np.abs(start) / np.maximum(np.abs(start) + np.abs(end), 1e-12)
    part = np.where(start < 0, np.where(end < 0, 1.0, crossing), np.where(end < 0, 1 - crossing, 0.0))
    return np.asarray(part.mean(axis=-1))


def slack_stretches(demand: Array) -> tuple[tuple[float, float], ...]:
    """Parts of one rep where its demand (samples,) lies under 20 % of its peak, linear between samples."""
    gap = demand - _slack_threshold(float(peak_between(demand[None])[1][0]))
    positions = np.linspace(0, 1, demand.size)
    crossings = np.flatnonzero(np.sign(gap[:-1]) * np.sign(gap[1:]) < 0)
    edges = [
        positions[k] + (positions[k + 1] - positions[k]) * gap[k] / (gap[k] - gap[k + 1]) for k in crossings
    ]
    bounds = [0.0, *(float(e) for e in edges), 1.0]
    return tuple((a, b) for a, b in pairwise(bounds) if np.interp((a + b) / 2, positions, gap) < 0)


def _slack_threshold(peak: Any) -> Any:
    return parameter_set().number("readings.slack_below") * peak


def _of_heads(batch: RepBatch, hard: Array, lengths: LengthScale) -> dict[str, Array]:
    """Every per-head reading of every rep, arrays of shape (heads, reps)."""
    percent = batch.geometry.percent
    peak_force = over_postures(batch.anatomy.peak_force, 2) * batch.body.force_scale
    tension = batch.force / peak_force
    along = peak_force * over_postures(batch.anatomy.cos_pennation, 2)
    active, whole = batch.force / along, (batch.force + batch.passive_force) / along
    excursion = np.ptp(percent, axis=2)
    part = batch.demand / np.maximum(batch.demand.max(axis=1, keepdims=True), 1e-9)
    near_peak = np.maximum(part - parameter_set().number("readings.hard_above"), 1e-9)
    moves = excursion >= 100 * parameter_set().number("readings.least_excursion")
    moment = mean_over_rep(np.maximum(batch.moment, 0.0))
    others = mean_over_rep(np.maximum(batch.other_moment, 0.0))
    return {
        "work_share": moment / np.maximum(moment.sum(axis=0) + others, 1e-12),
        "length_at_hard_spot": at_place(percent, hard),
        "hard_length": mean_over_rep(percent * near_peak) / mean_over_rep(near_peak),
        "mean_drive": mean_over_rep(batch.drive),
        "peak_drive": batch.drive.max(axis=2),
        "mean_tension": mean_over_rep(tension),
        "long_tension": moves * mean_over_rep(whole * lengths.long(percent)),
        "long_active": moves * mean_over_rep(active * lengths.long(percent)),
        "short_tension": moves * mean_over_rep(whole * lengths.short(percent)),
        "excursion": excursion,
        "shortest": percent.min(axis=2),
        "longest": percent.max(axis=2),
    }


def shoulder_turns(batch: RepBatch) -> Array:
    """Turn of the upper arm from sample to sample as a rotation vector, (3, reps, samples − 1) [rad]."""
    upper, axis = batch.frame.upper_arm, batch.frame.elbow_axis
    axes = (upper, axis, cross(axis, upper))
    return np.asarray(0.5 * sum(cross(a[..., :-1], a[..., 1:]) for a in axes))


def _multi_joint(batch: RepBatch) -> Array:
    """Shoulder work over all work; about every axis of the shoulder."""
    outside = batch.external.static.elbow + batch.load[:, None] * batch.external.per_kg.elbow
    elbow = np.abs(midpoints(outside) * np.diff(np.deg2rad(batch.posture.elbow))).sum(axis=1)
    shoulder = np.abs(dot(midpoints(batch.shoulder_moment), shoulder_turns(batch))).sum(axis=1)
    return np.asarray(shoulder / np.maximum(shoulder + elbow, 1e-12))


def _unsupported(batch: RepBatch) -> BoolArray:
    """Reps whose upper arm nothing but the shoulder holds, (reps, 1)."""
    return np.array([[not setup.upper_arm_supported] for setup in batch.setups])


def _joint_notes(batch: RepBatch, trunk_supported: Array) -> dict[str, Array]:
    """What the joints bear, by the names of `NOTES`, arrays of shape (reps,)."""
    posture, anatomy, parameters = batch.posture, batch.anatomy, parameter_set()

    def rises(values: Array, note: str) -> Array:
        return smooth_step(values, *parameters.row_of(f"joint_notes.{note}"))

    force = batch.force + batch.passive_force
    biceps = force[[anatomy.index("biceps_long"), anatomy.index("biceps_short")]].sum(axis=0)
    straight = (1 - rises(posture.elbow, "straight_elbow")) * (1 - rises(posture.forearm, "palm_up"))
    triceps = force[anatomy.sign < 0].sum(axis=0)
    straight_bar = np.array([setup.grip == "straight_bar" for setup in batch.setups])
    at_end = np.maximum(rises(posture.shoulder, "overhead"), rises(-posture.shoulder, "behind"))
    held = batch.shoulder_moment - dot(batch.shoulder_moment, batch.frame.upper_arm) * batch.frame.upper_arm
    at_end = np.where(_unsupported(batch), at_end * length_of(held), 0.0)
    forced = rises(np.abs(posture.forearm), "palm_forced") * length_of(batch.external.pull(batch.load))
    return {
        "biceps_force": biceps.max(axis=1),
        "biceps_tendon": (biceps * straight).max(axis=1),
        "elbow_compression": (triceps * rises(posture.elbow, "deep_bend")).max(axis=1),
        "shoulder_end": at_end.max(axis=1),
        "wrist_forced": np.where(straight_bar, forced.max(axis=1), 0.0),
        "lower_back": np.where(trunk_supported, 0.0, np.abs(batch.external.back(batch.load)).max(axis=1)),
    }
