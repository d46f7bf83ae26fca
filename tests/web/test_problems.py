"""What a hostile address or form gets: a message, never a trace."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

CURL = "/bench/standing-dumbbell-curl"
BAD_ADDRESSES = [
    ("/board?target=calf", 400, "target"),
    ("/board?with=spoon", 400, "equipment"),
    ("/board?reps=ten", 400, "reps"),
    ("/board?for=99999", 400, "for"),
    ("/bench/no-such-thing", 404, "variant"),
    ("/bench/own-no-such-thing", 404, "variant"),
    (f"{CURL}?set=posture.forearm%3Dnan", 400, "forearm"),
    (f"{CURL}?set=posture.trunk_pich%3D4", 400, "trunk_pitch"),
    (f"{CURL}?set=id%3Dother", 400, "id"),
    (f"{CURL}?set=summary%3DBest+of+all", 400, "summary"),
    (f"{CURL}?set=equipment.smallest_step_kg%3D5e-324", 400, "smallest_step_kg"),
    (f"{CURL}?set=posture.wrist%3Dtrue", 400, "a number"),
    ("/board?for=99999999999999999999999", 400, "for"),
    ("/board?for=" + "9" * 5000, 400, "for"),
    (f"{CURL}?set=posture.upper_arm%3D190", 422, "shoulder"),
    (f"{CURL}?load=heavy", 400, "load"),
    (f"{CURL}?load=-5", 400, "load"),
    (f"{CURL}?load=120", 422, "no drive holds it"),
    (f"{CURL}?view=inside", 400, "view"),
    (f"{CURL}?" + "&".join(f"set=posture.wrist%3D{n}" for n in range(60)), 400, "at most"),
    ("/bench/cable-curl-arm-behind?set=lines.0.forward%3D0&set=lines.0.up%3D1.1&set=lines.0.right%3D0", 422,
     "outside the body"),
    ("/nowhere", 404, "not found"),
]  # fmt: skip


@pytest.mark.parametrize(("address", "status", "says"), BAD_ADDRESSES, ids=lambda p: str(p)[:60])
def test_a_bad_address_gets_a_message_in_html_and_json(
    client: FlaskClient, address: str, status: int, says: str
) -> None:
    for headers in ({}, {"Accept": "application/json"}):
        response = client.get(address, headers=headers)
        assert response.status_code == status, response.text[:300]
        assert says in response.text
        assert "Traceback" not in response.text
    assert "error" in response.get_json()


def test_rows_beyond_what_a_database_counts_to_are_nowhere(client: FlaskClient) -> None:
    for number in ("9" * 18, "9" * 19, "9" * 30, "9" * 5000):
        assert client.post(f"/board/questions/{number}/remove").status_code in (400, 404)
    assert client.get("/lenses/%0A%0Dx").status_code == 308  # no line ends into a header


STRAY = "variant_id=x&endpoint=y&_scheme=z&_anchor=a&_external=1&paper=light&%00=%ff"

PAGES = ["/variants/chin-up", "/loads", "/board", CURL, "/schools", "/variants", "/sources"]


@pytest.mark.parametrize("page", PAGES)
def test_words_in_an_address_that_nothing_reads_are_passed_over(client: FlaskClient, page: str) -> None:
    assert client.get(f"{page}?{STRAY}").status_code == 200


def test_methods_not_offered_are_refused(client: FlaskClient) -> None:
    for answer, allowed in ((client.get(f"{CURL}/save"), "POST"), (client.delete("/board"), "GET")):
        assert answer.status_code == 405
        assert allowed in answer.headers["Allow"]
