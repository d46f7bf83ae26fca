"""What was measured on pictures, laid against a variant: how it differs, and the set-up as it was done."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from curve_rank.catalogue.library import validate_variant
from curve_rank.catalogue.line_kinds import BandLine, CableLine
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.measure.marks import MarkReading, PictureReading
from curve_rank.rating.modelling import VariantModel

BESIDE = ("abduction", "rotation", "forearm", "wrist")
"""Angles that a picture from the side does not show; a variant's own stay."""
LEAST_APART = 1.0
"""Between the elbow angles of two pictures of one rep [degrees]."""
WORTH_TELLING = 1.0
"""A difference within its own interval is told as none; so is one under so many degrees."""


@dataclass(frozen=True)
class MeasuredField:
    """A field of the set-up as it was done, with what the plan has there."""

    name: str
    measured: MarkReading
    planned: float
    unit: str = "°"

    @property
    def apart(self) -> float:
        """How much more was measured than planned."""
        return self.measured.value - self.planned

    @property
    def is_told(self) -> bool:
        """Whether it differs from the plan by more than can be a mistake of marking."""
        return abs(self.apart) > max(self.measured.error, WORTH_TELLING)


@dataclass(frozen=True)
class Deviation(MeasuredField):
    """What one picture shows against the plan at the same elbow angle; `words` lack how much."""

    picture: int = 0
    words: str = ""


def deviations(readings: Sequence[PictureReading | None], modelled: VariantModel) -> tuple[Deviation, ...]:
    """How each picture differs from the plan at the elbow angle it shows.

    Parameters
    ----------
    readings : sequence of PictureReading or None
        By picture.
    modelled : VariantModel
        The plan.
    """
    elbow, shoulder, trunk = (modelled.angle(name) for name in ("elbow", "shoulder", "trunk_pitch"))
    order = np.argsort(elbow, kind="stable")

    def planned(values: Any, at: float) -> float:
        return float(np.interp(at, elbow[order], np.broadcast_to(values, elbow.shape)[order]))

    found: list[Deviation] = []
    for number, read in enumerate(readings, 1):
        if read is None:
            continue
        lean = planned(trunk, read.elbow.value)
        if read.shoulder is not None and read.trunk is not None:
            arm, where = read.shoulder, planned(shoulder, read.elbow.value)
            ways = "further forward" if read.trunk.value > lean else "further back"
            found.append(
                Deviation("trunk", read.trunk, lean, picture=number, words=f"the trunk leans {{}} {ways}")
            )
        else:
            arm, where = read.upper_arm, planned(shoulder, read.elbow.value) - lean
        way = "forward of" if arm.value > where else "behind"
        found.append(
            Deviation("upper arm", arm, where, picture=number, words=f"the elbow is {{}} {way} plan")
        )
    low, high = float(elbow.min()), float(elbow.max())
    bends = [(read.elbow, n) for n, read in enumerate(readings, 1) if read is not None]
    for (measured, number), end, name in (
        (min(bends, key=lambda one: one[0].value), low, "straightest"),
        (max(bends, key=lambda one: one[0].value), high, "most bent"),
    ):
        if len(bends) > 1:
            way = "short of" if (measured.value > end) == (name == "straightest") else "past"
            found.append(
                Deviation(name, measured, end, picture=number, words=f"the {name} elbow is {{}} {way} plan")
            )
    return tuple(found)


