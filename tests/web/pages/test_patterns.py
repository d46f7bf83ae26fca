"""The pattern page: there when asked for, and only then."""

from __future__ import annotations

from collections.abc import Callable

from flask import Flask


def test_the_pattern_page_is_there_only_when_asked_for(make_app: Callable[..., Flask]) -> None:
    assert make_app().test_client().get("/patterns").status_code == 404
    page = make_app(patterns=True).test_client().get("/patterns")
    assert page.status_code == 200
    for component in (
        "strip-large", "strip-row", "shares", "score-bar", "part-bar", "whisker", "figure", "curves-picture",
        "swatch", "problem", "notice", "go",
    ):  # fmt: skip
        assert f"{component}" in page.text
