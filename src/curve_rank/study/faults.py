"""What a common fault changes, in the words of a teacher."""

from __future__ import annotations

from curve_rank.arm.tempo import TimedReps, time_rep
from curve_rank.rating.criteria import carried
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target
from curve_rank.study.schemes import tempo_of
from curve_rank.study.strokes import FORCE_ENOUGH


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
