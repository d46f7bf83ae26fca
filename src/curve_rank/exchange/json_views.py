"""Plain data of results, the same for the command line, the pages' JSON twins and downloads."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.parameters import HeadEntry, Parameter, parameter_set
from curve_rank.arm.readings import LENGTHS, NOTES, THIRDS, Readings
from curve_rank.arm.stroke import Strokes
from curve_rank.arm.tempo import TimedReps
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.similar import Complement, Neighbour
from curve_rank.rating.spreads import Spread, spread_of
from curve_rank.rating.words import load_words
from curve_rank.study.evidence import LensVerdict, TrainingStudy
from curve_rank.study.fault_prices import FaultPrice
from curve_rank.study.schemes import SchemeReading

REPORTED_HEADS = (
    "biceps_long",
    "biceps_short",
    "brachialis",
    "brachioradialis",
    "triceps_long",
    "triceps_lateral",
    "triceps_medial",
)


def model_view(modelled: VariantModel, drawn: Readings | None = None) -> dict[str, Any]:
    """One modelled variant: the curves along the rep, every head along it, and the readings.

    Numbers are nominal; with the fixed draws given, medians and intervals of the most quoted stand beside.
    """
    view = _nominal_view(modelled)
    if drawn is not None:
        heads = [(h.key, modelled.anatomy.index(h.key)) for h in _heads_of(modelled.variant.group)]
        view["drawn"] = {"load_kg": spread(spread_of(drawn.load))} | {
            name: {key: spread(spread_of(getattr(drawn, name)[i]), 4) for key, i in heads}
            for name in ("long_tension", "short_tension", "mean_tension", "work_share")
        }
    return view


def _nominal_view(modelled: VariantModel) -> dict[str, Any]:
    readings = modelled.readings
    group = modelled.variant.group
    reader = [h.key for h in _heads_of(group)]
    return {
        "variant": modelled.variant.id,
        "name": modelled.variant.name,
        "load_kg": rounded(modelled.load, 3),
        "load": load_words(modelled),
        "coordinate": modelled.variant.coordinate,
        "limited_by": modelled.limited_by,
        "limits_kg": {
            name: rounded(load, 2) if math.isfinite(load) else "not limiting"
            for name, load in modelled.limits.items()
        },
        "feasible_share": float(readings.feasible_share),
        "rep": {
            "elbow_deg": row(modelled.angle("elbow"), 2),
            "shoulder_deg": row(modelled.angle("shoulder"), 2),
            "forearm_deg": row(modelled.angle("forearm"), 2),
            "demand_nm": row(modelled.along("demand"), 4),
            "strength_nm": row(modelled.along("strength"), 4),
            "effort": row(modelled.along("effort"), 5),
            "lever_m": [rounded(v, 5) if math.isfinite(v) else None for v in modelled.along("lever")],
        },
        "heads": {key: _head_view(modelled, key) for key in REPORTED_HEADS},
        "readings": {
            "hard_spot_deg": rounded(readings.hard_spot, 2),
            "hard_spot_third": modelled.hard_third,
            "effort_peak_deg": rounded(readings.effort_peak, 2),
            "peak_demand_nm": rounded(readings.peak_demand, 3),
            "slack_share": rounded(readings.slack_share, 4),
            "slack": [[rounded(a, 4), rounded(b, 4)] for a, b in modelled.slack],
            "evenness": rounded(readings.evenness, 4),
            "multi_joint_share": rounded(readings.multi_joint, 4),
            "length_at_hard_spot_pct": _of_heads(modelled, "length_at_hard_spot", reader, 2),
            "long_tension": _of_heads(modelled, "long_tension", reader, 4),
            "short_tension": _of_heads(modelled, "short_tension", reader, 4),
            "mean_tension": _of_heads(modelled, "mean_tension", reader, 4),
            "work_share": _of_heads(modelled, "work_share", reader, 4),
            "joints": {note: rounded(getattr(readings, note), 2) for note in NOTES},
        },
    }


def _seconds(stroke: float) -> float | None:
    return rounded(stroke, 2) if math.isfinite(stroke) else None


def time_under_tension_view(timed: TimedReps, strokes: Strokes | None) -> dict[str, Any]:
    """What one rep in time amounts to."""
    thirds = {name: rounded(seconds, 3) for name, seconds in timed.thirds.items()}
    # The first names of the thirds were those of a head's lengths; they stay beside the right ones.
    former = {former: thirds[name] for former, name in zip(LENGTHS, THIRDS, strict=True)}
    return {
        "tempo_s": vars(timed.tempo),
        "under_20_pct_s": rounded(timed.under_light, 3),
        "under_50_pct_s": rounded(timed.under_hard, 3),
        "thirds_s": thirds | former,
        "feasible_share": rounded(timed.feasible_share, 4),
        "least_lift_s": _seconds(strokes.first) if strokes else None,
        "last_lift_s": _seconds(strokes.last) if strokes else None,
    }


def timed_view(modelled: VariantModel, timed: TimedReps, strokes: Strokes | None) -> dict[str, Any]:
    """One rep in time."""
    return {
        "variant": modelled.variant.id,
        "load_kg": rounded(modelled.load, 3),
        **time_under_tension_view(timed, strokes),
        "time_s": row(timed.time, 3),
        "place": row(timed.place, 4),
        "demand_nm": row(timed.demand, 3),
        "inertial_nm": row(timed.inertial, 3),
        "strength_nm": row(timed.strength, 3),
        "effort": row(timed.effort, 4),
    }


def fault_view(price: FaultPrice) -> dict[str, Any]:
    """What a fault costs: a median of draws, and eight in ten of them."""
    found = price.price.spread if price.price else None
    return {
        "name": price.faults[0].name,
        "score_change": rounded(found.median, 2) if found else None,
        "interval": [rounded(found.low, 2), rounded(found.high, 2)] if found else None,
        "says": price.says,
    }


def neighbour_view(one: Neighbour) -> dict[str, Any]:
    """A variant with a like curve."""
    return {"variant": one.modelled.variant.id, "difference": rounded(one.difference, 4)}


def complement_view(one: Complement) -> dict[str, Any]:
    """A variant that adds what another lacks."""
    return {
        "variant": one.modelled.variant.id,
        "gain": rounded(one.gain, 4),
        "head": one.head,
        "length": one.length,
    }


def comparison_view(comparison: TrainingStudy, said: tuple[LensVerdict, ...]) -> dict[str, Any]:
    """A published comparison, and what every lens says of it."""
    return {
        "title": comparison.title,
        "source": comparison.source,
        "found": comparison.found,
        "differs": comparison.differs,
        "sure": comparison.sure,
        "verdicts": [
            {
                "lens": v.lens.key,
                "target": v.target.key,
                "more": rounded(v.more, 2),
                "less": rounded(v.less, 2),
                "chance": rounded(v.chance, 3),
                "says": v.says,
            }
            for v in said
        ],
    }


def parameter_view(parameter: Parameter) -> dict[str, Any]:
    """One number of the model with its source."""
    return {
        "key": parameter.key,
        "value": list(parameter.value),
        "unit": parameter.unit,
        "spread": parameter.spread,
        "spread_is_absolute": parameter.spread_is_absolute,
        "sources": list(parameter.sources),
        "note": parameter.note,
    }


def scheme_view(modelled: VariantModel, reading: SchemeReading) -> dict[str, Any]:
    """What a rep scheme places on each head of the group."""
    places = {h.key: modelled.anatomy.index(h.key) for h in _heads_of(modelled.variant.group)}
    return {
        "scheme": reading.scheme.key,
        "name": reading.scheme.name,
        "seconds": rounded(reading.seconds, 2),
        "tension_s": {
            key: {length: rounded(row[i], 3) for length, row in reading.tension.items()}
            for key, i in places.items()
        },
        "per_minute_s": {
            key: {length: rounded(reading.per_minute(length)[i], 3) for length in reading.tension}
            for key, i in places.items()
        },
    }


def _heads_of(group: str) -> list[HeadEntry]:
    return [h for h in parameter_set().heads if h.counted and h.group == group]


def spread(told: Spread, digits: int = 2) -> dict[str, float]:
    """Median and interval over the fixed draws."""
    return {name: rounded(value, digits) for name, value in vars(told).items()}


def _of_heads(modelled: VariantModel, name: str, heads: Iterable[str], digits: int) -> dict[str, float]:
    """One per-head reading by head."""
    return {key: rounded(modelled.of_head(name, key), digits) for key in heads}


def _head_view(modelled: VariantModel, key: str) -> dict[str, list[float]]:
    rep, head = modelled.rep, modelled.anatomy.index(key)
    moment = np.maximum(rep.moment[:, 0], 0.0)
    others = np.maximum(modelled.along("other_moment"), 0.0)
    return {
        "drive": row(modelled.drive_along(key), 5),
        "force_n": row(modelled.head_along("force", key), 2),
        "moment_arm_mm": row(1000 * modelled.body.scale * rep.geometry.elbow_moment_arm[head, 0], 3),
        "length_norm": row(rep.geometry.length[head, 0], 4),
        "length_pct": row(modelled.length_along(key), 2),
        "share": row(moment[head] / np.maximum(moment.sum(axis=0) + others, 1e-9), 4),
    }


def row(values: Array, digits: int) -> list[float]:
    cleaned: list[float] = (np.round(values, digits) + 0.0).tolist()
    return cleaned


def rounded(value: Any, digits: int) -> float:
    return round(float(value), digits) + 0.0
