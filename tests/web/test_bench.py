"""The bench's controls and figure, for every kind of movement."""

from __future__ import annotations

import re

import numpy as np
import pytest
from flask.testing import FlaskClient

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.rating.modelling import model_variants
from curve_rank.web.controls import controls
from curve_rank.web.figure import figure

KINDS = (
    "reclined-60-dumbbell-curl",
    "pad-45-cable-curl",
    "band-overhead-extension",
    "machine-pad-curl",
    "chin-up",
    "push-up-hands-close",
    "dumbbell-pullover",
    "bar-up-the-body-curl",
    "double-shoulder-height-cable-curl",
)


@pytest.mark.parametrize("kind", KINDS)
def test_every_control_can_be_moved_to_both_its_ends(client: FlaskClient, kind: str) -> None:
    """The end of a slider is a set-up that works or a message that says why not."""
    for control in controls(find_variant(kind, built_in())):
        for shown in (control.low, control.high):
            value = control.sign * (shown - control.offset) / control.scale
            answer = client.get(f"/bench/{kind}.json", query_string={"set": f"{control.field}={value:g}"})
            assert answer.status_code in (200, 400, 422), (control.label, answer.text[:200])
            if answer.status_code != 200:
                assert len(answer.get_json()["error"]) > 20


@pytest.mark.parametrize("kind", KINDS)
def test_the_page_holds_each_control_with_its_present_value(client: FlaskClient, kind: str) -> None:
    page = client.get(f"/bench/{kind}").text
    for control in controls(find_variant(kind, built_in())):
        found = re.search(rf'value="([^"]+)" data-field="{re.escape(control.field)}"', page)
        assert found, control.field
        assert float(found.group(1)) == pytest.approx(control.shown, abs=1e-3)


def corners(path: str) -> np.ndarray:
    return np.array([[float(v) for v in pair.split()] for pair in path.strip("MZ").split("L")])


@pytest.mark.parametrize("kind", KINDS)
def test_limbs_keep_their_size_while_they_move(kind: str) -> None:
    """A limb seen from the side may foreshorten but never grows past its own length."""
    body = Body()
    modelled = model_variants((find_variant(kind, built_in()),), body, effort=0.75)[0]
    longest = 1000 * max(body.upper_arm, body.forearm) + 2 * 0.033 * 1000 * body.height
    for view in ("side", "front", "top"):
        drawn = figure(modelled, view)
        for frame in drawn["frames"]:
            for key in ("upper", "fore"):
                outline = corners(frame.get(key) or drawn["fixed"][key])
                assert np.ptp(outline, axis=0).max() <= longest + 2


@pytest.mark.parametrize("kind", ["chin-up", "dip-upright", "push-up-hands-close", "body-row-underhand"])
def test_where_the_hands_are_fixed_they_stay_and_the_body_moves(kind: str) -> None:
    modelled = model_variants((find_variant(kind, built_in()),), Body(), effort=0.75)[0]
    drawn = figure(modelled, "side")
    hands = np.array([corners(f.get("force") or drawn["fixed"]["force"])[0] for f in drawn["frames"]])
    skulls = np.array([corners(f["skull"]).mean(axis=0) for f in drawn["frames"]])
    grips = np.array([corners(f.get("fist") or drawn["fixed"]["fist"]).mean(axis=0) for f in drawn["frames"]])
    assert np.ptp(skulls[:, 1]) > 100
    assert np.ptp(grips[:, 1]) < 60
    assert np.isfinite(hands).all()


def test_the_lever_is_drawn_as_long_as_it_reads() -> None:
    modelled = model_variants((find_variant("standing-barbell-curl", built_in()),), Body(), effort=0.75)[0]
    drawn = figure(modelled, "side")
    for frame, (_, _, centimetres) in zip(drawn["frames"], drawn["lever"], strict=True):
        line = corners(frame.get("lever") or drawn["fixed"]["lever"])
        assert np.hypot(*(line[1] - line[0])) == pytest.approx(10 * centimetres, abs=3)


def test_a_machine_shows_neither_lever_nor_line_of_force(client: FlaskClient) -> None:
    view = client.get("/bench/machine-pad-curl.json?part=bench").get_json()
    keys = {shape["key"] for shape in view["figure"]["shapes"]}
    assert "machine-arm" in keys
    assert not keys & {"force", "lever"}
    assert set(client.get("/bench/machine-pad-curl.json").get_json()["rep"]["lever_m"]) == {None}
    assert "none" in client.get("/bench/machine-pad-curl").text
