"""What a rep amounts to: hard spot, slack, evenness, each head's share, length and tension, joint notes."""

from __future__ import annotations

from dataclasses import dataclass, fields
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.muscle import smooth_step
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep import RepBatch

Array = NDArray[np.float64]

THIRDS = ("long", "middle", "short")


@dataclass(frozen=True)
class HeadReading:
    """One head over one rep at the load in use.

    Attributes
    ----------
    share : float
        Part of the target group's active elbow moment, over the rep [1].
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


HEAD_READINGS = tuple(f.name for f in fields(HeadReading))


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
        Elbow angle of the peak demand [degrees].
    hard_at, effort_peak_at : float
        Where demand and effort peak, as part of the rep from its stretched end [1].
    hard_third : str
        long, middle or short.
    effort_peak : float
        Elbow angle of the peak effort [degrees].
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


def mean_over_rep(values: Array) -> Array:
    """Mean over the last axis by the trapezoidal rule (samples are evenly spaced in the coordinate)."""
    result: Array = (values.sum(axis=-1) - 0.5 * (values[..., 0] + values[..., -1])) / (values.shape[-1] - 1)
    return result


def read_reps(batch: RepBatch, *, trunk_supported: tuple[bool, ...]) -> tuple[Readings, ...]:
    """Readings of every rep of a batch.

    Parameters
    ----------
    batch : RepBatch
    trunk_supported : tuple of bool
        Per rep, whether a bench or the floor carries the trunk.
    """
    table = _head_table(batch)
    return tuple(_one(batch, i, table, trunk_supported[i]) for i in range(len(batch.setups)))


def long_weight(percent: Array) -> Array:
    """Weight of long lengths: smooth step from 35 % to 80 % of a head's range."""
    numbers = parameter_set().number
    return smooth_step(percent / 100, numbers("readings.long_from"), numbers("readings.long_to"))


def _one(batch: RepBatch, i: int, table: dict[str, Array], trunk_supported: bool) -> Readings:
    demand, effort = batch.demand[i], batch.effort[i]
    hard, hardest_effort = int(demand.argmax()), int(effort.argmax())
    last = demand.size - 1
    peak = float(demand[hard])
    loaded = np.maximum(demand, 0.0)
    threshold = parameter_set().number("readings.slack_below") * peak
    slack = _stretches_below(demand, threshold)
    limiting = min(batch.limits[i], key=lambda link: link[1])
    return Readings(
        load=float(batch.load[i]),
        limited_by=limiting[0],
        peak_demand=peak,
        hard_spot=float(batch.posture.elbow[i, hard]),
        hard_at=hard / last,
        hard_third=THIRDS[min(2, int(3 * hard / last))],
        effort_peak=float(batch.posture.elbow[i, hardest_effort]),
        effort_peak_at=hardest_effort / last,
        slack=slack,
        slack_share=sum(end - start for start, end in slack),
        evenness=float(mean_over_rep(loaded)) / peak if peak > 0 else 0.0,
        multi_joint=_multi_joint(batch, i),
        feasible_share=float(batch.feasible[i].mean()),
        heads=_heads(table, i),
        joints=_joint_notes(batch, i, trunk_supported),
    )


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


def _heads(table: dict[str, Array], i: int) -> tuple[HeadReading, ...]:
    rows = np.stack([table[name][:, i] for name in HEAD_READINGS], axis=1).tolist()
    return tuple(HeadReading(*row) for row in rows)


def _head_table(batch: RepBatch) -> dict[str, Array]:
    """Every head reading of every rep, arrays of shape (heads, reps)."""
    percent = batch.geometry.percent
    peak_force = (batch.anatomy.peak_force * batch.body.force_scale)[:, None, None]
    tension = batch.force / peak_force
    moment = mean_over_rep(np.maximum(batch.elbow_moment, 0.0))
    hard = batch.demand.argmax(axis=1)
    return {
        "share": moment / np.maximum(moment.sum(axis=0), 1e-12),
        "length_at_hard_spot": np.take_along_axis(percent, hard[None, :, None], axis=2)[:, :, 0],
        "mean_drive": mean_over_rep(batch.drive),
        "peak_drive": batch.drive.max(axis=2),
        "mean_tension": mean_over_rep(tension),
        "long_tension": mean_over_rep(tension * long_weight(percent)),
        "short_tension": mean_over_rep(tension * long_weight(100 - percent)),
        "excursion": np.ptp(percent, axis=2),
        "shortest": percent.min(axis=2),
        "longest": percent.max(axis=2),
    }


def _multi_joint(batch: RepBatch, i: int) -> float:
    def work(moment: Array, angle: Array) -> float:
        return float(np.abs(0.5 * (moment[1:] + moment[:-1]) * np.diff(np.deg2rad(angle))).sum())

    elbow = work(batch.demand[i], batch.posture.elbow[i])
    shoulder = work(batch.shoulder_moment[i], batch.posture.shoulder[i])
    return shoulder / max(shoulder + elbow, 1e-12)


def _joint_notes(batch: RepBatch, i: int, trunk_supported: bool) -> JointNotes:
    posture, anatomy = batch.posture, batch.anatomy
    elbow, forearm, shoulder = posture.elbow[i], posture.forearm[i], posture.shoulder[i]
    force = batch.force[:, i] + batch.passive_force[:, i]
    biceps = force[[anatomy.index("biceps_long"), anatomy.index("biceps_short")]].sum(axis=0)
    straight = (1 - smooth_step(elbow, 15, 30)) * (1 - smooth_step(forearm, -75, -45))
    triceps = force[anatomy.sign < 0].sum(axis=0)
    straight_bar = batch.setups[i].grip == "straight_bar"
    back = batch.load[i] * batch.external[i].back
    return JointNotes(
        biceps_tendon=float((biceps * straight).max()),
        elbow_compression=float((triceps * smooth_step(elbow, 100, 120)).max()),
        shoulder_end=float(np.maximum(np.maximum(shoulder - 160, -40 - shoulder), 0).max()),
        wrist_forced=float(np.maximum(np.abs(forearm) - 75, 0).max()) if straight_bar else 0.0,
        lower_back=0.0 if trunk_supported else float(np.abs(back).max()),
    )
