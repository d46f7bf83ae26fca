"""A machine's measured profile in a variant's document."""

from __future__ import annotations

from collections.abc import Sequence

from curve_rank.catalogue.library import validate_variant
from curve_rank.catalogue.line_kinds import MachineLine
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError


def with_profile(variant: Variant, angles: Sequence[float], torque: Sequence[float]) -> Variant:
    """A machine variant with a measured profile instead of its own.

    Parameters
    ----------
    variant : Variant
    angles : sequence of float
        Elbow angles [degrees], rising.
    torque : sequence of float
        Moment that the machine asks of the target group, per kilogram of stack [N·m/kg].

    Raises
    ------
    BadInputError
        When the variant has no machine, or the profile is none.
    """
    if not any(isinstance(line, MachineLine) for line in variant.lines):
        raise BadInputError("variant", variant.id, "one with a machine")
    against = -1.0 if variant.group == "flexors" else 1.0
    profile = [[round(a, 2), round(against * t, 4)] for a, t in zip(angles, torque, strict=True)]
    data = variant.model_dump(mode="json")
    for line in data["lines"]:
        if line["kind"] == "machine":
            line["profile"] = profile
    return validate_variant(data, name="profile")
