"""Claims: the ledger, one claim, and claims written down from the board, a comparison or a series."""

from __future__ import annotations

import json
import re
import time
from html import unescape
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.store.verdicts import Stamp, keep_verdicts, kept_verdicts
from curve_rank.store.viewers import local_educator
from curve_rank.study.claims import built_in_claims
from tests.helpers import desk_of

OWN = {
    "name": "Chin-ups for the biceps", "says": "They win.", "other": "They do not.",
    "more": ["chin-up, Shoulder-width", ""], "less": ["pull-up-palms-away"],
    "reading": "work_share", "head": "biceps_long", "by": "1,5",
    "notes": "To be settled.", "sources": "One book\n\nAnother",
}  # fmt: skip


def ledger(client: FlaskClient, query: str = "") -> list[dict[str, Any]]:
    """The ledger once every verdict is there."""
    for _ in range(300):
        if client.get("/claims/working.json").get_json()["state"] != "running":
            break
        time.sleep(0.1)
    told: list[dict[str, Any]] = client.get(f"/claims.json{query}").get_json()
    return told


def test_the_ledger_lists_all_claims_with_verdicts_and_filters(client: FlaskClient) -> None:
    told = ledger(client)
    assert len(told) == len(built_in_claims()) + 2
    assert all(one["verdict"] for one in told)
    for verdict in ("holds", "fails", "too_close", "outside"):
        ids = {one["id"] for one in told if one["verdict"] == verdict}
        assert ids == {one["id"] for one in ledger(client, f"?verdict={verdict}")}
        page = client.get(f"/claims?verdict={verdict}").text
        assert set(re.findall(r'<article class="weighed [a-z_]+" id="([^"]+)"', page)) == ids
    assert {one["id"] for one in ledger(client, "?own=1")} == {
        "own-hayloft-recline-against-the-pad",
        "own-warm-elbows-first",
    }
    assert client.get("/claims?verdict=maybe").status_code == 400
    assert client.get("/claims/nothing").status_code == 404


def test_one_claim_shows_what_is_modelled_what_it_hangs_on_and_its_history(
    app: Flask, client: FlaskClient
) -> None:
    ledger(client)
    page = " ".join(client.get("/claims/sits_up").text.split())
    for words in ("What is modelled", "What it hangs on", "What would turn it", "Side by side", "2.9"):
        assert words in page
    assert "History" not in page
    with desk_of(app).store.writing() as session:
        viewer = local_educator(session)
        assert viewer
        now = kept_verdicts(session, viewer)
        before = Stamp(now["sits_up"][-1].stamp.setups, "otherwise", now["sits_up"][-1].stamp.model)
        keep_verdicts(session, viewer, {"sits_up": (before, now["narrow_press"][-1].verdict)})
    again = " ".join(client.get("/claims/sits_up").text.split())
    assert "is being worked out" in again or "Fails until the parameters changed" in again
    ledger(client)
    assert "Fails until the parameters changed" in client.get("/claims/sits_up").text


@pytest.mark.parametrize(
    ("page", "words"),
    [
        ("/board/rows/reclined-60-dumbbell-curl?target=biceps_long", "Write it down as a claim"),
        ("/compare?with=chin-up&with=pull-up-palms-away", "claim it"),
        (
            "/compare/one-thing/pad-45-dumbbell-curl?field=posture.upper_arm&reading=slack_share",
            "Make a claim",
        ),
    ],
)
def test_a_claim_is_made_from_a_page_in_two_steps(client: FlaskClient, page: str, words: str) -> None:
    links = re.findall(r'class="claim-link" href="([^"]+)">([^<]+)<', client.get(page).text)
    address = next(unescape(href) for href, text in links if words in text)
    form = client.get(address).text
    typed: dict[str, Any] = {"more": [], "less": []}
    for name in ("says", "other"):
        typed[name] = unescape(re.findall(rf'name="{name}"[^>]*>([^<]*)</textarea>', form)[0])
    for name, value in re.findall(r'name="(name|more|less|by)"[^>]*? value="([^"]*)"', form):
        typed[name] = [*typed[name], unescape(value)] if name in ("more", "less") else unescape(value)
    for name in ("reading", "head", "way", "lens"):
        chosen = re.search(rf'<select[^>]*name="{name}">(.*?)</select>', form, re.DOTALL)
        assert chosen
        selected = re.search(r'value="([^"]*)" selected', chosen[1])
        typed[name] = selected[1] if selected else ""
    made = client.post("/claims/new", data=typed)
    assert made.status_code == 303, made.text
    (one,) = (c for c in ledger(client, "?own=1") if made.location.endswith(c["id"]))
    assert one["verdict"] in ("holds", "fails", "too_close")


