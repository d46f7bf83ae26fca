"""Write the logs of a made-up house of forty: the model's own physics, one capacity 30 % lower in everybody.

The wrist's extensors are what is lower. Besides, every exercise has an own error of 5 %, every person an arm,
a strength and practice of their own; days and sets scatter, loads lie on steps, repetitions are whole.
"""

from __future__ import annotations

import csv
import gzip
import io
from pathlib import Path

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.draws import SETUP, deviates, uncertain
from curve_rank.arm.rep_setup import effort_for_reps, reps_of, usual_effort
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.practice.facts import FEW_REPS
from curve_rank.practice.rules import rule
from curve_rank.rating.criteria import carried
from curve_rank.rating.draws import loads_of_arms

SEED, PEOPLE, WEEKS = 8, 40, 12
LOW, BY = "helpers.wrist_extensors", -1.5
"""What is lower in everybody, and by how many of its spreads: 30 %."""
OWN_ERROR, STRENGTHS, STAYS = 0.05, 0.12, 0.97
AIMED = 9.0
"""Repetitions to failure that loads are chosen for."""
EXERCISES = (
    "standing-dumbbell-curl", "angled-bar-curl", "reclined-45-dumbbell-curl", "reclined-60-thumb-up-curl",
    "palm-down-bar-curl", "palm-down-dumbbell-curl", "palm-down-cable-curl", "palm-down-angled-bar-curl",
    "pad-45-angled-bar-curl", "pad-45-dumbbell-curl", "standing-thumb-up-curl", "cable-curl-arm-behind",
    "low-cable-bar-curl", "pull-down-palms-up", "rope-press-down", "seated-press-down", "bar-press-down",
    "overhead-dumbbell-one-arm", "overhead-rope-low-pulley", "lying-narrow-angled-bar", "bent-over-pull-back",
    "bench-press-narrow", "incline-bar-extension", "lying-dumbbells-thumb-up",
)  # fmt: skip
FILE = Path(__file__).parents[1] / "src" / "curve_rank" / "store" / "demo_house.csv.gz"


def main() -> None:
    """Write the file."""
    variants = tuple(find_variant(key, built_in()) for key in EXERCISES)
    rng = np.random.default_rng(SEED)
    own = rng.normal(0, OWN_ERROR, len(variants))
    low = uncertain().index(LOW)
    at_rest = np.array([name in SETUP for name in uncertain()])
    rows = []
    for person in range(PEOPLE):
        height = float(np.clip(rng.normal(1.74, 0.08), 1.52, 1.98))
        body = Body(height=round(height, 2), mass=round(float(24 * height**2 * rng.uniform(0.88, 1.15)), 1))
        arm = np.where(at_rest, 0.0, deviates(SEED, person))
        arm[low] += BY
        usual, few = usual_effort(), effort_for_reps(FEW_REPS)
        loads, heavier = (loads_of_arms(variants, body, e, arm[None])[0] for e in (usual, few))
        slope = (heavier - loads) / (few - usual)
        base, hands = loads - slope * usual, np.array([carried(v) * body.mass for v in variants])
        level = own + rng.normal(0, rule("personal.between"), len(variants))
        strength = float(np.exp(rng.normal(0, STRENGTHS)))
        does = rng.choice(len(variants), size=int(rng.integers(7, 14)), replace=False)
        off = rng.normal(0, rule("personal.misjudged"))
        for week in range(WEEKS):
            if week and rng.random() > STAYS:
                break
            for day in (1, 4):
                form = rng.normal(0, rule("personal.form")) + rule("personal.growth") * week
                for at in rng.choice(does, size=min(5, len(does)), replace=False):
                    step = variants[at].equipment.smallest_step_kg
                    lift = np.exp(level[at] + form)
                    aimed = (base[at] + slope[at] * strength * effort_for_reps(AIMED) + hands[at]) * lift
                    load = max(step, round((aimed - hands[at]) / step) * step)
                    held = (load + hands[at]) / (lift * np.exp(rng.normal(0, rule("personal.noise"))))
                    effort = (held - hands[at] - base[at]) / (slope[at] * strength)
                    most = reps_of(effort) if effort > 0 else 99.0
                    left = int(rng.integers(1, 4))
                    reps = round(most - left + off + rng.normal(0, 0.4))
                    if 3 <= reps <= 20:
                        rows.append(
                            (person, body.height, body.mass, 7 * (WEEKS - week) - day, EXERCISES[at],
                             round(load, 2), reps, left)
                        )  # fmt: skip
    text = io.StringIO()
    csv.writer(text, lineterminator="\n").writerows(rows)
    FILE.write_bytes(gzip.compress(text.getvalue().encode(), mtime=0))
    print(f"{len(rows)} sets of {PEOPLE} people in {FILE.name}")


if __name__ == "__main__":
    main()
