"""What one log gives to the house in a month: what adds up over people, and what was lifted, for a page to
show."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.house.contributions import Contribution, contribution_of, together
from curve_rank.practice.facts import lines_for
from curve_rank.rating.modelling import Modeller
from curve_rank.study.personal import Evidence, Strays
from curve_rank.training.learning import evidence_of, helped_by, prior_of_anybody
from curve_rank.training.log import LoggedSet

DIGITS = 5


@dataclass(frozen=True)
class Lifted:
    """One exercise of one person, over what the model says of them.

    Attributes
    ----------
    level : float
        Mean of the logarithm [1].
    scatter : float
        From reading to reading, one standard deviation; 0 for a single one [1].
    readings : int
    """

    level: float
    scatter: float
    readings: int


@dataclass(frozen=True)
class Share:
    """What one log gives.

    Attributes
    ----------
    said : Contribution
    lifted : mapping
        By exercise.
    """

    said: Contribution
    lifted: Mapping[str, Lifted]

    def text(self) -> str:
        """As it is kept."""
        rows = {key: [one.level, one.scatter, one.readings] for key, one in self.lifted.items()}
        return json.dumps({"said": self.said.as_data(), "lifted": rows})

    @classmethod
    def read(cls, text: str) -> Share:
        """What was kept, read again."""
        data: dict[str, Any] = json.loads(text)
        lifted = {key: Lifted(level, scatter, int(n)) for key, (level, scatter, n) in data["lifted"].items()}
        return cls(Contribution.from_data(data["said"]), lifted)


def share_of(
    log: Sequence[LoggedSet],
    variants: Mapping[str, Variant],
    body: Body,
    today: date,
    modeller: Modeller,
    strays: Strays,
) -> Share | None:
    """What a log gives; None where it says nothing of any exercise that the strays are of.

    Parameters
    ----------
    log : sequence of LoggedSet
        Of one person, oldest first.
    variants : mapping
        By id, of all that may be in it.
    body : Body
        The person's, with the strength that a known set says.
    today : date
        On which it is read.
    modeller : Modeller
        Models the exercises.
    strays : Strays
        Of the bank's arms.
    """
    done = [variants[key] for key in dict.fromkeys(one.variant for one in log) if key in variants]
    lines = lines_for([one for one in done if one.id in strays.places], body, modeller)
    evidence = evidence_of(log, lines, today, helped_by(body, modeller))
    said = contribution_of(evidence, prior_of_anybody(), strays)
    return Share(said, lifted_of(evidence)) if said is not None else None


def lifted_of(evidence: Sequence[Evidence]) -> dict[str, Lifted]:
    """By exercise what was lifted over what the model says."""
    found: dict[str, Lifted] = {}
    for key in sorted({one.variant for one in evidence}):
        rows = np.array([one.excess for one in evidence if one.variant == key])
        scatter = float(rows.std(ddof=1)) if rows.size > 1 else 0.0
        found[key] = Lifted(round(float(rows.mean()), DIGITS), round(scatter, DIGITS), rows.size)
    return found


def said_by_all(shares: Sequence[Share]) -> Contribution:
    """What all logs say together."""
    return together(one.said for one in shares)
