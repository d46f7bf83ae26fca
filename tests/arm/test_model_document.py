"""The paper of the physics: every number stands in it, with the value, spread and source that are used."""

from __future__ import annotations

import re
from pathlib import Path

from scripts.write_parameters import BEGINS, with_table

from curve_rank.arm.parameters import parameter_set

MODEL = Path(__file__).parents[2] / "docs" / "model.md"


def test_every_number_stands_in_an_equations_text_and_in_the_table_as_it_is_used() -> None:
    text = MODEL.read_text(encoding="utf-8")
    assert with_table(text) == text  # `make schema` writes it anew
    said = set(re.findall(r"`([a-z_0-9.]+)`", text.partition(BEGINS)[0]))
    for one in parameter_set():
        of_head = one.key.startswith("heads.") and one.key.rpartition(".")[2]
        assert one.key in said or of_head in said, one.key


def test_equations_are_counted_in_order() -> None:
    text = MODEL.read_text(encoding="utf-8").partition(BEGINS)[0]
    numbered = [int(n) for n in re.findall(r"^ {4,}.*\((\d+)\)$", text, re.M)]
    assert numbered == list(range(1, len(numbered) + 1))
