"""What a common fault costs: the same variant, modelled with the fault."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.tempo import TimedReps, time_rep
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.schema import Fault, Variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.criteria import carried
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.scoring import score_variant
from curve_rank.rating.targets import Target
from curve_rank.study.schemes import tempo_of
from curve_rank.study.strokes import FORCE_ENOUGH


@dataclass(frozen=True)
class FaultCost:
    """A fault and what it does.

    Attributes
    ----------
    fault : Fault
    score_change : float
        In points of the lens.
    says : str
        The largest changes in words; empty where it cannot be modelled.
    problem : str
        Why it cannot be modelled.
    """

    fault: Fault
    score_change: float
    says: str
    problem: str = ""


def fault_costs(
    modelled: VariantModel, target: Target, lens: Lens, *, effort: float
) -> tuple[FaultCost, ...]:
    """Every fault of a variant, worst first.

    Parameters
    ----------
    modelled : VariantModel
        The variant done right.
    target, lens : Target, Lens
        What its score is for.
    effort : float
        Of the repetitions: the part of their strength that the hardest moment takes, 0 to 1.
    """
    right, _ = score_variant(modelled, target, lens)
    wrongs = _with_faults(modelled, effort)
    costs = []
    for fault, wrong in zip(modelled.variant.faults, wrongs, strict=True):
        if isinstance(wrong, CurveRankError):
            costs.append(FaultCost(fault, 0.0, "", str(wrong)))
            continue
        score, _ = score_variant(wrong, target, lens)
        costs.append(
            FaultCost(fault, round(score - right, 2) + 0.0, changes_in_words(modelled, wrong, target))
        )
    return tuple(sorted(costs, key=lambda c: c.score_change))


def _with_faults(modelled: VariantModel, effort: float) -> list[VariantModel | CurveRankError]:
    """The variant with each fault, all modelled in one batch; the reason where one cannot be."""
    found: list[Variant | CurveRankError] = []
    for fault in modelled.variant.faults:
        try:
            found.append(changed(modelled.variant, fault.changes))
        except CurveRankError as error:
            found.append(error)
    able = tuple(one for one in found if isinstance(one, Variant))
    models = iter(Modeller().model(able, modelled.body, effort=effort))
    return [one if isinstance(one, CurveRankError) else next(models) for one in found]


def changes_in_words(right: VariantModel, wrong: VariantModel, target: Target) -> str:
    """The changes a teacher would point at."""
    before, after = right.readings, wrong.readings
    head = target.heads[0]
    lengths = [m.of_head("length_at_hard_spot", head) for m in (right, wrong)]
    parts = []
    if abs(after.hard_spot - before.hard_spot) >= 5:
        parts.append(f"hard spot {before.hard_spot:.0f}° → {after.hard_spot:.0f}°")
    if abs(lengths[1] - lengths[0]) >= 2:
        parts.append(f"length there {lengths[0]:.0f} → {lengths[1]:.0f} %")
    if abs(after.slack_share - before.slack_share) >= 0.03:
        parts.append(f"slack {100 * before.slack_share:.0f} → {100 * after.slack_share:.0f} % of the rep")
    hands = carried(right.variant) * right.body.mass
    change = (wrong.load - right.load) / max(right.load + hands, 1.0)
    if abs(change) >= 0.02:
        moved = "of all the hands carry" if hands else "load"
        parts.append(
            f"{100 * abs(change):.0f} % {'more' if change > 0 else 'less'} {moved} at the same effort"
        )
    if right.variant.guide != wrong.variant.guide:
        parts.append(_in_time(right, wrong))
    return "; ".join(parts) or "hardly any change in the curve"


def _in_time(right: VariantModel, wrong: VariantModel) -> str:
    def timed(modelled: VariantModel) -> TimedReps:
        return time_rep(modelled.setup, modelled.body, right.load, tempo_of(modelled.variant))

    before, after = timed(right), timed(wrong)
    held = f"{before.under_hard:.1f} → {after.under_hard:.1f} s over half effort in each repetition"
    if float(after.feasible_share) < FORCE_ENOUGH:
        held += f"; force alone cannot do it for {100 - 100 * float(after.feasible_share):.0f} % of the time"
    return held
