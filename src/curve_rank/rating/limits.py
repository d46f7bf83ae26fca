"""What a lifter can do: rules that every built-in set-up keeps, and that a search may not break."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.arrays import Array, dot, length_of
from curve_rank.catalogue.line_kinds import BandLine, BodyWeightLine, CableLine, WeightLine
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import VariantModel

MOST_ANTAGONIST = 0.15
"""Most effort that a rep may ask of the opposite group anywhere [1]."""
FOREARM_OFF = {"row": 8.0, "pull": 12.0, "press": 18.0}
"""How far the forearm may lie off the pull in hand paths of rows, pulls and presses [degrees]."""
OFF_AT_STRETCH = 20.0
"""How far a curl's arm may lie off the cable or band at its stretched end [degrees]."""


def objections(modelled: VariantModel) -> dict[str, str]:
    """What speaks against a lifter doing it so, by rule; empty where nothing does."""
    found, variant, off = {}, modelled.variant, forearm_off_pull(modelled)
    against = antagonist_effort(modelled)
    if against > MOST_ANTAGONIST:
        found["antagonist"] = f"it asks {100 * against:.0f} % of the opposite muscles"
    if variant.family in ("pulling", "pressing") and off.max() > FOREARM_OFF[_kind(variant)]:
        found["forearm"] = f"the forearm lies {off.max():.0f}° off the pull"
    if starts_in_line(variant) and off[0] > OFF_AT_STRETCH:
        found["stretch"] = f"at its stretched end the forearm lies {off[0]:.0f}° off the pull"
    return found


def antagonist_effort(modelled: VariantModel) -> float:
    """Largest effort that the rep asks of the opposite group [1]."""
    return float(np.where(modelled.along("demand") < 0, modelled.along("effort"), 0.0).max())


def forearm_off_pull(modelled: VariantModel) -> Array:
    """Angle between forearm and pull along the rep, whichever way it pulls, (samples,) [degrees].

    Where hands press a bar apart, the pull is the weight's alone.
    """
    frame, line = modelled.rep.frame, modelled.variant.lines[0]
    pull = modelled.rep.external.pull(modelled.rep.load)[:, 0]
    if isinstance(line, WeightLine | BodyWeightLine) and line.sideways:
        pull = frame.down[:, 0]
    along = np.abs(dot(frame.forearm[:, 0], pull / np.maximum(length_of(pull), 1e-9)))
    return np.asarray(np.degrees(np.arccos(np.clip(along, 0.0, 1.0))))


def starts_in_line(variant: Variant) -> bool:
    """Whether the arm lies along the pull at the stretched end: curls on one cable or band."""
    return (
        variant.group == "flexors"
        and len(variant.lines) == 1
        and isinstance(variant.lines[0], CableLine | BandLine)
    )


def _kind(variant: Variant) -> str:
    if variant.family == "pressing":
        return "press"
    return "row" if isinstance(variant.lines[0], WeightLine) else "pull"
