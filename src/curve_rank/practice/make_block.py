"""A block from a set, in one step: days, sessions, order, sets within the week's range, warm-ups, weeks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations
from math import inf

from curve_rank.errors import BadInputError
from curve_rank.practice.balance import balanced, with_sets
from curve_rank.practice.block import Block, Exercise, Session, Week, back_to_back
from curve_rank.practice.coverage import heads_of
from curve_rank.practice.deal import Dealing, deal
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.rules import rule
from curve_rank.practice.session import FIRST, grouped, ordered, seconds_of, set_seconds, warm_up_due
from curve_rank.practice.weekly_sets import heads_of_week
from curve_rank.validation import validated

WEEKS, PER_WEEK = (3, 6), (1, 4)
LAST = ("same", "easier", "swap")
MOST_CHANGES = 6
NEARLY = 0.85
"""Part of its minutes from which a session is full [1]."""


@dataclass(frozen=True)
class BlockWish:
    """What a block should be.

    Attributes
    ----------
    name : str
    weeks, per_week : int
    first : str
        Of `session.FIRST`.
    kind : str
        Of `block.KINDS`.
    rotate : bool
        Straight sets, then pairs, then triples across the week's sessions.
    stretches : bool
    last : str
        Of `LAST`: what the last week is.
    low, high : float
        Hard sets a head a week.
    override : str
        Why there need be no rest day between.
    vary, every : bool
        Whether the sessions of a week differ; and whether every exercise that is given is to be done.
    """

    name: str = "Block"
    weeks: int = 4
    per_week: int = 3
    first: str = "triceps"
    kind: str = "straight"
    rotate: bool = False
    stretches: bool = False
    last: str = "same"
    low: float = field(default_factory=lambda: rule("week.low"))
    high: float = field(default_factory=lambda: rule("week.high"))
    override: str = ""
    vary: bool = True
    every: bool = False


def make_block(
    picks: Sequence[str],
    facts: Mapping[str, Facts],
    profile: ClientProfile,
    room: Room,
    wish: BlockWish,
    swaps: Mapping[str, str] | None = None,
    lens: str = "long_length",
) -> Block:
    """A block of those variants.

    Parameters
    ----------
    picks : sequence of str
        Ids, best first.
    facts : mapping
        Of the picks, what may stand instead, and what stands for rows and presses.
    profile : ClientProfile
        Days, minutes, targets, and what else they train.
    room : Room
        On whose steps loads lie.
    wish : BlockWish
        Weeks, sessions a week, order and kinds of sets.
    swaps : mapping, optional
        What stands instead of each pick in a week of swaps.
    lens : str
        By which the swaps are ranked.

    Returns
    -------
    Block
        The same for the same question.

    Raises
    ------
    BadInputError
    """
    _check(picks, facts, wish)
    days = place_days(profile, wish.per_week, override=bool(wish.override))
    sessions = _dealt(picks, facts, profile, room, wish, days)
    weeks = [Week(sessions=sessions)] * wish.weeks
    if wish.last == "easier":
        weeks[-1] = easier(weeks[-1])
    elif wish.last == "swap" and swaps:
        weeks[-1] = _swapped(weeks[-1], facts, swaps, wish, room, profile.minutes)
    values: dict[str, object] = {
        "name": wish.name,
        "targets": profile.aims,
        "lens": lens,
        "weeks": tuple(weeks),
        "minutes": profile.minutes,
        "low": wish.low,
        "high": wish.high,
        "stretches": wish.stretches,
        "override": wish.override if back_to_back(days) else "",
    }
    return _balanced(validated(Block, values, ""), facts, profile)


def _balanced(block: Block, facts: Mapping[str, Facts], profile: ClientProfile) -> Block:
    """A block whose usual weeks' sets are in range, where other numbers of sets alone bring them there."""
    usual = block.weeks[0]
    if not _outside(usual.sessions, facts, profile, block.low, block.high):
        return block
    made = with_sets(usual, balanced(block, usual, facts, profile))
    better = not _outside(made.sessions, facts, profile, block.low, block.high)
    weeks = tuple(made if week == usual and better else week for week in block.weeks)
    return block.model_copy(update={"weeks": weeks})


