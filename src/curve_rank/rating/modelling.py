"""Turns variant documents into reps, models them, and remembers the result by content."""

from __future__ import annotations

import hashlib
import math
import threading
from collections import OrderedDict
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.body import Body
from curve_rank.arm.force import Cable, FreeWeight, Line
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.path import ANGLES, joint_path
from curve_rank.arm.readings import HeadReading, Readings, read_reps
from curve_rank.arm.rep import SAMPLES, RepBatch, RepSetup, model_reps
from curve_rank.catalogue.schema import CableLine, Key, Variant, WeightLine
from curve_rank.errors import BadInputError, CurveRankError, LoadError

Array = NDArray[np.float64]

SEATED_HIP = 0.53
LYING_HIP = 0.56
PRONE_HIP = 0.75
FLOOR_HIP = 0.11
KNEELING = 0.54
"""Kneeling hip height over standing hip height."""
LARGEST_LOAD = 400.0


@dataclass(frozen=True)
class Modelled:
    """One variant modelled for one body: its readings, and its place in the batch of arrays."""

    variant: Variant
    readings: Readings
    batch: RepBatch
    place: int

    def head(self, key: str) -> HeadReading:
        """Reading of the head named `key`."""
        return self.readings.heads[self.batch.anatomy.index(key)]

    def along(self, name: str) -> Array:
        """One of the batch's (reps, samples) arrays for this variant, shape (samples,)."""
        row: Array = getattr(self.batch, name)[self.place]
        return row

    def head_along(self, name: str, key: str) -> Array:
        """One of the batch's per-head arrays for this variant and head, shape (samples,)."""
        row: Array = getattr(self.batch, name)[self.batch.anatomy.index(key), self.place]
        return row

    def angle(self, name: str) -> Array:
        """A joint angle over the rep [degrees]."""
        row: Array = getattr(self.batch.posture, name)[self.place]
        return row

    @property
    def rep_load(self) -> float:
        """Load in use [kg]."""
        return self.readings.load


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
    }[variant.support.base]


def rep_setup(variant: Variant, body: Body) -> RepSetup:
    """The rep a variant's document describes.

    Raises
    ------
    PostureError, BadInputError
        For postures outside the tables.
    """
    keys = {name: np.array([_angle(variant, key, name) for key in variant.path]) for name in ANGLES}
    if variant.posture.upper_arm_from == "vertical":
        keys["shoulder"] = keys["shoulder"] + keys["trunk_pitch"]
    posture = joint_path(keys, coordinate="elbow", samples=SAMPLES)
    posture.check()
    return RepSetup(
        posture=posture,
        lines=tuple(_line(line, variant.equipment.hands) for line in variant.lines),
        flexes=variant.target == "flexors",
        grip=variant.equipment.handle,
        upper_arm_supported=variant.support.upper_arm,
        hip_height=hip_height(variant, body),
    )


def _angle(variant: Variant, key: Key, name: str) -> float:
    field = "upper_arm" if name == "shoulder" else name
    value = getattr(key, field, None)
    return float(getattr(variant.posture, field) if value is None else value)


def _line(line: WeightLine | CableLine, hands: int) -> Line:
    share = line.share / hands
    if isinstance(line, WeightLine):
        return FreeWeight(share=share, offset=line.offset_m, sideways=line.sideways)
    return Cable(pulley=(line.forward, line.up, line.right), share=share, from_middle=line.from_middle)


def model_variants(
    variants: tuple[Variant, ...], body: Body, *, effort: float, load: float | None = None
) -> tuple[Modelled, ...]:
    """Model variants in one batch, each at its working load or all at `load`.

    Raises
    ------
    PostureError, BadInputError
        For a set-up that cannot be, naming the variant when there are several.
    LoadError
        For a load no drive can hold.
    """
    check_load(load)
    setups = tuple(rep_setup(variant, body) for variant in variants)
    loads = None if load is None else np.full(len(setups), load)
    batch = model_reps(setups, body=body, effort=effort, loads=loads)
    readings = read_reps(batch, trunk_supported=tuple(v.support.trunk for v in variants))
    result = tuple(
        Modelled(variant, reading, batch, i)
        for i, (variant, reading) in enumerate(zip(variants, readings, strict=True))
    )
    for modelled in result:
        _refuse_hopeless(modelled, effort, given=load is not None)
    return result


def check_load(load: float | None) -> None:
    """Refuse a load that is not a sensible number of kilograms."""
    if load is not None and not (math.isfinite(load) and 0 <= load <= LARGEST_LOAD):
        raise BadInputError("load", load, f"0 to {LARGEST_LOAD:g} kg")


def _refuse_hopeless(modelled: Modelled, effort: float, *, given: bool) -> None:
    readings, batch, i = modelled.readings, modelled.batch, modelled.place
    if given and readings.feasible_share < 1:
        worst = int(np.argmax(np.where(batch.feasible[i], 0, batch.effort[i])))
        most = min(value for _, value in batch.limits[i]) / effort
        raise LoadError(
            "load",
            f"{readings.load:g} kg",
            f"no drive holds it at elbow {batch.posture.elbow[i, worst]:.0f}°; "
            f"about {most:.1f} kg is the most that can be lifted once",
        )
    if not given and not (readings.peak_demand > 0 and 0 < readings.load < LARGEST_LOAD):
        raise LoadError(
            "set-up",
            modelled.variant.name,
            "a line of force that asks something of the target muscles; here no sensible load does",
        )


class Modeller:
    """Models variants and keeps results by content: body, effort, parameters and the whole document.

    A result is found again only if nothing that went into it has changed, so it is never stale. Safe to
    share between threads.
    """

    def __init__(self, capacity: int = 4096) -> None:
        self._capacity = capacity
        self._kept: OrderedDict[str, Modelled | CurveRankError] = OrderedDict()
        self._lock = threading.Lock()

    def model(
        self, variants: tuple[Variant, ...], body: Body, *, effort: float
    ) -> tuple[Modelled | CurveRankError, ...]:
        """Each variant modelled at its working load, or the error that keeps it from being modelled."""
        keys = [_content_key(variant, body, effort) for variant in variants]
        with self._lock:
            found = {key: self._kept[key] for key in keys if key in self._kept}
        missing = {k: v for k, v in zip(keys, variants, strict=True) if k not in found}
        found |= _model_each(missing, body, effort)
        with self._lock:
            for key in keys:
                self._kept[key] = found[key]
                self._kept.move_to_end(key)
            while len(self._kept) > self._capacity:
                self._kept.popitem(last=False)
        return tuple(found[key] for key in keys)


def _model_each(
    variants: dict[str, Variant], body: Body, effort: float
) -> dict[str, Modelled | CurveRankError]:
    """All in one batch; one by one only when something in the batch cannot be modelled."""
    if not variants:
        return {}
    try:
        whole = model_variants(tuple(variants.values()), body, effort=effort)
        return dict(zip(variants, whole, strict=True))
    except CurveRankError as error:
        if len(variants) == 1:
            return {next(iter(variants)): error}
        return {
            key: result
            for key, variant in variants.items()
            for result in _model_each({key: variant}, body, effort).values()
        }


def _content_key(variant: Variant, body: Body, effort: float) -> str:
    content = "|".join((parameter_set().fingerprint, repr(body), repr(effort), variant.model_dump_json()))
    return hashlib.sha256(content.encode()).hexdigest()
