"""Clients and blocks without a browser: made, edited, undone, mended, printed, handed over, taken back."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from datetime import UTC, date, datetime

import pypdfium2
import pytest
from flask import Flask
from flask.testing import FlaskClient

from tests.helpers import Resting, once_drawn
from tests.web.pages.test_sign_in import as_anybody

TAMSIN, WREN, INES = "Tamsin Brackwater", "Wren Achterberg", "Ines Quarrie"
BLOCK = "/blocks/2"


@pytest.fixture
def house(make_app: Callable[..., Flask]) -> Flask:
    return make_app(Resting, demo=True)


@pytest.fixture
def coach(house: Flask) -> FlaskClient:
    return drawn(as_anybody(house, TAMSIN))


def drawn(client: FlaskClient) -> FlaskClient:
    """The same, once the arms of the block's clients are drawn."""
    for address in (BLOCK, *re.findall(r"/blocks/2\?for=\d+", client.get(BLOCK).text)):
        once_drawn(client, address)
    return client


def seen(page: str) -> str:
    found = re.search(r'name="seen" value="(\d+)"', page)
    assert found
    return found[1]


def sent(client: FlaskClient, edit: dict[str, object], **more: str) -> tuple[int, str]:
    form = {"seen": seen(client.get(BLOCK).text), "at": "1", "edit": json.dumps(edit)} | more
    answer = client.post(f"{BLOCK}/edit", data=form, follow_redirects=True)
    return answer.status_code, answer.text


def words_of(card: pypdfium2.PdfDocument) -> str:
    return " ".join(" ".join(page.get_textpage().get_text_bounded() for page in card).split())


def test_a_block_is_edited_undone_and_mended(coach: FlaskClient) -> None:
    page = coach.get(BLOCK).text
    assert "Lantern weeks" in page
    status, page = sent(coach, {"do": "move_session", "week": 0, "session": 0, "day": 1, "everywhere": True})
    assert status == 200
    assert "Tuesday" in page
    assert "undo: session moved to Tuesday" in page
    status, page = sent(coach, {"do": "move_session", "week": 0, "session": 0, "day": 2, "everywhere": True})
    assert status == 400
    assert "a day with a rest day before and after" in re.sub(r"\s+", " ", page)
    undone = coach.post(f"{BLOCK}/undo", data={"seen": seen(coach.get(BLOCK).text)}, follow_redirects=True)
    assert "Monday" in undone.text
    mend = re.search(r'name="edit" value="([^"]+)"><button class="link"', undone.text)
    assert mend
    text = mend[1].replace("&#34;", '"').replace("&quot;", '"')
    status, page = sent(coach, json.loads(text))
    assert status == 200
    assert mend[1] not in page
    status, _ = sent(
        coach, {"do": "swap_exercise", "week": 0, "session": 0, "exercise": 0, "variant": "rope Press-down"}
    )
    assert status == 200  # by its name, as it was typed


def test_an_edit_of_what_somebody_else_changed_is_told_and_kept(coach: FlaskClient) -> None:
    old = seen(coach.get(BLOCK).text)
    sent(coach, {"do": "add_week"})
    edit = json.dumps({"do": "easier_week", "week": 0})
    answer = coach.post(f"{BLOCK}/edit", data={"seen": old, "at": "1", "edit": edit})
    assert answer.status_code == 409
    assert "somebody else has changed it" in answer.text
    assert "Do it to the newest" in answer.text
    undone = coach.post(f"{BLOCK}/undo", data={"seen": old}, follow_redirects=True)
    assert "somebody else has changed it" in undone.text
    for wrong in (
        "[]",
        "{",
        '{"do": "fly"}',
        json.dumps({"do": "add_exercise", "week": 0, "session": 9, "variant": "x"}),
    ):
        form = {"seen": seen(coach.get(BLOCK).text), "edit": wrong}
        assert coach.post(f"{BLOCK}/edit", data=form).status_code == 400


