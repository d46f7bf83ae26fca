"""Loads look right to a lifter, or the reason is given."""

from __future__ import annotations

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.rating.load_bands import load_bands
from curve_rank.rating.modelling import Modeller


def test_loads_stand_inside_their_bands_or_say_why_not(modeller: Modeller) -> None:
    for band in load_bands(built_in(), Body(), modeller):
        assert band.inside or len(band.miss) > 80, band
