"""Two ways of training, one after the other, compared: strength on one line, and the tape."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from scipy.special import ndtr, ndtri, stdtr, stdtrit

from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block, Exercise, Week
from curve_rank.practice.rules import rule
from curve_rank.training.circumference import ArmChange
from curve_rank.training.review import GROUPS
from curve_rank.training.slopes import SaidBout, percent, training_weeks, week_of

NONE_SHOWN = "no difference shown"
PER_WEEK = "% a week"
DIFFERENCES = (0.02, 0.01, 0.005)
"""Of which a trial's power is said [1 a week]."""


@dataclass(frozen=True)
class Gain:
    """What one block brought: a mean [1 a week, or cm] and one standard deviation of its error."""

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


@dataclass(frozen=True)
class BlockSlope:
    """How strength rose over a block, week by week.

    Attributes
    ----------
    weekly : float
        [1 a week]
    left : float
        r'R⁻¹r: what the line leaves, weighted [1].
    free : int
        Weeks less the line's two numbers.
    per_scatter : float
        Variance of the slope over that of a week [1 a week, squared].
    weeks : int
    """

    weekly: float
    left: float
    free: int
    per_scatter: float
    weeks: int


def weekly_strength(said: Sequence[SaidBout]) -> dict[int, float]:
    """By training week, what all exercises together were over their own levels, by least squares [1]."""
    weeks, levels = training_weeks(one.day for one in said), list(dict.fromkeys(one.level for one in said))
    if not said:
        return {}
    of_week = np.array([[weeks[week_of(one.day)] == n for n in range(len(weeks))] for one in said], float)
    of_level = np.array([[one.level == level for level in levels] for one in said], float)
    values = np.array([one.value for one in said])
    fit, *_ = np.linalg.lstsq(np.column_stack([of_week, of_level]), values, rcond=None)
    return {week: float(fit[n]) for n, week in enumerate(sorted(weeks))}


def block_slope(by_week: Mapping[int, float]) -> BlockSlope | None:
    """A line through a block's weeks, neighbours being alike; None for fewer than are compared.

    Parameters
    ----------
    by_week : mapping
        Strength over its level, by week [1].
    """
    count = len(by_week)
    if count < rule("trial.least_weeks"):
        return None
    values, at = np.array([by_week[week] for week in sorted(by_week)]), np.arange(count, dtype=float)
    alike = rule("trial.alike") ** np.abs(at[:, None] - at)
    table = np.column_stack([at - at.mean(), np.ones(count)])
    inside = table.T @ np.linalg.solve(alike, table)
    fit = np.linalg.solve(inside, table.T @ np.linalg.solve(alike, values))
    left = values - table @ fit
    return BlockSlope(
        float(fit[0]),
        float(left @ np.linalg.solve(alike, left)),
        count - 2,
        float(np.linalg.inv(inside)[0, 0]),
        count,
    )


def strength_compared(
    first: Sequence[SaidBout], second: Sequence[SaidBout], groups: Mapping[str, str], *, crossed: bool = False
) -> TrialMeasure | None:
    """Two blocks by what was lifted, each exercise about its own level in its own block.

    Crossed, flexors train one way first and extensors the other; half the difference between the groups
    holds the ways and nothing that both share, as form is. None for too few weeks.

    Parameters
    ----------
    first, second : sequence of SaidBout
        Of each block.
    groups : mapping
        Which group an exercise is of.
    crossed : bool
        Whether the groups swap ways.
    """
    if not crossed:
        blocks = [block_slope(weekly_strength(said)) for said in (first, second)]
        if blocks[0] is None or blocks[1] is None:
            return None
        return _strength_measure(blocks[0], blocks[1], (blocks[0].weekly, blocks[1].weekly), form=True)
    by_group = [
        [weekly_strength([one for one in said if groups.get(one.variant) == group]) for group in GROUPS]
        for said in (first, second)
    ]
    halves = [
        block_slope({week: (flex[week] - extend[week]) / 2 for week in flex.keys() & extend.keys()})
        for flex, extend in by_group
    ]
    own = [[block_slope(one) for one in both] for both in by_group]
    if halves[0] is None or halves[1] is None or any(one is None for both in own for one in both):
        return None
    (f1, e1), (f2, e2) = [[one.weekly for one in both if one is not None] for both in own]
    return _strength_measure(halves[0], halves[1], ((f1 + e2) / 2, (e1 + f2) / 2), form=False)


def _strength_measure(
    one: BlockSlope, other: BlockSlope, means: tuple[float, float], *, form: bool
) -> TrialMeasure:
    usual = rule("trial.as_weeks")
    free = one.free + other.free + usual
    scatter = (one.left + other.left + usual * rule("trial.scatter") ** 2) / free
    shared = (rule("trial.form") / min(one.weeks, other.weeks)) ** 2 if form else 0.0
    error = float(np.sqrt(scatter * (one.per_scatter + other.per_scatter) + shared))
    before, after = (
        Gain(mean, float(np.sqrt(scatter * block.per_scatter)))
        for mean, block in zip(means, (one, other), strict=True)
    )
    difference = means[1] - means[0]
    chance = float(stdtr(free, difference / error))
    shown = abs(difference) / error > float(stdtrit(free, (1 + rule("trial.sure")) / 2))
    return TrialMeasure("Strength", PER_WEEK, before, after, difference, error, chance, shown)


