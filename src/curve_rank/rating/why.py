"""Plain sentences built from readings: why a row stands where it does."""

from __future__ import annotations

from functools import lru_cache

from curve_rank.catalogue.schema import BodyWeightLine
from curve_rank.rating.modelling import REMEMBERED, Modelled
from curve_rank.rating.vocabulary import Aim

LINKS = {
    "elbow": {"flexors": "the elbow flexors", "extensors": "the triceps"},
    "elbow_return": {
        "flexors": "the triceps, where the pull reverses",
        "extensors": "the elbow flexors, where the pull reverses",
    },
    "wrist": {"flexors": "the wrist", "extensors": "the wrist"},
    "shoulder": {"flexors": "the shoulder", "extensors": "the shoulder"},
}  # fmt: skip
FRACTIONS = ((0.075, "twentieth"), (0.15, "tenth"), (0.225, "fifth"), (0.29, "quarter"), (0.415, "third"))


@lru_cache(maxsize=REMEMBERED)
def why(modelled: Modelled, aim: Aim) -> str:
    """Why a variant stands where it does: where it is hard, how long the target is there, slack."""
    readings = modelled.readings
    lengths = [modelled.head(head).length_at_hard_spot for head in aim.heads]
    verb, whose = ("is", "its") if len(aim.heads) == 1 else ("are", "their")
    at = "with the upper arm at" if modelled.variant.coordinate == "shoulder" else "at"
    return (
        f"Hardest {at} {readings.hard_spot:.0f}°, in the {readings.hard_third} third, where {the(aim)} "
        f"{verb} at {_span(min(lengths), max(lengths))} of {whose} range; {slack_words(readings.slack)}."
    )


def the(aim: Aim) -> str:
    """The aim's name inside a sentence."""
    return {
        "biceps": "the biceps heads",
        "flexors": "the elbow flexors",
        "extensors": "the triceps heads",
    }.get(aim.key, f"the {aim.name.lower()}" if " " in aim.name else aim.name.lower())


def limit_words(modelled: Modelled) -> str:
    """What gives out first, in words."""
    return LINKS[modelled.readings.limited_by][modelled.variant.target]


def load_words(modelled: Modelled, load: float | None = None) -> str:
    """A load as a lifter would say it; the modelled one unless another is given [kg]."""
    load = modelled.readings.load if load is None else load
    variant = modelled.variant
    if any(isinstance(line, BodyWeightLine) for line in variant.lines):
        if abs(load) < 0.05:
            return "body weight alone"
        return f"{load:.1f} kg added to the body" if load > 0 else f"{-load:.1f} kg taken off the body"
    kinds = {line.kind for line in variant.lines}
    each = "in each hand" if variant.equipment.hands == 1 else "in both hands"
    if kinds == {"band"}:
        return f"a band that pulls {load:.1f} kg {each} at twice its slack length"
    if kinds == {"machine"}:
        return f"{load:.1f} kg on the stack"
    if "band" in kinds:
        return f"{load:.1f} kg {each}, weight and band together"
    return f"{load:.1f} kg {each}"


def slack_words(slack: tuple[tuple[float, float], ...]) -> str:
    """Where a rep is slack: "slack over the last fifth, where it is short"."""
    told = [(a, b) for a, b in slack if b - a >= 0.03]
    if not told:
        return "no slack"
    return "slack over " + " and ".join(_stretch_words(a, b) for a, b in told)


def _stretch_words(start: float, end: float) -> str:
    size = end - start
    part = next((word for limit, word in FRACTIONS if size < limit), f"{100 * size:.0f} %")
    if start <= 0.001:
        return f"the first {part}, at the long end"
    if end >= 0.999:
        return f"the last {part}, at the short end"
    return f"{100 * size:.0f} % around the middle"


def _span(low: float, high: float) -> str:
    return f"{high:.0f} %" if high - low < 1 else f"{low:.0f}–{high:.0f} %"
