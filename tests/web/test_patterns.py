"""The pattern page: there when asked for, and only then."""

from __future__ import annotations

from pathlib import Path

import pytest

from curve_rank.web import create_app


def test_the_pattern_page_is_there_only_when_asked_for(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    assert create_app(tmp_path).test_client().get("/patterns").status_code == 404
    monkeypatch.setenv("CURVE_RANK_PATTERNS", "1")
    page = create_app(tmp_path).test_client().get("/patterns")
    assert page.status_code == 200
    for component in (
        "strip-large",
        "strip-row",
        "shares",
        "score-bar",
        "whisker",
        "figure",
        "problem",
        "go",
    ):
        assert component in page.text
