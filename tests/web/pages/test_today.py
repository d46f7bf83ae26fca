"""Today and what devices send to it; records, tape, reviews and files, as pages."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Callable
from datetime import date, timedelta
from typing import Any
from urllib.parse import parse_qsl, urlsplit

import pytest
from flask import Flask
from flask.testing import FlaskClient
from PIL import Image

from curve_rank.arm.draws import uncertain
from curve_rank.catalogue.library import built_in
from curve_rank.store import logs, plans
from curve_rank.store.tables import Person, PlanState, SetRow
from curve_rank.store.viewers import viewer_of
from curve_rank.training.learning import LogFindings, learned_data
from tests.answers.surfaces import words_of
from tests.helpers import Resting, desk_of, once_drawn
from tests.photographs import as_jpeg
from tests.web.pages.test_sign_in import as_anybody

WREN, INES, TAMSIN, OSRIC = "Wren Achterberg", "Ines Quarrie", "Tamsin Brackwater", "Osric Vayle"


@pytest.fixture
def house(make_app: Callable[..., Flask]) -> Flask:
    return make_app(Resting, demo=True)


def number_of(app: Flask, name: str) -> int:
    with desk_of(app).store.reading() as session:
        return int(session.query(Person).filter_by(name=name).one().id)


def a_message(key: str, **told: Any) -> dict[str, Any]:
    one = {"key": key, "day": "2026-03-02", "variant": "chin-up", "load_kg": 0, "reps": 8} | told
    return {"device": "phone", "written": 5, "seen": 0, "set": one}


def sent(client: FlaskClient, person: int, *messages: Any) -> dict[str, dict[str, Any]]:
    answer = client.post("/today/log", json={"person": person, "messages": list(messages)})
    assert answer.status_code == 200, answer.text
    return {one["key"]: one for one in answer.get_json()["receipts"]}


def test_what_is_sent_is_kept_once_and_what_cannot_be_read_stops_nothing(house: Flask) -> None:
    wren, me = as_anybody(house, WREN), number_of(house, WREN)
    good, bad = a_message("good-000001"), a_message("bad-0000001", reps=-4)
    told = sent(wren, me, good, bad, {"device": "phone"}, 7)
    assert told["good-000001"]["state"] == "kept"
    assert told["bad-0000001"]["state"] == "refused"
    assert "reps" in told["bad-0000001"]["problem"]
    assert sent(wren, me, good)["good-000001"]["state"] == "known"
    assert wren.get("/today/queue.json").get_json()["person"] == me
    for wrong in ({"person": me + 1, "messages": [good]}, {"person": me}, [], "x"):
        assert wren.post("/today/log", json=wrong).status_code == 400
    many = [a_message(f"many-{n:06d}") for n in range(201)]
    assert wren.post("/today/log", json={"person": me, "messages": many}).status_code == 400
    assert house.test_client().get("/today/worker.js").headers["Service-Worker-Allowed"] == "/today"


def test_today_gives_each_target_with_its_reason_and_swaps_that_spare(house: Flask) -> None:
    wren = as_anybody(house, WREN)
    data = wren.get("/today.json").get_json()
    assert data["exercises"]
    for one in data["exercises"]:
        target = data["targets"][one["variant"]]
        assert target["reason"]
        loads = [load for load, _ in one["steps"]]
        assert not one["sets"] or one["sets"][0]["load"] in loads
        assert all(swap["reason"] for swap in one["swaps"])
    page = wren.get("/today").text
    assert (
        "Set 1 of" not in page or "<noscript>" in page
    )  # the sentence is the script's, the list is the page's
    assert wren.get("/today?block=99").status_code == 404
    with desk_of(house).store.reading() as session:
        viewer = viewer_of(session, number_of(house, WREN))
        assert viewer
        block = plans.handed_to(session, viewer)[0].id
    assert wren.get(f"/today?block={block}&week=9&session=1").status_code == 400
    assert wren.get(f"/today?block={block}&week=1&session=2&also=chin-up").status_code == 200


def test_a_paused_exercise_is_not_for_today_and_others_spare_the_joint(house: Flask) -> None:
    ines = as_anybody(house, INES)
    data = ines.get("/today.json?block=2&week=3&session=1").get_json()
    sore = next(one for one in data["exercises"] if one["variant"] == "overhead-dumbbell-one-arm")
    assert sore["sets"] == []
    assert data["targets"][sore["variant"]]["action"] == "pause"
    assert sore["swaps"]
    assert all("shoulder" not in swap["strains"] for swap in sore["swaps"])
    assert all(swap["family"] != "overhead" for swap in sore["swaps"])
    page = ines.get("/today?block=2&week=3&session=1").text
    assert "Instead, sparing it:" in page
    assert "see a licensed clinician" in page


def test_a_set_is_corrected_with_its_history_by_client_and_coach_and_nobody_else(house: Flask) -> None:
    wren, coach, other = (as_anybody(house, name) for name in (WREN, TAMSIN, OSRIC))
    me = number_of(house, WREN)
    sent(wren, me, a_message("mend-000001"))
    where = f"/record/{me}/sets/mend-000001"
    assert wren.post(where, data={"seen": 1, "load": "2.5", "reps": 9, "reserve": 1}).status_code == 303
    page = coach.get(where).text
    assert 'value="2.5"' in page
    assert "× 8" in page
    assert coach.post(where, data={"seen": 2, "load": "x", "reps": 9}).status_code == 400
    # The coach saw an older state than the client has written meanwhile: both are kept.
    assert coach.post(where, data={"seen": 1, "load": "5", "reps": 9}).status_code == 303
    page = wren.get("/my-record").text
    assert "Two devices wrote this set differently" in page
    (version,) = set(re.findall(r'name="version" value="(\d+)"', page))
    assert wren.post(f"{where}/settle", data={"version": version, "take": "yes"}).status_code == 303
    assert 'value="5"' in wren.get(where).text
    for path in (where, f"/record/{me}", f"/record/{me}/log.csv", f"/tape/{me}", f"/record/{me}/import"):
        assert other.get(path).status_code == 404, path
    assert other.post(where, data={"seen": 1}).status_code == 404
    assert other.post(f"/record/{me}/comments", data={"text": "hello"}).status_code == 404


def test_what_is_left_is_said_where_a_correction_changes_it(house: Flask) -> None:
    wren, me = as_anybody(house, WREN), number_of(house, WREN)
    sent(wren, me, a_message("mend-000002", reserve=2, as_planned=True))
    where = f"/record/{me}/sets/mend-000002"

    def is_planned() -> bool:
        with desk_of(house).store.reading() as session:
            return session.query(SetRow).filter_by(key="mend-000002").one().as_planned

    same = {"seen": 1, "load": "2.5", "reps": 9, "reserve": 2}
    assert wren.post(where, data=same).status_code == 303
    assert is_planned()
    assert wren.post(where, data=same | {"seen": 2, "reserve": 0}).status_code == 303
    assert not is_planned()


def test_files_are_looked_at_and_kept_whole(house: Flask) -> None:
    coach, me = as_anybody(house, TAMSIN), number_of(house, WREN)
    where = f"/record/{me}/import"
    text = "date;exercise;weight kg;reps\n03.04.2026;chin-up;2,5;8\n14.04.2026;my curl;10;8\n"

    def post(**told: Any) -> Any:
        return coach.post(where, data=told, content_type="multipart/form-data")

    look = post(file=(io.BytesIO(text.encode()), "log.csv"), step="look")
    shown = " ".join(look.text.split())
    assert "1 of 2 rows can be kept" in shown
    assert "Row 3, exercise: “my curl”" in shown
    columns = {
        "column.date": "date",
        "column.variant": "exercise",
        "column.load_kg": "weight kg",
        "column.reps": "reps",
    }
    named = columns | {"text": text, "order": "dmy", "name.my curl": "standing-dumbbell-curl"}
    assert post(**named, step="keep").status_code == 303
    with desk_of(house).store.reading() as session:
        rows = session.query(SetRow).filter(SetRow.key.startswith("csv-")).all()
        assert {(row.variant, row.load_kg) for row in rows} == {
            ("chin-up", 2.5),
            ("standing-dumbbell-curl", 10),
        }
    assert post(**named, step="keep").status_code == 303
    with desk_of(house).store.reading() as session:
        assert session.query(SetRow).filter(SetRow.key.startswith("csv-")).count() == 2
    assert post(text="nonsense", step="look").status_code == 400
    assert post(**(named | {"column.date": "no such"}), step="look").status_code == 400
    assert post(file=(io.BytesIO(b"x" * (50 * 2**20)), "log.csv")).status_code == 413
    back = coach.get(f"/record/{me}/log.csv").text
    assert back.startswith("date,variant,side,set,load_kg,reps,reserve,pain_joint,pain,note")


def test_a_large_file_shows_how_far_it_is_and_stopped_keeps_nothing(
    house: Flask, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("curve_rank.web.pages.record.files.PATIENCE", 0.0)
    coach, other, me = as_anybody(house, TAMSIN), as_anybody(house, INES), number_of(house, WREN)
    rows = "".join(
        f"{date(2016, 1, 1) + timedelta(days=n // 4)},standing-dumbbell-curl,{n % 4 + 1},{10 + n % 3 * 2},8\n"
        for n in range(1200)
    )
    told = {
        "text": "date,exercise,set,weight,reps\n" + rows,
        "column.date": "date", "column.variant": "exercise", "column.set": "set",
        "column.load_kg": "weight", "column.reps": "reps", "step": "keep", "sure": "kg",
    }  # fmt: skip

    def kept() -> int:
        with desk_of(house).store.reading() as session:
            return session.query(SetRow).filter(SetRow.key.startswith("csv-")).count()

    with desk_of(house).store.writing():  # nobody else can write: the file waits
        watched = coach.post(f"/record/{me}/import", data=told).location
        assert "1,200 sets are being kept" in words_of(coach.get(watched).text)
        assert coach.get(watched.replace("run?", "run.json?")).json == {
            "state": "running", "done": 0, "total": 1200, "problem": "",
        }  # fmt: skip
        named = dict(parse_qsl(urlsplit(watched).query))
        assert other.post(f"/record/{me}/import/stop", data=named).status_code == 404
        coach.post(f"/record/{me}/import/stop", data=named)
    (run,) = desk_of(house).imports.runs._runs.values()
    assert run.wait(20)
    assert (run.state, kept()) == ("cancelled", 0)
    assert coach.get(watched).location == f"/record/{me}/import"
    assert "nothing of the file was kept" in coach.get(f"/record/{me}/import").text
    again = coach.post(f"/record/{me}/import", data=told).location
    (run,) = desk_of(house).imports.runs._runs.values()
    assert run.wait(20)
    assert coach.get(again).location == f"/record/{me}"
    assert "1,200 sets kept." in coach.get(f"/record/{me}").text
    assert kept() == 1200


def test_a_file_whose_loads_look_like_the_other_unit_is_asked_about(house: Flask) -> None:
    coach, me = as_anybody(house, TAMSIN), number_of(house, WREN)
    rows = "".join(f"2026-04-{day:02d},standing-dumbbell-curl,35,10,2\n" for day in range(3, 9))
    told = {
        "text": "date,exercise,weight,reps,left\n" + rows,
        "column.date": "date", "column.variant": "exercise", "column.load_kg": "weight",
        "column.reps": "reps", "column.reserve": "left",
    }  # fmt: skip
    asked = coach.post(f"/record/{me}/import", data=told | {"step": "keep"})
    assert asked.status_code == 422
    assert "Are these loads in lb?" in asked.text
    assert (
        coach.post(f"/record/{me}/import", data=told | {"step": "keep", "load_unit": "lb"}).status_code == 303
    )
    sure = told | {"step": "keep", "sure": "kg"}
    assert coach.post(f"/record/{me}/import", data=sure).status_code == 303
    tiny = told | {"text": told["text"].replace(",35,", ",9,"), "step": "keep", "load_unit": "lb"}
    assert "Are these loads in kg?" in coach.post(f"/record/{me}/import", data=tiny).text


def test_whoever_trains_in_pounds_reads_pounds_alone(house: Flask) -> None:
    """But for what stands on the room's equipment: which dumbbell, which pin."""
    wren, coach, me = as_anybody(house, WREN), as_anybody(house, TAMSIN), number_of(house, WREN)
    assert wren.post("/account/unit", data={"mass_unit": "lb"}).status_code == 303
    assert wren.get("/today.json").get_json()["unit"] == "lb"
    hurt = {
        "day": date.today().isoformat(),
        "variant": "chin-up",
        "load_kg": 5,
        "reps": 6,
        "key": "hurt-0000001",
    }
    message = {"device": "p", "written": 1, "set": hurt | {"pain": 7, "pain_joint": "elbow"}}
    assert wren.post("/today/log", json={"person": me, "messages": [message]}).status_code == 200
    marked = re.compile(r"(dumbbells?|pin at|empty bar|bar|each side|hang)[^.;,]* kg")
    for who, address in (
        (wren, "/today"), (wren, "/my-block"), (wren, "/my-record"),
        (coach, f"/record/{me}"), (coach, f"/blocks/1?for={me}"), (coach, f"/reviews/1?for={me}"),
    ):  # fmt: skip
        words = marked.sub("", words_of(who.get(address).text))
        assert re.findall(r".{40}\d kg\b.{20}", words) == [], address
    assert "set 1 on" in coach.get("/clients").text
    assert "5 kg × 6, 7 of 10" not in coach.get("/clients").text
    calendar = coach.get(f"/blocks/1.ics?for={me}").text.replace("\r\n ", "")
    assert " lb ×" in calendar
    assert " kg" not in calendar


