"""Rep schemes place tension where their parts are."""

from __future__ import annotations

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.rating.modelling import model_variants
from curve_rank.study.schemes import read_pair, read_scheme, schemes
from tests.helpers import ONE_OF_A_KIND, modelled


def test_partial_reps_place_tension_where_they_are() -> None:
    one = modelled("pad-45-dumbbell-curl")
    head = one.anatomy.index("biceps_long")
    read = {key: read_scheme(one, scheme) for key, scheme in schemes().items()}
    low, high = read["lengthened_partials"], read["shortened_partials"]
    assert low.per_minute("long")[head] > read["straight"].per_minute("long")[head]
    assert high.per_minute("short")[head] > low.per_minute("short")[head]
    lowered, straight = read["lowerings_after_failure"], read["straight"]
    assert lowered.tension["long"][head] > straight.tension["long"][head]
    assert read["brisk_then_holds"].seconds > 30
    drop = read["drop_set"]
    assert drop.tension["long"][head] > read["straight"].tension["long"][head]
    assert read["rest_pause"].seconds > read["straight"].seconds


def test_a_pair_is_the_sum_of_its_two() -> None:
    press, extension = modelled("bench-press-narrow"), modelled("lying-bar-to-forehead")
    pair = read_pair(extension, press)
    parts = [read_scheme(m, schemes()["straight"]) for m in (extension, press)]
    head = press.anatomy.index("triceps_lateral")
    assert pair.tension["middle"][head] == pytest.approx(sum(p.tension["middle"][head] for p in parts))
    assert pair.seconds == pytest.approx(sum(p.seconds for p in parts))


@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_every_scheme_works_on_every_kind_of_movement(kind: str) -> None:
    modelled = model_variants((find_variant(kind, built_in()),), Body(), effort=0.75)[0]
    for scheme in schemes().values():
        reading = read_scheme(modelled, scheme)
        assert reading.seconds > 0
        assert all((row >= 0).all() and (row < reading.seconds + 1).all() for row in reading.tension.values())