def test_what_leaves_and_what_a_client_sees(house: Flask, coach: FlaskClient) -> None:
    data = coach.get(f"{BLOCK}.json").get_json()
    assert {"weeks", "warnings", "weekly_sets"} <= set(data)
    first = data["weeks"][0]["sessions"][0]["exercises"][0]
    assert first["sets"][0].keys() == {"load", "reps", "reserve"}
    wren = re.search(rf"for=(\d+)[^>]*>{WREN}", coach.get(BLOCK).text)
    assert wren
    loads = [coach.get(f"{BLOCK}.json?for={n}").get_json() for n in (wren[1],)]
    assert loads[0]["weeks"] != data["weeks"]  # own loads
    table = coach.get(f"{BLOCK}.csv").text.splitlines()
    assert table[0].startswith("week,day")
    assert len(table) > 40
    for paper, width in (("a4", 595), ("letter", 612)):
        card = pypdfium2.PdfDocument(coach.get(f"{BLOCK}/card.pdf?paper={paper}").data)
        assert round(card[0].get_width()) == width
        words = words_of(card)
        assert "Lantern weeks" in words
        assert re.search(r"3 sets of 8 to 12, \S+( to \d)? left in reserve, rest \d+ s", words)
        assert "Week 4" in words
        assert "Set the bench to 60° from the floor." in words
    (start,) = re.findall(r'name="start" type="date"[^>]*value="([\d-]+)"', coach.get("/blocks/new").text)
    assert date.fromisoformat(start).weekday() == 0
    assert 0 < (date.fromisoformat(start) - datetime.now(UTC).date()).days <= 7
    client = as_anybody(house, WREN)
    assert client.get("/").location == "/today"  # where a client begins
    mine = client.get("/my-block").text
    assert "Lantern weeks" in mine
    assert "Next" in mine
    assert client.get(BLOCK).status_code == 403
    assert client.get("/my-block/2/card.pdf").mimetype == "application/pdf"
    made = client.post("/my-block/2/feed", data={"on": "yes"}, follow_redirects=True).text
    link = re.search(r"/calendar/[a-z0-9]{28}\.ics", made)
    assert link
    stranger = house.test_client()
    assert stranger.get(link[0]).mimetype == "text/calendar"
    client.post("/my-block/2/feed", data={})
    assert stranger.get(link[0]).status_code == 404
    taken = coach.post(f"{BLOCK}/hand-over", data={"client": wren[1]})
    assert taken.status_code == 303
    assert client.get("/my-block/2").status_code == 404


def test_a_shared_block_bends_for_one_client_and_for_no_other(house: Flask, coach: FlaskClient) -> None:
    page = coach.get(BLOCK).text
    links = re.findall(r"for=(\d+)[^>]*>([^<]+)</a>", page)
    both = set(re.findall(r'name="client"\s+value="(\d+)"', page))
    ines = next((number for number, name in links if name == INES), "") or (both - {links[0][0]}).pop()
    (wren,) = {number for number, name in links if name == WREN} or both - {ines}
    before = {n: coach.get(f"{BLOCK}.json?for={n}").get_json()["weeks"] for n in (ines, wren)}
    shared, own = "standing-dumbbell-curl", "standing-thumb-up-curl"
    form = {"client": ines, "variant": shared, "own": own}
    told = coach.post(f"{BLOCK}/own-exercise", data=form, follow_redirects=True).text
    assert "alone; the others" in told
    assert "as the others" in told
    moved = coach.post(f"{BLOCK}/own-day", data={"client": ines, "of_day": "5", "day": "6"})
    assert moved.status_code == 303  # refused: Sunday touches the next Monday
    coach.post(f"{BLOCK}/own-day", data={"client": ines, "of_day": "3", "day": "2"}, follow_redirects=True)
    after = {n: coach.get(f"{BLOCK}.json?for={n}").get_json()["weeks"] for n in (ines, wren)}
    assert after[wren] == before[wren]
    told = [(s["day"], [e["variant"] for e in s["exercises"]]) for s in after[ines][0]["sessions"]]
    was = [(s["day"], [e["variant"] for e in s["exercises"]]) for s in before[ines][0]["sessions"]]
    days = {"thursday": "wednesday"}
    assert told == [
        (days.get(day, day), [own if key == shared else key for key in keys]) for day, keys in was
    ]
    card = pypdfium2.PdfDocument(coach.get(f"{BLOCK}/card.pdf?for={ines}").data)
    assert "Wednesday" in words_of(card)
    assert own in coach.get(f"{BLOCK}.csv?for={ines}").text
    assert own not in coach.get(f"{BLOCK}.csv?for={wren}").text
    mine = " ".join(as_anybody(house, INES).get("/my-block").text.split())
    assert "Wednesday" in mine
    assert "Wednesday" not in as_anybody(house, WREN).get("/my-block").text
    coach.post(f"{BLOCK}/own-exercise", data={"client": ines, "variant": shared, "own": ""})
    coach.post(f"{BLOCK}/own-day", data={"client": ines, "of_day": "3", "day": "3"})
    assert coach.get(f"{BLOCK}.json?for={ines}").get_json()["weeks"] == before[ines]
    stranger = as_anybody(house, "Osric Vayle")
    assert stranger.post(f"{BLOCK}/own-exercise", data=form).status_code == 404


