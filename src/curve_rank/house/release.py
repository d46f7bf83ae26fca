"""What a house may tell other houses of itself: a few means, with noise that hides who was there.

Exact means give away who joins or leaves, and a least number of people in a cell does not help. So a
release holds few numbers, each person's part of each is clipped, and noise is added (Laplace's, after Dwork
et al. 2006): whatever one person said or did, the odds of any release change by at most e^ε. Noise is drawn
once, and kept; what was spent adds up, year by year.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.house.shares import Share
from curve_rank.practice.rules import rule
from curve_rank.practice.sets import is_heavy
from curve_rank.validation import validated

Content = Literal["trial", "groups"]
Name = Annotated[str, Field(min_length=1, max_length=60)]
Mean = Annotated[
    float, Field(ge=-3, le=3, allow_inf_nan=False, description="logarithm of a load over the model's")
]
CONTENTS: Mapping[Content, str] = {
    "trial": "the difference of one trial by coin",
    "groups": "flexors, extensors and presses or pulls against what the model says",
}


@dataclass(frozen=True)
class Release:
    """One year's release.

    Attributes
    ----------
    year : int
    content : str
        Of `CONTENTS`.
    means : mapping
        By name: the mean over people, with noise [1].
    noise : float
        The scale of the noise in each [1].
    people : int
        How many took part; it is told as it is.
    epsilon, spent : float
        ε of this release, and of all so far together.
    """

    year: int
    content: Content
    means: Mapping[str, float]
    noise: float
    people: int
    epsilon: float
    spent: float

    def as_data(self) -> dict[str, Any]:
        """As it is handed out."""
        return {
            "format": "curve-rank-house-release",
            "version": 1,
            "year": self.year,
            "content": self.content,
            "people": self.people,
            "means": dict(self.means),
            "noise_scale": self.noise,
            "clipped_at": rule("release.clip"),
            "epsilon": self.epsilon,
            "epsilon_spent": self.spent,
        }


GROUPS_TOLD = ("flexors", "extensors", "presses_and_pulls")
"""What three means are of."""


def group_told(variant: Variant) -> str:
    """In which of the three means an exercise counts."""
    return GROUPS_TOLD[2] if is_heavy(variant) else variant.group


def by_group(share: Share, groups: Mapping[str, str]) -> dict[str, float]:
    """What one person says of each: by how much it lies over all that they do [1]."""
    levels = {key: one.level for key, one in share.lifted.items() if key in groups}
    if not levels:
        return {}
    whole = float(np.mean(list(levels.values())))
    found = {}
    for name in GROUPS_TOLD:
        some = [value - whole for key, value in levels.items() if groups[key] == name]
        if some:
            found[name] = float(np.mean(some))
    return found


TRIAL_TOLD = ("difference",)
"""What the one number of a trial is of: the first way over the second, in parts of `release.trial_unit`."""


def of_trial(changes: Sequence[tuple[int, int, float, float]]) -> list[dict[str, float]]:
    """What each person of a trial by coin says of its difference, so that their mean is the difference.

    Parameters
    ----------
    changes : sequence of tuple
        Person, way, change and its error [cm].
    """
    usual, unit = rule("release.trial_usual"), rule("release.trial_unit")
    return [
        {"difference": (2 if way == 0 else -2) * (change - usual) / unit} for _, way, change, _ in changes
    ]


def spread_told(told: Release) -> float:
    """What a release's noise and its people leave unsure of each mean, one standard deviation [1]."""
    person = rule("release.person")
    if told.content == "trial":  # twice what one arm's growth strays from another's, as `of_trial` counts it
        person = 2 * float(np.hypot(rule("growth.error"), rule("growth.apart"))) / rule("release.trial_unit")
    return float(np.sqrt(2 * told.noise**2 + person**2 / told.people))


def difference_told(told: Release) -> tuple[float, float]:
    """What another house's trial found, the first way over the second, and its error [cm].

    Raises
    ------
    BadInputError
        Where it told of no trial.
    """
    if told.content != "trial" or "difference" not in told.means:
        raise BadInputError("release", CONTENTS[told.content], f"one that tells of {CONTENTS['trial']}")
    unit = rule("release.trial_unit")
    return unit * told.means["difference"], unit * spread_told(told)


def least_people(content: Content) -> int:
    """From how many people on what is left after the noise is of any use."""
    return int(rule(f"release.least_{content}"))


def refusal(content: Content, people: int, released: Sequence[Release], year: int) -> str:
    """Why nothing is released; empty where it may be."""
    if any(one.year == year for one in released):
        return f"{year} has its release already, and its noise is drawn once"
    spent = sum(one.epsilon for one in released)
    if spent + rule("release.epsilon") > rule("release.most") + 1e-9:
        return f"ε {spent:g} is spent of {rule('release.most'):g}: more would tell too much of somebody"
    if people < least_people(content):
        return (
            f"{people} people: of fewer than {least_people(content)} the noise that hides each of them hides "
            "the answer as well"
        )
    return ""


def release(
    rows: Sequence[Mapping[str, float]],
    names: Sequence[str],
    content: Content,
    year: int,
    released: Sequence[Release],
    rng: np.random.Generator,
) -> Release:
    """The means of what each person says, with noise.

    Parameters
    ----------
    rows : sequence of mapping
        One a person; what somebody does not say counts as nothing.
    names : sequence of str
        Of the numbers that are told, the same whoever takes part.
    content : str
        Of `CONTENTS`.
    year : int
        Of which there is no release yet.
    released : sequence of Release
        All before.
    rng : Generator
        Seeded by nobody: from the system's own randomness, in use.

    Raises
    ------
    BadInputError
        Where nothing may be released.
    """
    if why := refusal(content, len(rows), released, year):
        raise BadInputError("release", str(year), why)
    epsilon, clip = rule("release.epsilon"), rule("release.clip")
    scale = 2 * clip * len(names) / (epsilon * len(rows))
    parts = {name: np.clip([row.get(name, 0.0) for row in rows], -clip, clip) for name in names}
    means = {name: round(float(part.mean() + rng.laplace(0, scale)), 4) for name, part in parts.items()}
    spent = sum(one.epsilon for one in released) + epsilon
    return Release(year, content, means, round(scale, 6), len(rows), epsilon, spent)


class ReleaseDocument(BaseModel):
    """A release as it is handed out."""

    model_config = ConfigDict(frozen=True, extra="forbid", title="House release")

    format: Literal["curve-rank-house-release"]
    version: Literal[1]
    year: Annotated[int, Field(ge=2000, le=2200)]
    content: Content
    people: Annotated[int, Field(ge=1, le=10**7)]
    means: Annotated[dict[Name, Mean], Field(min_length=1, max_length=12)]
    noise_scale: Annotated[float, Field(ge=0, le=10, description="of Laplace's noise in each mean")]
    clipped_at: Annotated[float, Field(gt=0, le=3, description="no person's part counts for more")]
    epsilon: Annotated[float, Field(gt=0, le=20, description="of this release")]
    epsilon_spent: Annotated[float, Field(gt=0, le=1000, description="of all releases of the house so far")]


def release_from(data: Mapping[str, Any]) -> Release:
    """A release as another house handed it out.

    Raises
    ------
    BadInputError
        Naming the field that is not as it should be.
    """
    read = validated(ReleaseDocument, dict(data), "release")
    return Release(
        read.year, read.content, read.means, read.noise_scale, read.people, read.epsilon, read.epsilon_spent
    )
