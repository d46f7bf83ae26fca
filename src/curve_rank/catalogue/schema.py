"""Version 1 of the variant document: one readable TOML or JSON document per way of doing an exercise."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Mapping
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Any, Literal, Self

from pydantic import AfterValidator, ConfigDict, Field, model_validator

from curve_rank.arm.ranges import FOREARM_RANGE
from curve_rank.catalogue.line_kinds import BandLine, DocumentPart, Elbow, Line, MachineLine
from curve_rank.validation import seen

Group = Literal["flexors", "extensors"]
Family = Literal[
    "standing",
    "reclined",
    "supported",
    "cable",
    "band",
    "pulling",
    "press_down",
    "overhead",
    "lying",
    "arm_behind",
    "straight_arm",
    "sideways",
    "pressing",
]
Load = Literal["dumbbell", "barbell", "angled_bar", "neutral_bar", "cable", "band", "machine", "body_weight"]
Bench = Literal[
    "incline_bench", "flat_bench", "pad_bench", "upright_seat", "pull_up_bar", "dip_bars", "low_bar"
]
Handle = Literal["rope", "free", "angled_bar", "straight_bar"]
Base = Literal[
    "standing",
    "kneeling",
    "seated",
    "bench_lying",
    "bench_prone",
    "floor_lying",
    "hanging",
    "dip_support",
    "push_up",
    "bench_dip",
    "body_row",
]
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

Text = Annotated[str, Field(min_length=1, max_length=400), AfterValidator(seen)]
Short = Annotated[str, Field(min_length=1, max_length=80), AfterValidator(seen)]


def _number(low: float, high: float, says: str) -> Any:
    """A finite number between two, and what it is."""
    return Field(ge=low, le=high, allow_inf_nan=False, description=says)


PartOfLoad = Annotated[float, Field(gt=0, le=1, allow_inf_nan=False)]
UpperArm = Annotated[float, _number(-180, 205, "Upper arm forward (+) or back (−) [°]; see upper_arm_from")]
Abduction = Annotated[float, _number(-45, 120, "Upper arm out to the side [°]")]
Rotation = Annotated[float, _number(-100, 100, "Upper arm turned in (+) or out (−) about itself [°]")]
Forearm = Annotated[float, _number(*FOREARM_RANGE, "Palm up −90, thumb up 0, palm down 90 [°]")]
Wrist = Annotated[float, _number(-60, 60, "Wrist cocked back (−) or bent forward (+) [°]")]
TrunkPitch = Annotated[float, _number(-95, 95, "Trunk leaning forward (+) or back (−) from upright [°]")]
Flare = Annotated[float, _number(-90, 120, "Turns the elbow outwards from where elbow_towards points [°]")]
Reach = Annotated[float, Field(ge=-1.5, le=1.5, allow_inf_nan=False)]
Seconds = Annotated[float, _number(0, 20, "Seconds; 0 for none")]
Reps = Annotated[int, Field(ge=1, le=50)]


class Equipment(DocumentPart):
    """What is needed, and how the hands hold it."""

    loads: Annotated[tuple[Load, ...], Field(min_length=1, max_length=8, description="All that is needed")]
    bench: Annotated[Bench | None, Field(description="The bench, seat or bar that is needed")] = None
    handle: Annotated[Handle, Field(description="How well the grip resists the forearm's turning")]
    hands: Annotated[int, Field(ge=1, le=2, description="Hands that share one load")] = 1
    arms: Annotated[int, Field(ge=1, le=2, description="Arms that work at once")] = 2
    smallest_step_kg: Annotated[float, _number(0.01, 20, "Smallest step between two loads [kg]")] = 1.0


class Support(DocumentPart):
    """What carries the body and the upper arm."""

    base: Annotated[Base, Field(description="What the body stands, sits, lies or hangs on")]
    surface: Annotated[Surface, Field(description="What trunk or upper arm lies against")] = "none"
    upper_arm: Annotated[bool, Field(description="Something other than the shoulder holds the upper arm")] = (
        False
    )
    trunk: Annotated[bool, Field(description="A bench, seat back or the floor carries the trunk")] = False
    hip_height_m: Annotated[
        Annotated[float, Field(ge=0.05, le=1.5, allow_inf_nan=False)] | None,
        Field(description="Hips over the floor [m], where it is not the usual height of the base"),
    ] = None


class Angles(DocumentPart):
    """The posture that holds through the rep unless a key of the path says otherwise [degrees].

    `upper_arm` is shoulder flexion from the trunk, or from hanging straight down when `upper_arm_from` is
    "vertical" (0 hangs, 90 level in front, 180 straight up), which is how an arm on a pad or hanging from
    a bench is best described.
    """

    upper_arm: UpperArm = 0
    upper_arm_from: Annotated[
        Literal["trunk", "vertical"], Field(description="What upper_arm is counted from")
    ] = "trunk"
    abduction: Abduction = 0
    rotation: Rotation = 0
    forearm: Forearm = 0
    wrist: Wrist = 0
    trunk_pitch: TrunkPitch = 0
    trunk_roll: Annotated[float, _number(-90, 90, "Trunk leaning to the right (+) or left (−) [°]")] = 0


class Key(DocumentPart):
    """One key posture of the path; angles left out keep the value of `posture`."""

    elbow: Annotated[Elbow, Field(description="Elbow bend; 0 is straight [°]")]
    upper_arm: UpperArm | None = None
    abduction: Abduction | None = None
    rotation: Rotation | None = None
    forearm: Forearm | None = None
    wrist: Wrist | None = None
    trunk_pitch: TrunkPitch | None = None


class HandKey(DocumentPart):
    """One key of a hand path, as fractions of arm length from the shoulder, in the trunk's directions."""

    forward: Annotated[Reach, Field(description="Forward of the shoulder [arm lengths]")]
    up: Annotated[Reach, Field(description="Above the shoulder, along the trunk [arm lengths]")]
    out: Annotated[Reach, Field(description="Out to the side of the shoulder [arm lengths]")]
    flare: Flare | None = None
    forearm: Forearm | None = None
    trunk_pitch: TrunkPitch | None = None