def place_days(profile: ClientProfile, count: int, *, override: bool = False) -> tuple[int, ...]:
    """Weekdays for the sessions: a rest day between, and clear of pulling and pressing days.

    Raises
    ------
    BadInputError
        Where they do not fit, with what would.
    """
    found = []
    for days in combinations(sorted(set(profile.days)), count):
        touching = len(back_to_back(days))
        if touching and not override:
            continue
        gaps = [(b - a) % 7 or 7 for a, b in zip(days, (*days[1:], days[0]), strict=True)]
        found.append((touching, sum(day_cost(day, profile) for day in days), max(gaps) - min(gaps), days))
    if not found:
        right = (
            f"days on which {count} sessions fit with a rest day between, fewer sessions, or a reason why not"
        )
        raise BadInputError("days", f"{len(set(profile.days))} days for {count} sessions", right)
    return min(found)[-1]


def day_cost(day: int, profile: ClientProfile) -> int:
    """How badly a day lies to rows and presses: the day before, that day, the day after."""
    others = set(profile.pulling_days) | set(profile.pressing_days)
    return 2 * ((day + 1) % 7 in others) + (day in others) + ((day - 1) % 7 in others)


def new_exercise(fact: Facts, kind: str = "straight", sets: int | None = None) -> Exercise:
    """An exercise by a variant's own guide."""
    guide = fact.variant.guide
    return Exercise(
        variant=fact.variant.id,
        kind=kind,
        sets=sets or int(rule("session.sets")),
        reps_from=guide.reps_from,
        reps_to=guide.reps_to,
        rest_s=int(rule("session.heavy_rest_s" if fact.heavy else "session.rest_s")),
    )


def warmed(session: Session, facts: Mapping[str, Facts]) -> Session:
    """A session with the light sets that are due."""
    due = warm_up_due(session, facts)
    made = (one.model_copy(update={"warm_up": n}) for one, n in zip(session.exercises, due, strict=True))
    return session.model_copy(update={"exercises": tuple(made)})


def easier(week: Week) -> Week:
    """A week with fewer sets, further from failure."""
    part = rule("session.easier_sets")
    sessions = tuple(
        s.model_copy(
            update={
                "exercises": tuple(
                    e.model_copy(update={"sets": max(1, round(part * e.sets))}) for e in s.exercises
                )
            }
        )
        for s in week.sessions
    )
    return Week(sessions=sessions, easier=True)


def _check(picks: Sequence[str], facts: Mapping[str, Facts], wish: BlockWish) -> None:
    if not picks:
        raise BadInputError("picks", "none", "at least one exercise")
    for key in picks:
        if key not in facts:
            raise BadInputError("picks", key, "exercises that can be modelled for this body")
    for field_name, value, allowed in (
        ("weeks", wish.weeks, range(WEEKS[0], WEEKS[1] + 1)),
        ("sessions", wish.per_week, range(PER_WEEK[0], PER_WEEK[1] + 1)),
    ):
        if value not in allowed:
            raise BadInputError(field_name, value, f"{allowed.start} to {allowed.stop - 1}")
    for field_name, key, named in (("first", wish.first, FIRST), ("last", wish.last, LAST)):
        if key not in named:
            raise BadInputError(field_name, key, "one of: " + ", ".join(named))
    if not 0 <= wish.low <= wish.high:
        raise BadInputError("sets", f"{wish.low:g} to {wish.high:g}", "a range that rises")


def _finished(
    exercises: Sequence[Exercise],
    day: int,
    n: int,
    facts: Mapping[str, Facts],
    room: Room,
    wish: BlockWish,
    *,
    size: int = 1,
) -> Session:
    """A session in order, grouped as its turn in the week says or by so many, with its warm-ups."""
    placed = ordered(exercises, facts, wish.first)
    if wish.rotate or size > 1:
        placed = grouped(placed, facts, room, n % 3 + 1 if wish.rotate else size)
    return warmed(Session(day=day, exercises=placed), facts)


def _minutes_fit(
    session: Session, facts: Mapping[str, Facts], profile: ClientProfile, wish: BlockWish
) -> bool:
    return seconds_of(session, facts, stretches=wish.stretches) <= 60 * profile.minutes


def _dealt(
    picks: Sequence[str],
    facts: Mapping[str, Facts],
    profile: ClientProfile,
    room: Room,
    wish: BlockWish,
    days: tuple[int, ...],
) -> tuple[Session, ...]:
    """The pool dealt out over the week, with as long a rest as the minutes leave.

    Where the minutes are too few for the week's sets one exercise after another, opposing ones are paired.
    """
    made = _week(picks, facts, profile, room, wish, days, paired=False)
    if made is None:
        right = "minutes in which one exercise with its warm-up can be done"
        raise BadInputError("minutes", profile.minutes, right)
    full = all(seconds_of(s, facts, stretches=wish.stretches) >= NEARLY * 60 * profile.minutes for s in made)
    if full and not wish.rotate and _outside(made, facts, profile, wish.low):
        made = _week(picks, facts, profile, room, wish, days, paired=True) or made
    return tuple(_rested(session, facts, profile, wish) for session in made)


