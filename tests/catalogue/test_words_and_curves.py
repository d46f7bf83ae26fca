"""What a document says of its curve is what the curve shows; and lifters' limits on posture hold."""

from __future__ import annotations

import re
from collections.abc import Callable

import numpy as np
import pytest

from curve_rank.arm.parameters import parameter_set
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.limits import objections
from curve_rank.rating.modelling import VariantModel
from tests.helpers import modelled


def slack_first(m: VariantModel) -> bool:
    return any(start < 0.01 for start, _ in m.told_slack)


def slack_last(m: VariantModel) -> bool:
    return any(end > 0.99 for _, end in m.told_slack)


CLAIMS: dict[str, Callable[[VariantModel], bool]] = {
    "hardest at (the )?(top|finish|lockout)": lambda m: m.hard_third == "last",
    "hardest at lockout|hardest near straight": lambda m: m.readings.hard_spot <= 35,
    "hardest in the first third": lambda m: m.hard_third == "first",
    "hardest when the muscle is short|hard at the short end|pulls hardest near the top": (
        lambda m: m.hard_third == "last"
    ),
    "hardest past the middle": lambda m: m.readings.hard_at > 0.5,
    "hardest with the forearms? level": lambda m: abs(level(m)) < 12,
    "(?<!fills the )(?<!never )(?<!no )slack (start|at the bottom)": slack_first,
    "(slack|nothing left) at the top": lambda m: slack_last(m),
    "no slack at either end": lambda m: not m.told_slack,
    "no slack at the top|no rest at the top|removes the rest|no resting place|top (stays|kept) loaded": (
        lambda m: not slack_last(m)
    ),
    "never slack at the bottom|no slack at the bottom": lambda m: not slack_first(m),
}


def level(m: VariantModel) -> float:
    """How far the forearm is off level at the hard spot [degrees]."""
    forearm, down = m.rep.frame.forearm[:, 0, m.hard], m.rep.frame.down[:, 0, m.hard]
    return float(np.degrees(np.arcsin(forearm @ down)))


@pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)
def test_no_summary_or_cue_contradicts_its_curve(variant: Variant) -> None:
    m = modelled(variant)
    said = " ".join((variant.summary, *variant.cues)).lower()
    assert not re.search("(stretched|long|short) third", said)
    for claim, holds in CLAIMS.items():
        denied = claim.startswith("(slack") and re.search("no slack at the top", said)
        if re.search(claim, said) and not denied:
            assert holds(m), (claim, said, m.told_slack, m.hard_third)


@pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)
def test_a_lifter_could_do_it(variant: Variant) -> None:
    """The antagonists rest, the elbow's muscles are asked, and hand paths keep the forearm near the pull."""
    on_forearms = variant.id.startswith("forearm-")  # the forearm lies on the floor, whatever the pull
    assert objections(modelled(variant)).keys() <= ({"forearm"} if on_forearms else set())


def test_presses_press_a_bar_apart_as_published_by_grip_width() -> None:
    number = parameter_set().number
    for variant_id, width in (
        ("bench-press-narrow", "narrow"),
        ("narrow-press-after-extension", "narrow"),
        ("bench-press-shoulder-width", "medium"),
        ("overhead-press", "overhead"),
        ("bench-press-wide", "wide"),
        ("push-up-shoulder-width", "floor"),
    ):
        (line,) = modelled(variant_id).variant.lines
        assert line.kind == ("body_weight" if width == "floor" else "weight")
        assert line.sideways == number(f"press.sideways_{width}")
