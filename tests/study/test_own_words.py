"""A parent's words: kept where nothing was moved, struck where what they speak of was."""

from __future__ import annotations

import pytest

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.targets import long_head
from curve_rank.study.own_words import OfferedWords, offered


def offered_of(modeller: Modeller, key: str, **settings: float | str) -> OfferedWords:
    parent = find_variant(key, built_in())
    own = changed(parent, tuple(Change(field=k.replace("__", "."), set=v) for k, v in settings.items()))
    first, second = (modeller.one(one, Body(), effort=0.75) for one in (parent, own))
    return offered(first, second, long_head(parent.group))


@pytest.mark.parametrize("key", [v.id for v in built_in()][::7])
def test_nothing_is_struck_of_a_copy(modeller: Modeller, key: str) -> None:
    words = offered_of(modeller, key)
    assert words.struck == words.moved == ()
    own = find_variant(key, built_in())
    assert words.kept_in(own) == own


@pytest.mark.parametrize(
    ("key", "settings", "struck", "why"),
    [
        ("reclined-60-dumbbell-curl", {"posture__trunk_pitch": -45.0}, "Set the bench to 60°", "45° here"),
        (
            "low-cable-bar-curl",
            {"lines__0__up": 1.2, "lines__0__forward": 0.9},
            "Pulley at the floor",
            "0.9 m",
        ),
        ("rope-press-down", {"equipment__handle": "straight_bar"}, "rope", "straight bar"),
        ("standing-dumbbell-curl", {"posture__forearm": 0.0}, "palms forward", "palm is 0°"),
        ("pad-30-dumbbell-curl", {"posture__upper_arm": 30.0}, "hardest near straight", "is 60° here"),
    ],
)
def test_what_speaks_of_what_was_moved_is_struck_and_says_why(
    modeller: Modeller, key: str, settings: dict[str, float | str], struck: str, why: str
) -> None:
    words = offered_of(modeller, key, **settings)
    found = [one for one in words.struck if struck in one.text]
    assert found, words
    assert why in found[0].why_not
    said = words.kept_in(find_variant(key, built_in()))
    assert not any(struck in text for text in (said.summary, *said.setup, *said.cues))
    assert said.setup
    assert said.cues
