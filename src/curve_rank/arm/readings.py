"""What a rep amounts to: hard spot, slack, evenness, each head's share, length and tension, joint notes."""

from __future__ import annotations

from dataclasses import dataclass, fields
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.muscle import smooth_step
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import cross, dot
from curve_rank.arm.rep import RepBatch

Array = NDArray[np.float64]

THIRDS = ("long", "middle", "short")


@dataclass(frozen=True)
class HeadReading:
    """One head over one rep at the load in use.

    Attributes
    ----------
    share : float
        Part of the active moment that the target group, with any helpers, makes at the rep's joint [1].
    length_at_hard_spot : float
        Percent of the head's own range.
    mean_drive, mean_tension, long_tension, short_tension : float
        Over the rep; tension is active force over peak force, weighted towards long or short lengths [1].
    excursion : float
        Longest minus shortest length, percent of range.
    shortest, longest : float
        Percent of range.
    """

    share: float
    length_at_hard_spot: float
    mean_drive: float
    peak_drive: float
    mean_tension: float
    long_tension: float
    short_tension: float
    excursion: float
    shortest: float
    longest: float


@dataclass(frozen=True)
class JointNotes:
    """What the joints bear.

    Attributes
    ----------
    biceps_tendon : float
        Largest force of both biceps heads with the elbow within 30° of straight and the palm up [N].
    elbow_compression : float
        Largest triceps force with the elbow bent deep, weighted from 100° to 120° [N]: the tendon then
        wraps the bone and presses the joint.
    shoulder_end : float
        How far the shoulder goes past 160° overhead or 40° behind [degrees].
    wrist_forced : float
        How far a straight bar turns the forearm past 75° of palm up or down [degrees].
    lower_back : float
        Largest moment of the load about the hips when nothing supports the trunk [N·m].
    """

    biceps_tendon: float
    elbow_compression: float
    shoulder_end: float
    wrist_forced: float
    lower_back: float


@dataclass(frozen=True)
class Readings:
    """One rep's readings; per-head entries in the anatomy's order.

    Attributes
    ----------
    hard_spot : float
        Angle of the rep coordinate at the peak demand [degrees].
    hard_at, effort_peak_at : float
        Where demand and effort peak, as part of the rep from its stretched end [1].
    hard_third : str
        long, middle or short.
    effort_peak : float
        Angle at the peak effort [degrees].
    slack : tuple of (float, float)
        Stretches of the rep under 20 % of the peak demand, as parts of the rep.
    slack_share, evenness : float
        [1]
    multi_joint : float
        Shoulder work over shoulder and elbow work [1].
    """

    load: float
    limited_by: str
    peak_demand: float
    hard_spot: float
    hard_at: float
    hard_third: str
    effort_peak: float
    effort_peak_at: float
    slack: tuple[tuple[float, float], ...]
    slack_share: float
    evenness: float
    multi_joint: float
    feasible_share: float
    heads: tuple[HeadReading, ...]
    joints: JointNotes


@dataclass(frozen=True)
class ReadingTable:
    """The readings of all reps of a batch as arrays.

    Attributes
    ----------
    heads : dict of array, shape (heads, reps)
        By the names of `HeadReading`.
    joints : dict of array, shape (reps,)
        By the names of `JointNotes`.
    whole : dict of array, shape (reps,)
        peak_demand, slack_share, evenness, multi_joint, feasible_share; hard and effort_peak as indices.
    """

    batch: RepBatch
    heads: dict[str, Array]
    joints: dict[str, Array]
    whole: dict[str, Array]

    def rep(self, i: int) -> Readings:
        """The readings of one rep."""
        whole = {name: values[i] for name, values in self.whole.items()}
        hard, hardest_effort = int(whole["hard"]), int(whole["effort_peak"])
        last = self.batch.demand.shape[1] - 1
        limits = self.batch.limits_of(i)
        names = [f.name for f in fields(HeadReading)]
        rows = np.stack([self.heads[name][:, i] for name in names], axis=1).tolist()
        return Readings(
            load=float(self.batch.load[i]),
            limited_by=min(limits, key=lambda name: limits[name]),
            peak_demand=float(whole["peak_demand"]),
            hard_spot=float(self.batch.angle[i, hard]),
            hard_at=hard / last,
            hard_third=THIRDS[min(2, int(3 * hard / last))],
            effort_peak=float(self.batch.angle[i, hardest_effort]),
            effort_peak_at=hardest_effort / last,
            slack=_stretches_below(self.batch.demand[i], _slack_threshold(float(whole["peak_demand"]))),
            slack_share=float(whole["slack_share"]),
            evenness=float(whole["evenness"]),
            multi_joint=float(whole["multi_joint"]),
            feasible_share=float(whole["feasible_share"]),
            heads=tuple(HeadReading(*row) for row in rows),
            joints=JointNotes(**{name: float(values[i]) for name, values in self.joints.items()}),
        )


def mean_over_rep(values: Array) -> Array:
    """Mean over the last axis by the trapezoidal rule (samples are evenly spaced in the coordinate)."""
    result: Array = (values.sum(axis=-1) - 0.5 * (values[..., 0] + values[..., -1])) / (values.shape[-1] - 1)
    return result


