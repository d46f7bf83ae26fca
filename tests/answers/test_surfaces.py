"""An answer is one answer: page, twin, shell, tables, published copy and printed page give equal numbers."""

from __future__ import annotations

import csv
import io
from collections.abc import Callable
from pathlib import Path
from typing import Any
from urllib.parse import parse_qsl

import pytest
from flask import Flask

from tests.answers.surfaces import Surfaces, missing, printed

BOARDS = (
    "target=biceps_long&lens=long_length&with=dumbbell&with=cable",
    "target=biceps_short&lens=short_length",
    "target=brachialis&lens=even_tension&with=dumbbell&with=no_bench",
    "target=brachioradialis&lens=all_round&reps=5",
    "target=flexors&lens=heavy_basics",
    "target=triceps_long&lens=long_length&reps=15",
    "target=triceps_lateral&lens=even_tension&spare=elbow&spare=shoulder",
    "target=triceps_medial&lens=short_length",
    "target=extensors&lens=all_round&spare=elbow",
    "target=biceps&lens=own-lanternfield-house-blend",
)
COMPARISONS = (
    "with=standing-dumbbell-curl&with=reclined-60-dumbbell-curl&target=biceps_long",
    "with=pad-45-dumbbell-curl&with=chin-up",
    "with=rope-press-down&with=overhead-rope-low-pulley&with=bench-press-narrow&lens=even_tension",
    "with=own-steep-pad-palms-in&with=pad-45-dumbbell-curl&reps=6",
    "with=dip-upright&with=bent-over-pull-back&target=triceps_lateral",
    "with=standing-dumbbell-curl&with=standing-dumbbell-curl~posture.trunk_pitch=15",
)


pytestmark = pytest.mark.usefixtures("shell_draws_in_threads")


@pytest.fixture
def at(make_app: Callable[..., Flask], tmp_path: Path) -> Surfaces:
    return Surfaces(make_app(demo=True).test_client(), str(tmp_path / "data"))


def options(query: str, **names: str) -> list[str]:
    """An address's question as a command's options, several of one name as a list."""
    found: dict[str, list[str]] = {}
    for name, value in parse_qsl(query):
        found.setdefault(name, []).append(value)
    return [
        part for name, values in found.items() for part in (f"--{names.get(name, name)}", ",".join(values))
    ]


@pytest.mark.parametrize("asked", BOARDS)
def test_a_board_is_one_answer(at: Surfaces, asked: str) -> None:
    page, twin = at.page(f"/board?{asked}"), at.data(f"/board.json?{asked}")
    by_shell = at.shell_data("rank", *options(asked))
    told, frozen, on_paper = at.published(f"/board/publish?{asked}")
    assert twin == by_shell == frozen
    rows = twin["rows"]
    assert missing(page, (part for row in rows for part in shown(row))) == []
    for text, number in ((told, 20), (on_paper, 3)):
        assert missing(text, (part for row in rows[:number] for part in printed_row(row))) == []
    sure = twin["certainty"]["rows"]
    ranks = [
        "{} {} {} [{}–{}]".format(row["rank"], printed(row["score"]), row["name"], *one["rank_interval"])
        for row, one in zip(rows, sure, strict=True)
    ]
    assert missing(at.shell("rank", *options(asked)), ranks) == []


def shown(row: dict[str, Any]) -> list[str]:
    """What the board says of a row without its being opened."""
    drawn = row["score_drawn"]
    span = f"{printed(drawn['low'])}–{printed(drawn['high'])}"
    return [row["name"], row["why"], f"{printed(row['score'])} {span}"]


def printed_row(row: dict[str, Any]) -> list[str]:
    """What a published ranking says of a row."""
    drawn = row["score_drawn"]
    span = f"({printed(drawn['low'])} to {printed(drawn['high'])})"
    return [row["name"], f"{printed(row['score'])} of 100 {span} · {row['load']}"]


@pytest.mark.parametrize("asked", COMPARISONS)
def test_a_comparison_is_one_answer(at: Surfaces, asked: str) -> None:
    page, twin = at.page(f"/compare?{asked}"), at.data(f"/compare.json?{asked}")
    named = [(name, value) for name, value in parse_qsl(asked)]
    setups = [value for name, value in named if name == "with"]
    rest = [part for name, value in named if name != "with" for part in (f"--{name}", value)]
    told, frozen, on_paper = at.published(f"/compare/publish?{asked}")
    assert twin == at.shell_data("compare", *setups, *rest) == frozen
    read = [one for one in twin["readings"].values() if max(abs(c[k]) for c in one["columns"] for k in c) > 3]
    for text in (page, told, on_paper):
        assert missing(text, (f"{one['name']} {one['unit']}" for one in read)) == []
    score = twin["readings"]["score"]["columns"]
    more = twin["differences"][0]["readings"]["score"]
    facts = [
        "Score by", printed(score[0]["median"]), printed(score[1]["median"]),
        f"({printed(more['low'])} to {printed(more['high'])})",
    ]  # fmt: skip
    for text in (page, told, on_paper):
        assert missing(text, facts) == []
    load = twin["readings"]["load"]["columns"][0]["median"]
    for text in (told, on_paper):
        assert missing(text, [printed(abs(load), 1) + " kg", "Working load", printed(load, 1)]) == []
    table = list(csv.DictReader(io.StringIO(at.file(f"/compare.csv?{asked}"))))
    first = next(key for key in table[0] if key.endswith(": median"))
    for row, one in zip(table, twin["readings"].values(), strict=True):
        assert float(row[first]) == pytest.approx(one["columns"][0]["median"], abs=6e-5)
    lines = [
        f"{one['name'][:34]}".strip() + f" {' '.join(printed_in_shell(one))}"
        for one in twin["readings"].values()
    ]
    assert missing(at.shell("compare", *setups, *rest), lines) == []


def printed_in_shell(one: dict[str, Any]) -> list[str]:
    from curve_rank.rating.readings import all_readings

    digits = next((r.digits for r in all_readings().values() if r.name == one["name"]), 0)
    return [printed(column["median"], digits) for column in one["columns"]]
