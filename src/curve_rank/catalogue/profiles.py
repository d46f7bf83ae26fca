"""A machine's measured profile: a document of its own, and a part of a variant's document."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from curve_rank.catalogue.library import validate_variant
from curve_rank.catalogue.line_kinds import DocumentPart, Elbow, MachineLine
from curve_rank.catalogue.schema import Group, Short, Variant
from curve_rank.errors import BadInputError
from curve_rank.validation import validated

Moment = Annotated[float, Field(ge=-2000, le=2000, allow_inf_nan=False)]
Moments = Annotated[tuple[Moment, ...], Field(min_length=2, max_length=60)]


class MachineProfile(DocumentPart):
    """What a machine asks of an elbow over its angles, as it was measured.

    Torques are in newton-metres, for the whole stack it was measured with, positive where they load the
    group. Lists are as long as `angle`.
    """

    schema_version: Annotated[Literal[1], Field(description="The version of this form of document")] = 1
    name: Short
    group: Annotated[Group, Field(description="Which muscles it loads")]
    measured: Annotated[Literal["file", "capture"], Field(description="How it was measured")]
    stack_kg: Annotated[float, Field(gt=0, le=500, description="The stack it was measured with [kg]")]
    angle: Annotated[tuple[Elbow, ...], Field(min_length=2, max_length=60, description="Rising [°]")]
    torque: Annotated[Moments, Field(description="The smooth curve, between lifting and lowering [N·m]")]
    low: Annotated[Moments, Field(description="Where the interval around it begins [N·m]")]
    high: Annotated[Moments, Field(description="Where it ends [N·m]")]
    friction: Annotated[
        tuple[Moment, ...], Field(max_length=60, description="Lifting asks so much more [N·m]; or empty")
    ] = ()
    noise_nm: Annotated[float, Field(ge=0, le=2000, description="Scatter of one sample [N·m]")] = 0.0
    samples: Annotated[int, Field(ge=0, le=10_000_000)] = 0

    @model_validator(mode="after")
    def _lists_agree(self) -> MachineProfile:
        if any(b <= a for a, b in pairwise(self.angle)):
            raise ValueError("angle must rise")
        for name in ("torque", "low", "high", "friction"):
            found = len(getattr(self, name))
            if found != len(self.angle) and (found or name != "friction"):
                raise ValueError(f"{name} must be as long as angle ({len(self.angle)}), not {found}")
        return self

    @property
    def per_kg(self) -> tuple[float, ...]:
        """Torque per kilogram of the stack [N·m/kg]."""
        return tuple(torque / self.stack_kg for torque in self.torque)


def validate_profile(data: Any, *, name: str = "profile") -> MachineProfile:
    """A profile from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(MachineProfile, data, name)


def has_machine(variant: Variant) -> bool:
    """Whether a machine pulls in it."""
    return any(isinstance(line, MachineLine) for line in variant.lines)


def with_profile(variant: Variant, angles: Sequence[float], torque: Sequence[float]) -> Variant:
    """A machine variant with a measured profile instead of its own.

    Parameters
    ----------
    variant : Variant
        The set-up.
    angles : sequence of float
        Elbow angles [degrees], rising.
    torque : sequence of float
        Moment that the machine asks of the target group, per kilogram of stack [N·m/kg].

    Raises
    ------
    BadInputError
        When the variant has no machine, or the profile is none.
    """
    if not has_machine(variant):
        raise BadInputError("variant", variant.id, "one with a machine")
    against = -1.0 if variant.group == "flexors" else 1.0
    profile = [[round(a, 2), round(against * t, 4)] for a, t in zip(angles, torque, strict=True)]
    data = variant.model_dump(mode="json")
    for line in data["lines"]:
        if line["kind"] == "machine":
            line["profile"] = profile
    return validate_variant(data, name="profile")
