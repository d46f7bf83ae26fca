"""What can be moved about a variant, how far, how it is named, and the steps a gym gives it."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from math import ceil, floor
from typing import Any

from curve_rank.catalogue.line_kinds import BandLine, BodyWeightLine, CableLine
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.catalogue.words import unit_after
from curve_rank.errors import BadInputError
from curve_rank.validation import near

HANDLE = "equipment.handle"


@dataclass(frozen=True)
class Control:
    """One field of the document that can be moved.

    What is shown is `offset + sign · scale · field`: a bench's angle from the floor is 90 plus the trunk's
    pitch, a share is shown in percent.

    Attributes
    ----------
    low, high, step : float
        Of what is shown: how far it goes, and the finest step worth setting.
    gym : float
        The step a gym gives: holes of a bench or a pulley, or what can be told apart by eye.
    reach : float
        How far from where it is a lifter would move it on purpose; 0 where it is not to be searched.
    group : str
        "path" for the points of a hand path, of which there are many.
    """

    field: str
    label: str
    low: float
    high: float
    step: float
    unit: str
    offset: float = 0.0
    sign: int = 1
    scale: float = 1.0
    gym: float = 5.0
    reach: float = 30.0
    group: str = ""
    shown: float = 0.0

    @property
    def name(self) -> str:
        """The label without what it says of its ends."""
        return re.sub(r" \([+−]\)|:.*", "", self.label)

    def field_value(self, shown: float) -> float:
        """What stands in the document where `shown` is shown."""
        return round(self.sign * (shown - self.offset) / self.scale, 6)

    @property
    def unit_after(self) -> str:
        """The unit as it follows a number."""
        return unit_after(self.unit)

    def words(self, shown: float) -> str:
        """What is shown, as it is written: a true minus, and the unit."""
        return f"{shown:g}{self.unit_after}".replace("-", "−")

    @property
    def grid(self) -> tuple[float, ...]:
        """The gym's steps within reach, what is shown now among them."""
        low, high = max(self.low, self.shown - self.reach), min(self.high, self.shown + self.reach)
        first, last = ceil(low / self.gym - 1e-9), floor(high / self.gym + 1e-9)
        steps = {round(n * self.gym, 6) for n in range(first, last + 1)}
        return tuple(sorted(steps | {self.shown}))


def controls(variant: Variant) -> tuple[Control, ...]:
    """The sliders that make sense for a variant, with their present values."""
    plain = variant.model_dump(mode="json")
    return tuple(_with_value(plain, control) for control in _without_values(variant))


def movable(variant: Variant) -> frozenset[str]:
    """The fields of a variant's controls."""
    return frozenset(control.field for control in _without_values(variant))


def _without_values(variant: Variant) -> list[Control]:
    if variant.hand_path is not None:
        leans = any(key.trunk_pitch is not None for key in variant.hand_path.keys)
        listed = [*([] if leans else [_trunk(variant)]), *_hand_path()]
    elif variant.coordinate == "shoulder":
        listed = [_trunk(variant), *_straight_arm()]
    else:
        listed = [_trunk(variant), _upper_arm(variant), *_elbow()]
    keys = variant.hand_path.keys if variant.hand_path else variant.path
    if all(key.forearm is None for key in keys):
        listed.append(
            Control(
                "posture.forearm", "Palm: up −90, thumb up 0, down 90", -90, 90, 5, "°", gym=45, reach=180
            )
        )
    if variant.hand_path is None:
        listed += [
            Control("posture.abduction", "Upper arm out to the side", -30, 110, 5, "°", gym=15),
            Control("posture.rotation", "Upper arm turned in (+) or out (−)", -90, 90, 5, "°", gym=15),
            Control("posture.wrist", "Wrist: back (−), forward (+)", -40, 40, 5, "°", gym=10, reach=20),
        ]
    for n, line in enumerate(variant.lines):
        listed += _of_line(n, line)
    if variant.hand_path is not None:
        listed += [point for n in range(len(variant.hand_path.keys)) for point in _path_point(n)]
    return listed


def check_control(variant: Variant, change: Change) -> None:
    """Refuse a change to what the bench has no control for.

    Raises
    ------
    BadInputError
    """
    fields = sorted(movable(variant) | {HANDLE})
    if change.field not in fields:
        raise BadInputError("set", change.field, near(change.field, fields))
    if change.field != HANDLE and not isinstance(change.set, float):
        raise BadInputError(change.field, change.set, "a number")