def test_the_tape_is_for_both_ends_and_photographs_for_oneself(house: Flask) -> None:
    wren, coach, me = as_anybody(house, WREN), as_anybody(house, TAMSIN), number_of(house, WREN)
    assert "Not yet: the block ends on" in wren.get("/tape").text
    numbers = {f"{state}_{n}": 28 + n / 10 for state in ("relaxed", "flexed") for n in (1, 2, 3)}
    assert wren.post(f"/tape/{me}", data=numbers | {"when": "end", "relaxed_1": 50}).status_code == 400
    assert wren.post(f"/tape/{me}", data=numbers | {"when": "end", "relaxed_1": "wide"}).status_code == 400
    assert wren.post(f"/tape/{me}", data=numbers | {"when": "end"}).status_code == 303
    jpeg = io.BytesIO(as_jpeg(Image.new("RGB", (200, 240), "tan")))
    picture = {"picture": (jpeg, "arm.jpg"), "when": "start"}
    kept = wren.post("/tape/photographs", data=picture, content_type="multipart/form-data")
    assert kept.status_code == 303
    (number,) = set(re.findall(r"/tape/photographs/(\d+)\"", wren.get("/tape").text))
    assert wren.get(f"/tape/photographs/{number}").mimetype == "image/jpeg"
    for stranger in (coach, as_anybody(house, "Maude Ellerby")):
        assert stranger.get(f"/tape/photographs/{number}").status_code == 404
    assert f"photographs/{number}" not in coach.get(f"/tape/{me}").text
    assert wren.post(f"/tape/photographs/{number}/remove").status_code == 303
    assert wren.get(f"/tape/photographs/{number}").status_code == 404


