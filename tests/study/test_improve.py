"""The search: nothing forbidden, never beaten on small grids, and what it promises it gives."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.controls import controls
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.limits import objections
from curve_rank.rating.modelling import Modeller
from curve_rank.study.improve import KEPT, improve, parse_aim, search_grid
from tests.conftest import KEPT as MODELLER

EFFORT = 0.75
TRIED = ("standing-dumbbell-curl", "reclined-60-dumbbell-curl", "pad-45-dumbbell-curl", "rope-press-down")


def begun(name: str) -> tuple[Variant, str]:
    variant = find_variant(name, built_in())
    return variant, "biceps_long" if variant.group == "flexors" else "triceps_long"


def median_gain(variant: Variant, other: Variant, aim_text: str, head: str) -> float:
    aim = parse_aim(aim_text, head)
    before, after = fixed_draws((variant, other), Body(), EFFORT, MODELLER)
    return aim.sign * float(np.median(aim.reading.values(after, head) - aim.reading.values(before, head)))


@settings(max_examples=8)
@given(
    st.sampled_from(TRIED),
    st.sampled_from(["long_tension up", "slack_share down", "evenness up", "short_tension up"]),
    st.data(),
)
def test_on_small_grids_nothing_that_may_be_done_beats_it(
    name: str, aim_text: str, data: st.DataObject
) -> None:
    variant, head = begun(name)
    whole = search_grid(variant)
    fields = data.draw(st.lists(st.sampled_from(sorted(whole)), min_size=1, max_size=2, unique=True))
    grid = {
        f: tuple(data.draw(st.lists(st.sampled_from(whole[f]), min_size=1, max_size=3, unique=True)))
        for f in fields
    }
    aim = parse_aim(aim_text, head)
    found = improve(variant, aim, body=Body(), effort=EFFORT, modeller=MODELLER, grid=grid)
    promised = [abs(one.gain.spread.median) for one in found.all]
    there = {c.field: c for c in controls(variant)}
    start = MODELLER.one(variant, Body(), effort=EFFORT)
    best = 0.0
    for values in product(*({*tried, there[f].shown} for f, tried in grid.items())):
        changes = tuple(
            Change(field=f, set=there[f].field_value(v)) for f, v in zip(grid, values, strict=True)
            if v != there[f].shown
        )  # fmt: skip
        try:
            other = changed(variant, changes)
            (m,) = MODELLER.able((other,), Body(), effort=EFFORT)
        except (CurveRankError, ValueError):
            continue
        travels = np.ptp(m.along("angle")) >= 0.6 * np.ptp(start.along("angle"))
        if travels and not objections(m):
            best = max(best, median_gain(variant, other, aim_text, head))
    assert max(promised, default=0.0) == pytest.approx(best, abs=1e-5)


@pytest.mark.parametrize("name", TRIED)
def test_what_it_finds_stands_on_the_gyms_steps_and_gives_what_it_promises(
    name: str, modeller: Modeller
) -> None:
    variant, head = begun(name)
    aim = parse_aim("long_tension up", head, ("load",))
    told: list[tuple[int, int]] = []
    found = improve(
        variant, aim, body=Body(), effort=EFFORT, modeller=modeller, tell=lambda *done: told.append(done)
    )
    assert found.tried > 20
    assert told[-1][0] == told[-1][1]
    for one in found.all:
        for change in one.changes:
            control = change.control
            assert change.to in control.grid
            assert control.low <= change.to <= control.high
            assert (change.to / control.gym) == pytest.approx(round(change.to / control.gym), abs=1e-6)
        applied = changed(variant, tuple(c.setting for c in one.changes))
        assert one.gain.spread.median == pytest.approx(
            median_gain(variant, applied, "long_tension up", head), abs=1e-5
        )
        assert not objections(modeller.one(applied, Body(), effort=EFFORT))
        before, after = fixed_draws((variant, applied), Body(), EFFORT, modeller)
        assert np.median(after.load - before.load) >= -KEPT * abs(np.median(before.load)) - 1e-9
    gains = [one.gain.spread.median for one in found.singles]
    assert gains == sorted(gains, reverse=True)
    if found.together:
        assert found.together.gain.spread.median > max(gains, default=0.0)


@pytest.mark.parametrize(
    ("aim", "keep", "fields", "field"),
    [
        ("strength up", (), (), "aim"),
        ("long_tension sideways", (), (), "aim"),
        ("hard_spot", (), (), "aim"),
        ("long_tension up", ("hard_spot",), (), "keep"),
        ("long_tension up", (), ("posture.nose",), "field"),
    ],
)
def test_what_is_no_aim_is_refused_by_name(
    aim: str, keep: tuple[str, ...], fields: tuple[str, ...], field: str
) -> None:
    variant = find_variant(TRIED[0], built_in())

    def asked() -> None:
        parse_aim(aim, "biceps_long", keep)
        search_grid(variant, fields)

    with pytest.raises(CurveRankError) as told:
        asked()
    assert told.value.field == field
