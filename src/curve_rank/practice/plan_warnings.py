"""What is wrong with a block, each with the edit that mends it, one click away."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cache, partial
from math import ceil, floor

from curve_rank.catalogue.equipment import lacking
from curve_rank.practice.balance import Sets, balanced, with_sets
from curve_rank.practice.block import Block, Exercise, Week, back_to_back
from curve_rank.practice.coverage import ASKED, Cell, heads_of
from curve_rank.practice.edit_kinds import (
    AddExercise,
    Edit,
    GroupExercise,
    MoveSession,
    OrderSession,
    RemoveExercise,
    SetBlock,
    SetSets,
    SwapExercise,
    WarmUp,
)
from curve_rank.practice.facts import Facts
from curve_rank.practice.limits import Adjustment
from curve_rank.practice.make_block import day_cost
from curve_rank.practice.profile import WEEKDAYS, ClientProfile, load_shown
from curve_rank.practice.rooms import Room, loads_in
from curve_rank.practice.session import EXTRA_REPS, STEP_TOO_FAR, conflicts, in_time, seconds_of, warm_up_due
from curve_rank.practice.weekly_sets import heads_of_week
from curve_rank.rating.joints import joints, spare_above
from curve_rank.rating.targets import targets
from curve_rank.rating.words import lower_first

SAME_CURVE = 3
SAME = 0.05
"""Sets of a head that differ by less are one."""
Known = list[tuple[int, int, Exercise]]
"""Exercises of a week that facts are known of, with their session and place."""


@dataclass(frozen=True)
class PlanWarning:
    """Something to be mended.

    Attributes
    ----------
    kind : str
    week, session : int
        Where; −1 where it is the whole week, or block.
    says : str
    mend : Edit, optional
    mend_says : str
    """

    kind: str
    week: int
    session: int
    says: str
    mend: Edit | None = None
    mend_says: str = ""


@dataclass(frozen=True)
class PlanContext:
    """What a block is judged against.

    Attributes
    ----------
    facts : mapping
        Of all in it, and of what may stand instead.
    profile : ClientProfile
    room : Room
    left_out : mapping
        Why a variant that is in it cannot be done.
    fitted : mapping
        What was changed of a variant so that it can be, where something was.
    """

    facts: Mapping[str, Facts]
    profile: ClientProfile
    room: Room
    left_out: Mapping[str, str]
    fitted: Mapping[str, tuple[Adjustment, ...]] = field(default_factory=dict)

    def may(self, fact: Facts) -> bool:
        """Whether it spares what is to be spared, and the room has what it needs."""
        return not self.strained(fact) and self.there(fact)

    def strained(self, fact: Facts) -> str:
        """The name of a joint that should be spared and is not; empty for none."""
        over = [j for j in self.profile.spare if fact.strain[j] > spare_above()]
        return joints()[over[0]].name.lower() if over else ""

    def there(self, fact: Facts) -> bool:
        """Whether the room has what it needs."""
        return not lacking(fact.variant, self.room.equipment)

    def has_load(self, fact: Facts) -> bool:
        """Whether the room has a load for its repetitions: light enough, and none too far from the next."""
        most = fact.variant.guide.reps_to
        if too_light(fact, most, self.room):
            return False
        return fact.reps_at(fact.load_near(self.room, most)) <= most + EXTRA_REPS + STEP_TOO_FAR

    def known(self, week: Week) -> Week:
        """A week without what facts are not known of."""
        sessions = tuple(
            s.model_copy(update={"exercises": tuple(e for e in s.exercises if e.variant in self.facts)})
            for s in week.sessions
        )
        return week.model_copy(update={"sessions": sessions})

    def instead(
        self, key: str, taken: set[str], unlike: Sequence[Facts] = (), fits: Callable[[Facts], bool] = bool
    ) -> str:
        """What may stand in a variant's place: of those that fit, the one that covers most of the same.

        It has the curve of at most one of `unlike`.
        """
        fact = self.facts.get(key)
        options = [
            (fits(f), len(fact.covers & f.covers) if fact else 0, -n, f.variant.id)
            for n, f in enumerate(self.facts.values())
            if f.variant.id not in taken
            and (fact is None or f.group == fact.group)
            and self.may(f)
            and sum(f.alike(other) for other in unlike) < SAME_CURVE - 1
        ]
        return max(options)[3] if options else ""


def warnings(block: Block, context: PlanContext) -> tuple[PlanWarning, ...]:
    """Everything that is wrong, each said once: equal weeks are looked at once.

    Parameters
    ----------
    block : Block
        The weeks.
    context : PlanContext
        What it is planned in: facts of the exercises, room and profile.
    """
    found: list[PlanWarning] = []
    looked_at: set[str] = set()
    for w, week in enumerate(block.weeks):
        text = week.model_dump_json()
        if text in looked_at:
            continue
        looked_at.add(text)
        sets = cache(partial(_balanced, block, week, context))
        found += _of_week(block, week, w, context, sets)
        for s in range(len(week.sessions)):
            found += _of_session(block, w, s, context, sets)
    return tuple(found)


def _balanced(block: Block, week: Week, context: PlanContext) -> Sets:
    """Sets that would bring a week into its range and minutes; none where something in it cannot be."""
    known = context.known(week) == week and not week.easier
    return balanced(block, week, context.facts, context.profile) if known else ()


def _of_week(
    block: Block, week: Week, w: int, context: PlanContext, balance: Callable[[], Sets]
) -> Iterator[PlanWarning]:
    known = [
        (s, n, one) for s, session in enumerate(week.sessions) for n, one in enumerate(session.exercises)
        if one.variant in context.facts
    ]  # fmt: skip
    yield from _days(block, week, w, context)
    yield from badly_placed(week, w, context.profile)
    yield from _same_curve(block, known, w, context)
    here = {one.variant for _, _, one in known}
    covered = frozenset().union(*(context.facts[key].covers for key in here)) if here else frozenset()
    heads = heads_of(block.targets)
    for head in heads:
        for length in ASKED:
            cell = Cell(head, length).name
            may = [f for f in context.facts.values() if cell in f.covers and context.may(f)]
            able = [f for f in may if context.has_load(f)]
            if cell not in covered and may and not able:
                yield PlanWarning("uncovered", w, -1, _without_a_load(cell, may, context))
                continue
            apart = [f for f in able if sum(f.alike(context.facts[key]) for key in here) < SAME_CURVE - 1]
            if cell not in covered and able and not apart:
                says = f"Nothing loads the {cell}; what would has a curve that the week holds twice already."
                yield PlanWarning("uncovered", w, -1, says)
            elif cell not in covered and able:
                best = apart[0].variant
                mend = AddExercise(week=w, session=_lightest(week), variant=best.id, everywhere=True)
                yield PlanWarning(
                    "uncovered", w, -1, f"Nothing loads the {cell}.", mend, f"Add {best.name.lower()}"
                )
    yield from _weekly_sets(block, week, w, context, balance)


def _without_a_load(cell: str, may: Sequence[Facts], context: PlanContext) -> str:
    """That what would load a cell has no load that fits, and what would have to be there."""
    best = max(may, key=lambda fact: fact.load_for(fact.variant.guide.reps_to, low=False))
    load = load_shown(
        round(best.load_for(best.variant.guide.reps_to, low=False), 1), context.profile.mass_unit
    )
    name = lower_first(best.variant.name)
    return f"Nothing loads the {cell}: {name} would, with about {load}; {context.room.name} has no such step."


def _weekly_sets(
    block: Block, week: Week, w: int, context: PlanContext, balance: Callable[[], Sets]
) -> Iterator[PlanWarning]:
    """Heads outside the range: one mend brings all in; what sets alone cannot, a wider range would."""
    known = context.known(week)
    outside = _outside(block, known, context)
    if not outside or week.easier:
        return
    sets = balance()
    after = with_sets(known, sets)
    for head, have in outside.items():
        name, few = targets()[head].name, have < block.low
        than = f"under {block.low:g}" if few else f"over {block.high:g}"
        says = f"{name}: {have:.1f} hard sets a week, {than}."
        then = _have(after, head, context)
        if sets and block.low <= then <= block.high:
            mend: Edit = SetSets(week=w, sets=sets)
            yield PlanWarning("weekly_sets", w, -1, says, mend, "Bring all sets into the range")
            continue
        best = then if abs(then - have) > SAME and (then > have) == few else have
        end = floor(best) if few else ceil(best)
        wider = SetBlock(low=end) if few else SetBlock(high=end)
        says = f"{says} Sets alone cannot bring it in, within the minutes and for all heads."
        words = f"Let the range {'begin at' if few else 'reach'} {end}"
        yield PlanWarning("weekly_sets", w, -1, says, wider, words)


def _outside(block: Block, week: Week, context: PlanContext) -> dict[str, float]:
    """Hard sets of each head that has more or fewer than the block's range."""
    have = {head: _have(week, head, context) for head in heads_of(block.targets)}
    return {head: n for head, n in have.items() if not block.low - SAME <= n <= block.high + SAME}


