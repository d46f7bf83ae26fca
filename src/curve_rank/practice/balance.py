"""Sets of a week brought into its range and minutes at once, changed as little as may be."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from curve_rank.arm.arrays import Array
from curve_rank.practice.block import Block, Session, Week
from curve_rank.practice.coverage import heads_of
from curve_rank.practice.deal import INSIDE, MOST_MISSED, PRESOLVE
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rules import rule
from curve_rank.practice.session import seconds_of, set_seconds
from curve_rank.practice.weekly_sets import elsewhere

Sets = tuple[tuple[int, ...], ...]
"""Of every exercise of every session."""
OFF_RANGE, OVER_TIME = 100.0, 50.0
"""What a set of a head outside the range, and a minute too many, cost beside one set changed."""


def balanced(block: Block, week: Week, facts: Mapping[str, Facts], profile: ClientProfile) -> Sets:
    """Sets that keep a week in its range and its sessions in their minutes, as far as sets alone can.

    Parameters
    ----------
    block : Block
        With the range and the minutes.
    week : Week
        Of exercises that facts are known of.
    facts : mapping
        Of them, and of rows and presses on other days.
    profile : ClientProfile
        What else they train.
    """
    ones = [(s, n) for s, session in enumerate(week.sessions) for n in range(len(session.exercises))]
    now = np.array([week.sessions[s].exercises[n].sets for s, n in ones], float)
    least = np.minimum(now, rule("session.least_sets"))
    most = np.maximum(now, rule("session.most_sets"))
    heads, other = heads_of(block.targets), elsewhere(profile, facts)
    seconds = [_seconds(session, facts) for session in week.sessions]
    taken = [np.array([seconds[s][n] if s == at else 0.0 for s, n in ones]) for at in range(len(seconds))]
    rows = [*_heads(week, ones, heads, facts), *taken]
    low = [block.low - other.get(head, 0.0) + INSIDE for head in heads] + [-np.inf] * len(week.sessions)
    high = [max(block.high - other.get(head, 0.0) - INSIDE, 0.0) for head in heads]
    high += [
        60.0 * block.minutes - seconds_of(session, facts, stretches=block.stretches) + float(row @ now)
        for session, row in zip(week.sessions, taken, strict=True)
    ]
    count, limits = len(ones), len(rows)
    more = 2 * (count + limits)
    # Sets; by how much each is more and fewer; by how much each limit is missed below and above.
    eye, nothing = np.eye(count), np.zeros((count, 2 * limits))
    table, missed = np.array(rows).reshape(limits, count), np.eye(limits)
    changed = np.hstack([eye, -eye, eye, nothing])
    inside = np.hstack([table, np.zeros((limits, 2 * count)), missed, -missed])
    cost = [OFF_RANGE] * len(heads) + [OVER_TIME / 60] * len(week.sessions)
    found = milp(
        np.concatenate([np.zeros(count), np.ones(2 * count), cost, cost]),
        constraints=[LinearConstraint(changed, now, now), LinearConstraint(inside, low, high)],
        bounds=Bounds(np.append(least, np.zeros(more)), np.append(most, np.full(more, MOST_MISSED))),
        integrality=np.append(np.ones(count), np.zeros(more)).astype(int),
        options={"presolve": PRESOLVE},
    )
    sets = now if found.x is None else np.round(found.x[:count])
    counts = iter(sets.astype(int).tolist())
    return tuple(tuple(next(counts) for _ in session.exercises) for session in week.sessions)


def exercises_of(week: Week) -> tuple[bool, tuple[tuple[str, ...], ...]]:
    """By which weeks have the same exercises."""
    return week.easier, tuple(tuple(one.variant for one in session.exercises) for session in week.sessions)


def with_sets(week: Week, sets: Sets) -> Week:
    """A week with other numbers of sets; as it is where it has not these exercises."""
    if [len(row) for row in sets] != [len(session.exercises) for session in week.sessions]:
        return week
    return week.model_copy(
        update={
            "sessions": tuple(
                session.model_copy(
                    update={
                        "exercises": tuple(
                            one.model_copy(update={"sets": count})
                            for one, count in zip(session.exercises, row, strict=True)
                        )
                    }
                )
                for session, row in zip(week.sessions, sets, strict=True)
            )
        }
    )


def _heads(
    week: Week, ones: list[tuple[int, int]], heads: tuple[str, ...], facts: Mapping[str, Facts]
) -> list[Array]:
    return [
        np.array([facts[week.sessions[s].exercises[n].variant].counts.get(head, 0.0) for s, n in ones])
        for head in heads
    ]


def _seconds(session: Session, facts: Mapping[str, Facts]) -> list[float]:
    """What a set of each exercise adds to a session; inside a pair others rest as well [s]."""
    letters = Counter(one.group for one in session.exercises if one.group)
    return [
        set_seconds(one, facts[one.variant]) + (0 if letters[one.group] > 1 else one.rest_s)
        for one in session.exercises
    ]
