"""Double progression: the next target of an exercise, from what was logged, always with its reason."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from curve_rank.arm.rep_setup import effort_of, reps_of
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.profile import day_in_words, load_shown
from curve_rank.practice.rooms import Room, load_down, load_nearest, load_under, load_up, on_step
from curve_rank.practice.rules import rule
from curve_rank.practice.session import SetTarget
from curve_rank.practice.units import HALF_POUND
from curve_rank.training.log import Bout, LoggedSet, sets_in_words
from curve_rank.training.pain import PainFlag

USUAL_SETS, USUAL_BOUTS = 3, 3
"""Sets where nobody says how many; else the most of so many bouts."""
ACTIONS = ("begin", "stay", "add", "reps", "less", "away", "again", "hold", "pause", "stop")


@dataclass(frozen=True)
class Range:
    """What is wanted of an exercise.

    Attributes
    ----------
    sets, reps_from, reps_to : int
    reserve : int
        Repetitions left at the end of each set.
    """

    sets: int
    reps_from: int
    reps_to: int
    reserve: int = 2


@dataclass(frozen=True)
class NextTarget:
    """What is done next time.

    Attributes
    ----------
    action : str
        Of `ACTIONS`.
    load : float
        [kg]
    reps : tuple of int
        Of each set.
    reserve : int
    reason : str
        Naming the sets it rests on.
    rests_on : tuple of str
        Their keys.
    """

    action: str
    load: float
    reps: tuple[int, ...]
    reserve: int
    reason: str
    rests_on: tuple[str, ...] = ()

    @property
    def straight(self) -> tuple[SetTarget, ...]:
        """Its sets, all at the one load."""
        return tuple(SetTarget(self.load, reps, self.reserve) for reps in self.reps)


def guide_range(variant: Variant, rows: Sequence[Bout] = ()) -> Range:
    """The range of a variant that nobody planned: its own guide's, for as many sets as are usually done."""
    done = [len(bout.numbers) for bout in rows if bout.sets][-USUAL_BOUTS:]
    return Range(max(done, default=USUAL_SETS), variant.guide.reps_from, variant.guide.reps_to)


def next_target(  # noqa: PLR0913 — what a target follows from
    rows: Sequence[Bout],
    variant: Variant,
    wanted: Range,
    room: Room | None,
    today: date,
    *,
    start: float | None = None,
    hands: float = 0.0,
    flag: PainFlag | None = None,
    over: date | None = None,
    unit: str = "kg",
) -> NextTarget:
    """The next target: the weight stays until every set reached the top, then the smallest step follows.

    Parameters
    ----------
    rows : sequence of Bout
        Of this variant, oldest first.
    variant : Variant
        The set-up.
    wanted : Range
        Sets, repetitions and reserve as planned.
    room : Room, optional
        On whose steps loads lie; without one the variant's own smallest step.
    today : date
        The day it is where the person is.
    start : float, optional
        The load to begin with where nothing is logged [kg].
    hands : float
        What the hands carry of the body [kg].
    flag : PainFlag, optional
        Under which it is.
    over : date, optional
        When it last hurt, where that has been long enough ago.
    unit : str
        In which the reason tells loads.
    """
    rows = [bout for bout in rows if bout.sets and bout.day <= today]
    if flag is not None and flag.level in ("pause", "stop"):
        load = _weight(rows[-1]) if rows else (start or 0.0)
        return NextTarget(flag.level, load, (), wanted.reserve, flag.says, flag.keys)
    if not rows:
        return _begin(variant, wanted, room, start)
    last = rows[-1]
    weight = on_step(room, variant, _weight(last))
    held = NextTarget("stay", weight, _more(last, weight, wanted), wanted.reserve, "", _keys(last))
    if flag is not None:
        reps = tuple(
            min(count, done or count) for count, done in zip(held.reps, _done(last, wanted), strict=True)
        )
        why = f"{flag.says} The weight stays, whatever the repetitions were."
        return replace(held, action="hold", reps=reps, reason=why, rests_on=flag.keys + held.rests_on)
    if over is not None and not any(bout.day > over and not bout.hurts for bout in rows):
        part = rule("pain.again_part")
        why = (
            f"It hurt on {day_in_words(over)}, and nothing has since: "
            "again, lighter, and stop if it comes back. "
            "If it was sharp or lasted, only once a licensed clinician has looked at it."
        )
        return _lighter(held, variant, room, wanted, hands, part, "again", why)
    if today - last.day > timedelta(days=rule("progress.away_days")):
        gone = (today - last.day).days
        why = f"Last done on {day_in_words(last.day)} ({_told(last, unit)}): lighter after {gone} days away."
        return _lighter(held, variant, room, wanted, hands, rule("progress.away_part"), "away", why)
    if _reached(last, weight, wanted):
        return _step(last, weight, variant, wanted, room, hands, unit)
    if _fell_short(rows, weight, wanted):
        lower = load_under(room, variant, weight)
        if lower < weight:
            why = (
                f"The first set was under {wanted.reps_from} twice running "
                f"({_told(rows[-2], unit)}; {_told(last, unit)}): one step less, and every set in the range."
            )
            reps = (wanted.reps_from,) * wanted.sets
            return replace(held, action="less", load=lower, reps=reps, reason=why, rests_on=_keys(*rows[-2:]))
    return replace(held, reason=_why_not(last, weight, wanted, unit))


