"""Version 1 of the variant document: one readable TOML or JSON document per way of doing an exercise."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from curve_rank.arm.posture import ELBOW_RANGE, FOREARM_RANGE

Target = Literal["flexors", "extensors"]
Family = Literal[
    "standing", "reclined", "supported", "cable", "press_down", "overhead", "lying", "arm_behind", "sideways"
]
Load = Literal["dumbbell", "barbell", "angled_bar", "neutral_bar", "cable"]
Bench = Literal["incline_bench", "flat_bench", "pad_bench", "upright_seat"]
Handle = Literal["rope", "free", "angled_bar", "straight_bar"]
Base = Literal["standing", "kneeling", "seated", "bench_lying", "bench_prone", "floor_lying"]
Surface = Literal["none", "back_rest", "flat_bench", "chest_bench", "pad", "thigh", "floor"]
CautionTag = Literal[
    "lower_biceps_tendon",
    "deep_elbow_bend",
    "shoulder_room",
    "bar_over_face",
    "lower_back",
    "wrist",
    "momentum",
]

Text = Annotated[str, Field(min_length=1, max_length=400)]
Short = Annotated[str, Field(min_length=1, max_length=80)]
Degrees = Annotated[float, Field(ge=-180, le=205, allow_inf_nan=False)]


class _Part(BaseModel):
    """Frozen, strict about unknown fields, and comparable by content."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class Equipment(_Part):
    """What is needed, and how the hands hold it."""

    loads: Annotated[tuple[Load, ...], Field(min_length=1)]
    bench: Bench | None = None
    handle: Handle
    hands: Annotated[int, Field(ge=1, le=2, description="Hands that share one load")] = 1
    smallest_step_kg: Annotated[float, Field(gt=0, le=20, allow_inf_nan=False)] = 1.0


class Support(_Part):
    """What carries the body and the upper arm."""

    base: Base
    surface: Surface = "none"
    upper_arm: Annotated[bool, Field(description="Something other than the shoulder holds the upper arm")] = (
        False
    )
    trunk: Annotated[bool, Field(description="A bench, seat back or the floor carries the trunk")] = False
    hip_height_m: Annotated[float, Field(ge=0.05, le=1.5, allow_inf_nan=False)] | None = None


class Angles(_Part):
    """The posture that holds through the rep unless a key of the path says otherwise [degrees].

    `upper_arm` is shoulder flexion from the trunk, or from hanging straight down when `upper_arm_from` is
    "vertical" (0 hangs, 90 level in front, 180 straight up), which is how an arm on a pad or hanging from
    a bench is best described.
    """

    upper_arm: Degrees = 0
    upper_arm_from: Literal["trunk", "vertical"] = "trunk"
    abduction: Annotated[float, Field(ge=-45, le=120, allow_inf_nan=False)] = 0
    rotation: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] = 0
    forearm: Annotated[float, Field(ge=FOREARM_RANGE[0], le=FOREARM_RANGE[1], allow_inf_nan=False)] = 0
    wrist: Annotated[float, Field(ge=-60, le=60, allow_inf_nan=False)] = 0
    trunk_pitch: Annotated[float, Field(ge=-95, le=95, allow_inf_nan=False)] = 0
    trunk_roll: Annotated[float, Field(ge=-90, le=90, allow_inf_nan=False)] = 0


class Key(_Part):
    """One key posture of the path; angles left out keep the value of `posture`."""

    elbow: Annotated[float, Field(ge=ELBOW_RANGE[0], le=ELBOW_RANGE[1], allow_inf_nan=False)]
    upper_arm: Degrees | None = None
    abduction: Annotated[float, Field(ge=-45, le=120, allow_inf_nan=False)] | None = None
    rotation: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] | None = None
    forearm: Annotated[float, Field(ge=-90, le=90, allow_inf_nan=False)] | None = None
    wrist: Annotated[float, Field(ge=-60, le=60, allow_inf_nan=False)] | None = None
    trunk_pitch: Annotated[float, Field(ge=-95, le=95, allow_inf_nan=False)] | None = None


