"""A block from a set, in one step: days, sessions, order, sets within the week's range, warm-ups, weeks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from itertools import combinations

from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block, Exercise, Session, Week, back_to_back
from curve_rank.practice.coverage import heads_of
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.rules import rule
from curve_rank.practice.session import FIRST, grouped, ordered, seconds_of, warm_up_due
from curve_rank.practice.weekly_sets import heads_of_week
from curve_rank.validation import validated

WEEKS, PER_WEEK = (3, 6), (1, 4)
LAST = ("same", "easier", "swap")
MOST_CHANGES = 60


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
    sessions = _filled(sessions, facts, profile, wish)
    weeks = [Week(sessions=sessions)] * wish.weeks
    if wish.last == "easier":
        weeks[-1] = easier(weeks[-1])
    elif wish.last == "swap" and swaps:
        weeks[-1] = _swapped(weeks[-1], facts, swaps, wish, room)
    values = {
        "name": wish.name,
        "targets": profile.targets or ("flexors", "extensors"),
        "lens": lens,
        "weeks": tuple(weeks),
        "minutes": profile.minutes,
        "low": wish.low,
        "high": wish.high,
        "stretches": wish.stretches,
        "override": wish.override if back_to_back(days) else "",
    }
    return validated(Block, values, "")


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
        others = set(profile.pulling_days) | set(profile.pressing_days)
        # On such a day the arms come at its end; the day before it they would be tired for it.
        before = sum((day + 1) % 7 in others for day in days)
        after = sum((day - 1) % 7 in others for day in days)
        found.append((touching, 2 * before + after, max(gaps) - min(gaps), days))
    if not found:
        right = (
            f"days on which {count} sessions fit with a rest day between, fewer sessions, or a reason why not"
        )
        raise BadInputError("days", f"{len(set(profile.days))} days for {count} sessions", right)
    return min(found)[-1]


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
    exercises: Sequence[Exercise], day: int, n: int, facts: Mapping[str, Facts], room: Room, wish: BlockWish
) -> Session:
    """A session in order, grouped as its turn in the week says, with its warm-ups."""
    placed = ordered(exercises, facts, wish.first)
    if wish.rotate:
        placed = grouped(placed, facts, room, n % 3 + 1)
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
    """The picks dealt out over the week: as many each day as its minutes hold, each day begun further on."""
    sessions, start = [], 0
    for n, day in enumerate(days):
        turn = [picks[(start + k) % len(picks)] for k in range(len(picks))]
        taken: list[Exercise] = []
        for key in turn:
            trial = [*taken, new_exercise(facts[key], wish.kind, int(rule("session.least_sets")))]
            if _minutes_fit(_finished(trial, day, n, facts, room, wish), facts, profile, wish):
                taken = trial
        if not taken:
            right = "minutes in which one exercise with its warm-up can be done"
            raise BadInputError("minutes", profile.minutes, right)
        start += len(taken)
        sessions.append(_finished(taken, day, n, facts, room, wish))
    return tuple(sessions)


def _filled(
    sessions: tuple[Session, ...],
    facts: Mapping[str, Facts],
    profile: ClientProfile,
    wish: BlockWish,
) -> tuple[Session, ...]:
    """Sets added where a head has too few, and taken where one has too many, while the minutes hold."""
    heads = heads_of(profile.targets or ("flexors", "extensors"))
    for _ in range(MOST_CHANGES):
        week = heads_of_week(Week(sessions=sessions), facts, profile)
        sets = {head: week[head].sets if head in week else 0.0 for head in heads}
        short = min(sets, key=lambda h: sets[h])
        over = max(sets, key=lambda h: sets[h])
        if sets[short] < wish.low:
            changed = _one_set(sessions, facts, profile, wish, short, 1)
        elif sets[over] > wish.high:
            changed = _one_set(sessions, facts, profile, wish, over, -1)
        else:
            break
        if changed is None:
            break
        sessions = changed
    return sessions


def _one_set(
    sessions: tuple[Session, ...],
    facts: Mapping[str, Facts],
    profile: ClientProfile,
    wish: BlockWish,
    head: str,
    way: int,
) -> tuple[Session, ...] | None:
    """One set more or fewer where it does most for a head; None where nothing can be changed."""
    least, most = int(rule("session.least_sets")), int(rule("session.most_sets"))
    options = []
    for s, session in enumerate(sessions):
        for n, one in enumerate(session.exercises):
            part = facts[one.variant].counts.get(head, 0.0)
            if part > 0 and least <= one.sets + way <= most:
                options.append((-part, way * one.sets, s, n))
    for _, _, s, n in sorted(options):
        session = sessions[s]
        made = list(session.exercises)
        made[n] = made[n].model_copy(update={"sets": made[n].sets + way})
        changed = session.model_copy(update={"exercises": tuple(made)})
        if way < 0 or _minutes_fit(changed, facts, profile, wish):
            return (*sessions[:s], changed, *sessions[s + 1 :])
    return None


def _swapped(
    week: Week, facts: Mapping[str, Facts], swaps: Mapping[str, str], wish: BlockWish, room: Room
) -> Week:
    sessions = []
    for n, session in enumerate(week.sessions):
        made: list[Exercise] = []
        for one in session.exercises:
            other = swaps.get(one.variant, "")
            taken = {e.variant for e in made}
            keep = other not in facts or other in taken
            made.append(one if keep else new_exercise(facts[other], one.kind, one.sets))
        sessions.append(_finished(made, session.day, n, facts, room, wish))
    return Week(sessions=tuple(sessions))
