"""Set-ups in addresses: read and written back, and refused by name."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.setups import parse_setup
from curve_rank.errors import CurveRankError

CURL = find_variant("standing-dumbbell-curl", built_in())


def test_changes_come_before_faults_and_a_name_is_shown() -> None:
    text = "standing-dumbbell-curl~path.0.elbow=10~fault=stops-30-short-at-the-bottom~name=Soft elbow"
    setup = parse_setup(text)
    assert setup.text == text
    made = setup.of(CURL)
    assert (made.path[0].elbow, made.name, made.id) == (40, "Soft elbow", CURL.id)
    assert parse_setup(CURL.id).of(CURL) is CURL


@given(st.floats(-30, 30).map(lambda v: round(v, 3)), st.sampled_from(CURL.faults), st.text(max_size=30))
def test_what_is_written_is_read_again(lean: float, fault: object, name: str) -> None:
    setup = parse_setup(f"{CURL.id}~posture.trunk_pitch={lean}~fault={fault.key}").named(name)  # type: ignore[attr-defined]
    again = parse_setup(setup.text)
    assert again.text == setup.text
    assert again.name == setup.name


@pytest.mark.parametrize("text", ["", "~a=1", CURL.id + "~nonsense", CURL.id + "~a=" + "~a=1" * 41])
def test_lines_that_are_no_set_up_are_refused(text: str) -> None:
    with pytest.raises(CurveRankError):
        parse_setup(text)


def test_a_fault_the_variant_has_not_is_refused_by_name() -> None:
    with pytest.raises(CurveRankError, match="fault: 'sneezes'"):
        parse_setup(f"{CURL.id}~fault=sneezes").of(CURL)