def read_reps(batch: RepBatch, *, trunk_supported: tuple[bool, ...]) -> ReadingTable:
    """Readings of every rep of a batch.

    Parameters
    ----------
    batch : RepBatch
    trunk_supported : tuple of bool
        Per rep, whether a bench, the floor or the hands carry the trunk.
    """
    peak = batch.demand.max(axis=1)
    loaded = mean_over_rep(np.maximum(batch.demand, 0.0))
    whole = {
        "peak_demand": peak,
        "hard": batch.demand.argmax(axis=1),
        "effort_peak": batch.effort.argmax(axis=1),
        "slack_share": share_below(batch.demand, _slack_threshold(peak)[:, None]),
        "evenness": np.where(peak > 0, loaded / np.maximum(peak, 1e-9), 0.0),
        "multi_joint": _multi_joint(batch),
        "feasible_share": batch.feasible.mean(axis=1),
    }
    return ReadingTable(batch, _head_table(batch), _joint_notes(batch, np.array(trunk_supported)), whole)


def long_weight(percent: Array) -> Array:
    """Weight of long lengths: smooth step from 35 % to 80 % of a head's range."""
    numbers = parameter_set().number
    return smooth_step(percent / 100, numbers("readings.long_from"), numbers("readings.long_to"))


def short_weight(percent: Array) -> Array:
    """Weight of short lengths: the mirror of `long_weight`."""
    return long_weight(100 - percent)


def length_weights(percent: Array) -> dict[str, Array]:
    """Weights of long, middling and short lengths, by the names of `THIRDS`; they add up to 1."""
    long, short = long_weight(percent), short_weight(percent)
    return dict(zip(THIRDS, (long, np.maximum(1 - long - short, 0), short), strict=True))


def share_below(values: Array, threshold: Array) -> Array:
    """Part of the last axis over which `values`, linear between samples, lie under `threshold` [1]."""
    gap = values - threshold
    start, end = gap[..., :-1], gap[..., 1:]
    crossing = np.abs(start) / np.maximum(np.abs(start) + np.abs(end), 1e-12)
    part = np.where(start < 0, np.where(end < 0, 1.0, crossing), np.where(end < 0, 1 - crossing, 0.0))
    return np.asarray(part.mean(axis=-1))


def _slack_threshold(peak: Any) -> Any:
    return parameter_set().number("readings.slack_below") * peak


def _stretches_below(values: Array, threshold: float) -> tuple[tuple[float, float], ...]:
    """Parts of the rep where `values`, linear between samples, lie under `threshold`."""
    gap = values - threshold
    positions = np.linspace(0, 1, values.size)
    crossings = np.flatnonzero(np.sign(gap[:-1]) * np.sign(gap[1:]) < 0)
    edges = [
        positions[k] + (positions[k + 1] - positions[k]) * gap[k] / (gap[k] - gap[k + 1]) for k in crossings
    ]
    bounds = [0.0, *(float(e) for e in edges), 1.0]
    return tuple((a, b) for a, b in pairwise(bounds) if np.interp((a + b) / 2, positions, gap) < 0)


def _head_table(batch: RepBatch) -> dict[str, Array]:
    """Every head reading of every rep, arrays of shape (heads, reps)."""
    percent = batch.geometry.percent
    peak_force = (batch.anatomy.peak_force * batch.body.force_scale)[:, None, None]
    tension = batch.force / peak_force
    moment = mean_over_rep(np.maximum(batch.moment, 0.0))
    helpers = mean_over_rep(np.maximum(batch.helper_moment, 0.0))
    hard = batch.demand.argmax(axis=1)
    return {
        "share": moment / np.maximum(moment.sum(axis=0) + helpers, 1e-12),
        "length_at_hard_spot": np.take_along_axis(percent, hard[None, :, None], axis=2)[:, :, 0],
        "mean_drive": mean_over_rep(batch.drive),
        "peak_drive": batch.drive.max(axis=2),
        "mean_tension": mean_over_rep(tension),
        "long_tension": mean_over_rep(tension * long_weight(percent)),
        "short_tension": mean_over_rep(tension * short_weight(percent)),
        "excursion": np.ptp(percent, axis=2),
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

    def between(values: Array) -> Array:
        return 0.5 * (values[..., 1:] + values[..., :-1])

    outside = batch.external.static.elbow + batch.load[:, None] * batch.external.per_kg.elbow
    elbow = np.abs(between(outside) * np.diff(np.deg2rad(batch.posture.elbow))).sum(axis=1)
    shoulder = np.abs(dot(between(batch.shoulder_moment), shoulder_turns(batch))).sum(axis=1)
    return np.asarray(shoulder / np.maximum(shoulder + elbow, 1e-12))


def _joint_notes(batch: RepBatch, trunk_supported: NDArray[np.bool_]) -> dict[str, Array]:
    posture, anatomy = batch.posture, batch.anatomy
    force = batch.force + batch.passive_force
    biceps = force[[anatomy.index("biceps_long"), anatomy.index("biceps_short")]].sum(axis=0)
    straight = (1 - smooth_step(posture.elbow, 15, 30)) * (1 - smooth_step(posture.forearm, -75, -45))
    triceps = force[anatomy.sign < 0].sum(axis=0)
    straight_bar = np.array([setup.grip == "straight_bar" for setup in batch.setups])
    ends = np.maximum(np.maximum(posture.shoulder - 160, -40 - posture.shoulder), 0)
    forced = np.maximum(np.abs(posture.forearm) - 75, 0).max(axis=1)
    return {
        "biceps_tendon": (biceps * straight).max(axis=1),
        "elbow_compression": (triceps * smooth_step(posture.elbow, 100, 120)).max(axis=1),
        "shoulder_end": ends.max(axis=1),
        "wrist_forced": np.where(straight_bar, forced, 0.0),
        "lower_back": np.where(trunk_supported, 0.0, np.abs(batch.external.back(batch.load)).max(axis=1)),
    }
