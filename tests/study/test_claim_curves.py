"""Every claim's sentence again, from the raw curves of every draw by other code than the verdict's."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from scipy.interpolate import CubicSpline
from scipy.spatial.transform import Rotation

from curve_rank.arm.body import Body
from curve_rank.arm.draws import FIXED, FIXED_DRAWS, arm_draw, arms_together, deviates
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep import RepBatch, model_reps
from curve_rank.arm.rep_setup import stack_reps, usual_effort
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import parse_setup
from curve_rank.rating.draws import FIXED_SAMPLES, fixed_draws
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.rep_of_variant import rep_setup
from curve_rank.study.claims import Claim, built_in_claims
from curve_rank.study.verdicts import asked_of, verdict_of

BODY = Body()
ARMS = [arm_draw(deviates(FIXED, n), BODY) for n in range(FIXED_DRAWS)]
EVEN = np.linspace(0, 1, FIXED_SAMPLES)
DENSE = np.linspace(0, 1, 1601)
TESTED = {key: claim for key, claim in built_in_claims().items() if claim.test}
Curves = tuple[RepBatch, int, int]
"""Curves of every draw, and the place of the claim's head and of the one it is compared with."""


def dense(values: np.ndarray) -> np.ndarray:
    """Between samples, (draws, 1601)."""
    return np.stack([np.interp(DENSE, EVEN, row) for row in values])


def mean(values: np.ndarray) -> np.ndarray:
    return np.trapezoid(values, EVEN, axis=-1)


def smooth(values: np.ndarray, start: float, end: float) -> np.ndarray:
    part = np.clip((values - start) / (end - start), 0, 1)
    return part * part * (3 - 2 * part)


def slack(b: RepBatch, _head: int) -> np.ndarray:
    top = CubicSpline(EVEN, b.demand, axis=1)(DENSE).max(axis=1)
    return 100 * (dense(b.demand) < 0.2 * top[:, None]).mean(axis=1)


def hardest_place(b: RepBatch) -> np.ndarray:
    return DENSE[CubicSpline(EVEN, b.demand, axis=1)(DENSE).argmax(axis=1)]


def active(b: RepBatch, head: int) -> np.ndarray:
    return b.force[head] / (b.anatomy.peak_force[head] * b.body.force_scale)


def share(b: RepBatch, head: int) -> np.ndarray:
    every = np.clip(b.moment, 0, None)
    whole = mean(every).sum(axis=0) + mean(np.clip(b.other_moment, 0, None))
    return 100 * mean(every[head]) / whole


def tension(b: RepBatch, head: int, *, short: bool) -> np.ndarray:
    fibre = (b.force + b.passive_force)[head] / (b.anatomy.peak_force[head] * b.anatomy.cos_pennation[head])
    percent = b.geometry.percent[head]
    lengths = np.stack([np.array([arm.lengths.start, arm.lengths.end]) for arm in ARMS])
    start, end = lengths[:, :1], lengths[:, 1:]
    place = (100 - percent if short else percent) / 100
    weighed = mean(fibre / b.body.force_scale * np.clip(place - start, 0, None) / (end - start))
    return 100 * np.where(np.ptp(percent, axis=1) >= 10, weighed, 0)


def shoulder_part(b: RepBatch, _head: int) -> np.ndarray:
    upper, axis = b.frame.upper_arm, b.frame.elbow_axis
    turned = np.moveaxis(np.stack((upper, np.cross(axis, upper, axis=0), axis), axis=1), (0, 1), (-2, -1))
    steps = Rotation.from_matrix((turned[:, 1:] @ np.swapaxes(turned[:, :-1], -1, -2)).reshape(-1, 3, 3))
    turns = steps.as_rotvec().reshape(*turned.shape[:1], -1, 3)
    held = np.moveaxis((b.shoulder_moment[..., 1:] + b.shoulder_moment[..., :-1]) / 2, 0, -1)
    shoulder = np.abs((held * turns).sum(axis=-1)).sum(axis=1)
    outside = b.external.static.elbow + b.load[:, None] * b.external.per_kg.elbow
    half = (outside[:, 1:] + outside[:, :-1]) / 2
    elbow = np.abs(half * np.diff(np.deg2rad(b.posture.elbow))).sum(axis=1)
    return 100 * shoulder / (shoulder + elbow)