def _elbow() -> list[Control]:
    return [
        Control("path.0.elbow", "Elbow, stretched end", 0, 145, 1, "°", gym=10, reach=60),
        Control("path.-1.elbow", "Elbow, short end", 0, 145, 1, "°", gym=10, reach=60),
    ]


def _straight_arm() -> list[Control]:
    return [
        Control("path.0.upper_arm", "Upper arm, stretched end", -60, 180, 1, "°", gym=15),
        Control("path.-1.upper_arm", "Upper arm, short end", -60, 180, 1, "°", gym=15),
        Control("path.0.elbow", "Elbow bend, stretched end", 0, 100, 1, "°"),
        Control("path.-1.elbow", "Elbow bend, short end", 0, 100, 1, "°"),
    ]


def _hand_path() -> list[Control]:
    return [
        Control("hand_path.start", "Path begins at", 0, 90, 1, "%", scale=100, gym=10, reach=50),
        Control("hand_path.end", "Path ends at", 10, 100, 1, "%", scale=100, gym=10, reach=50),
        Control("hand_path.flare", "Elbows: in (−), flared (+)", -60, 90, 1, "°", gym=15),
        Control(
            "hand_path.wider",
            "Hands: closer (−), wider (+), of arm length",
            -30,
            40,
            1,
            "%",
            scale=100,
            gym=5,
            reach=15,
        ),
    ]


def _path_point(n: int) -> list[Control]:
    named = {"forward": "forward", "up": "up along the trunk", "out": "out to the side"}
    return [
        Control(
            f"hand_path.keys.{n}.{place}", f"Path point {n + 1}, {words}, of arm length", -100, 100, 1, "%",
            scale=100, reach=0, group="path",
        )
        for place, words in named.items()
    ]  # fmt: skip


def _of_line(n: int, line: object) -> list[Control]:
    if isinstance(line, CableLine | BandLine):
        name = "Anchor" if isinstance(line, BandLine) else "Pulley"
        listed = [
            Control(f"lines.{n}.up", f"{name} height", 0, 2.4, 0.05, "m", gym=0.1, reach=2.4),
            Control(f"lines.{n}.forward", f"{name} forward of the hips", -2, 2, 0.05, "m", gym=0.1, reach=1),
            Control(f"lines.{n}.right", f"{name} to the right", -2, 2, 0.05, "m", gym=0.1, reach=0.5),
        ]
        if isinstance(line, BandLine):
            listed.append(
                Control(f"lines.{n}.slack_m", "Band’s slack length", 0.2, 2, 0.05, "m", gym=0.1, reach=0.5)
            )
        return listed
    if isinstance(line, BodyWeightLine):
        return [Control(f"lines.{n}.carried", "Body mass on the hands", 20, 100, 1, "%", scale=100, reach=0)]
    return []


def _trunk(variant: Variant) -> Control:
    surface = variant.support.surface
    if surface == "back_rest":
        return Control(
            "posture.trunk_pitch", "Bench from the floor", 15, 95, 1, "°", offset=90, gym=15, reach=90
        )
    if surface == "chest_bench":
        return Control(
            "posture.trunk_pitch",
            "Bench from the floor",
            15,
            85,
            1,
            "°",
            offset=90,
            sign=-1,
            gym=15,
            reach=90,
        )
    return Control("posture.trunk_pitch", "Trunk: leaning back (−), forward (+)", -90, 90, 1, "°", reach=15)


def _upper_arm(variant: Variant) -> Control:
    if variant.support.surface == "pad" and variant.posture.upper_arm_from == "vertical":
        return Control(
            "posture.upper_arm", "Pad from level", 0, 100, 1, "°", offset=90, sign=-1, gym=15, reach=45
        )
    if variant.posture.upper_arm_from == "vertical":
        return Control("posture.upper_arm", "Upper arm from hanging", -100, 205, 1, "°", gym=15)
    return Control("posture.upper_arm", "Upper arm from the trunk", -60, 180, 1, "°", gym=15)


def _with_value(plain: dict[str, Any], control: Control) -> Control:
    place: Any = plain
    for step in control.field.split("."):
        place = place[int(step)] if isinstance(place, list) else place[step]
    shown = control.offset + control.sign * control.scale * float(place or 0.0)
    return replace(control, shown=round(shown, 4))