def _week(
    picks: Sequence[str],
    facts: Mapping[str, Facts],
    profile: ClientProfile,
    room: Room,
    wish: BlockWish,
    days: tuple[int, ...],
    *,
    paired: bool,
) -> tuple[Session, ...] | None:
    """Sessions as they are dealt; None where nothing fits the minutes."""
    new = {key: new_exercise(facts[key], wish.kind) for key in picks}
    # Inside a pair one rests while the other works: each takes half of the rest after a round.
    shared = rule("session.pair_rest_s") / 2
    rests = {
        key: set_seconds(one, facts[key]) + (shared if paired and not facts[key].heavy else one.rest_s)
        for key, one in new.items()
    }
    groups = {facts[key].group for key in picks}
    spent = sum(rule(f"warm_up.{group}") for group in groups) * rule("warm_up.seconds")
    spent += rule("session.stretch_s") * len(groups) if wish.stretches else 0.0
    for _ in range(MOST_CHANGES):
        dealt = deal(
            Dealing(
                tuple(dict.fromkeys(picks)), facts, profile, len(days), wish.low, wish.high, rests, spent,
                vary=wish.vary, every=wish.every,
            )
        )  # fmt: skip
        if not dealt:
            return None
        made = tuple(
            _finished(
                [new[key].model_copy(update={"sets": sets}) for key, sets in one], day, n, facts, room, wish,
                size=2 if paired else 1,
            )
            for n, (day, one) in enumerate(zip(days, dealt, strict=True))
        )  # fmt: skip
        over = max(seconds_of(s, facts, stretches=wish.stretches) for s in made) - 60 * profile.minutes
        if over <= 0:
            return made
        spent += over + 1  # warm-ups depend on what comes first, which is known only now
    return None


def _outside(
    sessions: tuple[Session, ...],
    facts: Mapping[str, Facts],
    profile: ClientProfile,
    low: float,
    high: float = inf,
) -> bool:
    """Whether a head of the targets has fewer or more sets than the week should have."""
    week = heads_of_week(Week(sessions=sessions), facts, profile)
    return any(head not in week or not low <= week[head].sets <= high for head in heads_of(profile.aims))


def _rested(session: Session, facts: Mapping[str, Facts], profile: ClientProfile, wish: BlockWish) -> Session:
    """A session with longer rests, the first exercises' first, as far as the minutes hold them."""
    for n, one in enumerate(session.exercises):
        longest = int(rule("session.long_rest_s" if facts[one.variant].heavy else "session.fill_rest_s"))
        if one.group or one.rest_s >= longest:
            continue
        made = list(session.exercises)
        made[n] = one.model_copy(update={"rest_s": longest})
        changed = session.model_copy(update={"exercises": tuple(made)})
        if _minutes_fit(changed, facts, profile, wish):
            session = changed
    return session


def _swapped(
    week: Week,
    facts: Mapping[str, Facts],
    swaps: Mapping[str, str],
    wish: BlockWish,
    room: Room,
    minutes: int,
) -> Week:
    sessions = []
    for n, session in enumerate(week.sessions):
        made: list[Exercise] = []
        for one in session.exercises:
            other = swaps.get(one.variant, "")
            taken = {e.variant for e in made}
            keep = other not in facts or other in taken
            made.append(one if keep else new_exercise(facts[other], one.kind, one.sets))
        sessions.append(_shortened(_finished(made, session.day, n, facts, room, wish), facts, minutes, wish))
    return Week(sessions=tuple(sessions))


def _shortened(session: Session, facts: Mapping[str, Facts], minutes: int, wish: BlockWish) -> Session:
    """A session that its minutes hold: usual rests, then fewer sets, then without its last exercise."""
    ones = tuple(
        one if one.group else one.model_copy(update={"rest_s": new_exercise(facts[one.variant]).rest_s})
        for one in session.exercises
    )
    shorter = session.model_copy(update={"exercises": ones})
    while len(shorter.exercises) > 1 and seconds_of(shorter, facts, stretches=wish.stretches) > 60 * minutes:
        at = max(range(len(shorter.exercises)), key=lambda n: shorter.exercises[n].sets)
        made = list(shorter.exercises)
        if made[at].sets > rule("session.least_sets"):
            made[at] = made[at].model_copy(update={"sets": made[at].sets - 1})
        else:
            made.pop()
        shorter = shorter.model_copy(update={"exercises": tuple(made)})
    return shorter
