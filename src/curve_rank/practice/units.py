"""Kilograms and pounds: what is worked out is in kilograms, what is read in whichever somebody chose."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any, Literal

Unit = Literal["kg", "lb"]
KG_PER_LB = 0.45359237
CM_PER_IN, CM_PER_M = 2.54, 100.0
HALF_POUND = 0.12
"""Loads that differ by less read alike in pounds, which are shown to the nearest half [kg]."""
MASS_UNITS: dict[Unit, str] = {"kg": "kilograms", "lb": "pounds"}
NUMBER = r"[−-]?\d+(?:\.\d+)?"
BETWEEN = r"(?: (?:to|and|or|against|–|→) +|–|/)"
SAID = re.compile(rf"(?<![\w.])({NUMBER}(?:{BETWEEN}{NUMBER})*)( |\u202f|\u00a0)kg\b(?!·)")
"""Masses in a text: one number, or several that share a unit."""
PER = re.compile(rf"(?<![\w.])({NUMBER}(?:{BETWEEN}{NUMBER})*) N·m/kg")
"""Moments that each kilogram asks."""
BODY = re.compile(r"(\d\.\d\d) m(,| and|, and) (\d+) kg\b")
"""A body's height and mass in a text."""
GIRTH = re.compile(rf"(?<![\w.])([+]?{NUMBER}(?:{BETWEEN}[+]?{NUMBER})*) cm\b")
"""Lengths of a tape in a text: one number, or several that share a unit."""
READ_IN = {"kg": ("lb", 1 / KG_PER_LB), "N·m/kg": ("N·m/lb", KG_PER_LB)}
"""Units of readings that have a mass in them: how they are read in pounds, and the factor."""
MASSES = {"kg": 1.0, "lb": KG_PER_LB, "lbs": KG_PER_LB}
LENGTHS = {"cm": 1.0, "m": 100.0, "in": CM_PER_IN, "ft": 12 * CM_PER_IN}
PART = re.compile(r"([−-]?[0-9]+(?:[.,][0-9]*)?|[−-]?[.,][0-9]+)\s*([A-Za-z'′\"″]*)")
TYPED = re.compile(rf"(?:{PART.pattern}\s*){{1,2}}")
STEPS = {1.0: 2.5, 1.25: 2.5, 2.0: 5.0, 2.5: 5.0, 5.0: 10.0}
"""What stands in a gym in pounds where another has a step in kilograms."""


def kg_per(unit: str) -> float:
    """Kilograms in one of a unit."""
    return KG_PER_LB if unit == "lb" else 1.0


def mass_shown(kilograms: float, unit: str) -> str:
    """A load in a unit, in pounds to the nearest half."""
    shown = in_pounds(kilograms) if unit == "lb" else kilograms
    return f"{shown:.4g} {unit}".replace("-", "−")


def in_pounds(kilograms: float) -> float:
    """Pounds, to the nearest half: no plate is lighter."""
    return round(2 * kilograms / KG_PER_LB) / 2


def masses_in(text: str, unit: str) -> str:
    """A text with its masses as somebody reads them: "11.3 kg in each hand" is "25 lb in each hand".

    What the model says is worked out, kept and put into words in kilograms; in which unit it is read is
    nobody's business but the reader's, so it is changed where it is read, and nowhere before.

    Parameters
    ----------
    text : str
        Of the model's own; what a person wrote stays as it was written.
    unit : str
        "kg", which changes nothing, or "lb".
    """
    if unit != "lb" or "kg" not in text:
        return text
    text = PER.sub(lambda found: f"{re.sub(NUMBER, _per_pound, found[1])} N·m/lb", BODY.sub(_body, text))
    return SAID.sub(lambda found: f"{re.sub(NUMBER, _pounds, found[1])}{found[2]}lb", text)


def _per_pound(found: re.Match[str]) -> str:
    digits = len(found[0].partition(".")[2])
    return f"{float(found[0].replace('−', '-')) * KG_PER_LB:.{digits}f}".replace("-", "−")