class HandPath(DocumentPart):
    """Where the hand goes; elbow and shoulder follow from it."""

    keys: Annotated[
        tuple[HandKey, ...],
        Field(min_length=2, max_length=12, description="From the target's stretched end to its short end"),
    ]
    elbow_towards: Annotated[
        tuple[Reach, Reach, Reach],
        Field(description="Where the elbow points: forward, up, out, of any length"),
    ] = (0.0, -1.0, 0.0)
    flare: Flare = 0.0
    wider: Annotated[
        float,
        Field(
            ge=-0.5,
            le=0.5,
            allow_inf_nan=False,
            description="Hands farther apart [arm lengths]; the path shortens",
        ),
    ] = 0.0
    start: Annotated[
        float, Field(ge=0, le=0.9, allow_inf_nan=False, description="Where on the path the rep begins")
    ] = 0.0
    end: Annotated[
        float, Field(ge=0.1, le=1, allow_inf_nan=False, description="Where on the path the rep ends")
    ] = 1.0

    @model_validator(mode="after")
    def _points_somewhere(self) -> HandPath:
        if self.end - self.start < 0.1:
            raise ValueError(f"end must lie at least 0.1 past start ({self.start:g})")
        if not any(self.elbow_towards):
            raise ValueError("elbow_towards must not be all zero")
        return self


class Guide(DocumentPart):
    """How it is usually done: seconds to lower, pause, lift and squeeze, and a repetition range."""

    lower_s: Seconds = 3
    pause_s: Seconds = 1
    lift_s: Annotated[
        float, Field(gt=0, le=20, allow_inf_nan=False, description="Seconds, more than none")
    ] = 1
    squeeze_s: Seconds = 0
    reps_from: Annotated[Reps, Field(description="Fewest repetitions of a usual set")] = 8
    reps_to: Annotated[Reps, Field(description="Most repetitions of a usual set")] = 12

    @model_validator(mode="after")
    def _range_rises(self) -> Guide:
        if self.reps_to < self.reps_from:
            raise ValueError(f"reps_to must be at least reps_from ({self.reps_from})")
        return self


