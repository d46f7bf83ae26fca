"""An answer is one answer: page, twin, shell, tables, published copy and printed page give equal numbers."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from dataclasses import dataclass
from itertools import groupby
from pathlib import Path
from typing import Any
from urllib.parse import parse_qsl

import pytest
from flask import Flask

from curve_rank.practice.units import KG_PER_LB
from curve_rank.store import logs
from curve_rank.training.learning import Factor, LogFindings, learned_data
from tests.answers.surfaces import Surfaces, missing, printed
from tests.helpers import asked_until, desk_of

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
    assert bool(twin["sparing"]) == ("spare=" in asked)
    for text in (page, told, on_paper, at.shell("rank", *options(asked))):
        assert missing(text, twin["sparing"]) == []
    rows = twin["rows"]
    assert missing(page, (part for row in rows if not row["twin_of"] for part in shown(row, rows))) == []
    assert missing(page, twin["deciding"]) == []
    for text, number in ((told, 20), (on_paper, 3)):
        assert missing(text, (part for row in rows[:number] for part in printed_row(row))) == []
    sure = twin["certainty"]["rows"]
    ranks = [
        "{} {} {} [{}–{}]".format(row["rank"], printed(row["score"]), row["name"], *one["rank_interval"])
        for row, one in zip(rows, sure, strict=True)
    ]
    assert missing(at.shell("rank", *options(asked)), ranks) == []


def shown(row: dict[str, Any], rows: list[dict[str, Any]]) -> list[str]:
    """What the board says of a row: name, load and score; those of its like; and why, where it is opened."""

    def score(one: dict[str, Any]) -> str:
        drawn = one["score_drawn"]
        return f"{printed(one['score'])} {printed(drawn['low'])}–{printed(drawn['high'])}"

    like = [part for one in rows if one["twin_of"] == row["variant"]
            for part in (one["name"], one["why"], score(one))]  # fmt: skip
    return [row["name"], row["load"][1:], score(row), *like, row["why"]]


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


SERIES = (
    ("reclined-60-dumbbell-curl", "path.0.elbow", "0", "30", "10", "long_tension"),
    ("standing-dumbbell-curl", "posture.trunk_pitch", "0", "20", "5", "hard_spot"),
    ("rope-press-down", "posture.trunk_pitch", "0", "20", "10", "load"),
)


@pytest.mark.parametrize("asked", SERIES)
def test_a_series_is_one_answer(at: Surfaces, asked: tuple[str, ...]) -> None:
    variant, field, start, end, step, reading = asked
    query = f"{variant}{{}}?field={field}&from={start}&to={end}&step={step}&reading={reading}"
    page = at.page("/compare/one-thing/" + query.format(""))
    twin = at.data("/compare/one-thing/" + query.format(".json"))
    steps = (f"--steps={start}:{end}:{step}", "--field", field, "--reading", reading)
    told, frozen, on_paper = at.published("/compare/one-thing/" + query.format("/publish"))
    assert frozen == twin == at.shell_data("series", variant, *steps)
    digits = 1 if reading == "load" else 0
    rows = [
        (printed(one["median"], digits), printed(one["low"], digits), printed(one["high"], digits))
        for one in twin["steps"] if "median" in one
    ]  # fmt: skip
    assert len(rows) > 2
    for text in (page, told, on_paper):
        assert missing(text, [twin["name"], *(f"{m} {low} to {high}" for m, low, high in rows)]) == []
    by_hand = at.shell("series", variant, *steps)
    assert missing(by_hand, [twin["name"], *(f"{m} ({low} to {high})" for m, low, high in rows)]) == []
    table = list(csv.reader(io.StringIO(at.file("/compare/one-thing/" + query.format(".csv")))))[1:]
    assert [float(row[1]) for row in table] == [one["median"] for one in twin["steps"]]


@pytest.mark.parametrize("variant", ["standing-dumbbell-curl", "chin-up", "rope-press-down"])
def test_what_faults_cost_is_one_answer(at: Surfaces, variant: str) -> None:
    family = {"standing-dumbbell-curl": "standing", "chin-up": "pulling", "rope-press-down": "press_down"}
    page = at.page(f"/faults?family={family[variant]}")
    twin = [one for one in at.data(f"/faults.json?family={family[variant]}") if one["variant"] == variant]
    by_shell = at.shell_data("faults", variant)
    assert [one for one in by_shell if "score" in one] == [one for one in twin if "score" in one]
    text = at.shell("faults", variant)
    for one in twin:
        if "score" not in one:
            continue
        score, name = one["score"], one["faults"][0]["name"]
        median, low, high = (printed(score[key], 1) for key in ("median", "low", "high"))
        nothing = all(float(number.replace("−", "-")) == 0 for number in (median, low, high))
        assert (f"{median} no difference" if nothing else f"{median} {low} to {high}") in page
        assert f"{median} {name}" in text


LOADS = (
    "variant=standing-dumbbell-curl&load=12&to=chin-up",
    "variant=rope-press-down&load=20&reps=8&to=dip-upright&to_reps=6",
    "variant=standing-dumbbell-curl&load=14&to=reclined-60-dumbbell-curl",
    "variant=chin-up&load=5&reps=6&to=standing-dumbbell-curl",
)


@pytest.mark.parametrize("asked", LOADS)
def test_a_load_elsewhere_is_one_answer(at: Surfaces, asked: str) -> None:
    page, twin = at.page(f"/loads?{asked}"), at.data(f"/loads.json?{asked}")
    one = dict(parse_qsl(asked))
    command = ["transfer", one["variant"], one["to"], "--load", one["load"], "--reps", one.get("reps", "10")]
    command += ["--to-reps", one.get("to_reps", "10")]
    by_shell = at.shell_data(*command)
    assert {key: twin[key] for key in by_shell} == by_shell
    numbers = [printed(twin[key], 1) for key in ("median", "low", "high")]
    assert missing(page, numbers) == []
    assert missing(at.shell(*command), numbers) == []


VARIANTS = ("chin-up", "reclined-60-dumbbell-curl", "rope-press-down", "own-steep-pad-palms-in")


@pytest.mark.parametrize("variant", VARIANTS)
def test_a_variant_is_one_answer(at: Surfaces, variant: str) -> None:
    page, twin = at.page(f"/variants/{variant}"), at.data(f"/variants/{variant}.json")
    told, _, on_paper = at.published(f"/variants/{variant}/publish")
    texts = (page, told, on_paper, at.pdf(f"/variants/{variant}.pdf"))
    intervals = [
        (one["name"], printed(one["value"], one["digits"]), one["unit"],
         f"{printed(one['low'], one['digits'])} to {printed(one['high'], one['digits'])}")
        for one in twin["intervals"]
    ]  # fmt: skip
    for text in texts:
        assert missing(text, [twin["why"], *(part for one in intervals for part in one)]) == []
    by_hand = at.shell("model", variant)
    assert f"eight loads in ten {intervals[1][3]}" in by_hand
    head = twin["target"].replace("_", " ").capitalize() + " head"
    line = by_hand[by_hand.index(head) :]
    for name, value, unit, _ in intervals[2:6]:
        assert f"{name[0].lower()}{name[1:]} {value} {unit}" in line
    board = {one["variant"]: one for one in at.data(f"/board.json?target={twin['target']}")["rows"]}[variant]
    assert (board["why"], board["load_kg"]) == (twin["why"], round(twin["intervals"][1]["value"], 4))
    assert printed(board["score"]) == intervals[0][1]


@pytest.mark.parametrize("claim", ["own-hayloft-recline-against-the-pad", "chin-up-is-a-heavy-curl"])
def test_a_claim_is_one_answer(at: Surfaces, claim: str) -> None:
    keys = [one["id"] for one in at.data("/claims.json")]
    claim = claim if claim in keys else next(key for key in keys if not key.startswith("own-"))
    at.page(f"/claims/{claim}")
    twin = asked_until(
        at.client, f"/claims/{claim}.json", lambda answer: answer.get_json()["verdict"] is not None
    ).get_json()
    page, by_shell = at.page(f"/claims/{claim}"), at.shell_data("claims", claim)
    told, frozen, on_paper = at.published(f"/claims/{claim}/publish")
    assert frozen == twin == by_shell
    arms = f"{printed(100 * twin['probability'])} arms of 100" if twin["probability"] is not None else ""
    size = twin["size"]
    span = f"({printed(size['low'], 1 if abs(size['low']) < 10 else 0)} to" if size else ""
    for text in (page, told, on_paper, at.shell("claims", claim)):
        assert missing(text, [arms, span]) == [], text


SETS = ("target=biceps_long&target=triceps_long", "target=brachialis&lens=even_tension")


@pytest.mark.parametrize("asked", SETS)
def test_a_chosen_set_is_one_answer(at: Surfaces, asked: str) -> None:
    page, twin = at.page(f"/sets?{asked}"), at.data(f"/sets.json?{asked}")
    by_shell = at.shell_data("choose", *options(asked, target="targets"))
    assert by_shell == twin
    facts = [part for one in twin["picks"] for part in (one["name"], one["why"])]
    assert missing(page, facts) == []
    assert missing(at.shell("choose", *options(asked, target="targets")), facts[1::2]) == []


@pytest.mark.parametrize("head", ["biceps_long", "brachialis", "triceps_medial"])
def test_a_head_is_one_answer(at: Surfaces, head: str) -> None:
    assert at.data(f"/heads/{head}.json") == json.loads(at.shell_in_no_folder("atlas", head, "--json"))


WREN, COACH = 4, 1
CURL, DOWN = "standing-dumbbell-curl", "seated-press-down"


@dataclass(frozen=True)
class WrenAt(Surfaces):
    """As Wren, who reads one unit."""

    unit: str

    def in_a_line(self, sets: list[dict[str, Any]]) -> str:
        """Sets to do, as they are read: those of one load together."""
        by_load = groupby(sets, key=lambda one: float(one["load"]))
        return "; ".join(
            f"{self.mass(load)} × {', '.join(str(one['reps']) for one in ones)}" for load, ones in by_load
        )

    def mass(self, load: float) -> str:
        return f"{load:g} kg" if self.unit == "kg" else f"{round(2 * load / KG_PER_LB) / 2:g} lb"


@pytest.fixture(params=["kg", "lb"])
def wren(at: Surfaces, request: pytest.FixtureRequest) -> WrenAt:
    """As Wren, of whom something was learned, with a load set by hand on the block they do."""
    learned = LogFindings({CURL: Factor(1.5, 1.4, 1.6), DOWN: Factor(0.7, 0.6, 0.8)}, 400, 12, 3)
    with desk_of(at.client.application).store.writing() as session:
        logs.keep_learned(session, WREN, json.dumps(learned_data(learned)), "as it was")
    by_hand = {"client": WREN, "variant": "overhead-dumbbell-one-arm", "load": "6"}
    assert at.client.post("/blocks/1/load", data=by_hand).status_code == 303
    at.client.post("/sign-in/as", data={"person": WREN})
    assert at.client.post("/account/unit", data={"mass_unit": request.param}).status_code == 303
    at.client.post("/sign-in/as", data={"person": COACH})
    return WrenAt(at.client, at.folder, request.param)


def test_a_block_is_one_answer(wren: WrenAt) -> None:
    twin = wren.data(f"/blocks/1.json?for={WREN}")
    first = [one for session in twin["weeks"][0]["sessions"] for one in session["exercises"]]
    lines = [f"{one['name']} {wren.in_a_line(one['sets'])}" for one in first]
    loads = {one["variant"]: one["sets"][0]["load"] for one in first}
    assert loads["overhead-dumbbell-one-arm"] == 6
    card = wren.pdf(f"/blocks/1/card.pdf?for={WREN}")
    parts = [part for one in first for part in (one["name"], f"Week 1 {wren.in_a_line(one['sets'])}")]
    assert missing(card, parts) == []
    page = wren.page(f"/blocks/1?for={WREN}")
    assert missing(page, lines) == []
    rows = [
        row
        for row in csv.DictReader(io.StringIO(wren.file(f"/blocks/1.csv?for={WREN}")))
        if not row["warm-up"]
    ]
    in_table = [(row["variant"], float(row["load [kg]"]), int(row["repetitions"])) for row in rows]
    in_data = [
        (one["variant"], each["load"], each["reps"])
        for week in twin["weeks"] for session in week["sessions"] for one in session["exercises"]
        for each in one["sets"]
    ]  # fmt: skip
    assert in_table == in_data
    dates = wren.file(f"/blocks/1.ics?for={WREN}")
    unfolded = dates.replace("\r\n ", "").replace("\n ", "").replace("\\,", ",").replace("\\;", ";")
    assert missing(unfolded, [wren.in_a_line(one["sets"]) for one in first[:3]]) == []


def test_what_comes_next_is_one_answer(wren: WrenAt) -> None:
    """Today, my block, and a shell's progress: one session, one set of targets."""
    by_shell = wren.shell_data("progress", "--client", str(WREN))["next"]
    assert by_shell
    wren.client.post("/sign-in/as", data={"person": WREN})
    today, twin = wren.page("/today"), wren.data("/today.json")
    block = wren.page("/my-block")
    assert f"week {twin['week'] + 1}" in today
    names = [one["name"] for one in twin["exercises"]]
    assert names
    coming = block[block.index("Next") : block.index("Card to print")]
    assert missing(coming, names) == []
    for one in twin["exercises"]:
        target = by_shell[one["variant"]]
        assert [each["load"] for each in one["sets"]] == target["loads"]
        assert [each["reps"] for each in one["sets"]] == target["sets"]
        assert f"{one['name']} {wren.in_a_line(one['sets'])}" in coming
        assert wren.mass(target["load"]) in today


def test_a_record_and_a_review_are_one_answer(wren: WrenAt) -> None:
    asked = ("review", "--client", str(WREN), "--block", "1")
    page, twin, by_hand = wren.page(f"/reviews/1?for={WREN}"), wren.shell_data(*asked), wren.shell(*asked)
    assert wren.data(f"/reviews/1.json?for={WREN}") == twin
    for text in (page, by_hand):
        assert f"{twin['adherence']['sessions']} of {twin['adherence']['planned']} sessions" in text
        assert missing(text, [one["why"] for one in twin["advice"]]) == []
