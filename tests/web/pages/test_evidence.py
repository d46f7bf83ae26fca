"""What the lenses say of published comparisons, told as it is."""

from __future__ import annotations

from flask.testing import FlaskClient


def test_evidence_tells_agreements_and_disagreements(client: FlaskClient) -> None:
    page = client.get("/evidence").text
    assert "disagrees" in page
    assert "agrees" in page
    assert len(client.get("/evidence.json").get_json()) >= 4
    for comparison in client.get("/evidence.json").get_json():
        assert comparison["source"]
        for verdict in comparison["verdicts"]:
            ahead = verdict["more"] - verdict["less"]
            right = "says neither" if abs(ahead) < 2 else "agrees" if ahead > 0 else "disagrees"
            assert verdict["says"] == right
