"""Arms and doses: what the measured blocks of those who agreed say together, without a coin."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, Annotated

import numpy as np

from curve_rank.answers.plain import to_digits
from curve_rank.house.growth import Growth, growth_line, people_needed
from curve_rank.store import logs, measures, plans
from curve_rank.store.house import pooling

if TYPE_CHECKING:
    from curve_rank.store.database import DbSession
    from curve_rank.store.viewers import Viewer
    from curve_rank.study.claims import Claim

SPAN = 0.6
"""From 30 % less to 30 % more of the usual dose, which a slope is told for [1]."""
DIFFERENCE = 0.5
"""For which it is said how many people it takes [cm]."""


@dataclass(frozen=True)
class DoseSeen:
    """What blocks say of how arms grow with sets a week, from 30 % less to 30 % more of the usual."""

    people: int
    blocks: int
    slope_cm: Annotated[float | None, to_digits(2)]
    low_cm: Annotated[float | None, to_digits(2)]
    high_cm: Annotated[float | None, to_digits(2)]
    says: str
    needed: int
    """People who would show half a centimetre by dose alone."""


def about_growth(claim: Claim) -> bool:
    """Whether a claim is one that the tape answers, and no model of an arm: about what grows."""
    told = " ".join((claim.question, *claim.sides, claim.missing)).lower()
    return claim.test is None and "grow" in told


def dose_seen(db: DbSession, viewer: Viewer) -> DoseSeen:
    """What is measured of whoever agrees and may be seen."""
    done = [one for person in pooling.agreed(db, viewer) for one in _blocks(db, viewer, person)]
    usual = float(np.mean([one[2] for one in done])) if done else 1.0
    rows = [
        Growth(person, order, (sets / max(usual, 1e-9) - 1) / SPAN, change, error)
        for person, order, sets, change, error in done
    ]
    line = growth_line(rows, by_coin=False)
    people = len({one.person for one in rows})
    return DoseSeen(
        people=people,
        blocks=len(rows),
        slope_cm=line.slope if line else None,
        low_cm=line.low if line else None,
        high_cm=line.high if line else None,
        says=line.says if line else "too few people were measured at both ends of a block",
        needed=people_needed(DIFFERENCE, "dose"),
    )


def _blocks(db: DbSession, viewer: Viewer, person: int) -> list[tuple[int, int, float, float, float]]:
    """Person, order, sets a week, change of the flexed arm and its error [cm], of each measured block."""
    sittings = measures.sittings(db, viewer, person)
    if not sittings:
        return []
    sets = Counter(one.plan for one in logs.log_of(db, viewer, person) if one.works)
    found = []
    blocks = sorted(plans.done_by(db, viewer, person), key=lambda plan: plan.block.start or date.min)
    for order, plan in enumerate(blocks):
        for change in measures.changes_over(sittings, plan.id):
            if change.state == "flexed" and sets[plan.id] and not {"side", "site"} & set(change.alike):
                weekly = sets[plan.id] / len(plan.block.weeks)
                found.append((person, order, weekly, change.change, change.error))
    return found
