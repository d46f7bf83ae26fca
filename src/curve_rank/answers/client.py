"""Whom an answer is worked out for."""

from __future__ import annotations

from dataclasses import dataclass, field

from curve_rank.arm.body import Body
from curve_rank.practice.profile import Hair

NO_SET = (
    "No set of this person’s is known: loads are as wide as people of one size and level lie apart. One known"
    " set narrows them."
)


@dataclass(frozen=True)
class Client:
    """Whom something is worked out for."""

    person: int | None = None
    name: str = "the default body"
    body: Body = field(default_factory=Body)
    hair: Hair = "short"

    @property
    def of_strength(self) -> str:
        """What must be said of loads where no set of theirs is known; else nothing."""
        return NO_SET if self.body.strength_spread else ""
