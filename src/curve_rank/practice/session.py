"""What happens inside a session: how repetitions fall, warm-ups, order, pairs, minutes, targets and loads."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from math import ceil, floor

import numpy as np

from curve_rank.arm.tempo import Tempo
from curve_rank.practice.block import LETTERS, Block, Exercise, Session
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import load_shown, loads_in_words
from curve_rank.practice.rooms import Room, load_down, load_under, load_up
from curve_rank.practice.rules import row_of_rules, rule, spread_of_rule

FIRST = ("triceps", "biceps", "alternate")
"""Which muscle goes first, by school."""
EXTRA_REPS = 6
"""A load is never chosen for more repetitions than so many over the range, however tired somebody is."""
STEP_TOO_FAR = 2
"""Repetitions over the range and what is left from which the next step counts as too far."""
MOST_LEFT = 10
"""More left than so many is not told apart."""


@dataclass(frozen=True)
class SetTarget:
    """One set to do: load [kg], repetitions, how many more would go, and the light ones before it."""

    load: float
    reps: int
    reserve: int


def targets_in_words(sets: Iterable[SetTarget], unit: str) -> str:
    """Sets to do in a line: "14 kg × 10, 9; 12 kg × 8"."""
    return loads_in_words(((one.load, str(one.reps)) for one in sets), unit)


def fall_per_set(rest_s: float) -> float:
    """Part of the repetitions that is lost from one set to the next after a rest [1]."""
    return float(np.interp(rest_s, row_of_rules("fatigue.rest_s"), row_of_rules("fatigue.fall")))


def fatigue_words() -> str:
    """The rule by which repetitions fall, with its spread."""
    rests, falls = row_of_rules("fatigue.rest_s"), row_of_rules("fatigue.fall")
    spread = spread_of_rule("fatigue.fall")
    return (
        f"From set to set {100 * falls[0]:.0f} % of the repetitions are lost after {rests[0]:.0f} s of rest, "
        f"{100 * falls[-1]:.0f} % after {rests[-1]:.0f} s, give or take {100 * spread:.0f}; and "
        f"{100 * rule('fatigue.before'):.1f} % for every hard set done before for the same heads."
    )


def freshness(session: Session, facts: Mapping[str, Facts]) -> list[float]:
    """Which part of fresh repetitions is left when each exercise of a session begins [1].

    Every hard set done before takes a little, as far as it worked the same heads; inside a pair or triple the
    exercise just done takes more.
    """
    left, least = [], rule("fatigue.least")
    for n, one in enumerate(session.exercises):
        part = 1.0
        for before in session.exercises[:n]:
            shared = overlap(facts[before.variant], facts[one.variant])
            part *= (1 - rule("fatigue.before") * shared) ** before.sets
        mine = next(places for places in session.rounds if n in places)
        for place in mine[: mine.index(n)]:
            same = facts[session.exercises[place].variant].group == facts[one.variant].group
            part *= 1 - rule("fatigue.same_pair" if same else "fatigue.opposing_pair")
        left.append(max(part, least))
    return left


def overlap(one: Facts, other: Facts) -> float:
    """How much two work the same heads, 0 to 1."""
    if one.group != other.group:
        return 0.0
    mine, theirs = (np.array([f.counts[h] for h in one.counts]) for f in (one, other))
    return float(np.minimum(mine, theirs).sum() / max(mine.sum(), 1e-9))


def set_targets(
    exercise: Exercise,
    facts: Facts,
    room: Room,
    *,
    fresh: float = 1.0,
    reserve: int = 2,
    load: float | None = None,
) -> tuple[SetTarget, ...]:
    """Each set's load, repetitions and what is left then: one statement, said of a load that the room has.

    Parameters
    ----------
    exercise : Exercise
        Sets and repetitions as planned.
    facts : Facts
        Of the exercise: load against repetitions.
    room : Room
        On whose steps the loads lie.
    fresh : float
        Which part of fresh repetitions is left when it begins.
    reserve : int
        Repetitions that should be left in the last one.
    load : float, optional
        The load of a straight set, where the coach has set it [kg].
    """
    able = _able(exercise, fresh)
    if exercise.kind == "straight":
        beyond = 0
        if load is None:
            # Chosen so that the last set still reaches the bottom of the range.
            beyond, most = EXTRA_REPS, exercise.reps_to + EXTRA_REPS
            capacity = min(max(exercise.reps_to + reserve, (exercise.reps_from + reserve) / able[-1]), most)
            load = facts.load_near(room, capacity)
        return _straight(exercise, facts.reps_at(load), able, reserve, load, beyond)
    wanted = _wanted(exercise)
    loads = [facts.load_near(room, min((r + reserve) / a, 28)) for r, a in zip(wanted, able, strict=True)]
    top = wanted.index(min(wanted))
    if load is not None:
        loads = [min(one, load) for one in loads]
        loads[top] = load
    loads = _rising_to(top, loads, facts, room)
    return tuple(
        SetTarget(kg, count, _left(facts.reps_at(kg) * part, count))
        for kg, count, part in zip(loads, wanted, able, strict=True)
    )


def _straight(
    exercise: Exercise,
    capacity: float,
    able: Sequence[float],
    reserve: int,
    load: float,
    beyond: int,
) -> tuple[SetTarget, ...]:
    """Sets at one load: repetitions never rise, and each says what is left of its own.

    Where the load is far lighter than the range asks, as the next step would be far too heavy, repetitions
    go over the range instead.
    """
    spare = capacity * able[0] - reserve - exercise.reps_to
    most = exercise.reps_to + (beyond if spare > STEP_TOO_FAR else 0)
    found: list[SetTarget] = []
    for part in able:
        there = capacity * part
        reps = min(max(round(there - reserve), min(exercise.reps_from, floor(there))), most)
        reps = max(min(reps, found[-1].reps) if found else reps, 1)
        found.append(SetTarget(load, reps, _left(there, reps)))
    return tuple(found)


def why_beyond(exercise: Exercise, sets: Sequence[SetTarget], facts: Facts, room: Room, unit: str) -> str:
    """Why repetitions go over the range, where they do: the next step is too far, or there is none.

    Parameters
    ----------
    exercise : Exercise
        Repetitions as planned.
    sets : sequence of SetTarget
        As they are done.
    facts : Facts
        Of the exercise.
    room : Room
        Whose steps are too far.
    unit : str
        In which the next step is read.
    """
    if exercise.kind != "straight" or all(one.reps <= exercise.reps_to for one in sets):
        return ""
    upper = load_up(room, facts.variant, sets[0].load)
    if upper is None:
        return "Nothing here is heavier: more repetitions than planned."
    return f"The next weight here is {load_shown(upper, unit)}, too far: more repetitions than planned."


def finding_sets(
    exercise: Exercise, facts: Facts, room: Room, *, fresh: float = 1.0, reserve: int = 2
) -> tuple[SetTarget, ...]:
    """A short ramp that finds the weight of what nobody has logged: from the low end up to the middle.

    Parameters
    ----------
    exercise : Exercise
        Sets and repetitions as planned.
    facts : Facts
        Of the exercise: load against repetitions.
    room : Room
        On whose steps the loads lie.
    fresh : float
        Which part of fresh repetitions is left when it begins.
    reserve : int
        Repetitions that should be left in the last one.
    """
    planned = set_targets(exercise, facts, room, fresh=fresh, reserve=reserve)
    capacity, top, reps = facts.reps_at(planned[0].load), planned[0].load, exercise.reps_from
    if facts.variant.lifters_report is not None:  # where physics and lifters differ one begins on their side
        top = load_down(room, facts.variant, top * float(np.mean(facts.variant.lifters_report)))
    lightest = load_down(room, facts.variant, min(facts.load_for(capacity), top))
    if lightest >= top and top >= planned[0].load:  # what is unsure is less than a step
        return planned
    found = []
    for aim, part in zip(np.linspace(lightest, top, exercise.sets), _able(exercise, fresh), strict=True):
        load = load_down(room, facts.variant, float(aim))
        there = facts.reps_at(load) * part
        count = max(min(reps, floor(there)), 1)
        found.append(SetTarget(load, count, _left(there, count)))
    return tuple(found)


def _able(exercise: Exercise, fresh: float) -> list[float]:
    """Which part of fresh repetitions goes in each set of an exercise [1]."""
    fall = fall_per_set(exercise.rest_s)
    return [fresh * (1 - fall) ** n for n in range(exercise.sets)]


def _left(capacity: float, reps: int) -> int:
    """Repetitions that are left after some, of so many to failure."""
    return int(min(max(round(capacity - reps), 0), MOST_LEFT))


def _rising_to(top: int, loads: Sequence[float], facts: Facts, room: Room) -> list[float]:
    """Loads that rise up to a set and fall after it, each by a step at least where there is one."""
    found = list(loads)
    for n in range(top - 1, -1, -1):
        found[n] = min(found[n], load_under(room, facts.variant, found[n + 1]))
    for n in range(top + 1, len(found)):
        found[n] = min(found[n], load_under(room, facts.variant, found[n - 1]))
    return found


def _wanted(exercise: Exercise) -> list[int]:
    """Repetitions of each set of a ramp (falling) or a pyramid (falling, then rising)."""
    high, low, count = exercise.reps_to, exercise.reps_from, exercise.sets
    if exercise.kind == "pyramid":
        half = ceil(count / 2)
        down = [round(v) for v in np.linspace(high, low, half)]
        return down + down[: count - half][::-1]
    return [round(v) for v in np.linspace(high, low, count)]


def warm_up_due(session: Session, facts: Mapping[str, Facts]) -> list[int]:
    """Light sets that each exercise should begin with: most before the first extension."""
    warm: set[str] = set()
    due = []
    for one in session.exercises:
        fact = facts[one.variant]
        if fact.group not in warm:
            more = rule("warm_up.heavy_more") if fact.heavy else 0
            due.append(int(rule(f"warm_up.{fact.group}") + more))
        else:
            due.append(int(rule("warm_up.again")) if fact.hungry or fact.heavy else 0)
        warm.add(fact.group)
    return due


def warm_up_sets(count: int, fact: Facts, room: Room, load: float) -> tuple[SetTarget, ...]:
    """Light sets on the room's steps, rising to the working load; without a weight where none is lighter."""
    shares, reps = row_of_rules("warm_up.shares"), row_of_rules("warm_up.reps")
    picks = [round(v) for v in np.linspace(0, min(count + 1, len(shares) - 1), count)] if count > 1 else [1]
    least = load if fact.on_hands else 0.0
    steps = ((load_down(room, fact.variant, shares[n] * load), int(reps[n])) for n in picks[:count])
    return tuple(SetTarget(kg if kg < load else least, times, 10) for kg, times in steps)


