"""Growth over people: nothing where nothing is, half a centimetre at the sizes that are named."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.house.growth import Design, Growth, growth_line, people_needed

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
