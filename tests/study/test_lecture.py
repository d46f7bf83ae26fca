"""A lecture as a document."""

from __future__ import annotations

from curve_rank.study.lecture import validate_lecture


def test_what_leaves_the_house_is_asked_for_nobody() -> None:
    slides = [
        {"kind": "page", "what": "/board?target=biceps_long&for=3&with=cable&spare="},
        {"kind": "page", "what": "/heads/brachialis?for=12"},
        {"kind": "page", "what": "/claims/chin-up-is-a-heavy-curl", "title": "An argument"},
        {"kind": "hands", "what": "grip?for=3"},
    ]
    lecture = validate_lecture({"name": "Grip", "slides": slides})
    assert [slide.what for slide in lecture.of_nobody().slides] == [
        "/board?target=biceps_long&with=cable&spare=",
        "/heads/brachialis",
        "/claims/chin-up-is-a-heavy-curl",
        "grip?for=3",
    ]
    assert lecture.of_nobody().slides[2] == lecture.slides[2]
