"""Why a set-up stands where it does."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

from curve_rank.study.why_here import FEWEST_ROWS, WhyHere, why_here

# Weight 0.7 for length, 0.3 for slack: eight rows as they would rank.
SCORES = [(90, 80), (80, 90), (20, 100), (70, 60), (60, 60), (55, 60), (50, 60), (85, 0)]


def rows_of(scores: list[tuple[int, int]]) -> list[Any]:
    def part(name: str, weight: float, score: int) -> Any:
        return SimpleNamespace(criterion=SimpleNamespace(name=name), weight=weight, score=score)

    return [
        SimpleNamespace(
            rank=n,
            variant=SimpleNamespace(id=f"row-{n}"),
            score=0.7 * length + 0.3 * slack,
            criteria=(part("Length where it is hard", 0.7, length), part("No slack", 0.3, slack)),
        )
        for n, (length, slack) in enumerate(scores, start=1)
    ]


def test_a_surprise_is_named_with_what_lifts_or_lowers_it() -> None:
    found = why_here(rows_of(SCORES))
    assert [one.surprise for one in found.values()] == ["", "", "high", "", "", "", "", "low"]
    assert found["row-1"].question == "Why here?"
    # Middles of length 65 and of slack 60; by length alone row 3 is last and row 8 second.
    assert found["row-3"] == WhyHere(
        "high",
        "By length where it is hard alone, which weighs most here, it would stand at 8, not at 3. "
        "Raised most by no slack (100 of 100, the middle 60: +12 points). "
        "Lowered most by length where it is hard (20 of 100, the middle 65: −32 points).",
    )
    assert found["row-8"].question == "Why so low?"
    assert "it would stand at 2, not at 8" in found["row-8"].says
    assert found["row-5"].says == (
        "It has 60 points, the middle of the list 60. "
        "Lowered most by length where it is hard (60 of 100, the middle 65: −4 points)."
    )


def test_where_many_score_alike_nobody_is_put_first_among_them() -> None:
    scores = [(90, 100), (100, 60), (100, 50), (100, 40), (100, 30), (100, 20), (100, 10), (20, 10)]
    found = why_here(rows_of(scores))
    # By length alone rows 2 to 7 share the places 1 to 6, and row 1 comes after them.
    assert [one.surprise for one in found.values()] == ["high", "", "", "", "", "", "", ""]
    assert "it would stand at 7, not at 1" in found["row-1"].says


def test_a_list_without_a_middle_says_nothing() -> None:
    assert why_here(rows_of(SCORES[: FEWEST_ROWS - 1])) == {}
    assert len(why_here(rows_of(SCORES[:FEWEST_ROWS]))) == FEWEST_ROWS
