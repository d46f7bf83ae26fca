"""Rep schemes on a curve: where in each head's range a way of doing the reps places tension."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.readings import LENGTHS, length_weights
from curve_rank.arm.rep import model_reps
from curve_rank.arm.tempo import PHASES, Tempo, quickest_stroke, time_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.criteria import carried
from curve_rank.rating.modelling import VariantModel

AT_HARD_SPOT = -1.0


@dataclass(frozen=True)
class SchemePart:
    """One part of a scheme: repetitions over a stretch of the rep, or a still hold.

    Attributes
    ----------
    reps : int
    hold : float
        Seconds held still at `start`; then `reps` is 0.
    start, end : float
        Places in the rep, 0 the stretched end; a `start` of −1 stands for the hard spot.
    load : float
        Over the ten-repetition load, what the hands carry of the body included [1].
    rest : float
        Seconds of rest after it.
    lower_only : bool
        A partner lifts: only lowering and pause count.
    brisk : bool
        Without pauses, and lowered as quickly as it is lifted.
    """

    reps: int = 0
    hold: float = 0.0
    start: float = 0.0
    end: float = 1.0
    load: float = 1.0
    rest: float = 0.0
    lower_only: bool = False
    brisk: bool = False


@dataclass(frozen=True)
class Scheme:
    """A named sequence of parts."""

    key: str
    name: str
    says: str
    parts: tuple[SchemePart, ...]


@dataclass(frozen=True)
class SchemeReading:
    """What a scheme places on each head.

    Attributes
    ----------
    scheme : Scheme
    seconds : float
        Rest included.
    tension : dict of array, shape (heads,)
        Tension times time while long, middling and short [s of full tension].
    """

    scheme: Scheme
    seconds: float
    tension: dict[str, Array]

    def per_minute(self, length: str) -> Array:
        """Tension times time per minute of the scheme, (heads,) [s/min]."""
        return self.tension[length] * 60 / self.seconds


@cache
def schemes() -> dict[str, Scheme]:
    """The built-in schemes by key."""
    return {
        key: Scheme(key, entry["name"], entry["says"], tuple(_part(raw) for raw in entry["parts"]))
        for key, entry in read_toml("curve_rank.study", "schemes.toml").items()
    }


def tempo_of(variant: Variant) -> Tempo:
    """The tempo a variant's guide gives."""
    guide = variant.guide
    return Tempo(lower=guide.lower_s, pause=guide.pause_s, lift=guide.lift_s, squeeze=guide.squeeze_s)


def read_scheme(modelled: VariantModel, scheme: Scheme, *, tempo: Tempo | None = None) -> SchemeReading:
    """What a scheme places on each head of a variant modelled at its ten-repetition load.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    scheme : Scheme
        Sets, repetitions, parts and rests.
    tempo : Tempo, optional
        Of a full rep; partial reps take their part of its strokes. Default: the variant's guide.
    """
    return read_schemes(modelled, (scheme,), tempo=tempo)[0]


def read_schemes(
    modelled: VariantModel, several: tuple[Scheme, ...], *, tempo: Tempo | None = None
) -> tuple[SchemeReading, ...]:
    """As `read_scheme` for several schemes: parts over the same stretch of the rep are done in one batch."""
    tempo = tempo or tempo_of(modelled.variant)
    placed = _placed(modelled, {part for scheme in several for part in scheme.parts}, tempo)
    return tuple(_read(scheme, placed, len(modelled.anatomy.keys)) for scheme in several)


def read_pair(first: VariantModel, second: VariantModel, *, reps: int = 10) -> SchemeReading:
    """Two variants back to back without rest, `reps` each."""
    name = f"{first.variant.name}, then {second.variant.name}"
    scheme = Scheme("pair", name, f"{reps} repetitions each, no rest between.", (SchemePart(reps=reps),))
    one, other = (read_scheme(m, scheme) for m in (first, second))
    both = {name: one.tension[name] + other.tension[name] for name in LENGTHS}
    return SchemeReading(scheme, one.seconds + other.seconds, both)