def _body(found: re.Match[str]) -> str:
    feet, inches = divmod(round(float(found[1]) * CM_PER_M / CM_PER_IN), 12)
    return f"{feet} ft {inches} in{found[2]} {float(found[3]) / KG_PER_LB:.0f} lb"


def masses_of(data: Any, unit: str) -> Any:
    """Plain data for a page's script, each text in it as `masses_in` has it."""
    if unit != "lb":
        return data
    if isinstance(data, dict):
        return {key: masses_of(value, unit) for key, value in data.items()}
    if isinstance(data, list | tuple):
        return [masses_of(value, unit) for value in data]
    return masses_in(data, unit) if isinstance(data, str) else data


def lengths_in(text: str, unit: str) -> str:
    """A text with its lengths of a tape as somebody reads them: "0.5 cm more" is "0.20 in more".

    Parameters
    ----------
    text : str
        Of the model's own, and not of moment arms or levers: those are read in centimetres by everybody.
    unit : str
        "cm", which changes nothing, or "in".
    """
    if unit != "in" or "cm" not in text:
        return text
    return GIRTH.sub(lambda found: f"{re.sub(NUMBER, _inches, found[1])} in", text)


def _inches(found: re.Match[str]) -> str:
    return f"{float(found[0].replace('−', '-')) / CM_PER_IN:.2f}".replace("-", "−")


def both_masses_in(text: str, unit: str) -> str:
    """A text of the model's own numbers, each mass with what it is in the reader's unit behind it."""
    if unit != "lb" or "kg" not in text:
        return text
    return SAID.sub(lambda found: f"{found[0]} ({re.sub(NUMBER, _pounds, found[1])} lb)", text)


def _pounds(found: re.Match[str]) -> str:
    shown = f"{in_pounds(float(found[0].replace('−', '-'))):g}"
    return shown.replace("-", "−")


def unit_in(unit: str, of: str) -> str:
    """How the unit of a reading is read: "kg" is "lb", and "N·m/kg" is "N·m/lb"."""
    return READ_IN.get(of, (of, 1.0))[0] if unit == "lb" else of


def amount_in(unit: str, value: float, of: str) -> float:
    """A reading's value for `unit_in`."""
    return value * READ_IN.get(of, (of, 1.0))[1] if unit == "lb" else value


def mass_of(value: object, unit: str = "kg") -> object:
    """A mass that is typed, with its unit or without [kg]: "25 lb" is 11.34, "11,3" is 11.3.

    Parameters
    ----------
    value : object
        Only a text is read; whatever else comes back as it is.
    unit : str
        Of a number that names none.

    Raises
    ------
    ValueError
        For what is none.
    """
    return _typed(value, MASSES, unit, "a number, as in 12.5 or 27.5 lb")


def height_of(value: object) -> object:
    """A length of a body that is typed, with its unit or without [cm]: "5 ft 10" and "70 in" are 177.8.

    Raises
    ------
    ValueError
        For what is none.
    """
    return _typed(value, LENGTHS, "cm", "a number, as in 178, 1.78 m or 5 ft 10")


def _typed(value: object, units: Mapping[str, float], usual: str, right: str) -> object:
    """A number, or some with units behind them; the first without one is in the usual unit."""
    if not isinstance(value, str):
        return value
    if not TYPED.fullmatch(value.strip()):
        raise ValueError(right)
    whole, smaller = 0.0, units[usual]
    for number, named in PART.findall(value):
        unit = {"'": "ft", "′": "ft", '"': "in", "″": "in"}.get(named, named.lower())
        if unit and unit not in units:
            raise ValueError(right)
        whole += float(number.replace(",", ".").replace("−", "-")) * (units[unit] if unit else smaller)
        smaller = CM_PER_IN if unit == "ft" else 1.0
    return whole


def step_in(unit: str, step: float) -> float:
    """The step that a gym in a unit has where one in kilograms has this one [kg]."""
    return STEPS.get(step, in_pounds(step)) * KG_PER_LB if unit == "lb" else step