def set_seconds(one: Exercise, fact: Facts) -> float:
    """Of one set without its rest, at the tempo that is set or the variant's own [s]."""
    return one.mean_reps * (Tempo.parse(one.tempo).total if one.tempo else fact.seconds)


def seconds_of(session: Session, facts: Mapping[str, Facts], *, stretches: bool = False) -> float:
    """How long a session takes: setting up, warming up, working, resting, stretching [s]."""
    total = 0.0
    for places in session.rounds:
        ones = [session.exercises[n] for n in places]
        work = [one.sets * set_seconds(one, facts[one.variant]) for one in ones]
        rests = max(one.sets for one in ones) * max(one.rest_s for one in ones)
        warm = rule("warm_up.seconds") * sum(one.warm_up for one in ones)
        total += rule("session.set_up_s") * len(ones) + sum(work) + rests + warm
    groups = {facts[one.variant].group for one in session.exercises}
    return total + (rule("session.stretch_s") * len(groups) if stretches else 0.0)


def in_time(block: Block, session: Session, n: int, facts: Mapping[str, Facts]) -> Callable[[Facts], bool]:
    """Asks of what would take a place in a session whether it then keeps to the minutes there are."""

    if any(one.variant not in facts for one in session.exercises):
        return lambda _fact: True
    most = max(60 * block.minutes + 30, seconds_of(session, facts, stretches=block.stretches))

    def fits(fact: Facts) -> bool:
        ones = list(session.exercises)
        ones[n] = swapped(ones[n], fact)
        then = session.model_copy(update={"exercises": tuple(ones)})
        return seconds_of(then, facts, stretches=block.stretches) <= most

    return fits