def test_a_block_ends_with_a_review_and_the_next_is_one_click(house: Flask) -> None:
    coach, wren, me = as_anybody(house, TAMSIN), as_anybody(house, WREN), number_of(house, WREN)
    page = coach.get("/clients").text
    assert "Paused: the shoulders hurt in 2 sessions running" in page
    assert "nobody has answered" in page
    review = wren.get("/reviews/1").text
    assert "11 of 12 sessions" in review
    assert "within the error of measuring" in review
    assert wren.post("/reviews/1/next").status_code == 403
    made = coach.post(f"/reviews/1/next?for={me}")
    assert made.status_code == 303
    assert "Harvest arms, 2" in coach.get(made.location).text
    told = coach.get(f"/reviews/1.json?for={me}").get_json()
    assert told["adherence"]["planned"] == 12
    assert as_anybody(house, OSRIC).get(f"/reviews/1?for={me}").status_code == 404


def strips(client: FlaskClient, address: str) -> set[str]:
    """The outlines in a page's pictures."""
    return set(re.findall(r'<path d="([^"]{80,})"', once_drawn(client, address)))


def test_curves_follow_the_arm_that_the_log_speaks_of_until_learning_is_put_off(house: Flask) -> None:
    coach, wren, me = as_anybody(house, TAMSIN), as_anybody(house, WREN), number_of(house, WREN)
    pages = ((coach, f"/blocks/2?for={me}"), (wren, "/my-block"), (wren, "/today"))
    plain = [strips(*page) for page in pages]
    of_log = LogFindings({}, 400, 30, 4, middle=(0.8,) * len(uncertain()))
    with desk_of(house).store.writing() as session:
        logs.keep_learned(session, me, json.dumps(learned_data(of_log)), "")
    own = [strips(*page) for page in pages]
    of_block, of_mine, of_today = (after - before for before, after in zip(plain, own, strict=True))
    assert of_mine == of_block
    assert of_mine & of_today
    coach.post(f"/record/{me}/learning", data={})
    assert [strips(*page) for page in pages] == plain


