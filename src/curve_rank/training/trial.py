"""Two ways of training, one after the other, compared: strength on one line, and the tape."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from scipy.special import ndtr, ndtri

from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block, Week
from curve_rank.practice.rules import rule
from curve_rank.training.circumference import ArmChange
from curve_rank.training.same_effort import EffortPoint

NONE_SHOWN = "no difference shown"


@dataclass(frozen=True)
class Gain:
    """What one block brought: a mean [1, or cm] and one standard deviation of its error."""

    mean: float
    error: float


@dataclass(frozen=True)
class TrialMeasure:
    """One measure of both blocks.

    Attributes
    ----------
    measure : str
    unit : str
    first, second : Gain
    difference, error : float
        Second less first.
    chance : float
        That the second did more, as far as this measure tells [1].
    shown : bool
    """

    measure: str
    unit: str
    first: Gain
    second: Gain
    difference: float
    error: float
    chance: float
    shown: bool

    @property
    def verdict(self) -> str:
        """In words."""
        if not self.shown:
            return NONE_SHOWN
        return "the second did more" if self.difference > 0 else "the first did more"


def strength_gain(points: Sequence[EffortPoint]) -> Gain | None:
    """The gain of a block on the same-effort line: its last sessions against its first ones.

    Only exercises that were done at both ends are compared, each with itself. None for too few.
    """
    ends = int(rule("trial.ends"))
    gains, errors = [], []
    for variant in sorted({point.variant for point in points}):
        row = np.log([point.strength for point in points if point.variant == variant])
        if len(row) < rule("trial.least_sessions"):
            continue
        count = min(ends, len(row) // 2)
        first, last = row[:count], row[-count:]
        scatter = _scatter(row)
        gains.append(float(last.mean() - first.mean()))
        errors.append(scatter * np.sqrt(2 / count))
    if not gains:
        return None
    weights = 1 / np.square(errors)
    mean = float(np.average(gains, weights=weights))
    error = float(np.sqrt(1 / weights.sum()))
    if len(gains) > 1:  # exercises agree less than their own scatter says: that counts too
        apart = float(np.sqrt(np.average(np.square(np.array(gains) - mean), weights=weights)))
        error = max(error, apart / np.sqrt(len(gains) - 1))
    return Gain(mean, error)


def _scatter(row: np.ndarray) -> float:
    """Of one exercise's sessions about a straight line [1]."""
    at = np.arange(len(row), dtype=float)
    left = row - np.polyval(np.polyfit(at, row, 1), at)
    free = max(len(row) - 2, 1)
    # As if four more sessions had scattered as usual: few sessions cannot say how much they scatter.
    return float(np.sqrt((left @ left + 4 * rule("trial.scatter") ** 2) / (free + 4)))


def tape_gain(changes: Sequence[ArmChange], state: str = "flexed") -> Gain | None:
    """The change of the arm over a block, with the error of measuring [cm]."""
    found = next((change for change in changes if change.state == state), None)
    return Gain(found.change, found.error) if found else None


def compared(measure: str, unit: str, first: Gain | None, second: Gain | None) -> TrialMeasure | None:
    """Two blocks by one measure; None where one of them was not measured.

    A difference counts as shown only beyond what chance and the order of the blocks make.
    """
    if first is None or second is None:
        return None
    order = rule("trial.order") if unit != "cm" else 0.0
    error = float(np.sqrt(first.error**2 + second.error**2 + order**2))
    difference = second.mean - first.mean
    needed = float(ndtri((1 + rule("trial.sure")) / 2)) * error
    chance = float(ndtr(difference / error))
    return TrialMeasure(measure, unit, first, second, difference, error, chance, abs(difference) > needed)


def verdict(found: Sequence[TrialMeasure]) -> str:
    """One verdict of several measures: only what no other measure speaks against."""
    shown = {one.verdict for one in found if one.shown}
    return shown.pop() if len(shown) == 1 else NONE_SHOWN


def coin(seed: int) -> tuple[int, int]:
    """Which of two comes first, by a coin that can be thrown again: 0 and 1 in their order."""
    return (0, 1) if int(np.random.default_rng(seed).integers(2)) == 0 else (1, 0)


WAYS = {"heavy": ("Heavy, 5 to 8 repetitions", 5, 8, 150), "high": ("High repetitions, 15 to 20", 15, 20, 90)}
"""Ways that need no template: their name, repetitions, and rest [s]."""
WEEKS = (8, 12)


def in_way(block: Block, way: str, weeks: int, name: str) -> Block:
    """A block trained in one of the `WAYS`, for so many weeks: nothing else differs.

    Raises
    ------
    BadInputError
    """
    if way not in WAYS:
        raise BadInputError("way", way, f"one of: {', '.join(WAYS)}")
    if not WEEKS[0] <= weeks <= WEEKS[1]:
        raise BadInputError("weeks", weeks, f"{WEEKS[0]} to {WEEKS[1]}")
    _, low, high, rest = WAYS[way]
    change = {"reps_from": low, "reps_to": high, "rest_s": rest, "kind": "straight", "finisher": ""}
    usual = next((week for week in block.weeks if not week.easier), block.weeks[0])
    sessions = tuple(
        session.model_copy(
            update={"exercises": tuple(one.model_copy(update=change) for one in session.exercises)}
        )
        for session in usual.sessions
    )
    week = Week(sessions=sessions)
    return block.model_copy(update={"name": name, "weeks": (week,) * weeks})


def one_after_the_other(first: Block, second: Block, start: date) -> tuple[Block, Block]:
    """Two blocks on the calendar, the second as soon as the first has ended."""
    then = start + timedelta(days=7 * len(first.weeks))
    return first.model_copy(update={"start": start}), second.model_copy(update={"start": then})
