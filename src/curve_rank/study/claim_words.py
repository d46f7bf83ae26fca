"""Words for what verdicts and certainties stand on: drawn numbers, sizes, and where a claim would turn."""

from __future__ import annotations

from curve_rank.arm.parameters import parameter_set
from curve_rank.rating.readings import Reading
from curve_rank.rating.spreads import Spread
from curve_rank.rating.words import printed
from curve_rank.study.claims import ClaimTest
from curve_rank.study.verdicts import Turn, Verdict

OUTCOMES = {
    "holds": "Holds",
    "fails": "Fails",
    "too_close": "Too close to call",
    "outside": "The model cannot tell",
}
OFF_BY = {
    "setup.trunk": ("readings.setup_angle", "°"),
    "setup.upper_arm": ("readings.setup_angle", "°"),
    "setup.pulley_forward": ("readings.setup_pulley", " m"),
    "setup.pulley_up": ("readings.setup_pulley", " m"),
    "setup.pulley_right": ("readings.setup_pulley", " m"),
}
"""Numbers that are off by an amount, not by a part: the parameter that says by how much, and its unit."""
STAMPS = {"setups": "the set-up", "parameters": "the parameters", "model": "the model"}


PARAMETER_WORDS = {
    "elbow_arm": "moment arm at the elbow",
    "elbow_arm_low": "moment arm near straight",
    "forearm_scale": "moment arm with the palm’s turn",
    "forearm_arm": "arm for turning the palm",
    "shoulder_arm": "moment arm at the shoulder",
    "peak_force": "peak force",
    "reference_length": "reference length",
    "sharing.exponent": "exponent of load sharing",
    "readings.long_from": "where “long” begins",
    "readings.long_to": "where “long” is whole",
    "muscle.force_scale_flexors": "fitted force of the flexors",
    "muscle.force_scale_extensors": "fitted force of the extensors",
    "muscle.active_width": "width of the active force–length curves",
    "muscle.passive_strain": "strain at which passive force is whole",
    "grip_rope": "grip on a rope",
    "grip_free": "grip on a free dumbbell",
    "grip_angled_bar": "grip on an angled bar",
    "grip_straight_bar": "grip on a straight bar",
    "wrist_pronators": "wrist’s help in turning the palm down",
    "end_stop": "what holds an elbow at its end",
    "shoulder_forward": "shoulder’s strength forward",
    "shoulder_backward": "shoulder’s strength backward",
    "shoulder_up": "shoulder’s strength upward",
    "shoulder_down": "shoulder’s strength downward",
    "shoulder_in": "shoulder’s strength inward",
    "shoulder_out": "shoulder’s strength outward",
    "helpers.shoulder_cost": "what the shoulder muscles cost in load sharing",
    "helpers.palm_down_cost": "how far the biceps gives way with the palm down",
    "press.sideways": "how hard hands press apart",
    "press.carried": "how much of the body the hands carry",
    "band.tension": "how a band’s pull grows",
    "setup.hips": "how high the hips are",
    "setup.trunk": "how the trunk is set",
    "setup.upper_arm": "how the upper arm is set",
    "setup.pulley_forward": "how far the pulley stands",
    "setup.pulley_up": "how high the pulley stands",
    "setup.pulley_right": "how far aside the pulley stands",
}


def parameter_words(name: str) -> str:
    """A drawn parameter in words."""
    if name in PARAMETER_WORDS:
        return PARAMETER_WORDS[name]
    *_, group, last = ("", *name.split("."))
    heads = {head.key: head.name for head in parameter_set().heads}
    words = PARAMETER_WORDS.get(last, last.replace("_", " "))
    return f"{heads[group]}: {words}" if group in heads else words


def probability_words(verdict: Verdict) -> str:
    """How many arms say so."""
    if verdict.probability is None:
        return ""
    agree = 100 * verdict.probability
    if verdict.outcome == "too_close":
        return f"in this physics, with {agree:.0f} arms of 100 for the left"
    return f"in this physics, in {agree if verdict.outcome == 'holds' else 100 - agree:.0f} arms of 100"


def size_words(verdict: Verdict, test: ClaimTest, reading: Reading) -> str:
    """How much more or less, and how much the claim asks for."""
    if verdict.size is None:
        return ""
    size, up = verdict.size, test.way == "up"
    more = size.median >= 0
    told = size if test.is_alone or more else Spread(-size.median, -size.high, -size.low)
    # in whichever unit a mass is read, all numbers of a sentence are: none stands without its unit
    mass = f" {reading.unit}" if "kg" in reading.unit else ""
    amount = f"{_number(told.median, reading)} {reading.unit}"
    span = f"{_number(told.low, reading)} to {_number(told.high, reading)}{mass}"
    if test.is_alone:
        asks = f"{'more' if up else 'less'} than {test.by:g}{mass}"
        return f"{reading.name}: {amount} ({span}). The claim asks for {asks}."
    if size.is_nothing(max(1, reading.digits)):
        amount, span = f"0 {reading.unit}", "no difference"
    asks = f"more than {test.by:g}{mass} {'more' if up else 'less'}" if test.by else "more" if up else "less"
    return f"{reading.name}: {amount} {'more' if more else 'less'} ({span}). The claim asks for {asks}."


def turn_words(turn: Turn) -> str:
    """One number that alone would turn a claim, and by how much."""
    way = "higher" if turn.spreads > 0 else "lower"
    words = f"{parameter_words(turn.parameter)}, {abs(turn.spreads):.1f} spreads {way}"
    off = off_words(turn)
    return f"{words} ({off})" if off else words


def history_words(outcome: str, changed: tuple[str, ...]) -> str:
    """What a verdict was, and until what changed."""
    return f"{OUTCOMES[outcome]} until {' and '.join(STAMPS[name] for name in changed)} changed"


def _number(value: float, reading: Reading) -> str:
    digits = reading.digits if abs(value) >= 10 else max(1, reading.digits)
    return printed(value, digits)


def off_words(turn: Turn) -> str:
    """By how much a number would be off; empty where it is no plain amount or part."""
    if turn.parameter in OFF_BY:
        key, unit = OFF_BY[turn.parameter]
        return f"{turn.spreads * parameter_set().number(key):+.2g}{unit}".replace("-", "−")
    found = parameter_set().get(turn.parameter)
    if found is None or not found.spread:
        return ""
    by = turn.spreads * found.spread
    if found.spread_is_absolute:
        return f"{by:+.2f} {found.unit if found.unit != '1' else ''}".strip().replace("-", "−")
    return f"{100 * by:+.0f} %".replace("-", "−")
