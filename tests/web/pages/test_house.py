"""The house and the model: what the logs of forty made-up people say, editions, and who takes part."""

from __future__ import annotations

import json
import re
import shutil
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from click.testing import CliRunner
from flask import Flask
from sqlalchemy import delete, update

from curve_rank.answers.house_growth import about_growth
from curve_rank.answers.means import Library, Means
from curve_rank.answers.people import planner_for
from curve_rank.answers.spoken import speaking_for
from curve_rank.background.draws import Draws
from curve_rank.catalogue.library import built_in
from curve_rank.cli.main import main
from curve_rank.house.release import GROUPS_TOLD, release
from curve_rank.practice.facts import lines_for
from curve_rank.practice.profile import ClientProfile
from curve_rank.settings import Settings
from curve_rank.store.demo_house import SECOND_EDUCATOR, fill_demo_house
from curve_rank.store.house import forecasts, pooling
from curve_rank.store.tables import ForecastRow, Person, PlanClient, now
from curve_rank.store.viewers import local_educator, viewer_of
from curve_rank.study.claims import built_in_claims
from curve_rank.web import create_app
from tests.conftest import KEPT
from tests.helpers import Resting, desk_of, once_drawn
from tests.web.pages.conftest import Mill
from tests.web.pages.test_sign_in import as_anybody

WREN, TAMSIN, LIFTER = "Wren Achterberg", "Tamsin Brackwater", "Alba Underhill-Sedge"
SECOND = "Bram Underhill-Sedge"
FOUND = ("people", "own_error", "exercises", "pairs", "offsets", "numbers")
EXERCISES = ("palm-down-bar-curl", "standing-dumbbell-curl")
LOW = "helpers.wrist_extensors"
GROWTH_CLAIM = "hard_spot_place"


def test_the_capacity_that_is_too_low_is_found_told_and_put_into_an_edition(mill: Mill) -> None:
    assert "40 of 40 people who log agree" in mill.page.get("/house").text
    assert mill.data()["people"] == 0
    mill.freeze()
    told, page = mill.data(), mill.page.get("/house").text
    month = f"{datetime.now(UTC):%Y-%m}"
    speaking = [one for one in told["numbers"] if one["speaks"]]
    assert [one["key"] for one in speaking] == [LOW]
    low, high = (speaking[0][end] for end in ("low", "high"))
    assert low <= -1.5 + 0.7
    assert high < 0
    assert f"Wrist extensors: {speaking[0]['says']}" in " ".join(page.split())
    assert {"helpers.shoulder_in", "sharing.exponent"} <= {
        one["key"] for one in told["numbers"] if one["kind"] == "unseen"
    }
    assert "palm-down-bar-curl" in [one["variants"][0] for one in told["exercises"][:3]]
    assert LIFTER not in page  # nobody is named

    again = mill.page.post("/house/freeze")
    assert again.status_code == 400
    assert "not frozen yet" in again.text

    bad = mill.page.post("/house/editions", data={"name": "Mill", "month": "1999-01"})
    assert bad.status_code == 400
    assert "month" in bad.text
    made = mill.page.post("/house/editions", data={"name": "Mill", "note": "wrists", "month": month})
    assert made.status_code == 303
    (edition,) = mill.data()["editions"]
    assert (edition["speaks"], edition["current"]) == (False, True)
    before = loads(mill)
    assert mill.page.post("/house/speak", data={"edition": 77}).status_code == 400
    assert loads(mill) == before  # nothing moves by itself
    mill.page.post("/house/speak", data={"edition": edition["id"]})
    assert "<b>Mill</b>" in mill.page.get("/house").text
    assert "edition <b>Mill</b> has them" in " ".join(mill.page.get("/people").text.split())  # on every page
    maude = as_anybody(mill.app, "Maude Ellerby")
    assert "Mill" not in maude.get("/people").text  # another house's
    assert maude.get("/house.json").get_json()["editions"] == []
    assert maude.post("/house/speak", data={"edition": edition["id"]}).status_code == 400
    after, offsets = loads(mill), {one["variant"]: one["more"]["median"] for one in told["offsets"]}
    moved = {key: 100 * (after[key] / before[key] - 1) for key in EXERCISES}
    one, other = EXERCISES
    assert moved[one] - moved[other] == pytest.approx(offsets[one] - offsets[other], abs=3)
    mill.page.post("/house/speak")
    assert loads(mill) == before

    mill.page.post("/house/speak", data={"edition": edition["id"]})
    mill.says(LIFTER, agreed=False)
    assert loads(mill) == before  # withheld until it is worked out without them
    assert mill.data()["editions"][0]["current"] is False
    mill.page.post("/house/speak", data={"edition": edition["id"]})
    assert mill.data()["editions"][0]["current"] is True
    assert loads(mill) != before