def power(weeks: int, weekly: float, *, crossed: bool) -> float:
    """How often two blocks of so many weeks show such a true difference [1].

    Parameters
    ----------
    weeks : int
        Of each block.
    weekly : float
        By which one way does more [1 a week].
    crossed : bool
        As in `strength_compared`.
    """
    line = block_slope(dict.fromkeys(range(weeks), 0.0))
    if line is None:
        return 0.0
    usual, scatter = rule("trial.as_weeks"), rule("trial.scatter_crossed" if crossed else "trial.scatter")
    free = 2 * line.free + usual
    # What the test takes for the scatter holds a share of the usual one.
    taken = (2 * line.free * scatter**2 + usual * rule("trial.scatter") ** 2) / free
    shared = 0.0 if crossed else (rule("trial.form") / weeks) ** 2
    true, error = (np.sqrt(2 * line.per_scatter * one + shared) for one in (scatter**2, taken))
    needed = error * stdtrit(free, (1 + rule("trial.sure")) / 2)
    return float(ndtr((weekly - needed) / true) + ndtr((-weekly - needed) / true))


def power_words(weeks: int, *, crossed: bool) -> str:
    """What a trial of so many weeks can show, before it begins."""
    chances = [f"{100 * power(weeks, part, crossed=crossed):.0f}" for part in DIFFERENCES]
    sizes = [percent(part, 0 if part >= 0.01 else 1) for part in DIFFERENCES]
    how = "Crossed" if crossed else "One after the other"
    return (
        f"{how}, {weeks} weeks each: where one way does {sizes[0]} a week more, {chances[0]} trials of 100 "
        f"show it; of {sizes[1]}, {chances[1]}; of {sizes[2]}, {chances[2]}."
    )


def tape_gain(changes: Sequence[ArmChange], state: str = "flexed") -> Gain | None:
    """The change of the arm over a block, with the error of measuring [cm]."""
    found = next((change for change in changes if change.state == state), None)
    return Gain(found.change, found.error) if found else None


def tape_compared(first: Gain | None, second: Gain | None) -> TrialMeasure | None:
    """Two blocks by the tape; None where one of them was not measured."""
    if first is None or second is None:
        return None
    error = float(np.hypot(first.error, second.error))
    difference = second.mean - first.mean
    shown = abs(difference) > float(ndtri((1 + rule("trial.sure_tape")) / 2)) * error
    chance = float(ndtr(difference / error))
    return TrialMeasure("Arm, flexed", "cm", first, second, difference, error, chance, shown)


def verdict(found: Sequence[TrialMeasure]) -> str:
    """One verdict of several measures: only what no other measure speaks against."""
    shown = {one.verdict for one in found if one.shown}
    return shown.pop() if len(shown) == 1 else NONE_SHOWN


def coin(seed: int) -> tuple[int, int]:
    """Which of two comes first, by a coin that can be thrown again: 0 and 1 in their order."""
    return (0, 1) if int(np.random.default_rng(seed).integers(2)) == 0 else (1, 0)


WAYS = {"heavy": ("Heavy, 5 to 8 repetitions", 5, 8, 150), "high": ("High repetitions, 15 to 20", 15, 20, 90)}
"""Ways that need no template: their name, repetitions, and rest [s]."""
WEEKS = (6, 12)
USUAL_WEEKS = 8


def in_way(block: Block, ways: Mapping[str, str], groups: Mapping[str, str], weeks: int, name: str) -> Block:
    """A block of which each group is trained in one of the `WAYS`, for so many weeks: nothing else differs.

    Parameters
    ----------
    block : Block
        Whose usual week is taken.
    ways : mapping
        Of each group.
    groups : mapping
        Which group an exercise is of.
    weeks : int
        Of the new block.
    name : str
        Of the new block.

    Raises
    ------
    BadInputError
        Where a way or the number of weeks is none there is.
    """
    for way in ways.values():
        if way not in WAYS:
            raise BadInputError("way", way, f"one of: {', '.join(WAYS)}")
    check_weeks(weeks)
    usual = next((week for week in block.weeks if not week.easier), block.weeks[0])

    def changed(one: Exercise) -> Exercise:
        way = ways.get(groups.get(one.variant, ""))
        if way is None:  # an exercise that is gone
            return one
        _, low, high, rest = WAYS[way]
        change = {"reps_from": low, "reps_to": high, "rest_s": rest, "kind": "straight", "finisher": ""}
        return one.model_copy(update=change)

    sessions = tuple(
        session.model_copy(update={"exercises": tuple(map(changed, session.exercises))})
        for session in usual.sessions
    )
    return block.model_copy(update={"name": name, "weeks": (Week(sessions=sessions),) * weeks})


def check_weeks(weeks: int) -> None:
    """Refuse blocks from which hardly anything could be learned.

    Raises
    ------
    BadInputError
        Under six weeks, or over twelve.
    """
    if not WEEKS[0] <= weeks <= WEEKS[1]:
        right = f"{WEEKS[0]} to {WEEKS[1]}: fewer show hardly anything"
        raise BadInputError("weeks", weeks, right)


def one_after_the_other(first: Block, second: Block, start: date) -> tuple[Block, Block]:
    """Two blocks on the calendar, the second as soon as the first has ended."""
    then = start + timedelta(days=7 * len(first.weeks))
    return first.model_copy(update={"start": start}), second.model_copy(update={"start": then})
