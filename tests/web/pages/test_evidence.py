"""What the lenses say of published comparisons, told as it is."""

from __future__ import annotations

from flask.testing import FlaskClient


def test_evidence_tells_agreements_and_disagreements(client: FlaskClient) -> None:
    page = client.get("/evidence").text
    assert "disagrees" in page
    assert "agrees" in page
    assert page.index("What no lens foretells") < page.index("Overhead against at-side")
    found = client.get("/evidence.json").get_json()
    assert len(found) >= 8
    assert sum(not comparison["differs"] for comparison in found) >= 3
    for comparison in found:
        assert comparison["source"]
        for verdict in comparison["verdicts"]:
            chance = verdict["chance"]
            right = "agrees" if chance >= 0.7 else "disagrees" if chance <= 0.3 else "says neither"
            assert verdict["says"] == right
            assert 1 - comparison["sure"] - 1e-9 <= chance <= comparison["sure"] + 1e-9
    told = client.get("/schools.json").get_json()["foretells"]["long_length"]
    assert 0 <= told["low"] <= told["expected"] <= told["high"] <= told["of"] == len(found)
    assert "training\n      comparisons" in client.get("/schools").text