def shoulder_end(b: RepBatch, _head: int) -> np.ndarray:
    over, behind = (parameter_set().row_of(f"joint_notes.{name}") for name in ("overhead", "behind"))
    end = np.maximum(smooth(b.posture.shoulder, *over), smooth(-b.posture.shoulder, *behind))
    along = (b.shoulder_moment * b.frame.upper_arm).sum(axis=0)
    across = np.sqrt((b.shoulder_moment**2).sum(axis=0) - along**2)
    return np.zeros(len(ARMS)) if b.setups[0].upper_arm_supported else (end * across).max(axis=1)


def heads_of_biceps(b: RepBatch, _head: int) -> np.ndarray:
    both = [b.anatomy.keys.index(name) for name in ("biceps_long", "biceps_short")]
    return sum(b.force[n] + b.passive_force[n] for n in both).max(axis=1)


READ: dict[str, Callable[[RepBatch, int], np.ndarray]] = {
    "slack_share": slack,
    "hard_at": lambda b, _h: 100 * hardest_place(b),
    "length_at_hard_spot": lambda b, h: np.array(
        [np.interp(x, EVEN, row) for x, row in zip(hardest_place(b), b.geometry.percent[h], strict=True)]
    ),
    "shortest": lambda b, h: b.geometry.percent[h].min(axis=1),
    "mean_tension": lambda b, h: 100 * mean(active(b, h)),
    "long_tension": lambda b, h: tension(b, h, short=False),
    "short_tension": lambda b, h: tension(b, h, short=True),
    "work_share": share,
    "load": lambda b, _h: b.load,
    "demand_short": lambda b, _h: 100 * b.demand[:, -1] / b.demand.max(axis=1),
    "moment_per_kg": lambda b, _h: (
        np.abs(np.clip(-b.external.per_kg.elbow if b.setups[0].flexes else b.external.per_kg.elbow, 0, None))
    ).max(axis=1),
    "biceps_force": heads_of_biceps,
    "multi_joint": shoulder_part,
    "shoulder_end": shoulder_end,
}


def resolve(line: str) -> Variant:
    setup = parse_setup(line)
    return setup.of(find_variant(setup.variant, built_in()))


def curves(variant: Variant) -> RepBatch:
    stack = stack_reps((rep_setup(variant, BODY, samples=FIXED_SAMPLES),))
    together = arms_together(ARMS, 1)
    return model_reps(
        stack.of_arms(len(ARMS)), body=together.body, effort=usual_effort(), anatomy=together.anatomy,
        capacities=together.capacities, shift=together.shift, exponent=together.exponent,
    )  # fmt: skip


@pytest.mark.parametrize("key", TESTED)
def test_a_verdict_is_what_the_curves_say(modeller: Modeller, key: str) -> None:
    claim: Claim = TESTED[key]
    test = claim.test
    asked = asked_of(claim, resolve, {})
    assert test is not None
    assert asked is not None
    fixed = fixed_draws(asked.setups, BODY, usual_effort(), modeller)
    verdict = verdict_of(asked, fixed, tuple(one.first(1) for one in fixed), BODY)

    read = [curves(v) for v in asked.setups]
    heads = [read[0].anatomy.keys.index(name) for name in (test.head, test.against or test.head)]
    values = [READ[test.reading](b, heads[0]) for b in read]
    first, second = values[: len(asked.more)], values[len(asked.more) :]
    if test.against:
        second = [READ[test.reading](b, heads[1]) for b in read]
    sizes = np.mean([a - b for a, b in zip(first, second, strict=True)] if second else first, axis=0)
    sign = 1 if test.way == "up" else -1
    holds = sign * sizes > (sign * test.by if test.is_alone else test.by)

    assert verdict.probability == pytest.approx(holds.mean(), abs=0.035)
    assert verdict.size is not None
    spread = max(verdict.size.high - verdict.size.low, abs(verdict.size.median), 1e-3)
    assert verdict.size.median == pytest.approx(np.median(sizes), abs=0.03 * spread + 1e-3)
