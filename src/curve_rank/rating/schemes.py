"""Rep schemes on a curve: where in each head's range a way of doing the reps places tension."""

from __future__ import annotations

import tomllib
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.readings import THIRDS, length_weights
from curve_rank.arm.rep import model_reps
from curve_rank.arm.tempo import PHASES, Tempo, time_rep
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.scoring import carried

Array = NDArray[np.float64]

LENGTHS = THIRDS


@dataclass(frozen=True)
class Part:
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
    """

    reps: int = 0
    hold: float = 0.0
    start: float = 0.0
    end: float = 1.0
    load: float = 1.0
    rest: float = 0.0
    lower_only: bool = False


@dataclass(frozen=True)
class Scheme:
    """A named sequence of parts."""

    key: str
    name: str
    says: str
    parts: tuple[Part, ...]


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
    table = tomllib.loads(files("curve_rank.rating").joinpath("schemes.toml").read_text(encoding="utf-8"))
    return {
        key: Scheme(key, entry["name"], entry["says"], tuple(_part(raw) for raw in entry["parts"]))
        for key, entry in table.items()
    }


def tempo_of(variant: Variant) -> Tempo:
    """The tempo a variant's guide gives."""
    guide = variant.guide
    return Tempo(lower=guide.lower_s, pause=guide.pause_s, lift=guide.lift_s, squeeze=guide.squeeze_s)


def read_scheme(modelled: Modelled, scheme: Scheme, *, tempo: Tempo | None = None) -> SchemeReading:
    """What a scheme places on each head of a variant modelled at its ten-repetition load.

    Parameters
    ----------
    modelled : Modelled
    scheme : Scheme
    tempo : Tempo, optional
        Of a full rep; partial reps take their part of its strokes. Default: the variant's guide.
    """
    tempo = tempo or tempo_of(modelled.variant)
    total = {name: np.zeros(len(modelled.batch.anatomy.keys)) for name in LENGTHS}
    seconds = 0.0
    for part in scheme.parts:
        placed, time = _hold(modelled, part) if part.hold else _reps(modelled, part, tempo)
        seconds += time + part.rest
        total = {name: total[name] + placed[name] for name in LENGTHS}
    return SchemeReading(scheme, seconds, total)


def read_pair(first: Modelled, second: Modelled, *, reps: int = 10) -> SchemeReading:
    """Two variants back to back without rest, `reps` each."""
    name = f"{first.variant.name}, then {second.variant.name}"
    scheme = Scheme("pair", name, f"{reps} repetitions each, no rest between.", (Part(reps=reps),))
    one, other = (read_scheme(m, scheme) for m in (first, second))
    both = {name: one.tension[name] + other.tension[name] for name in LENGTHS}
    return SchemeReading(scheme, one.seconds + other.seconds, both)


def _part(raw: dict[str, Any]) -> Part:
    start = raw.get("from", 0.0)
    return Part(
        reps=raw.get("reps", 0),
        hold=raw.get("hold", 0.0),
        start=-1.0 if start == "hard" else start,
        end=raw.get("to", 1.0),
        load=raw.get("load", 1.0),
        rest=raw.get("rest", 0.0),
        lower_only=raw.get("lower_only", False),
    )


def _load(modelled: Modelled, part: Part) -> float:
    """The part's load; a share of all that the hands move, the body's included [kg]."""
    on_hands = carried(modelled.variant) * modelled.batch.body.mass
    return part.load * (modelled.readings.load + on_hands) - on_hands


def _reps(modelled: Modelled, part: Part, tempo: Tempo) -> tuple[dict[str, Array], float]:
    span = part.end - part.start
    shorter = Tempo(
        lower=max(0.2, tempo.lower * span),
        pause=tempo.pause if part.start == 0 else 0.0,
        lift=max(0.2, tempo.lift * span),
        squeeze=tempo.squeeze if part.end == 1 else 0.0,
    )
    setup, body = modelled.batch.setups[modelled.place], modelled.batch.body
    timed = time_rep(setup, body, _load(modelled, part), shorter, start=part.start, end=part.end)
    phases = PHASES[:2] if part.lower_only else PHASES
    placed = timed.tension_time(phases)
    return {name: part.reps * row for name, row in placed.items()}, part.reps * shorter.total


def _hold(modelled: Modelled, part: Part) -> tuple[dict[str, Array], float]:
    """Tension of a still hold: the sharing at that place."""
    batch, body = modelled.batch, modelled.batch.body
    still = model_reps((batch.setups[modelled.place],), body=body, loads=np.array([_load(modelled, part)]))
    last = still.demand.shape[1] - 1
    at = int(still.demand[0].argmax()) if part.start < 0 else round(part.start * last)
    peak = still.anatomy.peak_force * body.force_scale
    tension = part.hold * still.force[:, 0, at] / peak
    percent = still.geometry.percent[:, 0, at]
    weights = length_weights(percent)
    return {name: tension * weight for name, weight in weights.items()}, part.hold
