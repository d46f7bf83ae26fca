"""What of all clients a coach looks at first: pain, a stall, a missed session, a word nobody answered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import date, datetime, timedelta
from typing import Any

from curve_rank.arm.rep_setup import effort_of
from curve_rank.practice.profile import day_in_words
from curve_rank.practice.rules import rule
from curve_rank.training.house_noise import Scatter, scatter_of
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.pain import LEVELS, pain_state
from curve_rank.training.slopes import Noise, Slope, lately, said_bouts, slope_of, usual_noise

ORDER = ("stop", "pause", "warn", "unanswered", "missed", "stall", "silent")
"""What comes first."""
MISSED_DAYS = 14
SILENT_DAYS = 10
STALL_SAID_FOR = 28
"""Days after which somebody who still stands still is said to again."""


@dataclass(frozen=True)
class Hurt:
    """A flag of pain as it stood when the log was last looked at."""

    level: str
    says: str
    since: date


@dataclass(frozen=True)
class Summary:
    """What a log says, whatever day it is looked at.

    Attributes
    ----------
    hurts : tuple of Hurt
    slope : Slope, optional
        How all that was done lately grows together.
    last : date or None
        When anything was done last.
    scatter : Scatter, optional
        What it says of the house's noise.
    """

    hurts: tuple[Hurt, ...] = ()
    slope: Slope | None = None
    last: date | None = None
    scatter: Scatter | None = None


@dataclass(frozen=True)
class Alert:
    """One thing to look at.

    Attributes
    ----------
    kind : str
        Of `ORDER`.
    says : str
        In a sentence.
    since : str
        What makes it another than one of the same kind before.
    """

    kind: str
    says: str
    since: str

    @property
    def brief(self) -> str:
        """What happened, without what is to be done about it."""
        first, dot, _ = self.says.partition(". ")
        return f"{first}." if dot else first

    @property
    def mark(self) -> str:
        """By which it is known again, once it was seen."""
        return f"{self.kind} {self.since}"


def summary_of(
    log: Sequence[LoggedSet], mass: float, hung: frozenset[str], unit: str = "kg", noise: Noise | None = None
) -> Summary:
    """What a log says.

    Parameters
    ----------
    log : sequence of LoggedSet
        Of the last months.
    mass : float
        Of the body [kg].
    hung : frozenset of str
        Exercises whose load is added to the body's weight.
    unit : str
        In which loads are read.
    noise : Noise, optional
        Of the house; else as it usually is.
    """
    if not log:
        return Summary()
    last = max(one.day for one in log)
    hurts = tuple(Hurt(flag.level, flag.says, flag.since) for flag in pain_state(log, last, unit).flags)
    said = said_bouts(bouts(log), lambda one: _held(one, mass if one.variant in hung else 0.0))
    slope = slope_of(lately(said), noise or usual_noise())
    return Summary(hurts, slope, last, scatter_of(said))


def _held(one: LoggedSet, hands: float) -> float:
    """What the hands held over the effort of it [kg]: it rises with the strength as that does."""
    return (one.load_kg + hands) / effort_of(one.to_failure)


def alerts(
    summary: Summary,
    today: date,
    *,
    missed: int = 0,
    unanswered: datetime | None = None,
    planned: bool = False,
) -> tuple[Alert, ...]:
    """What to look at, gravest first.

    Parameters
    ----------
    summary : Summary
        What their log says, in short.
    today : date
        The day it is where the person is.
    missed : int
        Sessions of the last two weeks that were neither done nor left out.
    unanswered : datetime, optional
        When they wrote what nobody has answered.
    planned : bool
        Whether a block is under way.
    """
    rest = timedelta(days=rule("pain.rest_days"))
    found = [
        Alert(hurt.level, hurt.says, f"{hurt.since}") for hurt in summary.hurts if today - hurt.since < rest
    ]
    if unanswered is not None:
        says = f"Wrote on {day_in_words(unanswered)}; nobody has answered."
        found.append(Alert("unanswered", says, unanswered.isoformat()))
    if missed:
        sessions = "1 session" if missed == 1 else f"{missed} sessions"
        found.append(Alert("missed", f"{sessions} missed in the last two weeks.", f"{missed}"))
    if summary.slope is not None and summary.slope.stalls:
        # Said again every four weeks, not with every set that moves a digit.
        found.append(Alert("stall", summary.slope.says, f"{today.toordinal() // STALL_SAID_FOR}"))
    if planned and summary.last is not None and (today - summary.last).days >= SILENT_DAYS:
        says = f"Nothing logged for {(today - summary.last).days} days."
        found.append(Alert("silent", says, f"{summary.last}"))
    return tuple(sorted(found, key=lambda alert: ORDER.index(alert.kind)))


def gravity(found: Sequence[Alert]) -> int:
    """For ordering people: the less the graver."""
    return min((ORDER.index(alert.kind) for alert in found), default=len(ORDER))


def summary_data(summary: Summary) -> dict[str, Any]:
    """A summary as plain data."""
    data = asdict(summary)
    hurts = [one | {"since": one["since"].isoformat()} for one in data["hurts"]]
    return data | {"hurts": hurts, "last": summary.last.isoformat() if summary.last else None}


def summary_from(data: Mapping[str, Any]) -> Summary:
    """A summary read again."""
    hurts = tuple(
        Hurt(one["level"], one["says"], date.fromisoformat(one["since"]))
        for one in data["hurts"]
        if one["level"] in LEVELS
    )
    last = date.fromisoformat(data["last"]) if data["last"] else None
    slope = Slope(**data["slope"]) if data["slope"] else None
    return Summary(hurts, slope, last, scatter_from(data.get("scatter")))


def scatter_from(data: Mapping[str, Any] | None) -> Scatter | None:
    """What a kept summary says of the house's noise, read again."""
    if not data:
        return None
    return Scatter(tuple(data["forms"]), tuple(tuple(row) for row in data["weights"]))