def test_ids_of_others_answer_as_unknown(house: Flask) -> None:
    other = as_anybody(house, "Osric Vayle")
    mine = as_anybody(house, TAMSIN)
    page = mine.get("/clients").text
    (wren,) = re.findall(rf'/record/(\d+)">{WREN}', page)
    for address in (
        f"/clients/{wren}",
        f"/clients/{wren}/check",
        BLOCK,
        f"{BLOCK}.json",
        f"{BLOCK}/card.pdf",
        f"{BLOCK}.ics",
    ):
        assert other.get(address).status_code == 404, address
        assert other.get(address.replace(wren, "999").replace("/2", "/999")).status_code == 404
        assert mine.get(address).status_code == 200, address
    for post, form in (
        (f"/clients/{wren}/profile", {"version": "0"}),
        (f"/clients/{wren}/check", {"shoulder_back": "10"}),
        (f"/clients/{wren}/size", {"height": "170", "mass": "70"}),
        (f"/clients/{wren}/invite", {"email": "a@b.c"}),
        (f"{BLOCK}/edit", {"seen": "1", "edit": '{"do": "add_week"}'}),
        (f"{BLOCK}/undo", {"seen": "1"}),
        (f"{BLOCK}/remove", {}),
        (f"{BLOCK}/load", {"client": wren, "variant": "x"}),
        (f"{BLOCK}/hand-over", {"client": wren}),
        (f"{BLOCK}/template", {"name": "x"}),
    ):
        assert other.post(post, data=form).status_code == 404, post
    client = as_anybody(house, INES)
    assert client.get(f"/clients/{wren}/check").status_code == 404
    assert client.post("/my-block/1/feed", data={"on": "yes"}).status_code == 404


def test_a_client_is_written_down_fitted_and_planned_for(house: Flask, coach: FlaskClient) -> None:
    added = coach.post("/clients", data={"name": "Bryn Tolley"})
    address = added.location
    person = address.rpartition("/")[2]
    assert coach.post("/clients", data={"name": " "}).status_code == 400
    size = {"height": "", "mass": "70"}
    assert coach.post(f"{address}/size", data=size).status_code == 400
    assert coach.post(f"{address}/size", data=size | {"height": "178", "mass": "80"}).status_code == 303
    profile = {
        "version": "0",
        "target": ["biceps_long"],
        "day": ["0", "2", "4"],
        "minutes": "50",
        "mass_unit": "lb",
    }
    assert coach.post(f"{address}/profile", data=profile | {"zone": "Moon/Base"}).status_code == 400
    homes = re.findall(r"/rooms/(\d+)", as_anybody(house, "Maude Ellerby").get("/clients").text)
    (theirs,) = set(homes) - set(re.findall(r"/rooms/(\d+)", coach.get("/clients").text))
    assert coach.post(f"{address}/profile", data=profile | {"room": theirs}).status_code == 404
    assert coach.post(f"{address}/profile", data=profile).status_code == 303
    assert coach.post(f"{address}/profile", data=profile).status_code == 409
    checked = coach.post(f"{address}/check", data={"version": "1", "shoulder_back": "45"})
    assert checked.status_code == 303
    assert "45°" in coach.get(address).text
    fitted = coach.get(f"{address}/fitted/reclined-30-dumbbell-curl").text
    assert "45° from the floor" in fitted
    assert "points by" in fitted
    wish = {"for": person, "name": "First weeks", "pick": ["standing-dumbbell-curl", "rope-press-down"]}
    refused = coach.post("/blocks", data=wish | {"per_week": "4"})
    assert refused.status_code == 400
    assert "rest day between" in refused.text
    made = coach.post("/blocks", data=wish)
    assert made.status_code == 303
    page = coach.get(made.location).text
    assert "First weeks" in page
    assert " lb" in page
    kept = coach.post(f"{made.location}/template", data={"name": "House start"})
    assert kept.status_code == 303
    again = coach.post("/blocks", data={"template": "own-house-start", "name": "For nobody"})
    assert "For nobody" in coach.get(again.location).text
    too_long = {"name": "n" * 81}
    for where, form in (
        ("/blocks", wish), ("/blocks", {"template": "own-house-start"}), (f"{made.location}/template", {}),
    ):  # fmt: skip
        refused = coach.post(where, data=form | too_long)
        assert (refused.status_code, "at most 80 characters" in refused.text) == (400, True)
    gone = coach.post(f"{made.location}/remove", follow_redirects=True).text
    assert "is removed" in gone
    assert coach.get(made.location).status_code == 404
    assert coach.post(f"{made.location}/put-back").status_code == 303
    room = {"name": "Shed", "dumbbells_kg": "2-10 by 2, 14", "plates_kg": "5", "with": "dumbbell"}
    assert coach.post("/rooms", data=room | {"dumbbells_kg": "heavy"}).status_code == 400
    assert coach.post("/rooms", data=room).status_code == 303
    assert "Shed" in coach.get("/clients").text
    in_pounds = {"unit": "lb", "dumbbells_kg": "10-30 by 5", "bar_kg": "45", "plates_kg": "2.5 5"}
    assert coach.post("/rooms", data=in_pounds | {"name": "Loft"}).status_code == 303
    number = re.search(r"/rooms/(\d+)[^>]*>\s*Loft", coach.get("/clients").text)
    assert number
    loft = coach.get(f"/rooms/{number[1]}").text
    assert 'value="10 15 20 25 30"' in loft
    assert re.search(r'name="bar_kg"\s+value="45"', loft)
    assert "Straight bar [lb]" in loft
    assert 'value="2.5 5 7.5' in coach.get("/rooms/new?unit=lb").text


