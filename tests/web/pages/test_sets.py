"""Sets: chosen for a question that is the address, changed by hand, told as data, refused with a reason."""

from __future__ import annotations

import html
import re

from flask.testing import FlaskClient

from tests.helpers import once_drawn

ASKED = "target=biceps_long&target=triceps_long&with=dumbbell&with=cable&with=incline_bench"


def chosen(client: FlaskClient, query: str) -> str:
    return once_drawn(client, f"/sets?{query}")


def names(page: str) -> list[str]:
    return re.findall(r'<h2><a href="/variants/([^"]+)">', page)


def test_a_set_is_chosen_and_changed_by_hand(client: FlaskClient) -> None:
    page = chosen(client, ASKED)
    before = names(page)
    assert 2 <= len(before) <= 5
    assert "Nothing else here loads the triceps long head long" in page
    swap = html.unescape(re.findall(r'<li><a\s+href="\?([^"]+)">', page)[0])
    changed = chosen(client, swap)
    assert len(set(names(changed)) ^ set(before)) == 2
    assert "By hand:" in changed
    afresh = html.unescape(re.findall(r'href="\?([^"]+)">Choose\s+afresh', changed)[0])
    assert names(chosen(client, afresh)) == before
    gone = html.unescape(re.findall(r'href="\?([^"]+)">not\s+this\s+one', page)[0])
    assert before[0] not in names(chosen(client, gone))


def test_the_data_tells_the_same(client: FlaskClient) -> None:
    page = chosen(client, ASKED)
    told = client.get(f"/sets.json?{ASKED}").get_json()
    assert [pick["variant"] for pick in told["picks"]] == names(page)
    assert told["optimal"] is True
    assert {cell["length"] for cell in told["coverage"]} == {"long", "middle", "short"}
    for pick in told["picks"]:
        assert pick["why"] in html.unescape(" ".join(page.split()))
        for cell in pick["covers"]:
            (of,) = [
                c for c in told["coverage"] if (c["head"], c["length"]) == (cell["head"], cell["length"])
            ]
            assert pick["variant"] in of["by"]


def test_what_cannot_be_says_what_to_give_up(client: FlaskClient) -> None:
    answer = client.get("/sets?target=biceps_long&with=dumbbell&with=no_bench&heavy=yes&most=1&minutes=3")
    assert answer.status_code == 400
    assert "give up" in answer.text
    assert "Choose the fewest set-ups" in answer.text
    for bad in ("target=nose", "most=99", "minutes=high", "pin=nothing", "with=rocks", "for=999"):
        told = client.get(f"/sets?{bad}")
        assert told.status_code in (400, 404), bad
        assert "Traceback" not in told.text
