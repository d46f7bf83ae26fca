"""Hard sets a head has in a week: by the model's shares, rows and presses done elsewhere included."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from curve_rank.practice.block import Block, Week
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rules import names_in
from curve_rank.rating.targets import targets

NEARLY_FULL = 1.5
"""Hard sets that a head lacks of its range where another exercise would take it over [sets]."""
SHORT = 0.7
"""A session that uses no more of its minutes is asked about [1]."""


@dataclass(frozen=True)
class HeadWeek:
    """One head's week.

    Attributes
    ----------
    here, elsewhere : float
        Hard sets in the block's sessions, and in rows and presses on other days.
    long, short : float
        Tension placed long and short, repetitions times sets [full tension].
    """

    here: float
    elsewhere: float
    long: float
    short: float

    @property
    def sets(self) -> float:
        """All hard sets."""
        return self.here + self.elsewhere


def elsewhere(profile: ClientProfile, facts: Mapping[str, Facts]) -> dict[str, float]:
    """Hard sets per head that rows and presses on other days amount to in a week.

    Each such set counts as the mean of the variants that stand for its kind, by their shares.
    """
    found: dict[str, float] = {}
    for kind, days, sets in (
        ("pulling", profile.pulling_days, profile.pulling_sets),
        ("pressing", profile.pressing_days, profile.pressing_sets),
    ):
        named = [facts[key] for key in names_in(f"week.{kind}") if key in facts]
        for fact in named:
            for head, part in fact.counts.items():
                found[head] = found.get(head, 0.0) + len(days) * sets * part / len(named)
    return found


def heads_of_week(
    week: Week, facts: Mapping[str, Facts], profile: ClientProfile | None = None
) -> dict[str, HeadWeek]:
    """Every head's week."""
    other = elsewhere(profile, facts) if profile else {}
    here: dict[str, list[float]] = {head: [0.0, 0.0, 0.0] for head in other}
    for session in week.sessions:
        for one in session.exercises:
            fact, reps = facts[one.variant], one.mean_reps
            for head, part in fact.counts.items():
                row = here.setdefault(head, [0.0, 0.0, 0.0])
                row[0] += one.sets * part
                row[1] += one.sets * reps * fact.long[head]
                row[2] += one.sets * reps * fact.short[head]
    return {head: HeadWeek(row[0], other.get(head, 0.0), row[1], row[2]) for head, row in here.items()}


def why_short(week: Week, used: float, block: Block, weekly: Mapping[str, HeadWeek]) -> str:
    """Why a week leaves much of its minutes: heads that have their sets; empty where it does not.

    Parameters
    ----------
    week : Week
        The week.
    used : float
        Minutes of its longest session.
    block : Block
        With the minutes there are, and the range.
    weekly : mapping
        Hard sets of the heads it is for.
    """
    full = [(head, one) for head, one in weekly.items() if one.sets > block.high - NEARLY_FULL]
    if week.easier or not full or used > SHORT * block.minutes:
        return ""
    head, most = max(full, key=lambda one: one[1].sets)
    others = " with what they do on other days" if most.elsewhere > NEARLY_FULL else ""
    name = targets()[head].name.lower()
    return (
        f"At most {used:.0f} of {block.minutes} minutes: {name} has {most.sets:.1f} of {block.high:g} hard "
        f"sets{others}. A higher range, or fewer minutes, would be the change."
    )
