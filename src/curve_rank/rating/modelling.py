"""Turns variant documents into reps, models them, and remembers the result by content."""

from __future__ import annotations

import hashlib
import math
from collections.abc import Callable, Collection, Hashable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Protocol, TypeVar

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.muscle import Anatomy
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import Readings, read_reps, slack_stretches, third_of
from curve_rank.arm.rep import RepBatch, model_reps
from curve_rank.arm.rep_setup import LINKS, RepSetup, least_load
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError, LoadError
from curve_rank.keeping import SMALL, Keeping, cost_of, size_of
from curve_rank.rating.rep_of_variant import rep_setup

LARGEST_LOAD = 400.0
KEPT_BYTES = 192 * 1024 * 1024
"""Memory for modelled variants and what is derived from them."""

Derived = TypeVar("Derived")


class DrawShelf(Protocol):
    """Where draws stand between one run of the program and the next."""

    def take(self, keys: Collection[str]) -> dict[str, Readings]: ...
    def put(self, values: Mapping[str, Readings]) -> None: ...


@dataclass(frozen=True, eq=False)
class VariantModel:
    """One variant modelled for one body.

    Attributes
    ----------
    variant : Variant
    readings : Readings
        Of its rep; S is empty.
    rep : RepBatch
        Its rep, as a batch of one.
    key : str
        Changes with anything that went into it; empty where nobody keeps it.
    """

    variant: Variant
    readings: Readings
    rep: RepBatch
    key: str = ""

    @property
    def body(self) -> Body:
        """The body it is modelled for."""
        return self.rep.body

    @property
    def anatomy(self) -> Anatomy:
        """The heads it is modelled with."""
        return self.rep.anatomy

    @property
    def setup(self) -> RepSetup:
        """The rep before it was modelled."""
        return self.rep.setups[0]

    @property
    def load(self) -> float:
        """Load in use [kg]."""
        return float(self.readings.load)

    @property
    def limits(self) -> dict[str, float]:
        """Each link's own load at the chosen effort [kg]; infinite = not limiting."""
        return self.rep.limits_of(0)

    @property
    def limited_by(self) -> str:
        """The link that gives out first."""
        return LINKS[int(self.readings.limited_by)]

    @property
    def hard_third(self) -> str:
        """The third of the rep in which it is hardest."""
        return third_of(float(self.readings.hard_at))

    @cached_property
    def hard(self) -> int:
        """The sample at which it is hardest."""
        return int(self.along("demand").argmax())

    @cached_property
    def slack(self) -> tuple[tuple[float, float], ...]:
        """Stretches of the rep that are slack, as parts of it."""
        return slack_stretches(self.along("demand"))

    @property
    def told_slack(self) -> tuple[tuple[float, float], ...]:
        """Those of the stretches that are long enough to be told of and drawn."""
        least = parameter_set().number("readings.slack_told_from")
        return tuple((start, end) for start, end in self.slack if end - start >= least)

    def head(self, key: str) -> Readings:
        """Readings with every per-head one of the head named `key`."""
        return self.readings.head(self.anatomy.index(key))

    def of_head(self, name: str, key: str) -> float:
        """One per-head reading of the head named `key`."""
        return float(getattr(self.readings, name)[self.anatomy.index(key)])

    def along(self, name: str) -> Array:
        """One of the rep's (reps, samples) arrays, shape (samples,)."""
        row: Array = getattr(self.rep, name)[0]
        return row

    def head_along(self, name: str, key: str) -> Array:
        """One of the rep's per-head arrays for a head, shape (samples,)."""
        row: Array = getattr(self.rep, name)[self.anatomy.index(key), 0]
        return row

    def drive_along(self, key: str) -> Array:
        """A head's drive along the rep, shape (samples,)."""
        return self.head_along("drive", key)

    def length_along(self, key: str) -> Array:
        """Length of a head along the rep, percent of its range, shape (samples,)."""
        row: Array = self.rep.geometry.percent[self.anatomy.index(key), 0]
        return row

    def angle(self, name: str) -> Array:
        """A joint angle over the rep [degrees]."""
        row: Array = getattr(self.rep.posture, name)[0]
        return row