class Change(DocumentPart):
    """One change to the document: set a field, or add to it. Paths are dotted, list places count from 0,
    and −1 is the last ("path.-1.upper_arm")."""

    field: Annotated[
        str,
        Field(pattern=r"^[a-z_]+(\.(-?[0-9]{1,3}|[a-z_]+))*$", max_length=80, description="What is changed"),
    ]
    model_config = ConfigDict(
        json_schema_extra={
            "oneOf": [
                {"required": ["add"], "properties": {"add": {"type": "number"}}},
                {"required": ["set"], "properties": {"set": {"type": ["number", "string", "boolean"]}}},
            ]
        }
    )

    add: Annotated[
        Annotated[float, Field(allow_inf_nan=False)] | None, Field(description="Added to what stands there")
    ] = None
    set: Annotated[float | Text | bool | None, Field(description="Put in its place")] = None

    @model_validator(mode="after")
    def _one_of_two(self) -> Change:
        if (self.add is None) == (self.set is None):
            raise ValueError("give either add or set")
        return self


class Fault(DocumentPart):
    """A common fault, as a change to the set-up so that its cost can be computed."""

    name: Annotated[Short, Field(description="The fault in a few words")]
    cue: Annotated[Text, Field(description="What to say against it")]
    changes: Annotated[tuple[Change, ...], Field(min_length=1, max_length=12, description="All at once")]

    @property
    def key(self) -> str:
        """Its name in addresses: the name's plain letters and digits."""
        return re.sub(r"[^a-z0-9]+", "-", self.name.lower()).strip("-")


class OwnFault(Fault):
    """A fault of one's own, kept beside the variant it is of."""

    schema_version: Annotated[Literal[1], Field(description="The version of this form of document")] = 1
    variant: Annotated[
        str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60, description="Of which variant")
    ]

    @property
    def plain(self) -> Fault:
        """As it stands among a variant's faults."""
        return Fault(name=self.name, cue=self.cue, changes=self.changes)


_HAS_HAND_PATH = {"required": ["hand_path"], "properties": {"hand_path": {"type": "object"}}}
_HAS_MACHINE = {"properties": {"lines": {"contains": {"properties": {"kind": {"const": "machine"}}}}}}
_HELD = {"required": ["upper_arm"], "properties": {"upper_arm": {"const": True}}}
OF_THE_WHOLE: dict[str, Any] = {
    "allOf": [
        {
            "if": _HAS_HAND_PATH,
            "then": {
                "properties": {
                    "path": {"maxItems": 0},
                    "coordinate": {"const": "elbow"},
                    "posture": {"properties": {"wrist": {"const": 0}}},
                }
            },
            "else": {"required": ["path"], "properties": {"path": {"minItems": 2}}},
        },
        {
            "if": _HAS_MACHINE,
            "then": {
                "properties": {
                    "support": {"required": ["upper_arm"], "properties": {"upper_arm": {"const": True}}}
                }
            },
        },
    ]
}
"""What the checks below ask of a whole document, as far as a schema can say it."""