def test_who_withdraws_or_is_deleted_was_never_there(
    mill: Mill, tmp_path: Path, demo_folder: Path, threads: ThreadPoolExecutor
) -> None:
    mill.freeze()
    whole = mill.data()
    mill.says(LIFTER, agreed=False)
    without = mill.data()
    assert without["people"] == whole["people"] - 1
    assert without["numbers"] != whole["numbers"]

    shutil.copytree(demo_folder, tmp_path / "other")
    settings = Settings(data=tmp_path / "other")
    other = create_app(settings, draws=Draws(lambda: threads), modeller=KEPT, demo=True)
    other.config["WTF_CSRF_ENABLED"] = False
    fill_demo_house(desk_of(other).store)
    never = Mill(other, as_anybody(other, SECOND_EDUCATOR))
    never.says(LIFTER, agreed=False)
    never.freeze()
    said = never.data()
    assert {part: said[part] for part in FOUND} == {part: without[part] for part in FOUND}
    for app in (mill.app, other):
        with desk_of(app).store.writing() as db:
            db.execute(delete(Person).where(Person.name == SECOND))
    assert mill.data()["people"] == without["people"] - 1
    assert {part: mill.data()[part] for part in FOUND} == {part: never.data()[part] for part in FOUND}
    mill.says(LIFTER, agreed=True)
    assert mill.data()["people"] == without["people"] - 1  # what was taken out comes back with the next month


def test_blocks_under_way_keep_what_spoke_when_they_were_handed_over(mill: Mill) -> None:
    today = ClientProfile().day_at(datetime.now(UTC))
    wren = mill.person(WREN)
    with desk_of(mill.app).store.writing() as db:
        viewer = local_educator(db)
        assert viewer
        agrees = viewer_of(db, mill.person("Ines Quarrie"))
        assert agrees
        pooling.say(db, agrees, agreed=True)
        pooling.keep_share(db, agrees.person, "2026-01", "{}")
        db.execute(update(PlanClient).values(handed_at=now() - timedelta(days=1)))
        number = pooling.make_edition(db, viewer, name="Kept", note="", month="2026-01")
        mark = pooling.mark_of(db, viewer, "2026-01")
        pooling.keep_offsets(db, number, '{"middle": {}, "spread": {}, "others": 0.1}', mark)
        assert pooling.begun_at(db, wren, today) is not None
        pooling.turn_to(db, viewer, number)
        assert speaking_for(db, None, today)[1] is None  # nobody's body is as published
        assert speaking_for(db, mill.person(LIFTER), today)[1] is None  # somebody else's house
        assert speaking_for(db, mill.person("Jory Feldspar"), today)[1] is not None
        assert speaking_for(db, wren, today)[1] is None
        db.execute(update(PlanClient).values(handed_at=now() + timedelta(seconds=1)))
        assert speaking_for(db, wren, today)[1] is not None  # handed over anew


