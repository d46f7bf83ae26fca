"""What a common fault costs: the same variant, modelled with the fault."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.tempo import time_rep
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.schema import Fault
from curve_rank.errors import CurveRankError
from curve_rank.rating.modelling import Modelled, Modeller
from curve_rank.rating.schemes import tempo_of
from curve_rank.rating.scoring import score_variant
from curve_rank.rating.vocabulary import Aim, Lens


@dataclass(frozen=True)
class FaultCost:
    """A fault and what it does.

    Attributes
    ----------
    fault : Fault
    modelled : Modelled or None
        The variant with the fault; None where it cannot be modelled, and `problem` says why.
    score_change : float
        In points of the lens.
    says : str
        The largest changes in words.
    """

    fault: Fault
    modelled: Modelled | None
    score_change: float
    says: str
    problem: str = ""


def fault_costs(
    modelled: Modelled, aim: Aim, lens: Lens, modeller: Modeller, *, effort: float
) -> tuple[FaultCost, ...]:
    """Every fault of a variant, worst first.

    Parameters
    ----------
    modelled : Modelled
        The variant done right.
    aim, lens : Aim, Lens
        What its score is for.
    modeller : Modeller
    effort : float
    """
    variant, body = modelled.variant, modelled.batch.body
    right, _ = score_variant(modelled, aim, lens)
    costs = []
    for fault in variant.faults:
        try:
            (wrong,) = modeller.model((changed(variant, fault.changes),), body, effort=effort)
        except CurveRankError as error:
            wrong = error
        if isinstance(wrong, CurveRankError):
            costs.append(FaultCost(fault, None, 0.0, "", str(wrong)))
            continue
        score, _ = score_variant(wrong, aim, lens)
        costs.append(FaultCost(fault, wrong, score - right, _words(modelled, wrong, aim)))
    return tuple(sorted(costs, key=lambda c: c.score_change))


def _words(right: Modelled, wrong: Modelled, aim: Aim) -> str:
    """The changes a teacher would point at."""
    before, after = right.readings, wrong.readings
    head = aim.heads[0]
    lengths = [m.head(head).length_at_hard_spot for m in (right, wrong)]
    parts = []
    if abs(after.hard_spot - before.hard_spot) >= 5:
        parts.append(f"hard spot {before.hard_spot:.0f}° → {after.hard_spot:.0f}°")
    if abs(lengths[1] - lengths[0]) >= 2:
        parts.append(f"length there {lengths[0]:.0f} → {lengths[1]:.0f} %")
    if abs(after.slack_share - before.slack_share) >= 0.03:
        parts.append(f"slack {100 * before.slack_share:.0f} → {100 * after.slack_share:.0f} % of the rep")
    if abs(after.load - before.load) >= 0.02 * max(abs(before.load), 1):
        parts.append(f"load at the same effort {before.load:.1f} → {after.load:.1f} kg")
    if right.variant.guide != wrong.variant.guide:
        parts.append(_in_time(right, wrong))
    return "; ".join(parts) or "hardly any change in the curve"


def _in_time(right: Modelled, wrong: Modelled) -> str:
    times = []
    for m in (right, wrong):
        setup = m.batch.setups[m.place]
        times.append(time_rep(setup, m.batch.body, right.readings.load, tempo_of(m.variant)))
    held = f"{times[0].under_hard:.1f} → {times[1].under_hard:.1f} s over half effort in each repetition"
    if times[1].feasible_share < 0.98:
        held += f"; force alone cannot do it for {100 - 100 * times[1].feasible_share:.0f} % of the time"
    return held
