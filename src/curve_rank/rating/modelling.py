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
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import HeadReading, Readings, read_reps
from curve_rank.arm.rep import RepBatch, model_reps
from curve_rank.arm.setup import least_load
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError, LoadError
from curve_rank.rating.setting import rep_setup

Array = NDArray[np.float64]

LARGEST_LOAD = 400.0
REMEMBERED = 4096
"""Modelled variants, and what is derived from them, that are kept."""


@dataclass(frozen=True, eq=False)
class Modelled:
    """One variant modelled for one body: its readings, and its place in the batch of arrays.

    Compared by identity, so that what is derived from one can be remembered.
    """

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


def model_variants(
    variants: tuple[Variant, ...],
    body: Body,
    *,
    effort: float,
    load: float | None = None,
    check: bool = True,
) -> tuple[Modelled, ...]:
    """Model variants in one batch, each at its working load or all at `load`.

    Raises
    ------
    PostureError, BadInputError
        For a set-up that cannot be, naming the variant when there are several.
    LoadError
        For a load no drive can hold.
    """
    setups = tuple(rep_setup(variant, body) for variant in variants)
    check_load(load, max(least_load(setup, body) for setup in setups))
    loads = None if load is None else np.full(len(setups), load)
    batch = model_reps(setups, body=body, effort=effort, loads=loads)
    table = read_reps(batch, trunk_supported=tuple(trunk_held(v) for v in variants))
    result = tuple(Modelled(variant, table.rep(i), batch, i) for i, variant in enumerate(variants))
    for modelled in result if check else ():
        _refuse_hopeless(modelled, given=load is not None)
    return result


def trunk_held(variant: Variant) -> bool:
    """Whether a bench, the floor or the hands carry the trunk, so that the load does not bend it."""
    return variant.support.trunk or variant.support.base in ("hanging", "dip_support", "bench_dip")


def check_load(load: float | None, least: float = 0.0) -> None:
    """Refuse a load that is not a sensible number of kilograms; `least` is below 0 for body weight."""
    if load is not None and not (math.isfinite(load) and least <= load <= LARGEST_LOAD):
        raise BadInputError("load", load, f"{math.ceil(least)} to {LARGEST_LOAD:g} kg")


def _refuse_hopeless(modelled: Modelled, *, given: bool) -> None:
    readings, batch, i = modelled.readings, modelled.batch, modelled.place
    if given and readings.feasible_share < 1:
        worst = int(np.argmax(np.where(batch.feasible[i], 0, batch.effort[i])))
        most = _most_load(modelled)
        raise LoadError(
            "load",
            f"{readings.load:g} kg",
            f"no drive holds it at elbow {batch.posture.elbow[i, worst]:.0f}°; "
            f"about {most:.0f} kg is the most that can be lifted once",
        )
    least = least_load(batch.setups[i], batch.body)
    if not given and not (readings.peak_demand > 0 and least < readings.load < LARGEST_LOAD):
        raise LoadError(
            "set-up",
            modelled.variant.name,
            "a line of force that asks something of the target muscles; here no sensible load does",
        )


def _most_load(modelled: Modelled) -> float:
    """The load at full effort [kg]."""
    batch, i = modelled.batch, modelled.place
    full = model_reps((batch.setups[i],), body=batch.body, effort=1.0)
    return float(full.load[0])


class Modeller:
    """Models variants and keeps results by content: body, effort, parameters and the whole document.

    A result is found again only if nothing that went into it has changed, so it is never stale. Safe to
    share between threads.
    """

    def __init__(self, capacity: int = REMEMBERED) -> None:
        self._capacity = capacity
        self._kept: OrderedDict[str, Modelled | CurveRankError] = OrderedDict()
        self._lock = threading.Lock()

    def model(
        self, variants: tuple[Variant, ...], body: Body, *, effort: float
    ) -> tuple[Modelled | CurveRankError, ...]:
        """Each variant modelled at its working load, or the error that keeps it from being modelled."""
        keys = [content_key(variant, body, effort) for variant in variants]
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


def content_key(variant: Variant, body: Body, effort: float) -> str:
    """A key that changes with anything that goes into a modelled variant."""
    content = "|".join((parameter_set().fingerprint, repr(body), repr(effort), variant.model_dump_json()))
    return hashlib.sha256(content.encode()).hexdigest()
