"""Lenses: weightings of criteria and the schools they stand for, built in or of one's own."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from curve_rank.arm.parameters import parameter_set
from curve_rank.data_files import read_toml
from curve_rank.rating.criteria import Criterion, criteria, sparing_criterion
from curve_rank.validation import seen, validated

Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e6, le=1e6)]


@dataclass(frozen=True)
class Limit:
    """A constraint of a lens: a criterion's reading must not lie below or above a bound."""

    criterion: str
    at_least: float | None = None
    at_most: float | None = None

    def broken_by(self, value: float) -> bool:
        """Whether a reading breaks it."""
        low = self.at_least is not None and value < self.at_least
        return low or (self.at_most is not None and value > self.at_most)


@dataclass(frozen=True)
class Lens:
    """A weighting of criteria and the school it stands for.

    Attributes
    ----------
    key, name, school : str
    weights : tuple of (criterion, weight)
        Adding up to 1.
    curves : tuple of (criterion, zero, full)
        Scales of its own where it does not take the criterion's.
    limits : tuple of Limit
        What a variant must satisfy to be ranked.
    """

    key: str
    name: str
    school: str
    weights: tuple[tuple[str, float], ...]
    curves: tuple[tuple[str, float, float], ...] = ()
    limits: tuple[Limit, ...] = ()

    def sparing(self, joints: Sequence[str]) -> Lens:
        """The same where it is asked to be easy on some joints; each takes its part of what is left of it."""
        if not joints:
            return self
        kept = (1 - parameter_set().number("joint_notes.spare_weight")) ** len(joints)
        weights = tuple((key, kept * weight) for key, weight in self.weights)
        kind = tuple((sparing_criterion(joint), (1 - kept) / len(joints)) for joint in joints)
        return replace(self, weights=weights + kind)

    def criterion(self, key: str) -> Criterion:
        """A criterion on this lens's scale."""
        found = criteria()[key]
        for name, zero, full in self.curves:
            if name == key:
                return replace(found, zero=zero, full=full)
        return found


@cache
def lenses() -> dict[str, Lens]:
    """The built-in lenses by key."""
    return {
        key: Lens(key, entry["name"], entry["school"], tuple(entry["weights"].items()))
        for key, entry in read_toml("curve_rank.rating", "lenses.toml").items()
    }


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class Curve(_Part):
    """A scale of its own: the reading that scores 0, and the one that scores 100."""

    zero: Number
    full: Number

    @model_validator(mode="after")
    def _apart(self) -> Curve:
        if abs(self.full - self.zero) < 1e-9:
            raise ValueError(f"zero and full must differ; both are {self.zero:g}")
        return self


class Bound(_Part):
    """A constraint on a criterion's reading."""

    at_least: Number | None = None
    at_most: Number | None = None

    @model_validator(mode="after")
    def _sensible(self) -> Bound:
        if self.at_least is None and self.at_most is None:
            raise ValueError("give at_least, at_most or both")
        if self.at_least is not None and self.at_most is not None and self.at_least > self.at_most:
            raise ValueError(f"at_least ({self.at_least:g}) must not exceed at_most ({self.at_most:g})")
        return self


class LensDocument(_Part):
    """A lens as it is kept and shared: weights, curves and limits by criterion."""

    name: Annotated[str, Field(min_length=1, max_length=60), AfterValidator(seen)]
    school: Annotated[str, Field(min_length=1, max_length=300), AfterValidator(seen)]
    weights: dict[str, Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]]
    curves: dict[str, Curve] = {}
    limits: dict[str, Bound] = {}

    @model_validator(mode="after")
    def _known(self) -> LensDocument:
        for part in (self.weights, self.curves, self.limits):
            for key in part:
                if key not in criteria():
                    raise ValueError(f"{key} is no criterion; there are: {', '.join(criteria())}")
        if sum(self.weights.values()) <= 0:
            raise ValueError("weights: at least one must be above 0")
        return self

    def lens(self, key: str) -> Lens:
        """The lens, its weights brought to a sum of 1."""
        total = sum(self.weights.values())
        return Lens(
            key=key,
            name=self.name,
            school=self.school,
            weights=tuple((k, self.weights[k] / total) for k in criteria() if self.weights.get(k, 0) > 0),
            curves=tuple((k, curve.zero, curve.full) for k, curve in self.curves.items()),
            limits=tuple(Limit(k, bound.at_least, bound.at_most) for k, bound in self.limits.items()),
        )


def validate_lens(data: Any, *, name: str = "lens") -> LensDocument:
    """A lens document from plain data.

    Raises
    ------
    BadInputError
        Naming the field, its value and what would be right.
    """
    return validated(LensDocument, data, name)


def document_of(lens: Lens) -> LensDocument:
    """A lens as a document, to start one's own from."""
    return LensDocument(
        name=lens.name,
        school=lens.school,
        weights={key: round(100 * weight, 6) for key, weight in lens.weights},
        curves={key: Curve(zero=zero, full=full) for key, zero, full in lens.curves},
        limits={
            limit.criterion: Bound(at_least=limit.at_least, at_most=limit.at_most) for limit in lens.limits
        },
    )
