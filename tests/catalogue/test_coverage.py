"""The catalogue holds every family of set-ups and every common fault that teachers name."""

from __future__ import annotations

import pytest

from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import BandLine, BodyWeightLine, CableLine, MachineLine, Variant, WeightLine

IDS = {v.id: v for v in built_in()}

FAMILIES = {
    "standing": """
        standing-dumbbell-curl standing-turning-curl standing-thumb-up-curl across-body-thumb-up-curl
        palm-down-dumbbell-curl palm-down-bar-curl palm-down-angled-bar-curl turned-out-dumbbell-curl
        turn-over-curl standing-barbell-curl narrow-barbell-curl wide-barbell-curl angled-bar-curl
        angled-bar-curl-outer neutral-bar-curl momentum-curl top-half-seated-barbell-curl
        dumbbell-band-curl bar-up-the-body-curl barbell-curl-low-half barbell-curl-high-half
    """,
    "reclined": """
        reclined-75-dumbbell-curl reclined-60-dumbbell-curl reclined-45-dumbbell-curl
        reclined-30-dumbbell-curl reclined-60-thumb-up-curl reclined-60-turning-curl
        reclined-60-hands-out-curl reclined-60-shoulder-drop-curl reclined-45-shoulder-drop-curl
    """,
    "supported": """
        pad-30-dumbbell-curl pad-45-dumbbell-curl pad-60-dumbbell-curl pad-vertical-dumbbell-curl
        pad-45-angled-bar-curl pad-45-angled-bar-outer-curl pad-45-cable-curl machine-pad-curl
        chest-down-dumbbell-curl chest-down-barbell-curl thigh-braced-curl
    """,
    "cable": """
        low-cable-bar-curl low-cable-lean-curl cable-curl-arm-behind kneeling-thigh-cable-curl
        rope-thumb-up-curl rope-turning-curl palm-down-cable-curl shoulder-height-cable-curl
        double-shoulder-height-cable-curl lying-high-pulley-curl floor-lying-cable-curl
    """,
    "band": """
        band-standing-curl band-arm-behind-curl band-press-down band-overhead-extension
    """,
    "pulling": """
        chin-up-narrow chin-up pull-up-parallel pull-up-palms-away chin-up-assisted chin-up-weighted
        seated-row-underhand bent-over-row-underhand body-row-underhand chest-supported-row
        pull-down-palms-up pull-down-palms-away
    """,
    "press_down": """
        bar-press-down angled-bar-press-down rope-press-down one-arm-palm-up-press-down
        wide-palm-up-press-down press-down-arms-end-behind high-elbow-press-down
        press-down-elbows-back press-down-elbows-forward seated-press-down
    """,
    "overhead": """
        overhead-dumbbell-two-hands overhead-two-dumbbells overhead-dumbbell-one-arm
        overhead-60-bench-dumbbells overhead-upper-arms-on-pad overhead-barbell-standing
        overhead-barbell-seated overhead-angled-bar-standing overhead-angled-bar-seated
        overhead-neutral-bar overhead-neutral-bar-seated overhead-past-level overhead-rope-low-pulley
        overhead-rope-hip-height overhead-cable-one-arm
    """,
    "lying": """
        lying-bar-to-forehead lying-bar-behind-head lying-arms-back-angled-bar
        lying-dumbbells-thumb-up floor-dead-stop-extension across-face-one-arm
        decline-angled-bar-extension incline-bar-extension lying-narrow-angled-bar
        lying-wide-angled-bar lying-shoulder-drop-extension incline-dumbbells-arms-back
    """,
    "arm_behind": """
        bent-over-pull-back pull-back-palm-up chest-supported-pull-back cable-pull-back
        both-arms-pull-back
    """,
    "straight_arm": """
        barbell-pullover dumbbell-pullover straight-arm-pull-down behind-back-lift
    """,
    "sideways": "side-lying-one-arm cable-across-body cable-out-to-side",
    "pressing": """
        bench-press-narrow bench-press-shoulder-width bench-press-wide dumbbell-press-tucked
        dumbbells-pressed-together dip-upright dip-leaning dip-assisted dip-weighted bench-dip
        bench-dip-weighted overhead-press push-up-hands-close push-up-on-dumbbells
        push-up-shoulder-width push-up-feet-raised push-up-weighted forearm-push-up-floor
        forearm-push-up-bench narrow-press-after-extension
    """,
}

FAULTS = (
    "drifts forward", "Shoulders", "lift off the pad", "Sits up", "30° short at the bottom",
    "short at the top", "past the slack point", "flare 25°", "Swings the trunk", "Bounces",
    "Bends forward over", "drops 25°",
    "wrist", "too close to the pulley", "too far from the pulley", "one hole too high",
)  # fmt: skip


@pytest.mark.parametrize("family", FAMILIES)
def test_each_family_is_covered(family: str) -> None:
    for name in FAMILIES[family].split():
        assert name in IDS, name
        assert IDS[name].family == family


@pytest.mark.parametrize("fault", FAULTS)
def test_each_common_fault_stands_somewhere(fault: str) -> None:
    assert any(fault.lower() in f.name.lower() for v in built_in() for f in v.faults), fault


def test_every_kind_of_movement_and_load_is_in_use() -> None:
    kinds = {type(line) for v in built_in() for line in v.lines}
    assert kinds == {WeightLine, CableLine, BandLine, MachineLine, BodyWeightLine}
    assert any(len(v.lines) > 1 for v in built_in())
    assert any(v.hand_path for v in built_in())
    assert any(v.coordinate == "shoulder" for v in built_in())
    assert any(len({k.trunk_pitch for k in v.path}) > 1 for v in built_in())
    assert any(getattr(line, "sideways", 0) for v in built_in() for line in v.lines)
    assert any(getattr(line, "offset_m", 0) for v in built_in() for line in v.lines)
    assert {v.equipment.arms for v in built_in()} == {1, 2}


@pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)
def test_each_is_written_to_be_used(variant: Variant) -> None:
    assert variant.faults, "no fault written down"
    assert all(len(step) > 8 for step in variant.setup)
    words = (variant.name + " " + variant.summary).lower()
    assert not any(mark in words for mark in ("™", "®", "todo"))
