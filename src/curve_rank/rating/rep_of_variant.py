"""From a variant's document and a body to the rep they describe."""

from __future__ import annotations

import numpy as np

from curve_rank.arm import hand_path
from curve_rank.arm.body import Body
from curve_rank.arm.joint_path import ANGLES, joint_path
from curve_rank.arm.lines import Band, BodyWeight, Cable, FreeWeight, Line, Machine
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Posture
from curve_rank.arm.rep_setup import SAMPLES, RepSetup
from curve_rank.catalogue.line_kinds import BandLine, BodyWeightLine, CableLine, MachineLine, WeightLine
from curve_rank.catalogue.schema import HandKey, HandPath, Key, Variant

BESIDE_THE_HAND = ("forearm", "wrist", "trunk_pitch", "trunk_roll")
"""Angles that a hand path leaves to the document."""
BARS = ("straight_bar", "angled_bar")
"""Handles that tie one hand to the other."""


def hip_height(variant: Variant, body: Body) -> float:
    """Hip centre above the floor for a variant's base [m]; the document's own number where it has one."""
    if variant.support.hip_height_m is not None:
        return variant.support.hip_height_m
    given = parameter_set()[f"hips.{variant.support.base}"]
    match given.unit:
        case "of standing hip height":
            return given.number * body.standing_hip
        case "m over standing hip height":
            return given.number + body.standing_hip
        case _:
            return given.number


def hip_spread(variant: Variant, body: Body) -> float:
    """One standard deviation of the hip centre's height [m]."""
    given = parameter_set()[f"hips.{variant.support.base}"]
    return given.spread if given.spread_is_absolute else given.spread * hip_height(variant, body)


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
        lines=tuple(_line(line, variant) for line in variant.lines),
        flexes=variant.group == "flexors",
        grip=variant.equipment.handle,
        upper_arm_supported=variant.support.upper_arm,
        hip_height=hip_height(variant, body),
        hip_spread=hip_spread(variant, body),
        coordinate=variant.coordinate,
        hand=hand,
        from_vertical=variant.posture.upper_arm_from == "vertical",
        tied=hand is not None and _ties_hands(variant),
    )


def _ties_hands(variant: Variant) -> bool:
    """Whether a bar or what the body rests on holds both hands to one path."""
    bar = variant.equipment.hands == 2 and variant.equipment.handle in BARS
    return bar or any(isinstance(line, BodyWeightLine) for line in variant.lines)


def _by_joints(variant: Variant, samples: int) -> Posture:
    fields = {name: "upper_arm" if name == "shoulder" else name for name in ANGLES}
    keys = {
        name: np.array([_keyed(variant, key, field) for key in variant.path])
        for name, field in fields.items()
    }
    if variant.posture.upper_arm_from == "vertical":
        keys["shoulder"] = keys["shoulder"] + keys["trunk_pitch"]
    return joint_path(keys, coordinate=variant.coordinate, samples=samples)


def hand_keys(path: HandPath) -> hand_path.HandTrack:
    """The keys of a hand path (keys,), as wide as they are held."""
    flares = [path.flare if key.flare is None else key.flare for key in path.keys]
    keys = hand_path.HandTrack(
        point=np.array([[key.forward, key.up, key.out] for key in path.keys]).T,
        elbow_towards=np.repeat(np.array([path.elbow_towards]).T, len(path.keys), axis=1),
        flare=np.array(flares, dtype=float),
    )
    return keys.widened(path.wider)


def _by_hand(
    variant: Variant, path: HandPath, body: Body, samples: int
) -> tuple[Posture, hand_path.HandTrack]:
    hand, places = hand_path.sampled(
        hand_keys(path),
        body,
        flexes=variant.group == "flexors",
        samples=samples,
        start=path.start,
        end=path.end,
    )

    rows = [[_keyed(variant, key, name) for key in path.keys] for name in BESIDE_THE_HAND]
    others = dict(zip(BESIDE_THE_HAND, hand_path.between_keys(np.array(rows))(places), strict=True))
    return Posture(**vars(hand_path.arm_angles(hand, body)), **others), hand


def _keyed(variant: Variant, key: Key | HandKey, name: str) -> float:
    """A key's own angle, or the one that holds through the rep."""
    value = getattr(key, name, None)
    return float(getattr(variant.posture, name) if value is None else value)


def _line(line: WeightLine | CableLine | BandLine | MachineLine | BodyWeightLine, variant: Variant) -> Line:
    hands = variant.equipment.hands
    part = line.load_part / hands
    match line:
        case WeightLine():
            return FreeWeight(load_part=part, offset=line.offset_m, sideways=_pressed_apart(line, variant))
        case CableLine():
            place = (line.forward, line.up, line.right)
            return Cable(pulley=place, load_part=part, from_middle=line.from_middle)
        case BandLine():
            stretch, tension = _band_curve(line)
            place = (line.forward, line.up, line.right)
            return Band(anchor=place, slack=line.slack_m, stretch=stretch, tension=tension, load_part=part)
        case MachineLine():
            angle, torque = zip(*line.profile, strict=True)
            return Machine(angle=angle, torque=torque, load_part=part)
        case BodyWeightLine():
            return BodyWeight(
                carried=line.carried / hands,
                load_part=line.added_carried * part,
                sideways=line.sideways,
                estimated=line.carried < 1,
            )


def _pressed_apart(line: WeightLine, variant: Variant) -> float:
    """Share of the vertical force that presses a bar apart: more when it is held wider than saved."""
    wider = variant.hand_path.wider if variant.hand_path else 0.0
    if not wider or line.sideways <= 0 or not _ties_hands(variant):
        return line.sideways
    return max(line.sideways + parameter_set().number("press.sideways_by_width") * wider, 0.0)


def _band_curve(line: BandLine) -> tuple[tuple[float, ...], tuple[float, ...]]:
    if line.curve is not None:
        stretch, tension = zip(*line.curve, strict=True)
        return stretch, tension
    return parameter_set().row("band.stretch") or (), parameter_set().row("band.tension") or ()
