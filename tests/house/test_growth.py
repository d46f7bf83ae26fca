"""Growth over people: nothing where nothing is, half a centimetre at the sizes that are named."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.house.coin import answer_of, answer_of_all
from curve_rank.house.growth import Design, Growth, growth_line, people_needed, with_others
from curve_rank.house.release import difference_told, of_trial, release

CASES: tuple[tuple[Design, int], ...] = (("dose", 1), ("dose", 2), ("arms", 1), ("arms", 2), ("in turn", 2))


def grown(rng: np.random.Generator, design: Design, people: int, blocks: int, effect: float) -> list[Growth]:
    rows = []
    for person in range(people):
        own, tape = rng.normal(0, 0.3), rng.normal(0, 0.4 / np.sqrt(2), blocks + 1)
        way = {"dose": rng.normal(0, 0.177) / 0.6, "arms": 0.5 - person % 2}.get(design, 0.0)
        first = rng.choice((0.5, -0.5))
        for block in range(blocks):
            dose = first * (1 - 2 * block) if design == "in turn" else way
            change = 0.3 + own + effect * dose + tape[block + 1] - tape[block]
            rows.append(Growth(person, block, float(dose), float(change), 0.4))
    return rows


@pytest.mark.parametrize(("design", "blocks"), CASES)
def test_what_is_there_is_found_at_the_size_that_is_named(design: Design, blocks: int) -> None:
    rng = np.random.default_rng(7)
    people = people_needed(0.5, design, blocks)
    lines = [growth_line(grown(rng, design, people, blocks, 0.5), by_coin=True) for _ in range(80)]
    assert (
        np.mean([line is not None and line.differs for line in lines]) >= 0.72
    )  # 0.8, within 80 houses' luck


def test_where_nothing_is_there_it_is_seldom_said_and_intervals_hold() -> None:
    rng = np.random.default_rng(8)
    said, held = [], []
    for design, blocks in CASES * 30:
        line = growth_line(grown(rng, design, 24, blocks, 0.0), by_coin=True)
        assert line is not None
        said.append(line.differs)
        held.append(line.low <= 0 <= line.high)
    assert np.mean(said) <= 0.09  # 0.05, within 150 houses' luck
    assert np.mean(held) >= 0.91


def test_sizes_and_words() -> None:
    assert [people_needed(0.5, design, blocks) for design, blocks in CASES] == pytest.approx(
        [97, 46, 34, 17, 19], abs=4
    )
    rng = np.random.default_rng(9)
    rows = grown(rng, "arms", 60, 1, 1.5)
    by_coin, by_habit = (growth_line(rows, by_coin=coin) for coin in (True, False))
    assert by_coin is not None
    assert by_habit is not None
    assert "made arms grow more" in by_coin.says
    assert "also grew more" in by_habit.says
    assert "made" not in by_habit.says
    assert growth_line(rows[:4], by_coin=True) is None


Study = list[tuple[int, int, float, float]]


def study(rng: np.random.Generator, people: range, effect: float, usual: float) -> Study:
    """Person, way, change and its error of one trial, whose block makes arms grow by so much as usual."""
    return [
        (n, n % 2, float(usual + effect * (0.5 - n % 2) + rng.normal(0, 0.3) + rng.normal(0, 0.4)), 0.4)
        for n in people
    ]


def test_trials_of_one_question_are_one_line_each_with_a_mean_of_its_own() -> None:
    """One trial was long, the other short: that says nothing of either way, however they are shared out."""
    rng = np.random.default_rng(11)
    long, short = study(rng, range(40), 0.0, 2.0), study(rng, range(40, 60), 0.0, 0.1)
    long = [one for one in long if one[1] == 0 or one[0] < 10]  # of the long one, most did the first way
    together = answer_of_all([long, short])
    mixed = answer_of([*long, *short])
    assert together is not None
    assert mixed is not None
    assert mixed.slope > 0.5, "without means of their own the long trial's way seems better"
    assert together.low < 0 < together.high
    assert (together.people, together.by_coin) == (55 - 10, True)
    assert answer_of_all([long]) == answer_of(long)
    assert answer_of_all([]) is None


def test_two_trials_say_more_than_either() -> None:
    rng = np.random.default_rng(12)
    width = []
    for _ in range(20):
        one, other = study(rng, range(20), 0.5, 1.0), study(rng, range(20, 40), 0.5, 0.3)
        lines = answer_of(one), answer_of(other), answer_of_all([one, other])
        width.append([line.high - line.low for line in lines if line])
    alone, second, both = np.mean(width, axis=0)
    assert both < 0.8 * min(alone, second)


def test_another_house_is_one_more_study_with_its_weight() -> None:
    rng = np.random.default_rng(13)
    here = answer_of(study(rng, range(40), 0.5, 1.0))
    assert here is not None
    told = release(of_trial(study(rng, range(80), 0.5, 1.0)), ("difference",), "trial", 2026, (), rng)
    value, error = difference_told(told)
    assert value == pytest.approx(5 * told.means["difference"])
    assert error == pytest.approx(np.sqrt(2 * (5 * told.noise) ** 2 + (2 * 0.5) ** 2 / 80), rel=1e-6)
    both = with_others(here, [(value, error)])
    assert both is not None
    own = (here.high - here.low) / (2 * 1.959964)
    assert both.of_others == pytest.approx(error**-2 / (error**-2 + own**-2), rel=1e-4)
    assert min(here.slope, value) <= both.slope <= max(here.slope, value)
    assert both.high - both.low < here.high - here.low
    alone = with_others(None, [(0.4, 0.2)])
    assert alone is not None
    assert (alone.slope, alone.of_others) == pytest.approx((0.4, 1.0))
    assert with_others(None, []) is None
