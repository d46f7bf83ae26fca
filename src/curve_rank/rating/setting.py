"""From a variant's document and a body to the rep they describe."""

from __future__ import annotations

import numpy as np

from curve_rank.arm import hand_path
from curve_rank.arm.body import Body
from curve_rank.arm.lines import Band, BodyWeight, Cable, FreeWeight, Line, Machine
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.path import ANGLES, joint_path
from curve_rank.arm.posture import Posture
from curve_rank.arm.setup import SAMPLES, RepSetup
from curve_rank.catalogue.schema import (
    BandLine,
    BodyWeightLine,
    CableLine,
    HandKey,
    HandPath,
    Key,
    MachineLine,
    Variant,
    WeightLine,
)

SEATED_HIP = 0.53
LYING_HIP = 0.56
PRONE_HIP = 0.75
FLOOR_HIP = 0.11
PUSH_UP_HIP = 0.30
BESIDE_THE_HAND = ("forearm", "wrist", "trunk_pitch", "trunk_roll")
"""Angles that a hand path leaves to the document."""
KNEELING = 0.54
"""Kneeling hip height over standing hip height."""


def hip_height(variant: Variant, body: Body) -> float:
    """Hip centre above the floor for a variant's base [m]; the document's own number where it has one."""
    if variant.support.hip_height_m is not None:
        return variant.support.hip_height_m
    return {
        "standing": body.standing_hip,
        "kneeling": body.standing_hip * KNEELING,
        "seated": SEATED_HIP,
        "bench_lying": LYING_HIP,
        "bench_prone": PRONE_HIP,
        "floor_lying": FLOOR_HIP,
        "hanging": body.standing_hip + 0.25,
        "dip_support": body.standing_hip + 0.2,
        "push_up": PUSH_UP_HIP,
        "bench_dip": 0.42,
        "body_row": 0.45,
    }[variant.support.base]


def rep_setup(variant: Variant, body: Body, *, samples: int = SAMPLES) -> RepSetup:
    """The rep a variant's document describes.

    Raises
    ------
    PostureError, BadInputError
        For postures outside the tables.
    """
    if variant.hand_path is None:
        posture, hand = _by_joints(variant, samples), None
    else:
        posture, hand = _by_hand(variant, variant.hand_path, body, samples)
    posture.check()
    return RepSetup(
        posture=posture,
        lines=tuple(_line(line, variant.equipment.hands) for line in variant.lines),
        flexes=variant.target == "flexors",
        grip=variant.equipment.handle,
        upper_arm_supported=variant.support.upper_arm,
        hip_height=hip_height(variant, body),
        coordinate=variant.coordinate,
        hand=hand,
        from_vertical=variant.posture.upper_arm_from == "vertical",
    )


def _by_joints(variant: Variant, samples: int) -> Posture:
    fields = {name: "upper_arm" if name == "shoulder" else name for name in ANGLES}
    keys = {
        name: np.array([_keyed(variant, key, field) for key in variant.path])
        for name, field in fields.items()
    }
    if variant.posture.upper_arm_from == "vertical":
        keys["shoulder"] = keys["shoulder"] + keys["trunk_pitch"]
    return joint_path(keys, coordinate=variant.coordinate, samples=samples)


def _by_hand(
    variant: Variant, path: HandPath, body: Body, samples: int
) -> tuple[Posture, hand_path.HandPath]:
    flares = [path.flare if key.flare is None else key.flare for key in path.keys]
    keys = hand_path.HandPath(
        point=np.array([[k.forward, k.up, k.out + path.wider] for k in path.keys]).T,
        elbow_towards=np.repeat(np.array([path.elbow_towards]).T, len(path.keys), axis=1),
        flare=np.array(flares, dtype=float),
    )
    hand, places = hand_path.sampled(
        keys,
        body,
        flexes=variant.target == "flexors",
        samples=samples,
        start=path.start,
        end=path.end,
    )

    rows = [[_keyed(variant, key, name) for key in path.keys] for name in BESIDE_THE_HAND]
    others = dict(zip(BESIDE_THE_HAND, hand_path.between_keys(np.array(rows), places), strict=True))
    return Posture(**vars(hand_path.arm_angles(hand, body)), **others), hand


def _keyed(variant: Variant, key: Key | HandKey, name: str) -> float:
    """A key's own angle, or the one that holds through the rep."""
    value = getattr(key, name, None)
    return float(getattr(variant.posture, name) if value is None else value)


def _line(line: WeightLine | CableLine | BandLine | MachineLine | BodyWeightLine, hands: int) -> Line:
    share = line.share / hands
    match line:
        case WeightLine():
            return FreeWeight(share=share, offset=line.offset_m, sideways=line.sideways)
        case CableLine():
            place = (line.forward, line.up, line.right)
            return Cable(pulley=place, share=share, from_middle=line.from_middle)
        case BandLine():
            stretch, tension = _band_curve(line)
            place = (line.forward, line.up, line.right)
            return Band(anchor=place, slack=line.slack_m, stretch=stretch, tension=tension, share=share)
        case MachineLine():
            angle, torque = zip(*line.profile, strict=True)
            return Machine(angle=angle, torque=torque, share=share)
        case BodyWeightLine():
            return BodyWeight(carried=line.carried / hands, share=share, sideways=line.sideways)


def _band_curve(line: BandLine) -> tuple[tuple[float, ...], tuple[float, ...]]:
    if line.curve is not None:
        stretch, tension = zip(*line.curve, strict=True)
        return stretch, tension
    return parameter_set().row("band.stretch") or (), parameter_set().row("band.tension") or ()