def as_measured(
    variant: Variant, readings: Sequence[PictureReading]
) -> tuple[Variant, tuple[MeasuredField, ...]]:
    """A variant with the angles, range and pulley of the pictures in the place of its own.

    Parameters
    ----------
    variant : Variant
        Whose other fields stay.
    readings : sequence of PictureReading
        What was read off the pictures, from the stretched end.

    Raises
    ------
    BadInputError
        When the pictures cannot make a rep of it.
    """
    if variant.hand_path is not None:
        right = "one whose arm is described by its joints; a press or a pull can be checked, not rebuilt"
        raise BadInputError("variant", variant.name, right)
    data, fields = variant.model_dump(mode="json"), list[MeasuredField]()
    by_bend = sorted(readings, key=lambda one: one.elbow.value, reverse=variant.group == "extensors")
    trunk = _middle([one.trunk for one in by_bend])
    posture = data["posture"]
    if trunk is not None:
        fields.append(MeasuredField("Trunk, leaning forward", trunk, variant.posture.trunk_pitch))
        posture["trunk_pitch"] = round(trunk.value, 1)
    lean = posture["trunk_pitch"]
    from_trunk = variant.posture.upper_arm_from == "trunk"
    arms = [_arm(one, lean, from_trunk=from_trunk) for one in by_bend]
    whole = _middle(arms)
    assert whole is not None
    spread = max(abs(arm.value - whole.value) for arm in arms)
    moves = variant.coordinate == "elbow" and spread > max(arm.error for arm in arms)
    told = "Upper arm from the trunk" if from_trunk else "Upper arm from hanging"
    if len(by_bend) > 1:
        _set_range(data, variant, by_bend, fields)
    if moves:
        for place, (key, arm) in enumerate(zip(data["path"], arms, strict=True), 1):
            key["upper_arm"] = round(arm.value, 1)
            planned = _planned_arm(variant, (place - 1) / (len(arms) - 1))
            fields.append(MeasuredField(f"{told}, picture {place} of the rep", arm, planned))
    elif variant.coordinate != "shoulder":
        posture["upper_arm"] = round(whole.value, 1)
        for key in data["path"]:
            key["upper_arm"] = None
        fields.append(MeasuredField(told, whole, _planned_arm(variant, 0.5)))
    _set_pulley(data, variant, by_bend, fields)
    return validate_variant(data, name="measured"), tuple(fields)


def _arm(read: PictureReading, lean: float, *, from_trunk: bool) -> MarkReading:
    """The upper arm as the variant counts it."""
    if not from_trunk:
        return read.upper_arm
    if read.shoulder is not None:
        return read.shoulder
    return MarkReading(read.upper_arm.value + lean, read.upper_arm.error, read.upper_arm.turned)


def _set_range(
    data: dict[str, Any], variant: Variant, by_bend: Sequence[PictureReading], fields: list[MeasuredField]
) -> None:
    """One key of the path for each picture, in the order of the rep."""
    if variant.coordinate == "shoulder":
        raise BadInputError("pictures", len(by_bend), "one picture for straight-arm work: its elbow holds")
    bends = [float(np.clip(round(one.elbow.value, 1), 0, 145)) for one in by_bend]
    if any(abs(b - a) < LEAST_APART for a, b in pairwise(bends)):
        listed = ", ".join(f"{b:g}°" for b in bends)
        raise BadInputError("pictures", f"elbows at {listed}", "pictures of different moments of the rep")
    keys = variant.path
    along, places = np.linspace(0, 1, len(keys)), np.linspace(0, 1, len(bends))
    made: list[dict[str, Any]] = [{"elbow": bend} for bend in bends]
    for name in BESIDE:
        own = [getattr(key, name) for key in keys]
        if any(value is not None for value in own):
            plain = [getattr(variant.posture, name) if value is None else value for value in own]
            for key, value in zip(made, np.interp(places, along, plain).tolist(), strict=True):
                key[name] = round(value, 1)
    data["path"] = made
    for name, read, planned in (
        ("Elbow, stretched end", by_bend[0], keys[0].elbow),
        ("Elbow, short end", by_bend[-1], keys[-1].elbow),
    ):
        fields.append(MeasuredField(name, read.elbow, planned))


def _set_pulley(
    data: dict[str, Any], variant: Variant, reads: Sequence[PictureReading], fields: list[MeasuredField]
) -> None:
    """Pulley or anchor, where the floor, the hip, a known length and the pull are marked."""
    forward = _middle([one.pulley[0] if one.pulley and one.floor else None for one in reads])
    up = _middle([one.floor for one in reads])
    if forward is None or up is None:
        return
    for n, line in enumerate(variant.lines):
        if isinstance(line, CableLine | BandLine):
            data["lines"][n] |= {"forward": round(forward.value / 100, 3), "up": round(up.value / 100, 3)}
            for name, found, planned in (
                ("Pulley forward of the hips", forward, 100 * line.forward),
                ("Pulley over the floor", up, 100 * line.up),
            ):
                fields.append(MeasuredField(name, found, planned, "cm"))
            return


def _planned_arm(variant: Variant, place: float) -> float:
    own = [variant.posture.upper_arm if key.upper_arm is None else key.upper_arm for key in variant.path]
    return float(np.interp(place, np.linspace(0, 1, len(own)), own))


def _middle(values: Sequence[MarkReading | None]) -> MarkReading | None:
    """The mean of what was measured, as unsure as one: mistakes of scale and tilt do not average out."""
    found = [value for value in values if value is not None]
    if not found:
        return None
    return MarkReading(
        float(np.mean([one.value for one in found])),
        float(np.mean([one.error for one in found])),
        float(np.mean([one.turned for one in found])),
    )
