"""Heads: a page for each, its maps, and the share of the upper arm as a setting."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

from curve_rank.arm.muscle import default_anatomy
from curve_rank.study.heads import heads, moved_by

LONG = "/heads/biceps_long"


@pytest.mark.parametrize("key", default_anatomy().keys)
def test_each_head_has_its_words_and_its_maps(client: FlaskClient, key: str) -> None:
    head = heads()[key]
    for query in ("", "?map=arm&across=forearm&elbow=30&other=-45", "?map=strength&held=-80"):
        page = client.get(f"/heads/{key}{query}")
        assert page.status_code == 200
        assert head.starts in page.text
        is_map = len(moved_by(key)) > 1
        assert page.text.count('data-key="map"') == is_map
        assert page.text.count('data-key="cut-') == (2 if is_map else 1)
        assert ("no other joint moves it" in page.text) == (not is_map)
        assert page.text.count('aria-label="A plate') == 2
    assert client.get(f"/heads/{key}.json").get_json()["head"] == key


def test_a_map_goes_over_joints_that_the_head_crosses(client: FlaskClient) -> None:
    # Anatomy, by hand: what each crosses beside the elbow.
    crossed = {
        "biceps_long": ["shoulder", "forearm"], "triceps_long": ["shoulder"], "brachioradialis": ["forearm"],
        "brachialis": [], "triceps_medial": [],
    }  # fmt: skip
    for key, joints in crossed.items():
        axes = client.get(f"/heads/{key}").text.split('<p class="axes">')[1].split("</p>")[0]
        for joint, words in (("shoulder", "upper arm"), ("forearm", "forearm")):
            assert (f">{words}</a>" in axes) == (joint in joints), (key, joint)
        now = client.get(f"/heads/{key}.json").get_json()
        assert f"{(joints or ['shoulder'])[0]}_deg" in now


def test_chosen_variants_walk_over_the_map(client: FlaskClient) -> None:
    page = client.get(
        f"{LONG}?with=chin-up&with=standing-dumbbell-curl~posture.upper_arm=20&with=pad-45-cable-curl"
    ).text
    assert page.count('class="column-') >= 3
    assert "A</b>" in page
    assert "C</b>" in page


def test_the_share_of_the_upper_arm_is_kept_and_refused_by_name(client: FlaskClient) -> None:
    assert client.post(f"{LONG}/part", data={"part": "60"}).status_code == 303
    assert 'value="60"' in client.get(LONG).text
    for wrong in ("90", "ten", ""):
        answer = client.post(f"{LONG}/part", data={"part": wrong})
        assert answer.status_code == 400
        assert "part" in answer.text
    assert 'value="60"' in client.get(LONG).text


@pytest.mark.parametrize(
    ("path", "says"),
    [
        ("/heads/nose", "head"),
        (f"{LONG}?elbow=200", "elbow"),
        (f"{LONG}?other=nan", "other"),
        (f"{LONG}?across=forearm&other=170", "other"),
        (f"{LONG}?held=400", "forearm"),
        (f"{LONG}?map=moon", "map"),
        (f"{LONG}?with=nose", "variant"),
        (f"{LONG}?with=chin-up&with=pad-45-cable-curl&with=machine-pad-curl&with=pull-up&with=x", "4"),
    ],
)
def test_addresses_that_make_no_sense_say_so(client: FlaskClient, path: str, says: str) -> None:
    answer = client.get(path)
    assert answer.status_code in (400, 404, 422)
    assert says in answer.text


def test_the_plate_follows_the_cross_and_says_what_the_map_says(client: FlaskClient) -> None:
    for head, elbow, other in (("biceps_long", 40, -20), ("triceps_long", 100, 150), ("brachialis", 0, 0)):
        drawn = client.get(f"/heads/{head}/arm.json?elbow={elbow}&other={other}").get_json()
        assert set(drawn) == {"side", "front"}
        page = client.get(f"/heads/{head}.json?elbow={elbow}&other={other}").get_json()
        column, row = page["elbow_deg"].index(elbow), page["shoulder_deg"].index(other)
        told = round(page["length_pct"][row][column])
        for picture in drawn.values():
            assert f"at {told} % of its range" in picture
            assert 'data-key="pull"' in picture
            assert picture.count('data-key="joint"') == (1 if head == "brachialis" else 2)
    helper = client.get("/heads/pronator_teres/arm.json").get_json()
    assert 'data-key="pull"' not in helper["side"]
    for wrong in ("elbow=400", "elbow=x", "other=-500"):
        assert client.get(f"/heads/biceps_long/arm.json?{wrong}").status_code == 400
    assert client.get("/heads/calf/arm.json").status_code == 400
