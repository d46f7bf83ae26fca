"""Columns from files as people have them: delimiters, commas, units, and what is wrong in which row."""

from __future__ import annotations

import numpy as np
import pytest

from curve_rank.errors import BadInputError
from curve_rank.measure.columns import ColumnChoice, guess, read_sheet, samples

TRUE = [(a, 20 + 0.1 * a) for a in range(0, 100, 10)]


def text(delimiter: str = ",", comma: bool = False, titles: str = "Elbow angle [deg],Torque [Nm]") -> str:
    lines = [titles.replace(",", delimiter)]
    for row in TRUE:
        cells = (f"{value:.2f}" for value in row)
        lines.append(delimiter.join(cell.replace(".", ",") if comma else cell for cell in cells))
    return "\n".join(lines)


@pytest.mark.parametrize(
    ("delimiter", "comma"), [(",", False), (";", True), (";", False), ("\t", True), ("|", False)]
)
def test_delimiters_and_decimal_commas_are_found(delimiter: str, comma: bool) -> None:
    sheet = read_sheet(text(delimiter, comma))
    found = samples(sheet, guess(sheet))
    np.testing.assert_allclose(found.angle, [a for a, _ in TRUE])
    np.testing.assert_allclose(found.torque, [t for _, t in TRUE])
    assert found.problems == ()


def test_force_and_lever_make_a_torque_in_any_units() -> None:
    rows = "\n".join(
        f"{n};{np.radians(a):.6f};{t / 0.25 / 4.4482216:.6f};9.8425197" for n, (a, t) in enumerate(TRUE)
    )
    sheet = read_sheet("n;theta rad;load cell lbf;lever arm inch\n" + rows)
    choice = guess(sheet)
    assert (choice.angle_unit, choice.force_unit, choice.lever_unit) == ("rad", "lbf", "in")
    found = samples(sheet, choice)
    np.testing.assert_allclose(found.angle, [a for a, _ in TRUE], atol=1e-3)
    np.testing.assert_allclose(found.torque, [t for _, t in TRUE], atol=1e-3)
    constant = ColumnChoice(angle="theta rad", angle_unit="rad", force="3", force_unit="lbf", lever="0.25")
    np.testing.assert_allclose(samples(sheet, constant).torque, found.torque, atol=1e-3)


@pytest.mark.parametrize(
    "titles",
    [
        "Ellenbogenwinkel [Grad],Drehmoment [Nm]",
        "Drehmoment (Nm),Winkel (Grad)",
        "Angle du coude [degrés],Couple [N·m]",
        "Ángulo (grados),Par (N m)",
        "Angolo del gomito [gradi],Coppia [Nm]",
        "Elleboogshoek [graden],Koppel [Nm]",
        "Vinkel [grader],Vridmoment [Nm]",
        "Kąt [stopnie],Moment [Nm]",
        "Úhel [stupně],Moment [Nm]",
        "θ [°],Torque",
        "Угол,Момент",
        "Winkel [rad],Moment",  # what the title says cannot be
    ],
)
def test_degrees_in_any_languages_heading_are_degrees(titles: str) -> None:
    is_turned = titles.startswith("Dreh")
    lines = [titles] + [f"{t},{a}" if is_turned else f"{a},{t}" for a, t in TRUE]
    sheet = read_sheet("\n".join(lines))
    choice = guess(sheet)
    assert choice.angle_unit == "deg"
    found = samples(sheet, choice)
    np.testing.assert_allclose(found.angle, [a for a, _ in TRUE])
    assert found.problems == ()


def test_an_angle_without_a_unit_is_in_what_its_values_can_be() -> None:
    rows = "\n".join(f"{np.radians(a):.4f},{t}" for a, t in TRUE)
    assert guess(read_sheet("Winkel,Moment\n" + rows)).angle_unit == "rad"
    assert guess(read_sheet("Winkel [Grad],Moment\n" + rows)).angle_unit == "deg"  # a short sweep


def test_a_column_that_is_wrong_as_a_whole_is_doubted_as_a_whole() -> None:
    turned = "Angle,Torque\n" + "\n".join(f"{180 - a / 5},{t}" for a, t in TRUE)
    sheet = read_sheet(turned)
    assert "straight elbow 0 and not 180" in samples(sheet, guess(sheet)).doubt
    good = read_sheet(text())
    assert samples(good, guess(good)).doubt == ""


def test_a_sheet_without_titles_has_numbered_columns() -> None:
    sheet = read_sheet("\n".join(text().splitlines()[1:]))
    assert sheet.titles == ("column 1", "column 2")
    assert samples(sheet, guess(sheet)).torque.size == len(TRUE)


def test_bad_rows_are_told_one_by_one_and_the_good_ones_stay() -> None:
    damaged = text().splitlines()
    damaged[2], damaged[4], damaged[6] = "10.00,", "=1+1,24", "400,26"
    sheet = read_sheet("\n".join(damaged))
    found = samples(sheet, guess(sheet))
    assert [(p.row, p.value) for p in found.problems] == [(3, ""), (5, "=1+1"), (7, "400°")]
    assert found.angle.size == len(TRUE) - 3


@pytest.mark.parametrize(
    ("bad", "says"),
    [
        ("", "columns with"),
        ("a,b\n1,2", "at least 8"),
        ("no delimiter here\n" * 20, "columns with"),
        ("a,b\x00\n1,2\n", "NUL"),
        (",".join("a" * 70) + "\n1,2" * 20, "at most 64"),
        ('a,b\n"' + "x" * 200_000, "columns"),
    ],
)
def test_what_is_no_sheet_is_refused(bad: str, says: str) -> None:
    with pytest.raises(BadInputError, match=says):
        read_sheet(bad)


def test_columns_and_units_that_there_are_not_are_refused() -> None:
    sheet = read_sheet(text())
    for choice, says in (
        (ColumnChoice("nothing", torque="2"), "nothing"),
        (ColumnChoice("1", torque="9"), "9"),
        (ColumnChoice("1"), "a torque, or a force and its lever"),
        (ColumnChoice("1", torque="2", torque_unit="stone"), "stone"),
    ):
        with pytest.raises(BadInputError, match=says):
            samples(sheet, choice)
