"""Plain sentences built from readings: why a row stands where it does."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import Readings, third_of
from curve_rank.catalogue.line_kinds import BodyWeightLine
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.spreads import middle
from curve_rank.rating.targets import Target

LINKS = {
    "elbow": {"flexors": "the elbow flexors", "extensors": "the triceps"},
    "elbow_return": {
        "flexors": "the triceps, where the pull reverses",
        "extensors": "the elbow flexors, where the pull reverses",
    },
    "wrist": {"flexors": "the wrist", "extensors": "the wrist"},
    "shoulder": {"flexors": "the shoulder", "extensors": "the shoulder"},
}  # fmt: skip
ELSEWHERE = 10.0
"""Two hard spots that are so far apart are told of as two [°]."""
FRACTIONS = ((0.075, "twentieth"), (0.15, "tenth"), (0.225, "fifth"), (0.29, "quarter"), (0.415, "third"))


TOO_CLOSE = "too close to call"


def chance_words(chance: float) -> str:
    """How sure a difference is, in a word or two."""
    for least, words in ((0.95, "surely"), (0.85, "very likely")):
        if chance >= least:
            return words
    return "likely" if chance >= parameter_set().number("certainty.resolved") else TOO_CLOSE


@dataclass(frozen=True)
class WhereHard:
    """Where a rep is hardest, how long the target is there, and where it is slack.

    Attributes
    ----------
    at : str
        Before the angle: "at", or which joint's it is.
    spot : float
        [°]
    third : str
        Of the rep.
    length : str
        The target's there, as a clause.
    slack : str
    """

    at: str
    spot: float
    third: str
    length: str
    slack: str

    @property
    def place(self) -> str:
        """Where, as the start of a sentence."""
        return f"Hardest {self.at} {self.spot:.0f}°, in the {self.third} third"

    @property
    def says(self) -> str:
        """All of it, in a sentence."""
        return f"{self.place}, {self.length}; {self.slack}."

    def beside(self, other: WhereHard) -> tuple[str, ...]:
        """What of it is not as it is with another set-up, in clauses."""
        moved = self.third != other.third or abs(self.spot - other.spot) >= ELSEWHERE
        return (*((self.place,) if moved else ()), *((self.slack,) if self.slack != other.slack else ()))


def where_hard(modelled: VariantModel, target: Target, drawn: Readings | None = None) -> WhereHard:
    """Why a variant stands where it does: where it is hard, how long the target is there, slack.

    Parameters
    ----------
    modelled : VariantModel
        The middle arm's rep; where it is slack is told of that.
    target : Target
        Whose length is told.
    drawn : Readings, optional
        The fixed draws, S = (draws,): numbers are their medians then, as in all that is printed beside.
    """
    readings = modelled.readings if drawn is None else drawn
    places = [modelled.anatomy.index(head) for head in target.heads]
    lengths = [middle(readings.length_at_hard_spot[place]) for place in places]
    verb, whose = ("is", "its") if len(target.heads) == 1 else ("are", "their")
    return WhereHard(
        at="with the upper arm at" if modelled.variant.coordinate == "shoulder" else "at",
        spot=middle(readings.hard_spot),
        third=third_of(middle(readings.hard_at)),
        length=f"where {the(target)} {verb} at {_span(min(lengths), max(lengths))} of {whose} range",
        slack=slack_words(modelled.told_slack),
    )


def why(modelled: VariantModel, target: Target, drawn: Readings | None = None) -> str:
    """As `where_hard`, in a sentence."""
    return where_hard(modelled, target, drawn).says


def the(target: Target) -> str:
    """The target's name inside a sentence."""
    return {
        "biceps": "the biceps heads",
        "flexors": "the elbow flexors",
        "extensors": "the triceps heads",
    }.get(target.key, f"the {target.name.lower()}" if " " in target.name else target.name.lower())


