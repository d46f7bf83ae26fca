"""Handles: pulled to where a typed value would bring them, they give that value; else as near as they go."""

from __future__ import annotations

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.controls import controls
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change
from curve_rank.errors import CurveRankError, UnknownNameError
from curve_rank.figures.handles import handles, pulled
from curve_rank.figures.projection import VIEWS, Stance
from curve_rank.rating.modelling import Modeller
from curve_rank.study.reach import as_far_as
from tests.helpers import ONE_OF_A_KIND, modelled

PART = 0.5


def place(variant, view, key):  # type: ignore[no-untyped-def]
    (handle,) = (one for one in handles(variant, view) if one.key == key)
    points = handle.where(Stance.of(variant, Body(), view))
    return complex(points[round(PART * (points.size - 1))])


@pytest.mark.parametrize("view", VIEWS)
@pytest.mark.parametrize("kind", ONE_OF_A_KIND)
def test_a_pull_ends_where_a_typed_value_does(kind: str, view: str) -> None:
    variant = find_variant(kind, built_in())
    there = {control.field: control for control in controls(variant)}
    tried = 0
    for handle in handles(variant, view):
        typed = []
        for field in handle.fields:
            control = there[field]
            steps = round(control.shown / control.gym)
            up = (steps + 1) * control.gym
            shown = up if up <= control.high else (steps - 1) * control.gym
            typed.append(Change(field=field, set=control.field_value(shown)))
        wanted = changed(variant, tuple(typed))
        try:
            to = place(wanted, view, handle.key)
        except CurveRankError:
            continue
        found = pulled(variant, Body(), view, handle.key, (to.real, to.imag), PART, snap=True)
        ends = place(changed(variant, found), view, handle.key)
        assert abs(ends - to) < 0.5, (handle.key, found, typed)
        tried += 1
    assert tried >= 2


def test_without_snapping_a_pulley_stands_where_it_is_put() -> None:
    cable = find_variant("cable-curl-arm-behind", built_in())
    to = place(cable, "side", "pulley-0") + complex(33, -47)
    forward, up = pulled(cable, Body(), "side", "pulley-0", (to.real, to.imag), PART, snap=False)
    assert (
        abs(place(changed(cable, (forward, up)), "side", "pulley-0") - to) < 30
    )  # the finest step is 0.05 m
    snapped = pulled(cable, Body(), "side", "pulley-0", (to.real, to.imag), PART, snap=True)
    assert all(round(10 * float(c.set or 0), 6).is_integer() for c in snapped)
    with pytest.raises(UnknownNameError, match="drag"):
        pulled(cable, Body(), "side", "nose", (0, 0), PART, snap=True)


@pytest.mark.parametrize("view", VIEWS)
def test_handles_say_where_they_are_at_every_moment(view: str) -> None:
    from curve_rank.figures.projection import Projection

    m = modelled("reclined-60-dumbbell-curl")
    scene = Projection.of_model(m, view)
    for handle in handles(m.variant, view):
        data = handle.as_data(scene)
        assert len(data["at"]) in (1, m.along("demand").size)
        assert data["label"]


def test_what_cannot_be_is_gone_towards_as_far_as_it_goes(modeller: Modeller) -> None:
    curl = find_variant("reclined-60-dumbbell-curl", built_in())

    def check(variant):  # type: ignore[no-untyped-def]
        modeller.one(variant, Body(), effort=0.75)

    far = (Change(field="posture.trunk_pitch", set=-95.0),)
    reached = as_far_as(curl, (), far, check)
    assert "shoulder" in reached.problem
    (change,) = reached.changes
    assert -91 < float(change.set or 0) <= -88
    near = (Change(field="posture.trunk_pitch", set=-40.0),)
    whole = as_far_as(curl, (), near, check)
    assert (whole.changes, whole.problem) == (near, "")
