"""What the model is held against: published strength, orders that anatomy asks, loads."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, partial
from itertools import pairwise
from typing import Any

import numpy as np

from curve_rank.arm.actuators import Actuators, actuators
from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.arm.strength import ElbowStrength
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import parse_setup
from curve_rank.catalogue.words import unit_after
from curve_rank.data_files import read_toml
from curve_rank.rating.load_bands import load_bands
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.readings import all_readings
from curve_rank.rating.words import printed

PALM_UP, THUMB_UP, PALM_DOWN = -90.0, 0.0, 80.0
BENDING, STRAIGHTENING = 1.0, -1.0
STEPS = 8
"""Rounds in which the grip that a moment needs is found: it settles to rounding in half of them."""


@dataclass(frozen=True)
class Proof:
    """One thing that the model is held against.

    Attributes
    ----------
    group : str
        Which part of the page it stands in, as "strength" or "learning".
    asks : str
        What is looked at.
    expected : str
        What is published or held, in words.
    source : str
        By whom.
    found : str
        What the model gives, in words.
    holds : bool
    place : float or None
        Of a range: where in it the model stands, 0 its low end, 1 its high end.
    miss : str
        Why it does not hold, where that is known.
    """

    group: str
    asks: str
    expected: str
    source: str
    found: str
    holds: bool
    place: float | None = None
    miss: str = ""


def proofs(modeller: Modeller) -> tuple[Proof, ...]:
    """Everything, worked out now; loads are medians of the fixed draws."""
    return (*strengths(), *_orders(modeller), *_places(modeller), *_loads(modeller))


def strength_along(elbow: Array, forearm: float, handle: str, way: float) -> Array:
    """Largest moment at the elbow with the arm at the side, held as hard as it pulls.

    Parameters
    ----------
    elbow : array, shape (samples,)
        [degrees]
    forearm : float
        -90 palm up, 0 thumb up, 90 palm down [degrees].
    handle : str
        "free" or a rigid one, as "straight_bar": what the grip has to hold besides.
    way : float
        1 bends, -1 straightens.

    Returns
    -------
    array, shape (samples,)
        [N·m]
    """
    numbers, body = parameter_set(), Body()
    per_kg = numbers.number(f"helpers.grip_{handle}")
    link = ElbowStrength(at_the_side(elbow, np.full(elbow.size, forearm)), np.full(elbow.size, way))
    grip = np.zeros(elbow.size)
    for _ in range(STEPS):
        moment = link.at(np.zeros(elbow.size), grip)
        grip = per_kg * moment / (numbers.number("body.gravity") * (body.forearm + body.grip))
    return moment


def at_the_side(elbow: Array, forearm: Array) -> Actuators:
    """What acts on a hanging arm of the default body.

    Parameters
    ----------
    elbow, forearm : array, shape (samples,)
        [degrees]
    """
    anatomy, still = default_anatomy(), np.zeros(elbow.size)
    at = head_geometry(anatomy, elbow=elbow, forearm=forearm, shoulder=still, abduction=still)
    hanging = np.tile([[0.0], [-1.0], [0.0]], elbow.size)
    return actuators(anatomy, at, forearm=forearm, upper_arm=hanging, body=Body())


def strengths() -> tuple[Proof, ...]:
    """Strength of the default body against published ranges."""
    found = _measured()
    return tuple(_in_range(entry, found[entry["key"]]) for entry in _table()["ranges"])


@cache
def _table() -> dict[str, Any]:
    return read_toml("curve_rank.study", "proving.toml")


def _measured() -> dict[str, float]:
    """Every number that a range is of, by its key."""
    angles, square = np.arange(0.0, 146.0), np.array([90.0])
    flexion = strength_along(angles, PALM_UP, "straight_bar", BENDING)
    extension = strength_along(angles, THUMB_UP, "free", STRAIGHTENING)
    up, thumb, down = (
        float(strength_along(square, turn, "free", BENDING)[0]) for turn in (PALM_UP, THUMB_UP, PALM_DOWN)
    )
    columns = at_the_side(square, np.array([THUMB_UP]))
    turn, low = columns.matrix[1, :, 0], columns.low
    return {
        "flexion_peak": float(flexion.max()),
        "flexion_peak_at": float(angles[flexion.argmax()]),
        **{f"flexion_{angle}": float(100 * flexion[angle] / flexion.max()) for angle in (10, 30, 120)},
        "extension_peak": float(extension.max()),
        "extension_peak_at": float(angles[extension.argmax()]),
        "extension_120": float(100 * extension[120] / extension.max()),
        "pronation": float(np.maximum(turn, low * turn).sum()),
        "supination": float(-np.minimum(turn, low * turn).sum()),
        "thumb_up": 100 * thumb / up,
        "palm_down": 100 * down / up,
    }


def _in_range(entry: dict[str, Any], value: float) -> Proof:
    low, high, unit = entry["low"], entry["high"], entry["unit"]
    return Proof(
        group="strength",
        asks=entry["asks"],
        expected=f"{low:g} to {high:g}{unit_after(unit)}",
        source=entry["source"],
        found=f"{printed(value, 0 if unit in ('°', '%') else 1)}{unit_after(unit)}",
        holds=low <= value <= high,
        place=(value - low) / (high - low),
    )


def _setup(line: str) -> Variant:
    address = parse_setup(line)
    return address.of(find_variant(address.variant, built_in()))


def _modelled(modeller: Modeller, line: str) -> VariantModel:
    return modeller.one(_setup(line), Body(), effort=usual_effort())


def _orders(modeller: Modeller) -> list[Proof]:
    found = []
    for entry in _table()["orders"]:
        reading = all_readings()[entry["reads"]]
        values = [
            sum(float(reading.values(m.readings, head)) for head in entry["heads"] or [""])
            for m in map(partial(_modelled, modeller), entry["variants"])
        ]
        falls = all(one > other for one, other in pairwise(values))
        shown = " > ".join(printed(value, max(reading.digits, 1)) for value in values)
        found.append(
            Proof(
                "order",
                entry["asks"],
                "falls in this order",
                entry["held_by"],
                f"{shown if falls else shown.replace('>', ',')} {reading.unit}",
                falls,
            )
        )
    return found


def _places(modeller: Modeller) -> list[Proof]:
    found = []
    for entry in _table()["places"]:
        modelled = _modelled(modeller, entry["variant"])
        slack = {
            "start": next((end for start, end in modelled.slack if start == 0), 0.0),
            "end": next((1 - start for start, end in modelled.slack if end > 1 - 1e-9), 0.0),
        }
        wanted = entry.get("slack_at")
        holds = modelled.hard_third == entry["third"] and (not wanted or slack[wanted] >= entry["least"])
        asked = f", slack over {100 * entry['least']:.0f} % or more at its {wanted}" if wanted else ""
        had = f", slack over {100 * slack[wanted]:.0f} % at its {wanted}" if wanted else ""
        found.append(
            Proof(
                "place",
                entry["asks"],
                f"hardest in the {entry['third']} third{asked}",
                entry["held_by"],
                f"hardest in the {modelled.hard_third} third{had}",
                holds,
            )
        )
    return found


def _loads(modeller: Modeller) -> list[Proof]:
    return [
        Proof(
            "load",
            f"{one.band}: {one.name}" if one.name.lower() not in one.band.lower() else one.band,
            f"{printed(one.low, 2)} to {printed(one.high, 2)} {one.unit}",
            "ordinary gym experience",
            f"{printed(one.ratio, 2)} {one.unit}",
            one.inside,
            (one.ratio - one.low) / (one.high - one.low),
            one.miss,
        )
        for one in load_bands(built_in(), Body(), modeller)
    ]
