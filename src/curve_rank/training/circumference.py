"""The tape: an arm measured at both ends of a block, what its error is, and what may be said of a change."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field
from scipy.special import ndtri

from curve_rank.practice.block import Block
from curve_rank.practice.profile import day_in_words
from curve_rank.practice.rules import rule

READINGS = 3
STATES = ("relaxed", "flexed")
Reading = Annotated[float, Field(ge=12, le=80, allow_inf_nan=False, description="[cm]")]
Three = Annotated[tuple[Reading, ...], Field(min_length=READINGS, max_length=READINGS)]


class ArmMeasure(BaseModel):
    """One sitting with the tape: three readings relaxed and three flexed, on one side.

    Attributes
    ----------
    day : date
    when : str
        "start" or "end" of a block.
    side : str
    hour : int
        Of the day, so that the other end is measured at the same.
    site_cm : float
        How far over the elbow's crease the tape lay [cm].
    relaxed, flexed : tuple of float
        [cm]
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    schema_version: Literal[1] = 1
    day: date
    when: Literal["start", "end"]
    side: Literal["left", "right"] = "right"
    hour: Annotated[int, Field(ge=0, le=23)] = 12
    site_cm: Annotated[float, Field(ge=2, le=30)] = 10.0
    relaxed: Three
    flexed: Three

    def mean(self, state: str) -> float:
        """Of the three readings [cm]."""
        return float(np.mean(getattr(self, state)))

    def spread(self, state: str) -> float:
        """From the least to the most of the three [cm]."""
        row: tuple[float, ...] = getattr(self, state)
        return max(row) - min(row)


@dataclass(frozen=True)
class ArmChange:
    """A change from one sitting to another.

    Attributes
    ----------
    state : str
        "relaxed" or "flexed".
    before, after, change : float
        [cm]
    error : float
        One standard deviation of the change that measuring alone makes [cm].
    needed : float
        The least change that is claimed [cm].
    claimed : bool
    alike : tuple of str
        What differed between the sittings: site, side, time of day.
    """

    state: str
    before: float
    after: float
    change: float
    error: float
    needed: float
    claimed: bool
    alike: tuple[str, ...] = ()

    @property
    def says(self) -> str:
        """In words."""
        size = f"{abs(self.change):.1f} cm {'more' if self.change > 0 else 'less'}"
        if self.claimed:
            return f"{size} {self.state}: beyond what measuring alone makes ({self.needed:.1f} cm)."
        error = f"within the error of measuring ({self.needed:.1f} cm)"
        return f"{size} {self.state}: {error}, so no change is shown."


def within(sittings: Iterable[ArmMeasure]) -> tuple[float, int]:
    """How far readings of one sitting scatter [cm], and from how many it is known.

    One standard deviation, pooled over everything that was measured and drawn towards what is usual, as if
    six readings of that were known besides.
    """
    rows = [getattr(one, state) for one in sittings for state in STATES]
    squares = sum(float(np.var(row)) * len(row) for row in rows)
    free, usual = sum(len(row) - 1 for row in rows), 6
    return float(np.sqrt((squares + usual * rule("circumference.within") ** 2) / (free + usual))), free


def error_of(spread: float) -> float:
    """One standard deviation of the change between two means of three readings [cm]."""
    one = rule("circumference.between") ** 2 + spread**2 / READINGS
    return float(np.sqrt(2 * one))


def compare(before: ArmMeasure, after: ArmMeasure, known: Sequence[ArmMeasure] = ()) -> tuple[ArmChange, ...]:
    """What may be said of the change, relaxed and flexed.

    Parameters
    ----------
    before, after : ArmMeasure
        At both ends of the block [cm].
    known : sequence of ArmMeasure
        Every sitting of the person, which tells how well they measure.
    """
    spread, _ = within(known or (before, after))
    error = error_of(spread)
    # Two states are looked at, and either might be claimed: each gets half of the chance of a false claim.
    each = 1 - (1 - rule("circumference.sure")) / len(STATES)
    needed = float(ndtri((1 + each) / 2)) * error
    unlike = _unlike(before, after)
    found = []
    for state in STATES:
        first, second = before.mean(state), after.mean(state)
        change = second - first
        claimed = abs(change) > needed and not {"side", "site"} & set(unlike)
        found.append(ArmChange(state, first, second, change, error, needed, claimed, unlike))
    return tuple(found)


def _unlike(before: ArmMeasure, after: ArmMeasure) -> tuple[str, ...]:
    apart = {
        "side": before.side != after.side,
        "site": abs(before.site_cm - after.site_cm) > rule("circumference.site_apart"),
        "time of day": abs(before.hour - after.hour) > rule("circumference.hours_apart"),
    }
    return tuple(name for name, differs in apart.items() if differs)


def ends_of(block: Block) -> tuple[date, date] | None:
    """First and last day of a block; None where it has no start."""
    if block.start is None:
        return None
    return block.start, block.start + timedelta(days=7 * len(block.weeks) - 1)


def due(block: Block, today: date, measured: Iterable[ArmMeasure]) -> Literal["", "start", "end"]:
    """Whether the arm is to be measured now: at the start or the end of a block, and not done yet."""
    ends = ends_of(block)
    if ends is None:
        return ""
    at = dict(zip(("start", "end"), ends, strict=True))
    done = {one.when for one in measured if abs(one.day - at[one.when]) <= _window()}
    return next((end for end in _near(ends, today) if end not in done), "")


def _window() -> timedelta:
    return timedelta(days=rule("circumference.window_days"))


def _near(ends: tuple[date, date], today: date) -> tuple[Literal["start", "end"], ...]:
    """Which ends of a block a day is near enough to."""
    early = timedelta(days=rule("circumference.early_days"))
    near: dict[Literal["start", "end"], bool] = {
        "start": abs(today - ends[0]) <= _window(),
        "end": ends[1] - early <= today <= ends[1] + _window(),
    }
    return tuple(end for end, is_near in near.items() if is_near)


def why_not_now(block: Block | None, today: date) -> str:
    """Why measuring between start and end tells nothing; empty at an end, or with no block."""
    ends = ends_of(block) if block else None
    if ends is None or _near(ends, today) or not ends[0] < today < ends[1]:
        return ""
    error = error_of(rule("circumference.within"))
    return (
        f"Not yet: the block ends on {day_in_words(ends[1])}. In between, an arm changes by less than the "
        f"tape errs by ({error:.1f} cm from one sitting to another), and a full or a tired muscle by more."
    )


def hopes(weeks: float) -> str:
    """What may honestly be hoped for, in words."""
    low, high = (rule(f"circumference.{end}") * weeks / 8 for end in ("hope_low", "hope_high"))
    return (
        f"In {weeks:.0f} weeks most trained arms change by {low:.1f} to {high:.1f} cm, "
        "more in a first year of training and less later. Inches in weeks do not happen."
    )