def _begin(variant: Variant, wanted: Range, room: Room | None, start: float | None) -> NextTarget:
    if start is None:
        why = "Nothing is logged of it, and no known set says where to begin: start light."
        lightest = load_up(room, variant, 0.0) or variant.equipment.smallest_step_kg
        return NextTarget("begin", lightest, (wanted.reps_to,) * wanted.sets, wanted.reserve, why)
    load = load_down(room, variant, start) if room else start
    why = (
        "Nothing is logged of it lately: the weight is what the model carries over from sets that are known."
    )
    return NextTarget("begin", load, (wanted.reps_from,) * wanted.sets, wanted.reserve, why)


def _weight(bout: Bout) -> float:
    """The weight of a bout: what most of its sets were done with, the heavier of two [kg]."""
    counts = Counter(one.load_kg for one in bout.sets)
    return max(counts, key=lambda load: (counts[load], load))


def _lesser(sets: Sequence[LoggedSet]) -> LoggedSet:
    """Of both sides of a set the one that decides: the weaker side."""
    return min(sets, key=lambda one: (one.load_kg, one.reps))


def _done(bout: Bout, wanted: Range) -> tuple[int, ...]:
    """Repetitions of each set, the weaker side's; 0 where it was not done."""
    done = [_lesser(sets).reps for sets in bout.numbers][: wanted.sets]
    return tuple(done + [0] * (wanted.sets - len(done)))


def _reached(bout: Bout, weight: float, wanted: Range) -> bool:
    """Whether every set that was wanted, on every side, reached the top, strictly, with no less weight."""
    numbers = bout.numbers
    if len(numbers) < wanted.sets:
        return False
    sides = {one.side for one in bout.sets}
    whole = all({one.side for one in sets} == sides for sets in numbers[: wanted.sets])
    return whole and all(
        one.is_strict and one.reps >= wanted.reps_to and one.load_kg >= weight - HALF_POUND
        for sets in numbers
        for one in sets
    )


def _fell_short(rows: Sequence[Bout], weight: float, wanted: Range) -> bool:
    """Whether even the first set was under the range in the last two bouts at this weight or less."""
    two = rows[-2:]
    return len(two) == 2 and all(
        _weight(bout) <= weight + HALF_POUND and _done(bout, wanted)[0] < wanted.reps_from for bout in two
    )


def _more(bout: Bout, weight: float, wanted: Range) -> tuple[int, ...]:
    """One repetition more where the top is not reached, within the range, and never rising set by set."""
    found: list[int] = []
    sets = bout.numbers
    for n in range(wanted.sets):
        done = _lesser(sets[n]) if n < len(sets) else None
        same = done is not None and done.load_kg >= weight - HALF_POUND
        reps = done.reps + 1 if done is not None and same else wanted.reps_from
        reps = min(max(reps, wanted.reps_from), wanted.reps_to)
        found.append(min(reps, found[-1]) if found else reps)
    return tuple(found)