def _have(week: Week, head: str, context: PlanContext) -> float:
    """Hard sets of a head in a week."""
    found = heads_of_week(week, context.facts, context.profile)
    return found[head].sets if head in found else 0.0


def _days(block: Block, week: Week, w: int, context: PlanContext) -> Iterator[PlanWarning]:
    days = tuple(session.day for session in week.sessions)
    for one, other in back_to_back(days):
        says = f"{WEEKDAYS[one]} and {WEEKDAYS[other]} have no rest day between"
        if block.override:
            yield PlanWarning("back_to_back", w, -1, f"{says}: “{block.override}”.")
            continue
        at = days.index(other)
        rest = tuple(d for d in days if d != other)
        free = [d for d in context.profile.days if d not in rest and not back_to_back((*rest, d))]
        mend = MoveSession(week=w, session=at, day=free[0], everywhere=True) if free else None
        yield PlanWarning(
            "back_to_back", w, at, f"{says}.", mend, f"Move it to {WEEKDAYS[free[0]]}" if free else ""
        )


def badly_placed(week: Week, w: int, profile: ClientProfile) -> Iterator[PlanWarning]:
    """Days on which somebody cannot come, or beside rows and presses where another is clear."""
    days = [session.day for session in week.sessions]
    for at, day in enumerate(days):
        rest = [other for other in days if other != day]
        free = [d for d in profile.days if d not in rest and not back_to_back((*rest, d)) and d != day]
        clear = [d for d in free if day_cost(d, profile) < day_cost(day, profile)]
        if day not in profile.days:
            says, kind, better = "is no day on which they can come", "cannot_come", clear or free
        elif clear:
            says, kind, better = "lies on, before or after rows and presses", "busy_day", clear
        else:
            continue
        best = min(better, key=lambda d: day_cost(d, profile), default=None)
        mend = None if best is None else MoveSession(week=w, session=at, day=best, everywhere=True)
        words = "" if best is None else f"Move it to {WEEKDAYS[best]}"
        yield PlanWarning(kind, w, at, f"{WEEKDAYS[day]} {says}.", mend, words)


