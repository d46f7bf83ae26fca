"""The catalogue and a page about each variant."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

from curve_rank.catalogue.library import built_in


def test_the_catalogue_lists_every_variant_with_its_strip(client: FlaskClient) -> None:
    page = client.get("/variants").text
    assert page.count('class="strip ') == len(built_in()) + 3
    assert all(v.name.replace("’", "’") in page for v in built_in())
    assert len(client.get("/variants.json").get_json()) == len(built_in()) + 3


@pytest.mark.parametrize("variant", built_in()[::9], ids=lambda v: v.id)
def test_each_has_a_page_with_intervals_faults_and_neighbours(client: FlaskClient, variant) -> None:  # type: ignore[no-untyped-def]
    page = client.get(f"/variants/{variant.id}")
    assert page.status_code == 200
    assert page.text.count('class="figure"') == 3
    below_the_random_token = page.text.lower().split("<main", 1)[1]
    assert "nan" not in below_the_random_token.replace("dominan", "")
    view = client.get(f"/variants/{variant.id}.json").get_json()
    assert {f["name"] for f in view["faults"]} == {f.name for f in variant.faults}
    assert all(one["low"] <= one["value"] <= one["high"] for one in view["intervals"])
    assert len(view["neighbours"]) == 5
    assert len(view["complements"]) == 3
    assert view["document"]["id"] == variant.id


@pytest.mark.parametrize(
    ("address", "status"),
    [
        ("/variants/none-such", 404),
        ("/variants/none-such.json", 404),
        ("/variants/chin-up?target=calf", 400),
        ("/variants/chin-up?lens=best", 400),
        ("/variants/chin-up?for=999", 400),
    ],
)
def test_a_bad_address_gets_a_message(client: FlaskClient, address: str, status: int) -> None:
    assert client.get(address).status_code == status
