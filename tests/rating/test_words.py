"""Sentences built from readings say what the pictures show."""

from __future__ import annotations

import pytest

from curve_rank.catalogue.library import built_in
from curve_rank.rating.spreads import Spread
from curve_rank.rating.targets import long_head
from curve_rank.rating.words import gives_out, load_words, printed, slack_words, why
from tests.helpers import modelled


@pytest.mark.parametrize("variant", built_in()[::5], ids=lambda v: v.id)
def test_no_slack_is_said_exactly_where_none_is_drawn(variant) -> None:  # type: ignore[no-untyped-def]
    m = modelled(variant)
    sentence = why(m, long_head(variant.group))
    assert ("no slack" in sentence) == (not m.told_slack)
    assert f"in the {m.hard_third} third" in sentence
    assert not any(word in sentence for word in ("long third", "short third"))


def test_slack_in_words() -> None:
    assert slack_words(()) == "no slack"
    assert slack_words(((0.0, 0.1), (0.8, 1.0))) == (
        "slack over the first tenth of the rep and the last fifth of the rep"
    )
    assert slack_words(((0.4, 0.6),)) == "slack over 20 % around the middle"


def test_verbs_agree_and_loads_are_said_as_a_lifter_would() -> None:
    assert gives_out(modelled("standing-dumbbell-curl", path__last__elbow=90.0)).endswith(
        ("give out", "gives out")
    )
    assert gives_out(modelled("rope-press-down")) == "the triceps give out"
    chin = modelled("chin-up")
    assert load_words(chin, -18.7) == "with 18.7 kg of help"
    assert load_words(chin, 0.0) == "body weight alone"
    assert "in each hand" in load_words(modelled("standing-dumbbell-curl"))


def test_what_rounds_to_nothing_has_no_sign_and_no_chance() -> None:
    assert printed(-0.04, 1) == "0.0"
    assert printed(-0.06, 1, sign=True) == "−0.1"
    assert Spread(-0.04, -0.049, 0.03).is_nothing(1)
    assert not Spread(0.0, -0.2, 0.0).is_nothing(1)