def model_variants(
    variants: tuple[Variant, ...],
    body: Body,
    *,
    effort: float,
    load: float | None = None,
    check: bool = True,
    apart: bool = False,
) -> tuple[VariantModel, ...]:
    """Model variants in one batch, each at its working load or all at `load`; `apart` in memory of their own.

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
    readings = read_reps(batch, trunk_supported=tuple(trunk_held(v) for v in variants))
    result = tuple(
        VariantModel(variant, readings.of(i), batch if len(variants) == 1 else batch.of(i, copy=apart))
        for i, variant in enumerate(variants)
    )
    for modelled in result if check else ():
        _refuse_hopeless(modelled, given=load is not None)
    return result


def trunk_held(variant: Variant) -> bool:
    """Whether a bench, the floor or the hands carry the trunk, so that the load does not bend it."""
    return variant.support.trunk or variant.support.base in ("hanging", "dip_support", "bench_dip")


def check_load(load: float | None, least: float = 0.0) -> None:
    """Refuse a load that is not a sensible number of kilograms; `least` is below 0 for body weight."""
    if load is not None and not (math.isfinite(load) and least <= load <= LARGEST_LOAD):
        raise BadInputError("load", f"{load:g} kg", f"{math.ceil(least)} to {LARGEST_LOAD:g} kg")


def _refuse_hopeless(modelled: VariantModel, *, given: bool) -> None:
    readings = modelled.readings
    if given and readings.feasible_share < 1:
        worst = int(np.argmax(np.where(modelled.along("feasible"), 0, modelled.along("effort"))))
        full = model_reps((modelled.setup,), body=modelled.body, effort=1.0)
        raise LoadError(
            "load",
            f"{modelled.load:g} kg",
            f"no drive holds it at elbow {modelled.angle('elbow')[worst]:.0f}°; "
            f"about {float(full.load[0]):.0f} kg is the most that can be lifted once",
        )
    number = parameter_set().number
    peak, strength = float(readings.peak_demand), float(modelled.along("strength")[modelled.hard])
    if not given and peak < max(
        number("readings.asks_least_moment"), number("readings.asks_least_effort") * strength
    ):
        raise LoadError(
            "set-up",
            f"{modelled.variant.name}: at most {max(peak, 0.0):.1f} N·m",
            f"something asked of the target muscles: at least {number('readings.asks_least_moment'):g} N·m "
            f"and {100 * number('readings.asks_least_effort'):.0f} % of their strength at the hard spot",
        )
    least = least_load(modelled.setup, modelled.body)
    if not given and not (readings.peak_demand > 0 and least < modelled.load < LARGEST_LOAD):
        raise LoadError(
            "set-up",
            modelled.variant.name,
            "a line of force that asks something of the target muscles; here no sensible load does",
        )


class Modeller:
    """Models variants and keeps results by content: body, effort, parameters and the whole document.

    A result is found again only if nothing that went into it has changed, so it is never stale. What is
    worked out from a kept model (a strip, a sentence) can be kept beside it. This is the only cache of
    models; it is bounded in bytes. Draws are kept on a shelf as well, where there is one. Safe to share
    between threads.
    """

    def __init__(self, most_bytes: int = KEPT_BYTES, shelf: DrawShelf | None = None) -> None:
        self._kept = Keeping(most_bytes, self._cost)
        self._shelf = shelf
        self._sizes: dict[tuple[int, ...], int] = {}

    def model(
        self, variants: tuple[Variant, ...], body: Body, *, effort: float
    ) -> tuple[VariantModel | CurveRankError, ...]:
        """Each variant modelled at its working load, or the error that keeps it from being modelled."""
        keys = content_keys(variants, body, effort)
        found = self._kept.all(
            dict(zip(keys, variants, strict=True)), lambda missing: _model_each(missing, body, effort)
        )
        return tuple(found[key] for key in keys)

    def able(self, variants: tuple[Variant, ...], body: Body, *, effort: float) -> tuple[VariantModel, ...]:
        """Those of the variants that can be modelled, modelled."""
        found = self.model(variants, body, effort=effort)
        return tuple(m for m in found if isinstance(m, VariantModel))

    def one(self, variant: Variant, body: Body, *, effort: float) -> VariantModel:
        """One variant modelled at its working load.

        Raises
        ------
        CurveRankError
            What keeps it from being modelled.
        """
        (found,) = self.model((variant,), body, effort=effort)
        if isinstance(found, CurveRankError):
            raise found
        return found

    def derived(self, modelled: VariantModel, name: Hashable, make: Callable[[], Derived]) -> Derived:
        """What `make` works out from a model, kept under a name as long as there is room."""
        return self._kept.once((modelled.key, name), make) if modelled.key else make()

    def once(self, key: Hashable, make: Callable[[], Derived]) -> Derived:
        """What `make` works out, kept under a key that names all that goes into it."""
        return self._kept.once(key, make)

    def has(self, key: Hashable) -> bool:
        """Whether something is kept under a key."""
        return bool(self._kept.found([key]))

    def all(
        self, wanted: Mapping[str, Variant], make: Callable[[dict[str, Variant]], Mapping[str, Derived]]
    ) -> dict[str, Derived]:
        """As `once` for several keys; those that are missing are worked out together."""
        return self._kept.all(wanted, make)

    def drawn(
        self, wanted: Mapping[str, Variant], make: Callable[[dict[str, Variant]], Mapping[str, Readings]]
    ) -> dict[str, Readings]:
        """Draws by key: kept, from the shelf, or as `make` makes them."""

        def find(missing: dict[str, Variant]) -> dict[str, Readings]:
            found = self._shelf.take(missing) if self._shelf else {}
            left = {key: variant for key, variant in missing.items() if key not in found}
            made = dict(make(left)) if left else {}
            if self._shelf and made:
                self._shelf.put(made)
            return found | made

        return self._kept.all(wanted, find)

    def kept_draws(self, keys: Collection[str]) -> Collection[str]:
        """Those of the keys whose draws are kept; what stands on the shelf is taken from it."""
        found = self._kept.found(keys)
        if self._shelf:
            shelved = self._shelf.take([key for key in keys if key not in found])
            self._kept.keep(shelved)
            found |= shelved
        return found

    def keep_draws(self, values: Mapping[str, Readings]) -> None:
        """Keep draws that were made elsewhere."""
        self._kept.keep(values)
        if self._shelf:
            self._shelf.put(values)

    @property
    def kept_bytes(self) -> int:
        """Memory of what is kept, near enough."""
        return self._kept.bytes

    def _cost(self, value: object) -> int:
        """Memory of a kept entry, near enough [bytes]."""
        if not isinstance(value, VariantModel):
            return cost_of(value)
        shape = value.rep.drive.shape  # models of one shape are of one size
        if shape not in self._sizes:
            shared = size_of(value.anatomy)
            self._sizes[shape] = size_of(value.rep) - shared + size_of(value.readings)
        return SMALL + self._sizes[shape]


def _model_each(
    variants: dict[str, Variant], body: Body, effort: float
) -> dict[str, VariantModel | CurveRankError]:
    """All in one batch; where one of them cannot be modelled, in halves until it stands alone."""
    try:
        whole = model_variants(tuple(variants.values()), body, effort=effort, check=False, apart=True)
    except CurveRankError as error:
        items = list(variants.items())
        if len(items) == 1:
            return {items[0][0]: error}
        halves = items[: len(items) // 2], items[len(items) // 2 :]
        one, other = (_model_each(dict(half), body, effort) for half in halves)
        return one | other
    return {key: _unless_hopeless(replace(m, key=key)) for key, m in zip(variants, whole, strict=True)}


def _unless_hopeless(modelled: VariantModel) -> VariantModel | CurveRankError:
    try:
        _refuse_hopeless(modelled, given=False)
    except CurveRankError as error:
        return error
    return modelled


def content_keys(variants: tuple[Variant, ...], body: Body, effort: float) -> list[str]:
    """For each variant a key that changes with anything that goes into it when it is modelled."""
    around = "|".join((parameter_set().fingerprint, repr(body), repr(effort)))
    return [hashlib.sha256(f"{around}|{variant.digest}".encode()).hexdigest() for variant in variants]