def _same_curve(block: Block, known: Known, w: int, context: PlanContext) -> Iterator[PlanWarning]:
    told: set[str] = set()
    for s, n, one in known:
        fact = context.facts[one.variant]
        alike = {e.variant for _, _, e in known if context.facts[e.variant].alike(fact)}
        if len(alike) >= SAME_CURVE and not alike & told:
            told |= alike
            names = ", ".join(sorted(context.facts[k].variant.name.lower() for k in alike))
            says = f"The same curve {len(alike)} times: {names}."
            here = {e.variant for _, _, e in known}
            unlike = [context.facts[key] for key in here - {one.variant}]
            fits = in_time(block, block.weeks[w].sessions[s], n, context.facts)
            other = context.instead(one.variant, here, unlike, fits)
            mend: Edit = RemoveExercise(week=w, session=s, exercise=n, everywhere=True)
            words = f"Take {fact.variant.name.lower()} out"
            if other:
                mend = SwapExercise(week=w, session=s, exercise=n, variant=other, everywhere=True)
                words = f"Put {context.facts[other].variant.name.lower()} in for {fact.variant.name.lower()}"
            yield PlanWarning("same_curve", w, s, says, mend, words)


def _of_session(
    block: Block, w: int, s: int, context: PlanContext, balance: Callable[[], Sets]
) -> Iterator[PlanWarning]:
    session = block.weeks[w].sessions[s]
    taken = {one.variant for one in session.exercises}
    for n, one in enumerate(session.exercises):
        kind, wrong = _of_exercise(one, context)
        if not kind:
            continue
        other = context.instead(one.variant, taken, fits=in_time(block, session, n, context.facts))
        mend: Edit = RemoveExercise(week=w, session=s, exercise=n, everywhere=True)
        words = "Take it out"
        if other:
            mend = SwapExercise(week=w, session=s, exercise=n, variant=other, everywhere=True)
            words = f"Put {context.facts[other].variant.name.lower()} in"
        yield PlanWarning(kind, w, s, f"{WEEKDAYS[session.day]}: {wrong}.", mend, words)
    if any(one.variant not in context.facts for one in session.exercises):
        return
    yield from _inside(block, w, s, context, balance)


