"""Kilograms as somebody who thinks in pounds reads and types them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.practice.profile import usual_profile
from curve_rank.practice.rooms import usual_room
from curve_rank.practice.units import (
    KG_PER_LB,
    amount_in,
    both_masses_in,
    height_of,
    lengths_in,
    mass_of,
    masses_in,
    masses_of,
    step_in,
    unit_in,
)


@pytest.mark.parametrize(
    ("said", "read"),
    [
        ("11.3 kg in each hand", "25 lb in each hand"),
        ("between 8.1 and 14.2 kg", "between 18 and 31.5 lb"),
        ("a load, −11.9 to 27.3 kg, or −2 kg", "a load, −26 to 60 lb, or −4.5 lb"),
        ("10/6/4 kg; 10–12 kg", "22/13/9 lb; 22–26.5 lb"),
        ("  12.0 →  13.0 kg  Curl", "  26.5 →  28.5 lb  Curl"),
        ("20 kg × 12, 10; +11 kg", "44 lb × 12, 10; +24.5 lb"),
        ("a man of 1.78 m and 80 kg", "a man of 5 ft 10 in and 176 lb"),
        ("Wren, 1.63 m, 58 kg", "Wren, 5 ft 4 in, 128 lb"),
        ("3.04 → 2.96 N·m/kg, 0.03 N·m per kg held", "1.38 → 1.34 N·m/lb, 0.03 N·m per kg held"),
        ("15.0 against 12.9 kg", "33 against 28.5 lb"),
        ("1.2 m and 5 kg of stack", "1.2 m and 11 lb of stack"),
    ],
)
def test_masses_in_a_text_are_read_in_pounds(said: str, read: str) -> None:
    assert masses_in(said, "lb") == read
    assert masses_in(said, "kg") == said
    assert masses_in(read, "lb") == read, "once is enough"


@pytest.mark.parametrize(
    ("said", "read"),
    [
        ("0.5 cm more, beyond error (0.4 cm)", "0.20 in more, beyond error (0.16 in)"),
        ("+0.12 cm (−0.30 to +0.54 cm, 95 in a hundred)", "+0.05 in (−0.12 to +0.21 in, 95 in a hundred)"),
        ("in 8 weeks by 0.2 to 1.0 cm", "in 8 weeks by 0.08 to 0.39 in"),
        ("v1.5 cm and 3 cmd", "v1.5 cm and 3 cmd"),
    ],
)  # fmt: skip
def test_lengths_of_a_tape_are_read_in_inches(said: str, read: str) -> None:
    assert lengths_in(said, "in") == read
    assert lengths_in(said, "cm") == said
    assert lengths_in(read, "in") == read, "once is enough"


@given(st.floats(min_value=1, max_value=99.9))
def test_what_is_printed_to_a_tenth_of_a_kilogram_is_read_to_the_right_dumbbell(kilograms: float) -> None:
    """Dumbbells and pins stand 2.5 lb apart: a tenth of a kilogram never makes one of them another."""
    pounds = round(kilograms / KG_PER_LB / 2.5) * 2.5
    assert masses_in(f"{pounds * KG_PER_LB:.1f} kg", "lb") == f"{pounds:g} lb"


def test_the_models_own_pages_say_both() -> None:
    assert both_masses_in("Bench dip 36.4 kg, 10 to 40 kg", "lb") == (
        "Bench dip 36.4 kg (80 lb), 10 to 40 kg (22 to 88 lb)"
    )
    assert both_masses_in("36.4 kg", "kg") == "36.4 kg"


def test_every_text_in_a_scripts_data_is_read_and_numbers_stay() -> None:
    data = {"load": 11.3, "words": ["11.3 kg", {"why": "no more than 20 kg"}], "on": True, "none": None}
    read = {"load": 11.3, "words": ["25 lb", {"why": "no more than 44 lb"}], "on": True, "none": None}
    assert masses_of(data, "lb") == read
    assert masses_of(data, "kg") is data


def test_readings_that_have_a_mass_in_their_unit_follow_it() -> None:
    assert (unit_in("lb", "kg"), unit_in("lb", "N·m/kg"), unit_in("lb", "°")) == ("lb", "N·m/lb", "°")
    assert amount_in("lb", 10.0, "kg") == pytest.approx(22.04623)
    assert amount_in("lb", 10.0, "N·m/kg") == pytest.approx(4.535924)
    assert amount_in("lb", 10.0, "°") == amount_in("kg", 10.0, "kg") == 10.0


@pytest.mark.parametrize(
    ("typed", "kilograms"),
    [
        ("12.5", 12.5),
        ("12,5", 12.5),
        ("25 lb", 11.3398),
        ("25lbs", 11.3398),
        ("−5 kg", -5),
        (".5", 0.5),
        (7, 7),
    ],
)
def test_a_mass_is_typed_with_its_unit_or_without(typed: object, kilograms: float) -> None:
    assert mass_of(typed) == pytest.approx(kilograms, abs=1e-4)


@pytest.mark.parametrize("typed", ["", "lb", "12 stone", "1e3", "12 lb 3 oz", "nan", "inf", "1 2 3", "--5"])
def test_what_is_no_mass_is_refused(typed: str) -> None:
    with pytest.raises(ValueError, match="a number, as in"):
        mass_of(typed)


@pytest.mark.parametrize(
    ("typed", "centimetres"),
    [
        ("178", 178),
        ("1.78 m", 178),
        ("70in", 177.8),
        ("5ft10", 177.8),
        ("5'10\"", 177.8),
        ("5 ft 10 in", 177.8),
    ],
)
def test_a_height_is_typed_as_people_say_it(typed: str, centimetres: float) -> None:
    assert height_of(typed) == pytest.approx(centimetres)


def test_where_pounds_are_usual_gyms_and_profiles_are_in_pounds() -> None:
    profile, room = usual_profile("lb"), usual_room("lb")
    assert (profile.mass_unit, profile.length_unit, room.unit) == ("lb", "in", "lb")
    assert (usual_profile("kg").mass_unit, usual_room("kg").unit) == ("kg", "kg")
    assert step_in("lb", 2.5) == pytest.approx(5 * KG_PER_LB)
    assert step_in("lb", 1.0) == pytest.approx(2.5 * KG_PER_LB)
    assert step_in("kg", 2.5) == 2.5
