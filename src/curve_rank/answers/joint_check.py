"""The guided check of the joints: what somebody's set-ups ask for first, the rest where it is wanted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from curve_rank.answers.people import client_for
from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import UnknownNameError
from curve_rank.figures.range_check import CHECKS, RangeCheck
from curve_rank.practice.limits import demanded
from curve_rank.store import plans
from curve_rank.store.database import DbSession
from curve_rank.store.viewers import Viewer

MIDDLE = 2
"""Which of a check's steps: a set-up that goes past it would be cut for many who take the check."""


@dataclass(frozen=True)
class JointCheck:
    """What is asked, what need not be, and by which block that was found; empty where there is none."""

    asked: tuple[RangeCheck, ...]
    folded: tuple[RangeCheck, ...]
    block: str = ""


def joint_check(db: DbSession, viewer: Viewer, person: int, variants: Mapping[str, Variant]) -> JointCheck:
    """What the newest block of somebody asks of their joints; everything where they have none.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    done = plans.done_by(db, viewer, person)
    if not done:
        return JointCheck(CHECKS, ())
    keys = done[0].block.variants
    try:
        body = client_for(db, viewer, person).body
    except UnknownNameError:  # their size is not known yet; angles hardly hang on it
        body = Body()
    asked = asked_for([variants[key] for key in keys if key in variants], body)
    return JointCheck(asked, tuple(one for one in CHECKS if one not in asked), done[0].block.name)


def asked_for(setups: Iterable[Variant], body: Body) -> tuple[RangeCheck, ...]:
    """Those checks that could change one of some set-ups: it goes past the check's middle step."""
    far = demanded(setups, body)

    def goes_past(one: RangeCheck) -> bool:
        rising = one.steps[0] < one.steps[-1]
        return far[one.key] < one.steps[MIDDLE] if rising else far[one.key] > one.steps[MIDDLE]

    return tuple(one for one in CHECKS if goes_past(one)) if far else CHECKS