def test_a_trial_is_planned_by_a_coin_and_says_what_it_may(house: Flask) -> None:
    coach, me = as_anybody(house, TAMSIN), number_of(house, WREN)
    assert coach.post("/trials", data={"for": me, "weeks": 3}).status_code == 400
    assert coach.post("/trials", data={"for": number_of(house, "Pell Okonjo-Lind")}).status_code == 400
    made = coach.post("/trials", data={"for": me, "first": "heavy", "second": "high"})
    assert made.status_code == 303
    page = coach.get(made.location).text
    assert "Heavy, 5 to 8 repetitions" in page
    assert "Too few is logged" in page or "Too little is logged" in page
    number = made.location.rpartition("/")[2]
    assert as_anybody(house, OSRIC).get(f"/trials/{number}").status_code == 404
    with desk_of(house).store.reading() as session:
        starts = sorted(
            date.fromisoformat(re.findall(r'"start":"([\d-]+)"', row.content)[0])
            for row in session.query(PlanState).order_by(PlanState.id.desc()).limit(2)
        )
    assert starts[1] - starts[0] == timedelta(weeks=8)
    both = {"for": me, "design": "crossed", "weeks": 6}
    crossed = coach.get(coach.post("/trials", data=both).location)
    assert "Flexors heavy, 5 to 8 repetitions; extensors high repetitions" in crossed.text
    assert "Crossed, 6 weeks each: where one way does 2 % a week more" in crossed.text
    with desk_of(house).store.reading() as session:
        last = session.query(PlanState).order_by(PlanState.id.desc()).limit(2)
        blocks = [json.loads(row.content)["weeks"][0]["sessions"][0]["exercises"] for row in last]
    groups = {v.id: v.group for v in built_in()}
    ranges = [{(groups[e["variant"]], e["reps_from"]) for e in one} for one in blocks]
    assert sorted(map(sorted, ranges)) == [
        [("extensors", 5), ("flexors", 15)], [("extensors", 15), ("flexors", 5)]
    ]  # fmt: skip
    for wrong in ({"weeks": 5}, {"second": "heavy"}, {"first": "1"}):
        assert coach.post("/trials", data=both | wrong).status_code == 400
