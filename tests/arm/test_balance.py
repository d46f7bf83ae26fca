"""The balance under a rep held still and a rep in time."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.balance import balance
from curve_rank.arm.body import Body
from curve_rank.arm.rep import model_reps
from curve_rank.arm.rep_setup import stack_reps
from curve_rank.catalogue.library import built_in
from curve_rank.rating.rep_of_variant import rep_setup

SETUPS = tuple(rep_setup(v, Body()) for v in built_in()[::12])


def test_drives_hold_what_pulls_from_outside_about_every_joint_that_must_hold() -> None:
    stack, load = stack_reps(SETUPS), np.full(len(SETUPS), 3.0)
    held = balance(stack, stack.posture, Body())
    outside = held.outside(load)
    drives, feasible = held.share(outside, load)
    acting = held.actuators.gripping(held.grip(load).ravel())
    made = np.einsum("bak,ak->bk", acting.matrix, drives.reshape(drives.shape[0], -1))
    total = (made + held.actuators.passive).reshape(3, *held.shape)
    for row, moment in ((0, outside.elbow), (1, outside.forearm)):
        np.testing.assert_allclose(total[row][feasible], -moment[feasible], atol=1e-6)
    free = feasible & stack.unsupported
    np.testing.assert_allclose(total[2][free], -outside.shoulder[2][free], atol=1e-6)
    assert feasible.mean() > 0.9


def test_a_rep_is_its_balance_and_weaker_forces_ask_for_more_drive() -> None:
    stack = stack_reps(SETUPS)
    batch, held = model_reps(stack, body=Body()), balance(stack, stack.posture, Body())
    outside = held.outside(batch.load)
    np.testing.assert_allclose(held.demand(outside), batch.demand)
    weaker = held.moving(np.full((len(held.anatomy.keys), *held.shape), 0.9))
    (drives, can), (others, could) = (h.share(outside, batch.load) for h in (held, weaker))
    heads = slice(0, len(held.anatomy.keys))
    plain, more = (d[heads][:, can & could].sum() for d in (drives, others))
    assert more > plain
