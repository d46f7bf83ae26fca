"""What decides between two set-ups of a ranking: how sure the score is, and the readings that differ most."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.readings import Readings
from curve_rank.catalogue.words import unit_after
from curve_rank.rating.joints import joints
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target
from curve_rank.rating.words import in_a_row, lower_first, printed
from curve_rank.study.compare import ComparedReading, compare, resolved

PAIR = (0, 1)
SPARED = 0.25
"""Part of what the other asks up to which a set-up spares a joint [1]."""
MOST_OF_EACH = 1
"""Readings of the joints, and of the curve, that are named."""
OF_THE_CURVE = (
    "long_tension",
    "short_tension",
    "mean_tension",
    "length_at_hard_spot",
    "work_share",
    "slack_share",
    "evenness",
    "multi_joint",
    "travel",
)
"""What one chooses by, beside the joints. A load is no reason: it hangs on what holds it."""


@dataclass(frozen=True)
class Deciding:
    """Two set-ups beside each other.

    Attributes
    ----------
    chance : float
        Part of the draws in which the first scores higher [1].
    told : tuple of ComparedReading
        What differs enough and surely enough to be told, the most for its kind first.
    """

    chance: float
    told: tuple[ComparedReading, ...]

    @property
    def is_close(self) -> bool:
        """Whether the score cannot tell them apart."""
        return max(self.chance, 1 - self.chance) < resolved()


def deciding(
    pair: tuple[VariantModel, VariantModel],
    drawn: tuple[Readings, ...],
    target: Target,
    lens: Lens,
) -> Deciding:
    """What tells two set-ups apart.

    Parameters
    ----------
    pair : tuple of VariantModel
        The one that ranks higher first.
    drawn : tuple of Readings
        The same draws of each, S = (draws,).
    target, lens : Target, Lens
        What they are ranked for, the lens as the ranking weighs.
    """
    score, *others = compare(pair, drawn, target, lens).readings
    told = [one for one in others if one.is_told(PAIR)]
    told.sort(key=lambda one: -abs(one.differences[PAIR].spread.median) / one.reading.told_from)
    of_joints = {note.note for joint in joints().values() for note in joint.notes}
    named = [
        one
        for keys in (of_joints, OF_THE_CURVE)
        for one in [one for one in told if one.reading.key in keys][:MOST_OF_EACH]
    ]
    return Deciding(1 - score.differences[PAIR].chance_higher, tuple(named))


def deciding_words(found: Deciding, names: tuple[str, str]) -> str:
    """What decides, in a sentence or two; `names` is what the two are called."""
    first, second = names
    sure = f"{100 * found.chance:.0f} arms of 100"
    apart = [_told(one, names) for one in found.told]
    if found.is_close:
        begin = f"The score cannot tell {first} and {second} apart ({first} is ahead in {sure})"
        return f"{begin}; {in_a_row(apart)}." if apart else f"{begin}, and hardly any other reading can."
    begin = f"{first[0].upper()}{first[1:]} scores above {second} in {sure}"
    return f"{begin}; {in_a_row(apart)}." if apart else f"{begin}."


def _told(one: ComparedReading, names: tuple[str, str]) -> str:
    values = [told.median for told in one.columns]
    first, second = (printed(value, one.reading.digits) for value in values)
    name = lower_first(one.reading.name)
    if one.reading.better == "down" and min(values) <= SPARED * max(values):  # one of them hardly asks for it
        n = values.index(min(values))
        low, high = (first, second) if n == 0 else (second, first)
        return f"{names[n]} spares the {name}: {low} against {high}{unit_after(one.reading.unit)}"
    return f"{name} {first} against {second}{unit_after(one.reading.unit)}"
