"""Plain data of results, the same for the command line, the pages' JSON twins and downloads."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.parameters import HeadEntry, parameter_set
from curve_rank.arm.tempo import TimedRep
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.certainty import Certainty
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.ranking import Ranking, Row
from curve_rank.rating.schemes import LENGTHS, SchemeReading
from curve_rank.rating.transfer import Transfer
from curve_rank.rating.why import load_words

REPORTED_HEADS = (
    "biceps_long",
    "biceps_short",
    "brachialis",
    "brachioradialis",
    "triceps_long",
    "triceps_lateral",
    "triceps_medial",
)


def model_view(modelled: Modelled) -> dict[str, Any]:
    """One modelled variant: the curves along the rep, every head along it, and the readings."""
    readings = modelled.readings
    group = modelled.variant.target
    reader = [h.key for h in _heads_of(group)]
    return {
        "variant": modelled.variant.id,
        "name": modelled.variant.name,
        "load_kg": _rounded(readings.load, 3),
        "load": load_words(modelled),
        "coordinate": modelled.variant.coordinate,
        "limited_by": readings.limited_by,
        "limits_kg": {
            name: _rounded(load, 2) if math.isfinite(load) else "not limiting"
            for name, load in modelled.batch.limits_of(modelled.place).items()
        },
        "feasible_share": readings.feasible_share,
        "rep": {
            "elbow_deg": _row(modelled.angle("elbow"), 2),
            "shoulder_deg": _row(modelled.angle("shoulder"), 2),
            "forearm_deg": _row(modelled.angle("forearm"), 2),
            "demand_nm": _row(modelled.along("demand"), 4),
            "strength_nm": _row(modelled.along("strength"), 4),
            "effort": _row(modelled.along("effort"), 5),
            "lever_m": [_rounded(v, 5) if math.isfinite(v) else None for v in modelled.along("lever")],
        },
        "heads": {key: _head_view(modelled, key) for key in REPORTED_HEADS},
        "readings": {
            "hard_spot_deg": _rounded(readings.hard_spot, 2),
            "hard_spot_third": readings.hard_third,
            "effort_peak_deg": _rounded(readings.effort_peak, 2),
            "peak_demand_nm": _rounded(readings.peak_demand, 3),
            "slack_share": _rounded(readings.slack_share, 4),
            "slack": [[_rounded(a, 4), _rounded(b, 4)] for a, b in readings.slack],
            "evenness": _rounded(readings.evenness, 4),
            "multi_joint_share": _rounded(readings.multi_joint, 4),
            "length_at_hard_spot_pct": {k: _rounded(modelled.head(k).length_at_hard_spot, 2) for k in reader},
            "long_tension": {k: _rounded(modelled.head(k).long_tension, 4) for k in reader},
            "short_tension": {k: _rounded(modelled.head(k).short_tension, 4) for k in reader},
            "mean_tension": {k: _rounded(modelled.head(k).mean_tension, 4) for k in reader},
            "work_share": {k: _rounded(modelled.head(k).share, 4) for k in reader},
            "joints": {k: _rounded(v, 2) for k, v in vars(readings.joints).items()},
        },
    }


def ranking_view(ranking: Ranking) -> dict[str, Any]:
    """A ranking: the question as asked, its rows, and what was left out."""
    question = ranking.question
    return {
        "question": {
            "target": question.target,
            "lens": question.lens,
            "with": list(question.equipment),
            "spare": list(question.spare),
            "body": {"height_m": question.body.height, "mass_kg": question.body.mass},
            "reps": question.reps,
        },
        "rows": [_row_view(row) for row in ranking.rows],
        "left_out": [{"variant": item.variant.id, "reason": item.reason} for item in ranking.left_out],
    }


PARAMETER_WORDS = {
    "elbow_arm": "moment arm at the elbow",
    "elbow_arm_low": "moment arm near straight",
    "forearm_scale": "moment arm with the palm’s turn",
    "forearm_arm": "arm for turning the palm",
    "shoulder_arm": "moment arm at the shoulder",
    "peak_force": "peak force",
    "reference_length": "reference length",
    "setup.trunk": "how the trunk is set",
    "setup.upper_arm": "how the upper arm is set",
    "setup.pulley_forward": "how far the pulley stands",
    "setup.pulley_up": "how high the pulley stands",
    "setup.pulley_right": "how far aside the pulley stands",
}


def parameter_words(name: str) -> str:
    """A drawn parameter in words."""
    if name in PARAMETER_WORDS:
        return PARAMETER_WORDS[name]
    *_, group, last = ("", *name.split("."))
    heads = {head.key: head.name for head in parameter_set().heads}
    words = PARAMETER_WORDS.get(last, last.replace("_", " "))
    return f"{heads[group]}: {words}" if group in heads else words


def certainty_view(sure: Certainty) -> dict[str, Any]:
    """How sure a ranking is."""
    return {
        "draws": sure.draws,
        "seed": sure.seed,
        "rows": [
            {
                "variant": row.variant,
                "rank_interval": [row.rank_low, row.rank_high],
                "score_interval": [_rounded(row.score_low, 2), _rounded(row.score_high, 2)],
                "beats_next": _rounded(row.beats_next, 3),
                "band": row.band,
            }
            for row in sure.rows
        ],
        "hangs_on": [
            {
                "parameter": hang.parameter,
                "words": parameter_words(hang.parameter),
                "part": _rounded(hang.part, 3),
            }
            for hang in sure.hangs_on
        ],
    }


def transfer_view(one: Transfer) -> dict[str, Any]:
    """A transferred load as plain data."""
    return {
        "variant": one.modelled.variant.id,
        "load_kg": round(one.load, 2),
        "interval_kg": [round(one.low, 2), round(one.high, 2)],
        "rounded_kg": round(one.rounded, 3),
        "limited_by": one.modelled.readings.limited_by,
    }


def timed_view(modelled: Modelled, timed: TimedRep) -> dict[str, Any]:
    """One rep in time."""
    return {
        "variant": modelled.variant.id,
        "load_kg": _rounded(modelled.readings.load, 3),
        "tempo_s": vars(timed.tempo),
        "under_20_pct_s": _rounded(timed.under_light, 3),
        "under_50_pct_s": _rounded(timed.under_hard, 3),
        "thirds_s": {name: _rounded(t, 3) for name, t in zip(LENGTHS, timed.thirds, strict=True)},
        "feasible_share": _rounded(timed.feasible_share, 4),
        "time_s": _row(timed.time, 3),
        "place": _row(timed.place, 4),
        "demand_nm": _row(timed.demand, 3),
        "inertial_nm": _row(timed.inertial, 3),
        "strength_nm": _row(timed.strength, 3),
        "effort": _row(timed.effort, 4),
    }


def scheme_view(modelled: Modelled, reading: SchemeReading) -> dict[str, Any]:
    """What a rep scheme places on each head of the group."""
    places = {h.key: modelled.batch.anatomy.index(h.key) for h in _heads_of(modelled.variant.target)}
    return {
        "scheme": reading.scheme.key,
        "name": reading.scheme.name,
        "seconds": _rounded(reading.seconds, 2),
        "tension_s": {
            key: {length: _rounded(row[i], 3) for length, row in reading.tension.items()}
            for key, i in places.items()
        },
        "per_minute_s": {
            key: {length: _rounded(reading.per_minute(length)[i], 3) for length in reading.tension}
            for key, i in places.items()
        },
    }


def variant_line(variant: Variant) -> dict[str, Any]:
    """A variant in a list."""
    return {
        "id": variant.id,
        "name": variant.name,
        "target": variant.target,
        "family": variant.family,
        "loads": list(variant.equipment.loads),
        "bench": variant.equipment.bench,
        "summary": variant.summary,
    }


def _heads_of(group: str) -> list[HeadEntry]:
    return [h for h in parameter_set().heads if h.counted and h.group == group]


def _row_view(row: Row) -> dict[str, Any]:
    return {
        "rank": row.rank,
        "variant": row.variant.id,
        "name": row.variant.name,
        "score": _rounded(row.score, 2),
        "criteria": {
            part.criterion.key: {
                "value": _rounded(part.value, 4),
                "score": _rounded(part.score, 2),
                "weight": part.weight,
            }
            for part in row.criteria
        },
        "why": row.why,
        "load_kg": _rounded(row.modelled.readings.load, 2),
        "limited_by": row.modelled.readings.limited_by,
        "strain": {strain.joint.key: _rounded(strain.strain, 3) for strain in row.strains},
    }


def _head_view(modelled: Modelled, key: str) -> dict[str, list[float]]:
    anatomy, i = modelled.batch.anatomy, modelled.place
    head = anatomy.index(key)
    moment = np.maximum(modelled.batch.moment[:, i], 0.0)
    helpers = np.maximum(modelled.batch.helper_moment[i], 0.0)
    geometry, scale = modelled.batch.geometry, modelled.batch.body.scale
    return {
        "drive": _row(modelled.batch.drive[head, i], 5),
        "force_n": _row(modelled.batch.force[head, i], 2),
        "moment_arm_mm": _row(1000 * scale * geometry.elbow_arm[head, i], 3),
        "length_norm": _row(geometry.length[head, i], 4),
        "length_pct": _row(geometry.percent[head, i], 2),
        "share": _row(moment[head] / np.maximum(moment.sum(axis=0) + helpers, 1e-9), 4),
    }


def _row(values: NDArray[np.float64], digits: int) -> list[float]:
    cleaned: list[float] = (np.round(values, digits) + 0.0).tolist()
    return cleaned


def _rounded(value: float, digits: int) -> float:
    return round(float(value), digits) + 0.0
