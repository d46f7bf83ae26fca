"""The catalogue and a page about each variant."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient
from markupsafe import escape

from curve_rank.catalogue.library import built_in
from curve_rank.rating.words import printed as number


@pytest.mark.parametrize(("value", "digits", "shown"), [(-0.3, 0, "0"), (2.5, 1, "+2.5"), (-7.6, 0, "−8")])
def test_what_rounds_to_nothing_has_no_sign(value: float, digits: int, shown: str) -> None:
    assert number(value, digits, sign=True) == shown


def test_the_catalogue_lists_every_variant_with_its_strip(client: FlaskClient) -> None:
    page = client.get("/variants").text
    assert page.count('class="strip ') == len(built_in()) + 3
    assert all(escape(v.name) in page for v in built_in())
    assert len(client.get("/variants.json").get_json()) == len(built_in()) + 3


@pytest.mark.parametrize("variant", built_in()[::17], ids=lambda v: v.id)
def test_each_has_a_page_with_intervals_faults_and_neighbours(client: FlaskClient, variant) -> None:  # type: ignore[no-untyped-def]
    page = client.get(f"/variants/{variant.id}")
    assert page.status_code == 200
    assert page.text.count('data-key="figure"') == 3
    said = re.sub(r"<[^>]+>", " ", page.text)  # tokens at random stand in the tags
    assert "nan" not in said.lower().replace("dominan", "")
    view = client.get(f"/variants/{variant.id}.json").get_json()
    assert {f["name"] for f in view["faults"]} == {f.name for f in variant.faults}
    inside = client.get(f"/variants/{variant.id}/faults", headers={"X-Part": "inside"}).text
    changes = [f["score_change"] for f in view["faults"] if f["score_change"] is not None]
    costs = (number(change, 1, sign=True) for change in changes)
    assert all(f'<td class="num">{cost}</td>' in inside for cost in costs)
    assert all(one["low"] <= one["value"] <= one["high"] for one in view["intervals"])
    assert len(view["neighbours"]) == 5
    assert len(view["complements"]) == 3
    assert view["document"]["id"] == variant.id
    assert {s["scheme"] for s in view["schemes"]} >= {"straight", "drop_set", "pair"}
    assert 0 < view["time"]["under_50_pct_s"] <= view["time"]["under_20_pct_s"]
    on_hands = any(line["kind"] == "body_weight" for line in view["document"]["lines"])
    assert (view["repetitions_at_body_weight"] is not None) == on_hands


def test_the_catalogue_is_ordered_by_a_reading_and_filtered(client: FlaskClient) -> None:
    page = client.get(
        "/variants?order=long_tension&head=triceps_long&hard=first&with=dumbbell&words=overhead"
    ).text
    told = [int(v) for v in re.findall(r"<small>(\d+) % of peak force", page)]
    assert len(told) > 2
    assert told == sorted(told, reverse=True)
    assert "Standing barbell curl" not in page
    assert "Nothing fits" in client.get("/variants?words=nothing-like-it").text
    for bad in ("order=beauty", "head=calf", "hard=long", "with=moon"):
        assert client.get(f"/variants?{bad}").status_code == 400


def test_what_was_merged_leads_to_what_it_was_merged_into(client: FlaskClient) -> None:
    for address in ("/variants/chin-up-weighted.json", "/bench/chin-up-assisted.json"):
        assert client.get(address).get_json()["variant"] == "chin-up"


@pytest.mark.parametrize("name", ["strip", "figure", "curves"])
def test_each_picture_stands_alone_on_light_and_dark_paper(client: FlaskClient, name: str) -> None:
    light, dark = (client.get(f"/variants/chin-up/{name}.svg?paper={p}") for p in ("light", "dark"))
    assert light.mimetype == dark.mimetype == "image/svg+xml"
    assert light.text != dark.text
    assert client.get("/variants/chin-up/portrait.svg").status_code == 400


def test_what_cannot_be_put_together_says_why_and_keeps_what_was_typed(client: FlaskClient) -> None:
    asked = {"muscles": "flexors", "base": "seated", "load": "machine", "grip": "up", "name": "In the air"}
    for wrong, says in (({}, "holds the upper arm"), ({"load": "rocket"}, "rocket"), ({"name": " "}, "name")):
        answer = client.post("/variants/new", data=asked | wrong)
        assert answer.status_code in (400, 404)
        assert says in answer.text
    assert 'value="In the air"' in client.post("/variants/new", data=asked).text


def test_the_words_of_ones_own_are_changed_where_they_stand_and_a_parents_are_left_behind(
    client: FlaskClient,
) -> None:
    moved = {"name": "High and far", "set": ["lines.0.up=1.2", "lines.0.forward=0.9"]}
    client.post("/bench/low-cable-bar-curl/save", data=moved)
    at = "/variants/own-high-and-far"
    saved = client.get(f"{at}.json").get_json()["document"]
    assert saved["setup"] == ["Straight bar, palms up, elbows at the sides."]
    assert "<s>Pulley at the floor" in client.get(f"{at}/words").text
    typed = {
        "name": "High and far away",
        "also": "far curl, long curl",
        "summary": "Far.",
        "setup": "One.\nTwo.",
    }
    typed |= {"cues": "Slow.", "cautions": "wrist", "take_setup": "Pulley at the floor, stand a short step."}
    kept = client.post(f"{at}/words", data=typed | {"drop": "pulley-one-hole-too-high"})
    assert kept.status_code == 303
    words = client.get(f"{at}.json").get_json()["document"]
    assert words["name"] == "High and far away"
    assert words["also_called"] == ["far curl", "long curl"]
    assert words["setup"] == ["One.", "Two.", "Pulley at the floor, stand a short step."]
    assert words["cautions"] == ["wrist"]
    assert len(words["faults"]) == len(saved["faults"]) - 1
    assert words["lines"] == saved["lines"]


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"name": ""}, "name"),
        ({"name": "Rope press-down"}, "no other set-up"),
        ({"cues": " "}, "cues"),
        ({"cautions": "knees"}, "cautions"),
        ({"fault": "x"}, "faults"),
    ],
)
def test_words_that_cannot_stand_say_so_and_stay_typed(
    client: FlaskClient, change: dict[str, str], says: str
) -> None:
    client.post("/bench/low-cable-bar-curl/save", data={"name": "Mine", "set": "lines.0.up=0.3"})
    typed = {"name": "Mine", "summary": "Good.", "setup": "Stay typed.", "cues": "Slow."}
    answer = client.post("/variants/own-mine/words", data=typed | change)
    assert answer.status_code == 400
    assert says in answer.text
    assert "Stay typed." in answer.text
    assert client.get("/variants/low-cable-bar-curl/words").status_code == 404
