"""What pain in a log asks for: one report warns, two pause, sharp or lasting pain stops."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import day_in_words
from curve_rank.practice.rules import rule
from curve_rank.rating.joints import joints
from curve_rank.training.log import LoggedSet

CLINICIAN = "Stop, and see a licensed clinician. This is education, not diagnosis or treatment."
LEVELS = ("warn", "pause", "stop")


@dataclass(frozen=True)
class PainFlag:
    """What is asked for, of an exercise or of a joint.

    Attributes
    ----------
    level : str
        Of `LEVELS`.
    joint : str
    variants : tuple of str
        In which it hurt; a flag that says stop is of every other that strains the joint, too.
    says : str
    since : date
        Of the last report it rests on.
    keys : tuple of str
        Of the sets it rests on.
    """

    level: str
    joint: str
    variants: tuple[str, ...]
    says: str
    since: date
    keys: tuple[str, ...]


@dataclass(frozen=True)
class PainState:
    """All flags that stand on a day."""

    flags: tuple[PainFlag, ...] = ()
    over: Mapping[str, date] = field(default_factory=dict)

    def of(self, variant: str, fact: Facts | None = None) -> PainFlag | None:
        """The gravest flag that an exercise is under: its own, or of a joint that it strains."""
        found = [
            flag
            for flag in self.flags
            if variant in flag.variants
            or (flag.level == "stop" and fact is not None and fact.strain.get(flag.joint, 0.0) >= strained())
        ]
        return max(found, key=lambda flag: LEVELS.index(flag.level), default=None)

    def sore(self, fact: Facts) -> PainFlag | None:
        """A flag, of whatever exercise, in a joint that this one strains too."""
        found = [flag for flag in self.flags if fact.strain.get(flag.joint, 0.0) >= strained()]
        return max(found, key=lambda flag: LEVELS.index(flag.level), default=None)

    @property
    def spare(self) -> tuple[str, ...]:
        """Joints that hurt so that something else is to be done."""
        return tuple(dict.fromkeys(flag.joint for flag in self.flags if flag.level != "warn"))

    @property
    def stopped(self) -> tuple[PainFlag, ...]:
        """Those that say stop."""
        return tuple(flag for flag in self.flags if flag.level == "stop")


def stops(one: LoggedSet) -> bool:
    """Whether a set hurt so that its exercise is off at once: sharp or sudden, or as strong as that."""
    return one.sharp or one.pain >= rule("pain.stop_at")


def strained() -> float:
    """Strain from which an exercise counts as straining a joint [1]."""
    return rule("pain.least_strain")


def pain_state(log: Sequence[LoggedSet], today: date, unit: str = "kg") -> PainState:
    """What the pain in a log asks for on a day.

    Parameters
    ----------
    log : sequence of LoggedSet
        What was logged, oldest first.
    today : date
        The day it is where the person is.
    unit : str
        In which loads are told.
    """
    rest = timedelta(days=rule("pain.rest_days"))
    hurt = sorted((one for one in log if one.hurts and one.day <= today), key=lambda one: one.day)
    flags: list[PainFlag] = []
    over: dict[str, date] = {}
    for joint in sorted({one.pain_joint for one in hurt}):
        mine = [one for one in hurt if one.pain_joint == joint]
        last = mine[-1].day
        if today - last >= rest:
            over |= {one.variant: last for one in mine}
            continue
        stopped = _of_joint(joint, mine, last, unit)
        told = {variant for flag in stopped for variant in flag.variants}
        others = _of_variants(joint, [one for one in log if one.day <= today], mine, today - rest, unit)
        flags += [*stopped, *(flag for flag in others if not told & set(flag.variants))]
    return PainState(tuple(flags), over)


def _of_joint(joint: str, mine: list[LoggedSet], last: date, unit: str) -> list[PainFlag]:
    """Sharp or lasting pain: everything that strains the joint stops."""
    name = joints()[joint].name if joint in joints() else "a joint"
    fresh = [one for one in mine if last - one.day <= timedelta(days=rule("pain.rest_days"))]
    sharp = [one for one in fresh if stops(one)]
    if sharp:
        worst = sharp[-1]
        says = f"Sharp or strong pain in the {name} ({worst.told(unit)}, {worst.pain} of 10). {CLINICIAN}"
        return [_stop(joint, says, sharp)]
    row = _unbroken(mine)
    days = sorted({one.day for one in row})
    lasts = (days[-1] - days[0]).days >= rule("pain.lasting_days")
    if lasts and len(days) >= rule("pain.lasting_sessions"):
        told = f"Pain in the {name} since {day_in_words(days[0])}, told in {len(days)} sessions: it lasts."
        return [_stop(joint, f"{told} {CLINICIAN}", row)]
    return []


def _stop(joint: str, says: str, sets: list[LoggedSet]) -> PainFlag:
    variants = tuple(dict.fromkeys(one.variant for one in sets))
    return PainFlag("stop", joint, variants, says, sets[-1].day, tuple(one.key for one in sets))


def _unbroken(mine: list[LoggedSet]) -> list[LoggedSet]:
    """The newest reports that no long rest parts from one another."""
    rest, row = timedelta(days=rule("pain.rest_days")), [mine[-1]]
    for one in reversed(mine[:-1]):
        if row[0].day - one.day >= rest:
            break
        row.insert(0, one)
    return row


def _of_variants(
    joint: str, log: list[LoggedSet], mine: list[LoggedSet], since: date, unit: str
) -> list[PainFlag]:
    name = joints()[joint].name if joint in joints() else "a joint"
    found = []
    for variant in sorted({one.variant for one in mine if one.day > since}):
        days = sorted({one.day for one in log if one.variant == variant}, reverse=True)
        painful = {one.day for one in mine if one.variant == variant}
        in_a_row = 0
        for day in days:
            if day not in painful:
                break
            in_a_row += 1
        sets = [one for one in mine if one.variant == variant and one.day in painful]
        last = sets[-1]
        if not in_a_row:  # done again since, and nothing hurt
            continue
        keys = tuple(one.key for one in sets if one.day >= days[in_a_row - 1])
        if in_a_row >= rule("pain.pause_after"):
            says = (
                f"Paused: the {name} hurt in {in_a_row} sessions running, last in {last.told(unit)}. "
                "Do something that spares the joint; if it goes on, see a licensed clinician."
            )
            found.append(PainFlag("pause", joint, (variant,), says, last.day, keys))
        else:
            told = f"The {name} hurt in {last.told(unit)} ({last.pain} of 10)."
            says = f"{told} No more weight; once more, and it pauses."
            found.append(PainFlag("warn", joint, (variant,), says, last.day, keys))
    return found
