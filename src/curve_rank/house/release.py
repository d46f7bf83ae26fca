"""What a house may tell other houses of itself: a few means, with noise that hides who was there.

Exact means give away who joins or leaves, and a least number of people in a cell does not help. So a
release holds few numbers, each person's part of each is clipped, and noise is added (Laplace's, after Dwork
et al. 2006): whatever one person said or did, the odds of any release change by at most e^ε. Noise is drawn
once, and kept; what was spent adds up, year by year.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from curve_rank.errors import BadInputError
from curve_rank.practice.rules import rule

Content = Literal["trial", "groups"]
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


def release_from(data: Mapping[str, Any]) -> Release:
    """A release as another house handed it out.

    Raises
    ------
    BadInputError
        Naming the field that is not as it should be.
    """
    if data.get("format") != "curve-rank-house-release" or data.get("version") != 1:
        raise BadInputError("format", str(data.get("format")), "curve-rank-house-release, version 1")
    content = next((one for one in CONTENTS if one == data.get("content")), None)
    if content is None:
        raise BadInputError("content", str(data.get("content"))[:80], " or ".join(CONTENTS))
    means = data.get("means")
    if not isinstance(means, dict) or not means:
        raise BadInputError("means", str(means)[:80], "numbers by name")
    numbers = {"year": (2000, 2200), "people": (1, 10**7), "noise_scale": (0, 10), "epsilon": (0, 20)}
    found = {key: _number(data, key, *ends) for key, ends in numbers.items()}
    spent = _number(data, "epsilon_spent", 0, 1000)
    plain = {str(key)[:60]: _number(means, key, -3, 3) for key in means}
    year, people = int(found["year"]), int(found["people"])
    return Release(year, content, plain, found["noise_scale"], people, found["epsilon"], spent)


def _number(data: Mapping[str, Any], key: str, least: float, most: float) -> float:
    value = data.get(key)
    if isinstance(value, bool) or not isinstance(value, int | float) or not least <= value <= most:
        raise BadInputError(str(key)[:60], str(value)[:80], f"a number from {least:g} to {most:g}")
    return float(value)
