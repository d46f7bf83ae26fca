"""The bench's set-up controls for a variant: what can be moved, how far, and how it is named."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from curve_rank.catalogue.schema import CableLine, Variant

HANDLES = (
    ("free", "handle free to turn"),
    ("rope", "rope"),
    ("angled_bar", "angled bar"),
    ("straight_bar", "straight bar"),
)


@dataclass(frozen=True)
class Control:
    """A slider over one field of the document.

    What is shown is `offset + sign · field`: a bench's angle from the floor is 90 plus the trunk's pitch.
    """

    field: str
    label: str
    low: float
    high: float
    step: float
    unit: str
    offset: float = 0.0
    sign: int = 1
    shown: float = 0.0


def controls(variant: Variant) -> tuple[Control, ...]:
    """The sliders that make sense for a variant, with their present values."""
    listed = [_trunk(variant), _upper_arm(variant)]
    listed += [
        Control("path.0.elbow", "Elbow, stretched end", 0, 145, 1, "°"),
        Control("path.-1.elbow", "Elbow, short end", 0, 145, 1, "°"),
    ]
    if all(key.forearm is None for key in variant.path):
        listed.append(Control("posture.forearm", "Palm: up −90, thumb up 0, down 90", -90, 90, 5, "°"))
    listed += [
        Control("posture.abduction", "Upper arm out to the side", -30, 110, 5, "°"),
        Control("posture.rotation", "Upper arm turned in (+) or out (−)", -90, 90, 5, "°"),
        Control("posture.wrist", "Wrist: back (−), forward (+)", -40, 40, 5, "°"),
    ]
    for n, line in enumerate(variant.lines):
        if isinstance(line, CableLine):
            listed += [
                Control(f"lines.{n}.up", "Pulley height", 0, 2.4, 0.05, "m"),
                Control(f"lines.{n}.forward", "Pulley forward of the hips", -2, 2, 0.05, "m"),
                Control(f"lines.{n}.right", "Pulley to the right", -2, 2, 0.05, "m"),
            ]
    return tuple(_with_value(variant, control) for control in listed)


def _trunk(variant: Variant) -> Control:
    surface = variant.support.surface
    if surface == "back_rest":
        return Control("posture.trunk_pitch", "Bench from the floor", 15, 95, 1, "°", offset=90)
    if surface == "chest_bench":
        return Control("posture.trunk_pitch", "Bench from the floor", 15, 85, 1, "°", offset=90, sign=-1)
    return Control("posture.trunk_pitch", "Trunk: leaning back (−), forward (+)", -90, 90, 1, "°")


def _upper_arm(variant: Variant) -> Control:
    if variant.support.surface == "pad":
        return Control("posture.upper_arm", "Pad from level", 0, 100, 1, "°", offset=90, sign=-1)
    if variant.posture.upper_arm_from == "vertical":
        return Control("posture.upper_arm", "Upper arm from hanging", -100, 205, 1, "°")
    return Control("posture.upper_arm", "Upper arm from the trunk", -60, 180, 1, "°")


def _with_value(variant: Variant, control: Control) -> Control:
    place: Any = variant.model_dump(mode="json")
    for step in control.field.split("."):
        place = place[int(step)] if isinstance(place, list) else place[step]
    shown = control.offset + control.sign * float(place)
    return Control(**(vars(control) | {"shown": round(shown, 4)}))
