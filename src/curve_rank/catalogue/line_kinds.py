"""The kinds of line in a variant document: what pulls or pushes on the hand, or turns the elbow."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator

from curve_rank.arm.ranges import ELBOW_RANGE

Elbow = Annotated[float, Field(ge=ELBOW_RANGE[0], le=ELBOW_RANGE[1], allow_inf_nan=False)]
Ratio = Annotated[float, Field(ge=0, le=20, allow_inf_nan=False)]
Forward = Annotated[
    float, Field(ge=-3, le=3, allow_inf_nan=False, description="Of pulley or anchor, forward of the hips [m]")
]
Up = Annotated[float, Field(ge=0, le=3, allow_inf_nan=False, description="Over the floor [m]")]
Right = Annotated[float, Field(ge=-3, le=3, allow_inf_nan=False, description="To the right of the hips [m]")]
Sideways = Annotated[
    float,
    Field(ge=-0.5, le=0.5, allow_inf_nan=False, description="Outward (+) force over the load"),
]
LoadPart = Annotated[
    float, Field(gt=0, le=1, allow_inf_nan=False, alias="share", description="Part of the load on this line")
]


class DocumentPart(BaseModel):
    """Frozen, strict about unknown fields, and comparable by content."""

    model_config = ConfigDict(
        frozen=True, extra="forbid", validate_by_name=True, validate_by_alias=True, serialize_by_alias=True
    )


class WeightLine(DocumentPart):
    """A free weight in the hand."""

    kind: Annotated[Literal["weight"], Field(description="What kind of line it is")]
    load_part: LoadPart = 1.0
    offset_m: Annotated[
        float,
        Field(ge=-0.15, le=0.15, allow_inf_nan=False, description="Held off centre, to the thumb [m]"),
    ] = 0.0
    sideways: Sideways = 0.0


class CableLine(DocumentPart):
    """A cable to a pulley; place in metres from the floor under the hip centre."""

    kind: Annotated[Literal["cable"], Field(description="What kind of line it is")]
    load_part: LoadPart = 1.0
    forward: Forward
    up: Up
    right: Right = 0.0
    from_middle: Annotated[bool, Field(description="The cable leaves the middle of a bar")] = False


class BandLine(DocumentPart):
    """A band to an anchor; its load is what it pulls at twice its slack length."""

    kind: Annotated[Literal["band"], Field(description="What kind of line it is")]
    load_part: LoadPart = 1.0
    forward: Forward
    up: Up
    right: Right = 0.0
    slack_m: Annotated[float, Field(ge=0.1, le=3, description="Length up to which it does not pull")]
    curve: Annotated[
        tuple[tuple[Ratio, Ratio], ...] | None,
        Field(max_length=20, description="Stretch over slack length, tension over that at stretch 1"),
    ] = None

    @property
    def said_at(self) -> float:
        """The length at which it pulls its load [m]."""
        return 2 * self.slack_m

    @model_validator(mode="after")
    def _curve_rises(self) -> BandLine:
        if self.curve is not None:
            stretch, tension = zip(*self.curve, strict=True)
            if (
                len(stretch) < 2
                or any(b <= a for a, b in pairwise(stretch))
                or list(tension) != sorted(tension)
            ):
                raise ValueError(
                    "curve must list at least two pairs, stretch rising and tension never falling"
                )
            if stretch[0] != 0 or tension[0] != 0:
                raise ValueError("curve must begin with [0, 0]")
        return self


class MachineLine(DocumentPart):
    """A machine about the elbow's axis: moment per kilogram of stack against elbow angle."""

    kind: Annotated[Literal["machine"], Field(description="What kind of line it is")]
    load_part: LoadPart = 1.0
    profile: Annotated[
        tuple[tuple[Elbow, Annotated[float, Field(ge=-5, le=5, allow_inf_nan=False)]], ...],
        Field(
            min_length=2,
            max_length=60,
            description="Pairs of elbow angle [°] and moment on the elbow [N·m per kg], + flexes",
        ),
    ]

    @model_validator(mode="after")
    def _angles_rise(self) -> MachineLine:
        angles = [angle for angle, _ in self.profile]
        if any(b <= a for a, b in pairwise(angles)):
            raise ValueError(f"profile angles {angles} must rise")
        return self


class BodyWeightLine(DocumentPart):
    """What a fixed bar or the floor exerts on the hands; the load is added to the body, or taken off."""

    kind: Annotated[Literal["body_weight"], Field(description="What kind of line it is")]
    load_part: LoadPart = 1.0
    carried: Annotated[
        float, Field(gt=0, le=1, allow_inf_nan=False, description="Part of body mass that the hands carry")
    ] = 1.0
    added_carried: Annotated[
        float,
        Field(gt=0, le=1, allow_inf_nan=False, description="Part of an added load that the hands carry"),
    ] = 1.0
    sideways: Sideways = 0.0


Line = Annotated[
    WeightLine | CableLine | BandLine | MachineLine | BodyWeightLine, Field(discriminator="kind")
]