def test_one_says_yes_or_no_oneself_and_only_teachers_of_theirs_see_what_comes_of_it(
    make_app: Callable[..., Flask],
) -> None:
    app = make_app(Resting, demo=True)
    wren, tamsin = as_anybody(app, WREN), as_anybody(app, TAMSIN)
    assert wren.get("/house").status_code == 403
    assert wren.post("/house/speak").status_code == 403
    assert tamsin.post("/house/speak").status_code == 403
    assert "takes no part" in wren.get("/account/house").text
    assert "0 of 2 people" in tamsin.get("/house").text
    assert wren.post("/account/house", data={"agreed": "maybe"}).status_code == 400
    wren.post("/account/house", data={"agreed": "yes"})
    assert "takes part" in wren.get("/account/house").text
    assert "1 of 2 people" in tamsin.get("/house").text
    assert "1 block of 1 person" in " ".join(tamsin.get("/house").text.split())  # Wren's arm was measured
    about = next(key for key, one in built_in_claims().items() if about_growth(one))
    claim = " ".join(tamsin.get(f"/claims/{about}").text.split())
    assert "What arms did here</b>: too few people were measured" in claim
    assert re.search(r"1 measured block of 1 person, and half a centimetre takes \d+", claim)
    assert "0 of 0" in as_anybody(app, "Osric Vayle").get("/house").text
    wren.post("/account/house", data={"agreed": "no"})
    assert "0 of 2 people" in tamsin.get("/house").text
    assert wren.get("/account/house").text.count("the wording") == 2  # what was said stays, with its words


def loads(mill: Mill) -> dict[str, float]:
    """What somebody begins with, for ten repetitions [kg]."""
    variants = tuple(v for v in built_in() if v.id in EXERCISES)
    desk = desk_of(mill.app)
    with desk.store.reading() as db:
        viewer = viewer_of(db, mill.person(SECOND_EDUCATOR))
        assert viewer
        planner = planner_for(db, viewer, mill.person(LIFTER), Means(Library(), desk.modeller, _undrawn))
        lines = lines_for(variants, planner.body, desk.modeller)
        facts = planner.house(lines) if planner.house else lines  # type: ignore[arg-type]
        return {key: round(one.base + one.slope * 0.7, 3) for key, one in facts.items()}


def _undrawn(*_: Any) -> Any:
    raise AssertionError("no draws are needed")


def test_what_is_foretold_is_kept_before_it_is_done_and_scored_then(make_app: Callable[..., Flask]) -> None:
    app = make_app(demo=True)
    wren, tamsin = as_anybody(app, WREN), as_anybody(app, TAMSIN)
    once_drawn(wren, "/today")
    desk = desk_of(app)
    assert foretold(app) == []  # who takes no part is not scored
    wren.post("/account/house", data={"agreed": "yes"})
    script = wren.get("/today.json").get_json()
    rows = foretold(app)
    assert rows
    planned = [one["variant"] for one in script["exercises"] if one["variant"] != "standing-dumbbell-curl"]
    assert {row.variant for row in rows} <= set(planned)  # a ramp begins too light to say anything
    wren.get("/today.json")
    assert [row.id for row in foretold(app)] == [row.id for row in rows]
    for session in (1, 2, 3):
        assert wren.get(f"/today.json?week=3&session={session}").status_code == 200
    kept = foretold(app)
    assert [row.id for row in kept[: len(rows)]] == [row.id for row in rows]  # what was foretold first stands
    assert len({row.variant for row in kept}) == len(kept) >= 4
    assert all(3 < row.expected < 30 and 1 < row.spread < 8 for row in kept)
    first = rows[0]
    sets = {
        "key": "told-0000001", "day": first.day.isoformat(), "variant": first.variant, "set": 1,
        "load_kg": first.load_kg, "reps": round(first.expected) - 2, "reserve": 2,
    }  # fmt: skip
    message = {"device": "phone", "written": 5, "seen": 0, "set": sets}
    sent = wren.post("/today/log", json={"person": script["person"], "messages": [message]})
    assert sent.get_json()["receipts"][0]["state"] == "kept"
    with desk.store.reading() as db:
        viewer = viewer_of(db, tamsin_number(app))
        assert viewer
        (scored,) = forecasts.scored(db, viewer)
        assert abs(scored.done - scored.expected) <= 0.51
    told = tamsin.get("/house.json").get_json()["calibration"]
    assert [one["forecasts"] for one in told["all"]] == [1]
    wren.post("/account/house", data={"agreed": "no"})
    assert foretold(app) == []
    assert tamsin.get("/house.json").get_json()["calibration"] == {}


