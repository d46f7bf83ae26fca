"""What stands in JSON: in the body's own size, and the same numbers that pages print."""

from __future__ import annotations

import re

import numpy as np
import pytest
from flask.testing import FlaskClient

from curve_rank.arm.body import Body
from curve_rank.exchange.json_views import model_view
from tests.helpers import modelled


def test_moment_arms_are_told_for_the_body_they_are_modelled_for() -> None:
    # The default body is 1.78 m; one of 1.958 m is 1.1 times as large, and so is every moment arm.
    plain, tall = (model_view(modelled("pad-45-dumbbell-curl", Body(height=h))) for h in (1.78, 1.958))
    for head in ("biceps_long", "brachialis", "triceps_lateral"):
        arms = [np.array(view["heads"][head]["moment_arm_mm"]) for view in (plain, tall)]
        np.testing.assert_allclose(arms[1], 1.1 * arms[0], atol=2e-3)
    # the brachialis at 90° has 24 mm
    place = int(np.abs(np.array(plain["rep"]["elbow_deg"]) - 90).argmin())
    assert plain["heads"]["brachialis"]["moment_arm_mm"][place] == pytest.approx(24, abs=0.5)


def test_the_numbers_printed_are_those_of_the_data(client: FlaskClient) -> None:
    query = "target=biceps_long&lens=long_length&with=dumbbell"
    data, page = client.get(f"/board.json?{query}").get_json(), client.get(f"/board?{query}").text
    entries = re.findall(r'<li id="([^"]+)"[^>]*>(.*?)</details>', page, re.DOTALL)
    firsts = [row for row in data["rows"] if not row["twin_of"]]
    assert [name for name, _ in entries] == [row["variant"] for row in firsts]
    for row in data["rows"]:
        if row["twin_of"]:
            (entry,) = (text for name, text in entries if name == row["twin_of"])
            assert row["name"] in entry
    for (_, entry), row in zip(entries, firsts, strict=True):
        assert re.search(r'class="rank">(\d+)', entry)[1] == str(row["rank"])  # type: ignore[index]
        assert re.search(r'class="score"><b>(\d+)', entry)[1] == f"{row['score']:.0f}"  # type: ignore[index]
        length = round(row["medians"]["length_at_hard_spot"]["biceps_long"]["median"])
        assert re.search(r'class="length"><b>(\d+)', entry)[1] == str(length)  # type: ignore[index]
    one = client.get("/variants/chin-up?target=biceps_long")
    twin = client.get("/variants/chin-up.json?target=biceps_long").get_json()
    (load,) = (i["value"] for i in twin["intervals"] if i["name"] == "Working load")
    assert f"{abs(load):.1f} kg" in one.text
