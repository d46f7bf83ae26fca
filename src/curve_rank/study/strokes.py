"""How quickly a load can be lifted, said beside a tempo: one sentence for page, bench and shell."""

from __future__ import annotations

import math

from curve_rank.arm.strength import window_matrix
from curve_rank.arm.stroke import Strokes, least_strokes
from curve_rank.arm.tempo import TimedReps
from curve_rank.rating.modelling import VariantModel

FORCE_ENOUGH = 0.98
"""Part of the time from which muscle alone counts as enough [1]."""
AT_THE_ELBOW = ("elbow", "elbow_return")


def strokes_of(modelled: VariantModel) -> Strokes | None:
    """The least strokes at the load in use; None where shoulder or wrist, which time leaves out, end it."""
    if modelled.limited_by not in AT_THE_ELBOW:
        return None
    effort = modelled.along("effort")
    hardest = float((window_matrix(effort.size) @ effort).max())
    return least_strokes(modelled.setup, modelled.body, modelled.load, min(hardest, 1.0))


def stroke_words(strokes: Strokes | None, timed: TimedReps) -> str:
    """How quickly the load can be lifted, and whether the tempo asks for more."""
    lift, lacking = timed.tempo.lift, 100 - 100 * float(timed.feasible_share)
    cannot = f"for {lacking:.0f} % of it muscle alone cannot" if timed.feasible_share < FORCE_ENOUGH else ""
    if strokes is None:
        return f"As it is timed, {cannot}." if cannot else ""
    if math.isinf(strokes.first):
        return "No smooth lift moves it, however slow: it needs some swing."
    says = f"Fresh, a smooth lift takes {strokes.first:.1f} s at the least"
    last = f"the last repetition of the set takes about {strokes.last:.1f} s"
    says += f"; {last}." if math.isfinite(strokes.last) else "; the last repetition needs some swing."
    if lift < strokes.first and cannot:
        says += f" A lift in {lift:g} s is quicker than that: {cannot}."
    return says
