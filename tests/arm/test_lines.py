"""Bands, machines and body weight."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from tests.helpers import modelled


def test_a_band_is_slack_until_its_length_and_pulls_harder_as_it_stretches() -> None:
    curl = modelled("band-standing-curl")
    pull = np.linalg.norm(curl.rep.external.pull_per_kg[:, 0], axis=0)
    assert (np.diff(pull) > 0).all()
    long_band = modelled("band-standing-curl", lines__0__slack_m=0.95)
    assert np.linalg.norm(long_band.rep.external.pull_per_kg[:, 0, 0]) == pytest.approx(0)
    assert long_band.readings.hard_at > curl.readings.hard_at


def test_a_band_fills_the_slack_top_of_a_dumbbell_curl() -> None:
    plain, banded = modelled("standing-dumbbell-curl"), modelled("dumbbell-band-curl")
    tops = [m.along("demand")[-1] / m.readings.peak_demand for m in (plain, banded)]
    assert tops[1] > tops[0]


def test_a_machine_has_a_moment_and_no_lever() -> None:
    machine = modelled("machine-pad-curl")
    assert np.isnan(machine.along("lever")).all()
    at_80 = np.interp(80, machine.angle("elbow"), machine.along("demand") / machine.readings.load)
    weightless = 2.9 / 2  # N·m per kg of stack for each hand, less what the forearm's own weight adds
    assert at_80 == pytest.approx(weightless, abs=0.35)


def test_body_weight_can_be_added_to_and_taken_off() -> None:
    chin = find_variant("chin-up", built_in())
    strong, weak = (modelled(chin, Body(strength=s)).readings.load for s in (1.3, 0.6))
    assert weak < 0 < strong
    heavy = modelled(chin, Body(mass=110, strength=(80 / 110) ** (2 / 3))).readings.load
    assert heavy == pytest.approx(modelled(chin).readings.load - 30, abs=3)
