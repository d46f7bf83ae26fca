"""The schools, and lenses of one's own: made, ranked by, changed, taken off and put back."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient
from playwright.sync_api import expect

from tests.web.conftest import Visit

GOOD = {"name": "Only even", "school": "Never rest.", "weight-evenness": "3", "weight-no_slack": "1"}


def test_the_schools_show_how_the_first_ten_move(client: FlaskClient) -> None:
    page = client.get("/lenses?target=triceps_long").text
    assert page.count("<h2>") >= 6
    view = client.get("/lenses.json?target=triceps_long").get_json()
    for mover in view["movers"]:
        assert min(rank for rank in mover["ranks"].values() if rank is not None) <= 10
    assert len(view["lenses"]) == 6


def test_an_own_lens_lives_through_its_versions(client: FlaskClient) -> None:
    made = client.post("/lenses/new", data=GOOD)
    assert made.status_code == 303
    key = re.search(r"lens=(own-[a-z-]+)", made.headers["Location"]).group(1)  # type: ignore[union-attr]
    first = client.get(f"/board.json?lens={key}").get_json()
    assert set(first["rows"][0]["criteria"]) == {"evenness", "no_slack"}
    client.post(f"/lenses/{key}/edit", data=GOOD | {"most-no_slack": "0.01", "weight-tension": "2"})
    second = client.get(f"/board.json?lens={key}").get_json()
    assert len(second["rows"]) < len(first["rows"])
    assert "tension" in second["rows"][0]["criteria"]
    assert 'value="3"' in client.get(f"/lenses/{key}/edit?version=1").text
    assert key in client.get("/lenses").text
    client.post(f"/lenses/{key}/remove")
    assert client.get(f"/board?lens={key}").status_code == 400
    client.post(f"/lenses/{key}/put-back")
    assert client.get(f"/board?lens={key}").status_code == 200


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"name": ""}, "name"),
        ({"school": " "}, "school"),
        ({"weight-evenness": "lots"}, "weight-evenness"),
        ({"weight-evenness": "nan"}, "evenness"),
        ({"weight-evenness": "-3"}, "evenness"),
        ({"weight-evenness": "", "weight-no_slack": ""}, "at least one"),
        ({"zero-evenness": "1"}, "differ"),
        ({"least-load": "3", "most-load": "1"}, "exceed"),
        ({"name": "x" * 200}, "name"),
    ],
)
def test_a_bad_lens_stores_nothing_and_keeps_what_was_typed(
    client: FlaskClient, change: dict[str, str], says: str
) -> None:
    answer = client.post("/lenses/new", data=GOOD | change)
    assert answer.status_code == 400
    assert says in answer.text
    if "school" not in change:
        assert "Never rest." in answer.text
    assert len(client.get("/lenses.json").get_json()["lenses"]) == 6


@pytest.mark.parametrize("address", ["/lenses/own-none/edit", "/lenses/new?from=none", "/lenses?target=calf"])
def test_unknown_lenses_and_targets_are_refused(client: FlaskClient, address: str) -> None:
    assert client.get(address).status_code == 400


def test_a_lens_is_made_in_the_browser(visit: Visit) -> None:
    page = visit.page
    visit.go("/lenses")
    page.get_by_role("link", name="Make a lens of your own").click()
    page.get_by_label("Name").fill("Browser made")
    page.get_by_label("Evenness: weight").fill("90")
    page.get_by_role("button", name="Keep").click()
    expect(page.locator("#q-lens")).to_have_value("own-browser-made")
    expect(page.locator(".row-entry").first).to_be_visible()


@pytest.mark.parametrize("visit", ["light", "dark"], indirect=True)
@pytest.mark.parametrize(
    "path", ["/lenses", "/lenses/new", "/evidence", "/variants", "/variants/chin-up", "/loads?for=4"]
)
def test_axe_finds_nothing_serious_on_the_new_pages(visit: Visit, path: str) -> None:
    visit.go(path)
    assert visit.serious_faults() == []
    visit.page.set_viewport_size({"width": 390, "height": 844})
    assert visit.page.evaluate("document.documentElement.scrollWidth") <= 390