def swapped(one: Exercise, fact: Facts) -> Exercise:
    """An exercise with another variant in its place, for the repetitions of that one's guide."""
    guide = fact.variant.guide
    reps = {"reps_from": guide.reps_from, "reps_to": guide.reps_to}
    return one.model_copy(update={"variant": fact.variant.id} | reps)


def ordered(exercises: Sequence[Exercise], facts: Mapping[str, Facts], first: str) -> tuple[Exercise, ...]:
    """Heavy first, then whole ranges, what is overhead or elbow-hungry last; a muscle first or in turn.

    Nothing deep overhead begins: where a muscle has nothing else, the other goes first.
    """

    def within(one: Exercise) -> tuple[bool, bool, bool, tuple[str, ...], float]:
        fact = facts[one.variant]
        late = fact.hungry or fact.deep_overhead
        return (not fact.heavy, late, fact.in_part, fact.variant.equipment.loads, fact.strain["elbow"])

    ranked = sorted(exercises, key=within)
    by_group = {g: [e for e in ranked if facts[e.variant].group == g] for g in ("extensors", "flexors")}
    leads = ("flexors", "extensors") if first == "biceps" else ("extensors", "flexors")
    one, other = (by_group[g] for g in leads)
    if _is_cold(one, facts) and other and not _is_cold(other, facts):
        one, other = other, one
    if first != "alternate":
        return (*one, *other)
    found: list[Exercise] = []
    for n in range(max(len(one), len(other))):
        found += [row[n] for row in (one, other) if n < len(row)]
    return tuple(found)


