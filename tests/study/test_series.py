"""Change one thing: steps are the separate set-ups, and what cannot be says so."""

from __future__ import annotations

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.readings import all_readings
from curve_rank.rating.spreads import spread_of
from curve_rank.study.series import Series, _turns, parse_steps, series

RECLINED = find_variant("reclined-60-dumbbell-curl", built_in())


def along(
    modeller: Modeller, steps: str, field: str = "posture.trunk_pitch", reading: str = "long_tension"
) -> Series:
    return series(
        RECLINED, field, parse_steps(steps), all_readings()[reading], "biceps_long",
        body=Body(), effort=0.75, modeller=modeller,
    )  # fmt: skip


def test_each_step_is_the_set_up_modelled_alone(modeller: Modeller) -> None:
    found = along(modeller, "0:-95:-19", reading="length_at_hard_spot")
    assert [step.value for step in found.steps] == [0, -19, -38, -57, -76, -95]
    assert found.steps[-1].spread is None
    assert "-95" in found.steps[-1].problem
    for step in found.steps[:-1]:
        alone = changed(RECLINED, (Change(field="posture.trunk_pitch", set=step.value),))
        (drawn,) = fixed_draws((alone,), Body(), 0.75, Modeller())
        told = spread_of(all_readings()["length_at_hard_spot"].values(drawn, "biceps_long"))
        assert step.spread is not None
        assert vars(step.spread) == pytest.approx(vars(told), rel=1e-5)
    medians = [step.spread.median for step in found.steps if step.spread]
    assert medians == sorted(medians)  # more recline, longer biceps
    assert found.best is None  # longer is no gain in itself


def test_the_best_step_and_the_turns_are_where_the_medians_say(modeller: Modeller) -> None:
    found = along(modeller, "0:70:10", field="path.0.elbow")
    medians = [step.spread.median for step in found.steps if step.spread]
    assert found.best is not None
    assert medians[found.best] == max(medians)
    rise = all_readings()["hard_spot"]
    assert _turns(tuple(steps_of([0, 10, 20, 10, 0, 30])), rise) == (2, 4)
    assert _turns(tuple(steps_of([0, 4, 0, 4])), rise) == ()


def steps_of(medians: list[float]) -> list[object]:
    from curve_rank.rating.spreads import Spread
    from curve_rank.study.series import Step

    return [Step(n, None, None, Spread(m, m, m)) for n, m in enumerate(medians)]


@pytest.mark.parametrize("text", ["", "a:b:c", "0:10:0", "0:10:-1", "0:1e9:1", "nan:1:1", ",".join("1" * 25)])
def test_steps_that_are_none_are_refused(text: str) -> None:
    with pytest.raises(BadInputError, match="steps"):
        parse_steps(text)


@pytest.mark.parametrize(
    ("field", "steps"), [("posture.nose", "0:10:5"), ("id", "1,2"), ("posture.trunk_pitch", "a,b")]
)
def test_fields_and_values_that_are_none_are_refused_by_name(
    modeller: Modeller, field: str, steps: str
) -> None:
    with pytest.raises(CurveRankError, match=field):
        along(modeller, steps, field=field)