@dataclass(frozen=True)
class _PartReading:
    """What one part of a scheme places, by length (heads,) [s of full tension], and its time [s]."""

    tension: dict[str, Array]
    seconds: float


def _read(scheme: Scheme, placed: dict[SchemePart, _PartReading], heads: int) -> SchemeReading:
    total = {name: np.zeros(heads) for name in LENGTHS}
    seconds = 0.0
    for part in scheme.parts:
        seconds += placed[part].seconds + part.rest
        total = {name: total[name] + placed[part].tension[name] for name in LENGTHS}
    return SchemeReading(scheme, seconds, total)


def _placed(modelled: VariantModel, parts: set[SchemePart], tempo: Tempo) -> dict[SchemePart, _PartReading]:
    """Every part's own reading."""
    held = [part for part in parts if part.hold]
    result = dict(zip(held, _holds(modelled, held), strict=True))
    together: dict[tuple[float, float, bool], list[SchemePart]] = {}
    for part in parts:
        if not part.hold:
            together.setdefault((part.start, part.end, part.brisk), []).append(part)
    for of_stretch in together.values():
        result |= zip(of_stretch, _reps(modelled, of_stretch, tempo), strict=True)
    return result


def _part(raw: dict[str, Any]) -> SchemePart:
    start = raw.get("from", 0.0)
    return SchemePart(
        reps=raw.get("reps", 0),
        hold=raw.get("hold", 0.0),
        start=AT_HARD_SPOT if start == "hard" else start,
        end=raw.get("to", 1.0),
        load=raw.get("load", 1.0),
        rest=raw.get("rest", 0.0),
        lower_only=raw.get("lower_only", False),
        brisk=raw.get("brisk", False),
    )


def _loads(modelled: VariantModel, parts: list[SchemePart]) -> Array:
    """The parts' loads, each a part of all that the hands move, the body's included [kg]."""
    on_hands = carried(modelled.variant) * modelled.body.mass
    return np.array([part.load * (modelled.load + on_hands) - on_hands for part in parts])


def _reps(modelled: VariantModel, parts: list[SchemePart], tempo: Tempo) -> list[_PartReading]:
    """Parts that are repetitions over one stretch of the rep."""
    start, end = parts[0].start, parts[0].end
    if parts[0].brisk:
        tempo = Tempo(lower=tempo.lift, lift=tempo.lift)
    span, quickest = end - start, quickest_stroke()
    shorter = Tempo(
        lower=max(quickest, tempo.lower * span),
        pause=tempo.pause if start == 0 else 0.0,
        lift=max(quickest, tempo.lift * span),
        squeeze=tempo.squeeze if end == 1 else 0.0,
    )
    setups = (modelled.setup,) * len(parts)
    timed = time_reps(setups, modelled.body, _loads(modelled, parts), shorter, start=start, end=end)
    result = []
    for i, part in enumerate(parts):
        one = timed.of(i).tension_time(PHASES[:2] if part.lower_only else PHASES)
        tension = {name: part.reps * row for name, row in one.items()}
        result.append(_PartReading(tension, part.reps * shorter.total))
    return result


def _holds(modelled: VariantModel, parts: list[SchemePart]) -> list[_PartReading]:
    """Parts that are still holds: the sharing at their places."""
    if not parts:
        return []
    body = modelled.body
    still = model_reps((modelled.setup,) * len(parts), body=body, loads=_loads(modelled, parts))
    peak, last = still.anatomy.peak_force * body.force_scale, still.demand.shape[1] - 1
    result = []
    for i, part in enumerate(parts):
        at = int(still.demand[i].argmax()) if part.start == AT_HARD_SPOT else round(part.start * last)
        tension = part.hold * still.force[:, i, at] / peak
        weights = length_weights(still.geometry.percent[:, i, at])
        result.append(_PartReading({name: tension * w for name, w in weights.items()}, part.hold))
    return result
