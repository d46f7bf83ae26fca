"""An installation in pounds: nothing of it says kilograms, but what the model stands on says both."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path

import pypdfium2
import pytest
from click.testing import CliRunner
from flask import Flask

from curve_rank.cli.main import main
from curve_rank.practice.units import KG_PER_LB
from curve_rank.store.documents import own_claims
from curve_rank.store.viewers import viewer_of
from tests.helpers import desk_of, once_drawn
from tests.pounds import KILOGRAMS, in_pounds, read
from tests.web.pages.test_sign_in import as_anybody


@pytest.fixture
def pounds(make_app: Callable[..., Flask]) -> Flask:
    return in_pounds(make_app(demo=True, unit="lb"))


@pytest.mark.parametrize("path", ["/board", "/loads", "/bench/standing-dumbbell-curl", "/measure/device"])
def test_everybody_reads_in_their_own_unit_whoever_read_before(pounds: Flask, path: str) -> None:
    """What stands in a template as it is written is read as well: no page is kept in somebody else's unit."""
    reader = pounds.test_client()
    for unit, other in (("lb", r"\d kg\b"), ("kg", r"\d lb\b"), ("lb", r"\d kg\b")):
        reader.post("/account/unit", data={"mass_unit": unit})
        text = read(once_drawn(reader, path))
        assert re.search(rf"\d {unit}\b", text), (unit, path)
        assert not re.search(other, text), (unit, path)


def test_what_a_tape_measures_is_read_in_inches_by_who_uses_them(pounds: Flask) -> None:
    centimetres = re.compile(r"\d cm\b")
    trials = read(pounds.test_client().get("/house/trials").text)
    assert "0.20 in" in trials
    assert not centimetres.search(trials)
    ines, wren = (as_anybody(pounds, name) for name in ("Ines Quarrie", "Wren Achterberg"))
    assert not centimetres.search(read(ines.get("/tape").text))
    assert re.search(r"change by [\d.]+ to [\d.]+ in,", read(ines.get("/tape").text))
    assert centimetres.search(read(wren.get("/tape").text)), "who reads lengths in centimetres goes on so"


FILES = (
    "/board?target=biceps_long", "/compare?with=chin-up&with=standing-dumbbell-curl&reading=load",
    "/variants/chin-up", "/bench/standing-dumbbell-curl",
    "/compare/one-thing/standing-dumbbell-curl?reading=load", "/claims/lower_bench_longer",
    "/sets?target=flexors&with=dumbbell",
)  # fmt: skip


@pytest.mark.parametrize(
    ("page", "ending"),
    [(page, ending) for page in FILES for ending in ("csv", "md", "svg")]
    + [(FILES[2], "pdf"), (FILES[4], "pdf")],
)
def test_what_leaves_the_house_is_in_pounds_as_well(pounds: Flask, page: str, ending: str) -> None:
    answer = pounds.test_client().get(f"/take.{ending}", query_string={"page": page})
    assert answer.status_code == 200
    if ending == "pdf":
        pages = pypdfium2.PdfDocument(answer.data)
        text = "".join(one.get_textpage().get_text_range() for one in pages)
    else:
        text = answer.text
    assert not KILOGRAMS.search(text)


COMMANDS = (
    "rank --target biceps_long --with dumbbell", "model standing-dumbbell-curl",
    "model chin-up --body 5ft10,176lb --load -5lb", "tempo standing-dumbbell-curl --load 30",
    "transfer standing-dumbbell-curl chin-up --load 30", "compare chin-up standing-dumbbell-curl",
    "series reclined-60-dumbbell-curl --field posture.trunk_pitch --steps -60:-30:15 --reading load",
    "doubt heads.brachialis.elbow_arm --target brachialis", "claims narrow_press",
)  # fmt: skip


@pytest.mark.parametrize("command", COMMANDS)
def test_a_shell_in_pounds_says_no_kilograms(command: str, tmp_path: Path) -> None:
    nowhere = {"CURVE_RANK_DATA": str(tmp_path)}
    done = CliRunner().invoke(main, [*command.split(), "--unit", "lb"], env=nowhere)
    assert done.exit_code == 0, done.output
    assert not KILOGRAMS.search(done.output)


def test_what_is_typed_is_read_in_the_commands_unit_or_its_own() -> None:
    def loads(*typed: str) -> dict[str, float]:
        line = ["transfer", "standing-dumbbell-curl", "pad-45-dumbbell-curl", "--json", "--load"]
        done = CliRunner().invoke(main, [*line, *typed])
        assert done.exit_code == 0, done.output
        found: dict[str, float] = json.loads(done.output)
        return found

    there = loads("25", "--unit", "lb")
    assert there == loads("25lb", "--unit", "lb")
    plain = loads("11.339809")["load_kg"]
    assert there["load_kg"] == loads("25 lb")["load_kg"] == pytest.approx(plain, rel=1e-3)
    assert there["rounded_kg"] % (2.5 * KG_PER_LB) == pytest.approx(0, abs=1e-2), "on the steps of its gym"
    wrong = CliRunner().invoke(main, ["model", "chin-up", "--load", "5 stone"])
    assert (wrong.exit_code, "a number, as in 12.5 or 27.5 lb" in wrong.output) == (2, True)
    wrong = CliRunner().invoke(main, ["model", "chin-up", "--body", "tall,heavy"])
    assert (wrong.exit_code, "5ft10,176lb" in wrong.output) == (2, True)


def test_a_load_typed_in_pounds_is_the_same_in_any_address(pounds: Flask) -> None:
    """The form's own unit, a unit behind the number, and the kilograms that addresses are in."""
    reader = pounds.test_client()
    ask = {"variant": "standing-dumbbell-curl", "to": "pad-45-dumbbell-curl", "reps": "10"}
    named, behind, plain = (
        reader.get("/loads.json", query_string=ask | more).json
        for more in ({"load": "25", "typed_in": "lb"}, {"load": "25 lb"}, {"load": f"{25 * KG_PER_LB}"})
    )
    assert named == behind
    assert named["load_kg"] == pytest.approx(plain["load_kg"], rel=1e-6)
    page = reader.get("/loads", query_string=ask | {"load": f"{25 * KG_PER_LB}"}).text
    assert 'value="25"' in page, "shown in the reader's unit, whoever's it was typed in"


def test_a_claim_by_so_many_pounds_is_kept_in_kilograms(pounds: Flask) -> None:
    reader = pounds.test_client()
    typed = {
        "name": "Pads ask for less", "says": "Less on the pad.", "other": "As much.", "reading": "load",
        "more": "standing-dumbbell-curl", "less": "pad-45-dumbbell-curl", "by": "5", "typed_in": "lb",
    }  # fmt: skip
    assert reader.post("/claims/new", data=typed).status_code == 303
    with desk_of(pounds).store.reading() as db:
        viewer = viewer_of(db, 1)
        assert viewer is not None
        kept = next(one for one in own_claims(db, viewer).values() if one.name == "Pads ask for less")
    assert kept.test is not None
    assert kept.test.by == pytest.approx(5 * KG_PER_LB)
    form = reader.get("/claims/new?reading=load&by=0.5&more=chin-up&less=pull-up-palms-away").text
    assert re.search(r'name="by"[^>]*value="1.1"', form)