def test_a_block_outlives_an_exercise_of_ones_own(coach: FlaskClient) -> None:
    form = {"name": "Leaning", "set": "posture.trunk_pitch=5"}
    kept = coach.post("/bench/standing-dumbbell-curl/save", data=form)
    assert kept.status_code == 303
    add = {"do": "add_exercise", "week": 0, "session": 0, "variant": "own-leaning", "everywhere": True}
    status, page = sent(coach, add)
    assert status == 200
    assert "Leaning" in page
    coach.post("/bench/own-leaning/remove")
    page = coach.get(BLOCK).text
    assert "Cannot be done by this client" in page
    assert "own-leaning" in page
    assert coach.get(f"{BLOCK}.json").status_code == 200
    assert coach.get(f"{BLOCK}/card.pdf").status_code == 200
    status, _ = sent(coach, {"do": "warm_up", "week": 0, "session": 0})
    assert status == 400
    gone = {"do": "remove_exercise", "week": 0, "session": 0, "exercise": 3, "everywhere": True}
    status, page = sent(coach, gone)
    assert "own-leaning" not in page


def test_of_whom_no_set_is_known_a_level_is_said(coach: FlaskClient) -> None:
    """Loads go with it; a known set takes its place, and a word that is no level changes nothing."""
    address = coach.post("/clients", data={"name": "Odo Larch"}).location
    size = {"height": "178", "mass": "80", "load": ""}

    def load() -> float:
        person = address.rpartition("/")[2]
        rows = coach.get(f"/board.json?target=biceps_long&for={person}").get_json()["rows"]
        return next(row["load_kg"] for row in rows if row["variant"] == "standing-dumbbell-curl")

    found = {}
    for level in ("untrained", "trained", "strong"):
        assert coach.post(f"{address}/size", data=size | {"level": level}).status_code == 303
        page = coach.get(address).text
        assert f'<option value="{level}" selected>' in page
        assert "about a quarter apart" in page
        found[level] = load()
    assert found["untrained"] < 0.8 * found["trained"] < 0.7 * found["strong"]
    refused = coach.post(f"{address}/size", data=size | {"level": "superhuman"})
    assert refused.status_code == 400
    assert "superhuman" in refused.text
    assert load() == found["strong"]
    known = size | {"load": "14", "reps": "10", "variant": "standing-dumbbell-curl", "level": "strong"}
    assert coach.post(f"{address}/size", data=known).status_code == 303
    assert load() == pytest.approx(14, rel=0.08)
    assert "about a quarter apart" not in coach.get(address).text