class WeightLine(_Part):
    """A free weight in the hand."""

    kind: Literal["weight"]
    share: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)] = 1.0
    offset_m: Annotated[float, Field(ge=-0.15, le=0.15, allow_inf_nan=False)] = 0.0
    sideways: Annotated[float, Field(ge=-0.5, le=0.5, allow_inf_nan=False)] = 0.0


class CableLine(_Part):
    """A cable to a pulley; place in metres from the floor under the hip centre."""

    kind: Literal["cable"]
    share: Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)] = 1.0
    forward: Annotated[float, Field(ge=-3, le=3, allow_inf_nan=False)]
    up: Annotated[float, Field(ge=0, le=3, allow_inf_nan=False)]
    right: Annotated[float, Field(ge=-3, le=3, allow_inf_nan=False)] = 0.0
    from_middle: Annotated[bool, Field(description="The cable leaves the middle of a bar")] = False


Line = Annotated[WeightLine | CableLine, Field(discriminator="kind")]


class Guide(_Part):
    """How it is usually done: seconds to lower, pause, lift and squeeze, and a repetition range."""

    lower_s: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = 3
    pause_s: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = 1
    lift_s: Annotated[float, Field(gt=0, le=20, allow_inf_nan=False)] = 1
    squeeze_s: Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)] = 0
    reps_from: Annotated[int, Field(ge=1, le=50)] = 8
    reps_to: Annotated[int, Field(ge=1, le=50)] = 12

    @model_validator(mode="after")
    def _range_rises(self) -> Guide:
        if self.reps_to < self.reps_from:
            raise ValueError(f"reps_to must be at least reps_from ({self.reps_from})")
        return self


class Change(_Part):
    """One change to the document: set a field, or add to it. Paths are dotted, list places count from 0,
    and −1 is the last ("path.-1.upper_arm")."""

    field: Annotated[str, Field(pattern=r"^[a-z_]+(\.(-?\d+|[a-z_]+))*$", max_length=80)]
    add: Annotated[float, Field(allow_inf_nan=False)] | None = None
    set: float | str | bool | None = None

    @model_validator(mode="after")
    def _one_of_two(self) -> Change:
        if (self.add is None) == (self.set is None):
            raise ValueError("give either add or set")
        return self


class Fault(_Part):
    """A common fault, as a change to the set-up so that its cost can be computed."""

    name: Short
    cue: Text
    changes: Annotated[tuple[Change, ...], Field(min_length=1)]


class Variant(_Part):
    """One way of doing an exercise."""

    schema_version: Literal[1]
    id: Annotated[str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]
    name: Short
    also_called: tuple[Short, ...] = ()
    family: Family
    target: Target
    summary: Text
    equipment: Equipment
    support: Support
    posture: Angles
    path: Annotated[
        tuple[Key, ...],
        Field(min_length=2, max_length=12, description="From the target's stretched end to its short end"),
    ]
    lines: Annotated[tuple[Line, ...], Field(min_length=1, max_length=3)]
    guide: Guide = Guide()
    setup: Annotated[tuple[Text, ...], Field(min_length=1, max_length=10)]
    cues: Annotated[tuple[Text, ...], Field(min_length=1, max_length=10)]
    faults: Annotated[tuple[Fault, ...], Field(max_length=12)] = ()
    cautions: tuple[CautionTag, ...] = ()

    @model_validator(mode="after")
    def _consistent(self) -> Variant:
        total = sum(line.share for line in self.lines)
        if abs(total - 1) > 1e-6:
            raise ValueError(f"the lines' shares add up to {total:g}; they must add up to 1")
        elbows = [key.elbow for key in self.path]
        steps = [b - a for a, b in pairwise(elbows)]
        shortens = 1 if self.target == "flexors" else -1
        if any(step * shortens < 1 for step in steps):
            way = "bend" if shortens == 1 else "straighten"
            raise ValueError(f"path: elbow angles {elbows} must {way} by at least 1° from key to key")
        return self