def foretold(app: Flask) -> list[ForecastRow]:
    with desk_of(app).store.reading() as db:
        return list(db.query(ForecastRow).order_by(ForecastRow.id))


def tamsin_number(app: Flask) -> int:
    with desk_of(app).store.reading() as db:
        return int(db.query(Person).filter_by(name=TAMSIN).one().id)


def test_nothing_is_told_to_other_houses_by_so_few_and_what_they_tell_is_read(mill: Mill) -> None:
    mill.freeze()
    refused = mill.page.post("/house/releases")
    assert refused.status_code == 400
    assert "of fewer than 200 the noise" in " ".join(refused.text.split())
    assert mill.page.get("/house/releases/2026.json").status_code == 404
    rows = [{"flexors": 0.05}] * 220
    told = release(rows, GROUPS_TOLD, "groups", 2026, (), np.random.default_rng(1))
    for _ in range(2):  # read in twice, it is kept once
        kept = mill.page.post("/house/releases/read", data={"text": json.dumps(told.as_data(), indent=2)})
        assert kept.status_code == 303
    page = mill.page.get("/house").text
    assert "of 220 people" in page
    assert page.count("forget it") == 1
    assert f"flexors {100 * told.means['flexors']:+.1f} %".replace("-", "−") in " ".join(page.split())
    for text in ("", "[]", "{", '{"format": "x"}', json.dumps(told.as_data() | {"people": 0})):
        answer = mill.page.post("/house/releases/read", data={"text": text})
        assert answer.status_code == 400, text
    growth = {"text": json.dumps(told.as_data()), "claim": GROWTH_CLAIM}
    assert mill.page.post("/house/releases/read", data=growth).status_code == 400, "it tells of no trial"
    assert mill.page.post("/house/releases/read", data=growth | {"claim": "none-such"}).status_code in (
        400,
        404,
    )
    maude = as_anybody(mill.app, "Maude Ellerby")
    assert "of 220 people" not in maude.get("/house").text
    assert maude.post("/house/releases/forget", data={"number": 1}).status_code == 404
    assert mill.page.post("/house/releases/forget", data={"number": 1}).status_code == 303
    assert "forget it" not in mill.page.get("/house").text


def test_the_shell_reads_a_house_and_freezes_its_month(mill: Mill, tmp_path: Path) -> None:
    ran = CliRunner().invoke(main, ["house", "--data", str(tmp_path / "data"), "--json"])
    assert ran.exit_code == 0, ran.output
    assert json.loads(ran.output)["people"] == 0
    with desk_of(mill.app).store.writing() as db:
        owner = local_educator(db)
        assert owner
        teacher = mill.person(SECOND_EDUCATOR)
        db.execute(update(Person).where(Person.owner_id == teacher).values(owner_id=owner.person))
    ran = CliRunner().invoke(main, ["house", "--data", str(tmp_path / "data"), "--freeze"])
    assert ran.exit_code == 0, ran.output
    assert "40 of 42 who log agree" in ran.output
    assert "wrist extensors: −" in ran.output
    again = CliRunner().invoke(main, ["house", "--data", str(tmp_path / "data"), "--freeze"])
    assert again.exit_code == 2
    assert "not frozen yet" in again.output


def test_a_claim_about_loads_gets_a_second_pan_from_ones_own_floor_alone(mill: Mill) -> None:
    address = "/claims/thumb_up_is_stronger"
    assert "What is lifted here" not in mill.page.get(address).text
    mill.freeze()
    page = " ".join(mill.page.get(address).text.split())
    both = {one["variants"][0]: one for one in mill.data()["exercises"]}
    more, less = (
        both[key]["lifted"]["median"] for key in ("standing-thumb-up-curl", "standing-dumbbell-curl")
    )
    assert more > less
    assert re.search(r"What is lifted here</b>, by \d+ people who do both: \+\d+ % \(\+\d+ to \+\d+\)", page)
    assert "What is lifted here" not in mill.page.get("/claims/sits_up").text  # not about loads
    maude = as_anybody(mill.app, "Maude Ellerby")
    assert "What is lifted here" not in maude.get(address).text
    assert maude.post("/house/freeze").status_code == 400  # a month is frozen for everybody at once