def limit_words(modelled: VariantModel) -> str:
    """What gives out first, in words."""
    return LINKS[modelled.limited_by][modelled.variant.group]


def gives_out(modelled: VariantModel) -> str:
    """What gives out first, as the start of a sentence: "the wrist gives out"."""
    link = limit_words(modelled)
    several = modelled.limited_by in ("elbow", "elbow_return")
    who, comma, where = link.partition(",")
    return f"{who} {'give' if several else 'gives'} out{comma}{where}"


class HasLoad(Protocol):
    """A variant with a load [kg]."""

    @property
    def variant(self) -> Variant: ...
    @property
    def load(self) -> float: ...


def load_words(loaded: HasLoad, load: float | None = None) -> str:
    """A load as a lifter would say it; its own unless another is given [kg]."""
    load = loaded.load if load is None else load
    variant = loaded.variant
    if any(isinstance(line, BodyWeightLine) for line in variant.lines):
        if abs(load) < 0.05:
            return "body weight alone"
        return f"{load:.1f} kg added to the body" if load > 0 else f"with {-load:.1f} kg of help"
    kinds = {line.kind for line in variant.lines}
    each = "in each hand" if variant.equipment.hands == 1 else "in both hands"
    length = f"{variant.band.said_at:g} m" if variant.band else ""
    if kinds == {"band"}:
        return f"a band that pulls {load:.1f} kg {each} at {length}, twice its slack length"
    if kinds == {"machine"}:
        return f"{load:.1f} kg on the stack"
    if "band" in kinds:
        part = load * variant.band_part
        return f"{load:.1f} kg {each}: {load - part:.1f} kg and a band that pulls {part:.1f} kg at {length}"
    return f"{load:.1f} kg {each}"


def reported_words(variant: Variant) -> str:
    """What lifters say of a load that this physics gives otherwise; empty where they do not differ."""
    if variant.lifters_report is None:
        return ""
    low, high = sorted(100 * (1 - part) for part in variant.lifters_report)
    return (
        f"Lifters report {low:.0f} to {high:.0f} % less than this physics gives: what a shoulder bears, and"
        " how strictly it is done, lie outside. Begin on their side."
    )


def slack_words(slack: tuple[tuple[float, float], ...]) -> str:
    """Where a rep is slack: "slack over the last fifth of the rep"."""
    if not slack:
        return "no slack"
    return "slack over " + " and ".join(_stretch_words(a, b) for a, b in slack)


def _stretch_words(start: float, end: float) -> str:
    size = end - start
    part = next((word for limit, word in FRACTIONS if size < limit), f"{100 * size:.0f} %")
    if start <= 0.001:
        return f"the first {part} of the rep"
    if end >= 0.999:
        return f"the last {part} of the rep"
    return f"{100 * size:.0f} % around the middle"


def _span(low: float, high: float) -> str:
    return f"{high:.0f} %" if high - low < 1 else f"{low:.0f}–{high:.0f} %"


def counted(count: int, what: str) -> str:
    """So many of something: "1 reading", "2 readings"."""
    return f"{count} {what}{'' if count == 1 else 's'}"


def printed(value: float, digits: int = 0, *, sign: bool = False) -> str:
    """A number as it is printed everywhere: a true minus, and no sign before what rounds to nothing."""
    shown = f"{value:z.{digits}f}"
    plus = "+" if sign and float(shown) > 0 else ""
    return plus + shown.replace("-", "−")


def in_a_row(items: Sequence[str], nothing: str = "") -> str:
    """Names as a sentence lists them: "a, b and c"."""
    if len(items) < 2:
        return items[0] if items else nothing
    return f"{', '.join(items[:-1])} and {items[-1]}"


def upper_first(text: str) -> str:
    """A text as the start of a sentence."""
    return text[:1].upper() + text[1:]


def lower_first(text: str) -> str:
    """A text inside a sentence."""
    return text[:1].lower() + text[1:]