def _step(
    last: Bout, weight: float, variant: Variant, wanted: Range, room: Room | None, hands: float, unit: str
) -> NextTarget:
    """The smallest step there is; first more repetitions where it is so large that it would end too early."""
    told, keys = f"on {day_in_words(last.day)}: {_told(last, unit)}", _keys(last)
    upper = load_up(room, variant, weight)
    top = (wanted.reps_to,) * wanted.sets
    if upper is None:
        beyond = min(min(_done(last, wanted)) + 1, wanted.reps_to + int(rule("progress.extra_reps")))
        why = f"All at the top ({told}), and nothing here is heavier: more repetitions, slower lowering."
        return NextTarget("reps", weight, (beyond,) * wanted.sets, wanted.reserve, why, keys)
    least = min(_done(last, wanted))
    cap = wanted.reps_to + int(rule("progress.extra_reps"))
    hope = _after(least, weight, upper, hands)
    floor = max(1.0, wanted.reps_from - rule("progress.step_slack"))
    if hope < floor and least < cap:
        why = (
            f"All at the top ({told}), but the next weight here is {load_shown(upper, unit)}: "
            f"about {max(hope, 0):.0f} repetitions. First more repetitions with {load_shown(weight, unit)}."
        )
        return NextTarget("reps", weight, (least + 1,) * wanted.sets, wanted.reserve, why, keys)
    reps = min(max(round(hope), wanted.reps_from), wanted.reps_to)
    step = "less help" if upper <= 0 else f"{load_shown(upper - weight, unit)} more"
    why = (
        f"Every set reached {top[0]} ({told}): {step}, the smallest step here, to {load_shown(upper, unit)}."
    )
    return NextTarget("add", upper, (reps,) * wanted.sets, wanted.reserve, why, keys)


def _after(reps: int, weight: float, upper: float, hands: float) -> float:
    """Repetitions with more weight, by the rule of effort, of somebody who does `reps` [1]."""
    before, after = weight + hands, upper + hands
    if before <= 0 or after <= 0:
        return float(reps)
    return reps_of(effort_of(reps) * after / before)


def _lighter(
    held: NextTarget,
    variant: Variant,
    room: Room | None,
    wanted: Range,
    hands: float,
    part: float,
    action: str,
    why: str,
) -> NextTarget:
    aim, step = part * (held.load + hands) - hands, load_under(room, variant, held.load)
    if room is None:
        size = variant.equipment.smallest_step_kg
        lower = max(round(aim / size) * size, step if step < held.load else aim)
    elif action == "away":  # costs no more than the step that is nearest to it
        lower = load_nearest(room, variant, aim, held.load)
        if step < lower == held.load:
            why = (
                f"{why.removesuffix('.')} is less than a step here: the weight stays, with fewer repetitions."
            )
    else:
        lower = load_down(room, variant, aim)
    load = min(lower, held.load)
    return replace(held, action=action, load=load, reps=(wanted.reps_from,) * wanted.sets, reason=why)


def _why_not(bout: Bout, weight: float, wanted: Range, unit: str) -> str:
    """Why the weight stays: which set has not reached the top."""
    numbers, held = bout.numbers, load_shown(weight, unit)
    when = f"on {day_in_words(bout.day)} ({_told(bout, unit)})"
    if len(numbers) < wanted.sets:
        return (
            f"{len(numbers)} of {wanted.sets} whole sets were done {when}: "
            f"{held} stays until all reach {wanted.reps_to}."
        )
    short = [_lesser(sets) for sets in numbers if min(one.reps for one in sets) < wanted.reps_to]
    if short:
        one = short[0]
        side = f" ({one.side})" if one.side else ""
        return (
            f"Set {one.set}{side} was {one.reps} of {wanted.reps_to} {when}: "
            f"{held} stays until every set reaches {wanted.reps_to}."
        )
    helped = next((one for sets in numbers for one in sets if not one.is_strict), None)
    if helped is not None:
        return f"Trunk or elbows helped in set {helped.set} {when}: {held} stays until every set is strict."
    return f"Not every set was done with {held} {when}: it stays."


def _told(bout: Bout, unit: str) -> str:
    """A bout's sets in a few words: "14 kg × 12, 11, 10"."""
    return sets_in_words((one for sets in bout.numbers for one in sets), unit)


def _keys(*rows: Bout) -> tuple[str, ...]:
    return tuple(one.key for bout in rows for one in bout.sets)