def _is_cold(row: Sequence[Exercise], facts: Mapping[str, Facts]) -> bool:
    """Whether what comes first of a muscle is deep overhead, which a cold shoulder should not begin with."""
    return bool(row) and facts[row[0].variant].deep_overhead


def conflicts(one: Facts, other: Facts, room: Room) -> bool:
    """Whether two cannot stand ready at once: the same bench or bar, or more cables than there are."""
    mine, theirs = one.variant.equipment, other.variant.equipment
    if mine.bench is not None and mine.bench == theirs.bench:
        return True
    both = set(mine.loads) & set(theirs.loads)
    scarce = {"barbell", "angled_bar", "neutral_bar", "machine"} | ({"cable"} if room.stations < 2 else set())
    return bool(both & scarce)


def kind_of_pair(one: Facts, other: Facts) -> str:
    """What a pair is, in words."""
    kinds = (set(one.variant.equipment.loads), set(other.variant.equipment.loads))
    if one.group != other.group:
        return "opposing muscles"
    if "band" in kinds[1] and "band" not in kinds[0]:
        return "weight, then band"
    if one.heavy and not other.heavy:
        return "press, then long-head work" if one.variant.family == "pressing" else "heavy, then light"
    if other.variant.family == "pressing":
        return "isolation, then press"
    return "the same muscle twice"


def grouped(
    exercises: Sequence[Exercise], facts: Mapping[str, Facts], room: Room, size: int
) -> tuple[Exercise, ...]:
    """Exercises put together in pairs or triples that can stand ready at once; the heavy ones stand alone."""
    left = [one.model_copy(update={"group": ""}) for one in exercises]
    if size < 2:
        return tuple(left)
    found: list[Exercise] = []
    letters = iter(LETTERS)
    while left:
        lead, *left = left
        together = [lead]
        for one in list(left):
            if len(together) == size or facts[lead.variant].heavy:
                break
            fits = not facts[one.variant].heavy and not any(
                conflicts(facts[one.variant], facts[e.variant], room) for e in together
            )
            opposing = len(together) > 1 or facts[one.variant].group != facts[lead.variant].group
            if fits and opposing:
                together.append(one)
                left.remove(one)
        letter = next(letters, "") if len(together) > 1 else ""
        rest = int(rule("session.pair_rest_s"))
        found += [e.model_copy(update={"group": letter, "rest_s": rest}) if letter else e for e in together]
    return tuple(found)