class Variant(DocumentPart):
    """One way of doing an exercise."""

    model_config = ConfigDict(json_schema_extra=OF_THE_WHOLE)

    schema_version: Annotated[Literal[1], Field(description="The version of this form of document")]
    id: Annotated[
        str,
        Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60, description="In addresses and files"),
    ]
    aliases: Annotated[
        tuple[Annotated[str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)], ...],
        Field(max_length=8, description="Ids of what was merged into it; they still lead here"),
    ] = ()
    name: Annotated[Short, Field(description="Its name for people")]
    also_called: Annotated[tuple[Short, ...], Field(max_length=8, description="Other names for it")] = ()
    lifters_report: Annotated[
        tuple[PartOfLoad, PartOfLoad] | None,
        Field(description="Where lifters use less than the model gives: from and to which part of it"),
    ] = None
    family: Annotated[Family, Field(description="The kind it is listed under")]
    group: Annotated[Group, Field(alias="target", description="The muscles it is for")]
    summary: Annotated[Text, Field(description="What it is good for, in a sentence")]
    equipment: Annotated[Equipment, Field(description="What is needed, and how the hands hold it")]
    support: Annotated[Support, Field(description="What carries the body and the upper arm")]
    posture: Annotated[Angles, Field(description="Angles that hold through the rep")]
    coordinate: Annotated[
        Literal["elbow", "shoulder"],
        Field(description="The angle the rep is measured in; shoulder for straight-arm work"),
    ] = "elbow"
    path: Annotated[
        tuple[Key, ...],
        Field(max_length=12, description="Key postures from the target's stretched end to its short end"),
    ] = ()
    hand_path: Annotated[HandPath | None, Field(description="Where the hand goes, instead of path")] = None
    lines: Annotated[
        tuple[Line, ...],
        Field(min_length=1, max_length=3, description="What pulls or pushes; their shares add up to 1"),
    ]
    guide: Annotated[Guide, Field(description="How it is usually done")] = Guide()
    setup: Annotated[tuple[Text, ...], Field(min_length=1, max_length=10, description="How to set it up")]
    cues: Annotated[tuple[Text, ...], Field(min_length=1, max_length=10, description="What to watch")]
    faults: Annotated[tuple[Fault, ...], Field(max_length=12, description="Common faults, priced")] = ()
    cautions: Annotated[
        tuple[CautionTag, ...], Field(max_length=8, description="Cautions that always stand beside it")
    ] = ()

    @property
    def band(self) -> BandLine | None:
        """The band that pulls, where one does."""
        return next((line for line in self.lines if isinstance(line, BandLine)), None)

    @property
    def band_part(self) -> float:
        """Which part of its load bands are [1]."""
        return sum(line.load_part for line in self.lines if isinstance(line, BandLine))

    @cached_property
    def digest(self) -> str:
        """Changes with anything in the document."""
        return hashlib.sha256(self.model_dump_json().encode()).hexdigest()

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """As pydantic's; a copy works out its own digest."""
        copied = super().model_copy(update=update, deep=deep)
        copied.__dict__.pop("digest", None)
        return copied

    @model_validator(mode="after")
    def _consistent(self) -> Variant:
        total = sum(line.load_part for line in self.lines)
        if abs(total - 1) > 1e-6:
            raise ValueError(f"the lines' shares add up to {total:g}; they must add up to 1")
        self._check_path()
        if any(isinstance(line, MachineLine) for line in self.lines) and not self.support.upper_arm:
            raise ValueError("support.upper_arm must be true with a machine: it turns about the elbow alone")
        return self

    def _check_path(self) -> None:
        if self.hand_path is not None:
            if self.path or self.coordinate == "shoulder":
                raise ValueError("path: give either path or hand_path; a hand path is measured at the elbow")
            if self.posture.wrist:
                raise ValueError(f"posture.wrist: {self.posture.wrist:g}; must be 0 with a hand path")
            return
        if len(self.path) < 2:
            raise ValueError("path: at least two key postures, or a hand_path")
        if self.coordinate == "shoulder":
            arms = [self.posture.upper_arm if k.upper_arm is None else k.upper_arm for k in self.path]
            if not _one_way(arms, 1) and not _one_way(arms, -1):
                raise ValueError(f"path: upper arm angles {arms} must all go one way by at least 1°")
            return
        elbows = [key.elbow for key in self.path]
        if not _one_way(elbows, 1 if self.group == "flexors" else -1):
            way = "bend" if self.group == "flexors" else "straighten"
            raise ValueError(f"path: elbow angles {elbows} must {way} by at least 1° from key to key")


def _one_way(angles: list[float], sign: int) -> bool:
    return all((b - a) * sign >= 1 for a, b in pairwise(angles))
