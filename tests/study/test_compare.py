"""Set-ups beside each other: differences are those of the separate readings, chances count draws."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.readings import all_readings
from curve_rank.rating.spreads import Spread
from curve_rank.rating.targets import targets
from curve_rank.study.compare import Comparison, Difference, compare

EFFORT, LENS, TARGET = 0.75, lenses()["long_length"], targets()["biceps_long"]
IDS = ("standing-dumbbell-curl", "reclined-60-dumbbell-curl", "cable-curl-arm-behind")


def compared(modeller: Modeller, *ids: str) -> Comparison:
    variants = tuple(find_variant(one, built_in()) for one in ids)
    columns = tuple(modeller.one(v, Body(), effort=EFFORT) for v in variants)
    return compare(columns, fixed_draws(variants, Body(), EFFORT, modeller), TARGET, LENS)


def test_differences_are_those_of_the_separate_readings_draw_by_draw(modeller: Modeller) -> None:
    found = compared(modeller, *IDS)
    variants = tuple(find_variant(one, built_in()) for one in IDS)
    drawn = fixed_draws(variants, Body(), EFFORT, modeller)
    for one in found.readings[1:]:
        values = [one.reading.values(d, "biceps_long") for d in drawn]
        for (i, j), told in one.differences.items():
            apart = np.sort(values[j] - values[i])
            assert apart[31] <= told.spread.median <= apart[32]
            assert told.spread.low <= told.spread.median <= told.spread.high
            higher = sum((b > a) + (b == a) / 2 for a, b in zip(values[i], values[j], strict=True))
            assert told.chance_higher == pytest.approx(higher / apart.size)
            if told.spread.median:
                right_way = higher if told.spread.median > 0 else apart.size - higher
                assert told.chance == pytest.approx(right_way / apart.size)
            assert one.nominal[j] - one.nominal[i] == pytest.approx(
                float(one.reading.values(found.columns[j].readings, "biceps_long"))
                - float(one.reading.values(found.columns[i].readings, "biceps_long"))
            )


def test_swapping_two_mirrors_all(modeller: Modeller) -> None:
    one, other = compared(modeller, *IDS[:2]), compared(modeller, *IDS[1::-1])
    for a, b in zip(one.readings, other.readings, strict=True):
        there, back = a.differences[0, 1], b.differences[0, 1]
        assert a.columns == b.columns[::-1]
        assert there.spread.median == pytest.approx(-back.spread.median)
        assert (there.spread.low, there.spread.high) == pytest.approx((-back.spread.high, -back.spread.low))
        assert there.chance == pytest.approx(back.chance)
        assert there.chance_higher == pytest.approx(1 - back.chance_higher)
    assert one.only_here == other.only_here[::-1]


def test_a_set_up_beside_itself_differs_in_nothing(modeller: Modeller) -> None:
    found = compared(modeller, IDS[0], IDS[0])
    for one in found.readings:
        told = one.differences[0, 1]
        assert (told.spread.median, told.spread.low, told.spread.high) == (0, 0, 0)
        assert told.chance == told.chance_higher == 0.5
    assert found.only_here == ((), ())


def test_what_one_alone_gives_is_more_than_any_other_gives(modeller: Modeller) -> None:
    found = compared(modeller, *IDS)
    assert any(found.only_here)
    for column in found.only_here:
        for one in column:
            assert one.tension > one.others


@pytest.mark.parametrize("ids", [IDS[:1], IDS + IDS[:2], (IDS[0], "rope-press-down")])
def test_one_alone_a_fifth_and_another_group_are_refused(modeller: Modeller, ids: tuple[str, ...]) -> None:
    with pytest.raises(BadInputError, match="variants"):
        compared(modeller, *ids)


def test_every_quantity_is_a_reading_and_says_its_unit(modeller: Modeller) -> None:
    (readings,) = fixed_draws((find_variant(IDS[0], built_in()),), Body(), EFFORT, modeller)
    for reading in all_readings().values():
        values = reading.values(readings, "biceps_long")
        assert values.shape == (64,)
        assert reading.name
        assert reading.unit
        assert reading.told_from > 0


@pytest.mark.parametrize(
    ("spread", "chance", "says"),
    [
        (Spread(0.02, -0.01, 0.03), 0.9, "no difference"),
        (Spread(-0.4, -1.0, 0.1), 0.88, "too close to call"),
        (Spread(-0.4, -0.8, -0.1), 0.93, "very likely, 93 in 100"),
        (Spread(2.0, 0.5, 4.0), 0.99, "surely, 99 in 100"),
    ],
)
def test_no_word_of_sureness_stands_beside_an_interval_that_spans_zero(
    spread: Spread, chance: float, says: str
) -> None:
    assert Difference(spread, chance, chance).says(1) == says