def test_a_claim_of_ones_own_is_weighed_changed_removed_and_put_back(client: FlaskClient) -> None:
    made = client.post("/claims/new", data=OWN)
    assert (made.status_code, made.location) == (303, "/claims/own-chin-ups-for-the-biceps")
    ledger(client)
    told = client.get(made.location + ".json").get_json()
    assert (told["verdict"], told["test"]["more"], told["test"]["by"]) == ("holds", ["chin-up"], 1.5)
    assert told["sources"] == ["One book", "Another"]
    changed = client.post(made.location + "/edit", data=OWN | {"by": "60"})
    assert changed.status_code == 303
    ledger(client)
    page = client.get(made.location).text
    assert "Holds until the set-up changed" in page
    assert "version 2" in page
    assert client.get(made.location).text.count("To be settled.") == 1
    client.post(made.location + "/remove")
    assert client.get(made.location).status_code == 404
    client.post(made.location + "/put-back")
    assert client.get(made.location).status_code == 200
    copy = client.get("/claims/new?from=sits_up").text
    assert "Yes: the long head is clearly longer" in unescape(copy)


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"name": ""}, "name"),
        ({"more": ["chin-up~nose=1"]}, "nose"),
        ({"more": ["no such thing"]}, "no such thing"),
        ({"head": "triceps_long"}, "extensors"),
        ({"by": "much"}, "by"),
        ({"reading": "score"}, "lens"),
        ({"reading": "score", "lens": "own-nothing"}, "own-nothing"),
        ({"more": [], "missing": ""}, "missing"),
        ({"says": "x" * 300}, "200"),
    ],
)
def test_what_is_no_claim_is_said_and_what_was_typed_stays(
    client: FlaskClient, change: dict[str, Any], says: str
) -> None:
    answer = client.post("/claims/new", data=OWN | change)
    assert answer.status_code in (400, 404)
    assert says in unescape(answer.text)
    assert "To be settled." in answer.text


def test_a_claim_whose_variant_is_gone_says_so(client: FlaskClient) -> None:
    client.post("/claims/new", data=OWN | {"more": ["own-steep-pad-palms-in"]})
    client.post("/bench/own-steep-pad-palms-in/remove")
    (one,) = (c for c in ledger(client, "?own=1") if c["id"] == "own-chin-ups-for-the-biceps")
    assert one["verdict"] == "outside"
    assert "own-steep-pad-palms-in" in one["missing"]
    assert client.get("/claims/own-chin-ups-for-the-biceps").status_code == 200


def test_claims_are_found_by_words_and_by_head(client: FlaskClient) -> None:
    every = client.get("/claims.json").get_json()
    found = client.get("/claims.json?words=hayloft").get_json()
    assert 0 < len(found) < len(every)
    assert all("hayloft" in json.dumps(one).lower() for one in found)
    of_head = client.get("/claims.json?head=triceps_long").get_json()
    assert 0 < len(of_head) < len(every)
    page = client.get("/claims?words=no+such+words+anywhere")
    assert page.status_code == 200
    assert "No claim here with “no such words anywhere”" in " ".join(page.text.split())
    assert client.get("/claims?head=calf").status_code == 400
    assert client.get("/claims", query_string={"words": "x" * 200}).status_code == 400
