"""What the model is held against holds, and the page that says so is of this model."""

from __future__ import annotations

import pytest
from scripts.write_validation import PAGE, page, table

from curve_rank.rating.modelling import Modeller
from curve_rank.study.proving import Proof, proofs
from curve_rank.study.proving_apart import sharing_proofs


@pytest.fixture(scope="module")
def every(modeller: Modeller) -> tuple[Proof, ...]:
    return proofs(modeller)


def test_all_that_physics_and_gyms_ask_holds(every: tuple[Proof, ...]) -> None:
    assert {one.group for one in every} == {"strength", "order", "place", "load"}
    assert [one for one in every if not one.holds and not one.miss] == []
    for one in every:
        assert one.place is None or one.holds == (0 <= one.place <= 1)


def test_the_page_is_of_this_model(every: tuple[Proof, ...]) -> None:
    there = PAGE.read_text(encoding="utf-8")
    assert [line for line in table(list(every)) if line not in there] == [], "make validation"


def test_what_fails_stands_first() -> None:
    good = Proof("strength", "Good", "1 to 2", "somebody", "1.5", holds=True, place=0.5)
    bad = Proof("load", "Bad", "1 to 2", "somebody", "3.0", holds=False, place=2.0, miss="a short range")
    said = page((good, bad))
    assert "1 of 2 checks hold" in said
    assert said.index("✗ | Bad") < said.index("✓ | Good")
    assert "3.0 (a short range)" in said


def test_an_independent_solver_shares_alike() -> None:
    assert all(one.holds for one in sharing_proofs())