def _of_exercise(one: Exercise, context: PlanContext) -> tuple[str, str]:
    """What is wrong with an exercise for this client in this room: its kind and words, empty for nothing."""
    fact = context.facts.get(one.variant)
    if fact is None or one.variant in context.left_out:
        name = fact.variant.name if fact else one.variant
        return "unfit", f"{name} {context.left_out.get(one.variant, 'cannot be modelled for this body')}"
    name = fact.variant.name
    if not context.there(fact):
        return "unavailable", f"{name} needs what {context.room.name} has not"
    if joint := context.strained(fact):
        return "spared_joint", f"{name} strains the {joint}, which is to be spared"
    if too_light(fact, one.reps_to, context.room):
        return "step", f"{name}: the lightest load in {context.room.name} is too heavy"
    return "", ""


def _inside(
    block: Block, w: int, s: int, context: PlanContext, balance: Callable[[], Sets]
) -> Iterator[PlanWarning]:
    session = block.weeks[w].sessions[s]
    day, facts = WEEKDAYS[session.day], context.facts
    due = warm_up_due(session, facts)
    for one, least in zip(session.exercises, due, strict=True):
        if one.warm_up < least:
            name = facts[one.variant].variant.name
            says = f"{day}: {name} begins with {one.warm_up} light sets; {least} are due."
            warm = WarmUp(week=w, session=s, everywhere=True)
            yield PlanWarning("no_warm_up", w, s, says, warm, "Put the warm-ups in")
            break
    minutes = seconds_of(session, facts, stretches=block.stretches) / 60
    if minutes > block.minutes + 0.5 and session.exercises:
        says = f"{day}: {minutes:.0f} minutes, {block.minutes} are there."
        yield PlanWarning("minutes", w, s, says, *_shorter(block, w, s, context, balance))
    for places in session.rounds:
        ones = [facts[session.exercises[n].variant] for n in places]
        clash = [(a, b) for i, a in enumerate(ones) for b in ones[i + 1 :] if conflicts(a, b, context.room)]
        if clash:
            names = " and ".join(f.variant.name.lower() for f in clash[0])
            apart = GroupExercise(week=w, session=s, exercise=places[-1], together=False, everywhere=True)
            says = f"{day}: {names} need the same equipment at once."
            yield PlanWarning("equipment_twice", w, s, says, apart, "Take them apart")
    for group in ("flexors", "extensors"):
        ones = [facts[one.variant] for one in session.exercises if facts[one.variant].group == group]
        if not ones or not ones[0].hungry or ones[0].heavy or all(one.hungry for one in ones):
            continue
        says = f"{day}: what asks most of the elbow comes first."
        put = OrderSession(week=w, session=s, everywhere=True)
        yield PlanWarning("order", w, s, says, put, "Put it last")
        break


def _shorter(
    block: Block, w: int, s: int, context: PlanContext, balance: Callable[[], Sets]
) -> tuple[Edit, str]:
    """Fewer sets, where those are enough; else the minutes that it would take."""
    week, sets = block.weeks[w], balance()
    made = with_sets(week, sets)
    now, then = (
        seconds_of(one.sessions[s], context.facts, stretches=block.stretches) for one in (week, made)
    )
    out = _outside(block, made, context).keys() - _outside(block, week, context).keys()
    if made != week and not out and then <= 60 * block.minutes + 30:
        return SetSets(week=w, sets=sets), "Fewer sets, as the range allows"
    needed = ceil(now / 60)
    return SetBlock(minutes=needed), f"Let a session take {needed} minutes"


def too_light(fact: Facts, reps: int, room: Room) -> bool:
    """Whether the lightest load in the room is too heavy for so many repetitions."""
    steps = loads_in(room, fact.variant)
    return steps is not None and steps.size > 0 and float(steps[0]) > fact.load_for(reps, low=False)


def _lightest(week: Week) -> int:
    return min(range(len(week.sessions)), key=lambda n: len(week.sessions[n].exercises))
