"""Logs as CSV: written in many ways, read as they were meant, with a message for each row that cannot be."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from curve_rank.catalogue.library import built_in
from curve_rank.errors import BadInputError
from curve_rank.exchange.logs import guess, log_table, preview, sheet_of, suggestions
from curve_rank.exchange.tables import to_csv
from tests.training.logged import did

HEAD = "date,variant,side,set,load_kg,reps,reserve,pain_joint,pain,note\n"


def read(text: str, **told: object):  # type: ignore[no-untyped-def]
    sheet = sheet_of(text)
    return preview(sheet, replace(guess(sheet), **told), built_in())  # type: ignore[arg-type]


def test_a_log_goes_out_and_comes_back_the_same() -> None:
    log = did(0, 12, 11, load=-12.5, variant="chin-up") + did(
        2, 8, side="left", pain=3, pain_joint="elbow", note="=SUM(A1:A9) said the machine", reserve=None
    )
    log += did(
        4, 6, kind="partial", done="loosely", gave_out="grip", soreness=2, guessed=True, instead_of="chin-up"
    )
    log += did(5, 6, kind="lowering", sharp=True, pain=7, pain_joint="wrist")
    text = to_csv(log_table(log))
    assert "'=SUM" in text, "no spreadsheet takes it for a formula"
    found = read(text)
    assert found.problems == ()
    where = {"key", "plan", "week", "session", "place"}
    assert [s.model_dump(exclude=where) for s in found.sets] == [s.model_dump(exclude=where) for s in log]
    assert [s.key for s in read(text).sets] == [s.key for s in found.sets], "read twice, kept once"


def test_a_row_that_stands_twice_is_kept_once_and_three_alike_without_numbers_are_three_sets() -> None:
    numbered = "date,variant,set,load_kg,reps\n2026-04-03,chin-up,1,0,8\n2026-04-03,chin-up,2,0,8\n"
    found = read(numbered + "2026-04-03,chin-up,1,0,8\n")
    assert [one.set for one in found.sets] == [1, 2]
    assert found.doubles == (4,)
    alike = read("date,variant,load_kg,reps\n" + "2026-04-03,chin-up,0,8\n" * 3)
    assert [one.set for one in alike.sets] == [1, 2, 3]
    assert alike.doubles == ()


def test_files_written_before_a_column_came_are_read_as_they_were() -> None:
    table = log_table(did(0, 12, as_planned=True, done="loosely"))
    for lacking, planned, done in ((0, True, "loosely"), (1, True, "strictly"), (2, False, "strictly")):
        upto = len(table.titles) - lacking
        old = to_csv(replace(table, titles=table.titles[:upto], rows=tuple(row[:upto] for row in table.rows)))
        (one,) = read(old).sets
        assert (one.as_planned, one.done) == (planned, done)
    assert read(to_csv(table)).sets[0].as_planned


@pytest.mark.parametrize(
    "text",
    [
        "date;variant;load_kg;reps\n03.04.2026;chin-up;2,5;8\n14.04.2026;chin-up;2,5;8\n",
        "Day\tExercise\tWeight\tReps\n03/04/2026\tChin-up, palms up\t2.5\t8\n14/04/2026\tchin-up\t2.5\t8\n",
        "when,lift,lb,repetitions\n04/03/2026,chin-up,5.512,8\n04/14/2026,chin-up,5.512,8\n",
        "date,variant,load_kg,reps\n2026-04-03T18:00,CHIN UP,2.5,8\n2026-04-14,chin-up,2.5,8\n",
    ],
)
def test_separators_decimal_commas_units_names_and_orders_of_dates_are_found(text: str) -> None:
    names = {"Chin-up, palms up": "chin-up"}
    found = read(text, names=names)
    assert found.problems == ()
    assert {one.variant for one in found.sets} == {"chin-up"}
    assert [one.day for one in found.sets] == [date(2026, 4, 3), date(2026, 4, 14)]
    assert [one.load_kg for one in found.sets] == pytest.approx([2.5, 2.5], abs=1e-3)


def test_every_row_that_cannot_be_read_has_a_message_and_the_others_stand() -> None:
    rows = (
        "2026-03-02,chin-up,,1,0,8,1,,,",
        "2026-13-02,chin-up,,1,0,8,1,,,",
        "2026-03-02,chn-up,,1,0,8,1,,,",
        "2026-03-02,chin-up,middle,1,0,8,1,,,",
        "2026-03-02,chin-up,,1,=2+3,8,1,,,",
        "2026-03-02,chin-up,,1,0,8.5,1,,,",
        "2026-03-02,chin-up,,1,0,-8,1,,,",
        "2026-03-02,chin-up,,1,900,8,1,,,",
        "2026-03-02,chin-up,,1,0,8,1,knee,4,",
        "2026-03-02,chin-up,,1,0,8,1,,4,",
        "2026-03-02,chin-up,,1,0,8,1,,,\u202etxet",
        "2026-03-02,chin-up",
    )
    found = read(HEAD + "\n".join(rows))
    assert len(found.sets) == 1
    assert [problem.row for problem in found.problems] == list(range(3, 14))
    assert all(problem.right for problem in found.problems)
    assert "chin-up" in found.unknown["chn-up"]
    matched = read(HEAD + rows[2], names={"chn-up": "chin-up"})
    assert [one.variant for one in matched.sets] == ["chin-up"]


def test_dates_that_could_be_either_are_told_of() -> None:
    text = "date,variant,load_kg,reps\n03/04/2026,chin-up,0,8\n"
    assert read(text).unsure_dates
    assert read(text, order="mdy").sets[0].day == date(2026, 3, 4)
    assert not read(text.replace("03/04", "23/04")).unsure_dates


def test_effort_of_ten_and_sets_without_numbers_are_understood() -> None:
    text = "date,variant,load_kg,reps,RPE\n2026-03-02,chin-up,0,8,8\n2026-03-02,chin-up,0,7,9.5\n"
    found = read(text)
    assert [(one.set, one.reserve) for one in found.sets] == [(1, 2), (2, 0)]


def test_what_is_no_log_is_refused_whole() -> None:
    for text in ("", "hello", "a,b\n1,2\n", HEAD, "date,variant,load_kg,reps\n" + "x,y,1,2\n" * 100_001):
        with pytest.raises(BadInputError):
            read(text)


def test_near_names_are_suggested() -> None:
    names = {" ".join(v.id.split("-")): v.id for v in built_in()}
    assert "standing-dumbbell-curl" in suggestions("dumbell curl standing", names)
    assert suggestions("xyzzy", names) == ()
