"""What a coach would see in a log: what lags, uneven sides, drifting effort, repetitions that fall fast."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import load_shown
from curve_rank.practice.rules import rule, spread_of_rule
from curve_rank.practice.session import fall_per_set
from curve_rank.training.log import Bout
from curve_rank.training.same_effort import point_of, said_of
from curve_rank.training.slopes import (
    Noise,
    Slope,
    lagging,
    lately,
    percent,
    slope_of,
    slopes_by_exercise,
    usual_noise,
)

KINDS = ("lags", "sides", "drift", "fall", "gave_out")
ELSEWHERE = {
    "grip": ("the grip", "straps, a thicker handle, or the exercise before others that tire the grip"),
    "wrist": ("the wrist", "an angled bar or a rope, and the wrist in line with the forearm"),
    "other_muscle": ("another muscle", "the set-up: upper arm where it was set, support for the trunk"),
    "breath": ("the breath", "longer rests, and breathing out on the way up"),
}


@dataclass(frozen=True)
class Notice:
    """Something noticed.

    Attributes
    ----------
    kind : str
        Of `KINDS`.
    variant : str
    says, tries : str
        What was seen, and what to try.
    day : date
        Of the newest bout it rests on.
    """

    kind: str
    variant: str
    says: str
    tries: str
    day: date


def notices(
    by_variant: Mapping[str, Sequence[Bout]],
    facts: Mapping[str, Facts],
    rests: Mapping[str, float],
    unit: str = "kg",
    noise: Noise | None = None,
) -> tuple[Notice, ...]:
    """Everything that is noticed in a log, newest first.

    Parameters
    ----------
    by_variant : mapping
        Bouts by variant, oldest first.
    facts : mapping
        Of the exercises, by variant id.
    rests : mapping
        Rest after each set, by variant [s]; two minutes where it is not known.
    unit : str
        In which loads are told.
    noise : Noise, optional
        Of the house; else as it usually is.
    """
    found: list[Notice] = []
    lag = _lagging(by_variant, facts, noise or usual_noise())
    for variant, rows in by_variant.items():
        worked = [bout for bout in rows if bout.sets]
        fact = facts.get(variant)
        if fact is None or not worked:
            continue
        seen = (
            _lags(worked[-1], *lag[variant]) if variant in lag else None,
            _sides(worked, fact),
            _drift(worked, unit),
            _gave_out(worked),
            _fall(worked[-1], rests.get(variant, 120.0), unit),
        )
        found += [each for each in seen if each is not None]
    return tuple(sorted(found, key=lambda one: (one.day, one.variant), reverse=True))


def _lagging(
    by_variant: Mapping[str, Sequence[Bout]], facts: Mapping[str, Facts], noise: Noise
) -> dict[str, tuple[Slope, Slope]]:
    """Exercises that lag the rest where the rest climbs, each with its own slope and that of all."""
    said = lately(said_of(by_variant, facts))
    whole = slope_of(said, noise)
    if whole is None or not whole.climbs:  # without fitting each by itself, as pages ask this often
        return {}
    apart = slopes_by_exercise(said, noise)
    return {key: (apart[key][0], whole) for key in lagging(whole, apart)}


def _lags(bout: Bout, own: Slope, whole: Slope) -> Notice:
    says = f"Lags the rest: {percent(own.weekly)} a week, all together {percent(whole.weekly)}."
    tries = "Look at its set-up and what gives out first; or another exercise with a like curve."
    return Notice("lags", bout.variant, says, tries, bout.day)


def _sides(rows: Sequence[Bout], fact: Facts) -> Notice | None:
    apart = []
    for bout in rows[-int(rule("progress.side_sessions")) :]:
        left, right = (point_of(bout, fact, side) for side in ("left", "right"))
        if left is None or right is None:
            return None
        apart.append(float(np.log(right.strength / left.strength)))
    if len(apart) < rule("progress.side_sessions"):
        return None
    same_way = all(one > 0 for one in apart) or all(one < 0 for one in apart)
    middle = float(np.median(apart))
    if not same_way or abs(middle) < rule("progress.side_apart"):
        return None
    weaker = "left" if middle > 0 else "right"
    less = 100 * (1 - np.exp(-abs(middle)))
    says = f"The {weaker} side gives {less:.0f} % less, {len(apart)} sessions running."
    tries = f"Begin with the {weaker} side; the other matches its weight and repetitions and does no more."
    return Notice("sides", rows[-1].variant, says, tries, rows[-1].day)


def _drift(rows: Sequence[Bout], unit: str) -> Notice | None:
    count = int(rule("progress.drift_sessions"))
    firsts = [bout.sets[0] for bout in rows[-count:]]
    if len(firsts) < count or any(one.reserve is None or one.as_planned for one in firsts):
        return None
    same = all(one.load_kg == firsts[0].load_kg and one.reps == firsts[0].reps for one in firsts)
    left = [one.reserve or 0 for one in firsts]
    if not same or left[0] - left[-1] < rule("progress.drift_reps") or sorted(left, reverse=True) != left:
        return None
    did = f"{load_shown(firsts[-1].load_kg, unit)} × {firsts[-1].reps}"
    says = f"{did} left {left[0]} in reserve, now {left[-1]}: it grew harder."
    tries = "Sleep and rest days first; then a lighter week. If something hurts, say so."
    return Notice("drift", rows[-1].variant, says, tries, rows[-1].day)


def _fall(bout: Bout, rest: float, unit: str) -> Notice | None:
    """Whether repetitions at one weight fall faster than the rule of fatigue and its spread say."""
    sets = [one for one in bout.sets if one.side in ("", bout.sets[0].side)]
    if len(sets) < 3 or len({one.load_kg for one in sets}) > 1 or sets[0].to_failure < 6:
        return None
    able = [one.to_failure for one in sets]
    lost = 1 - (max(able[-1], 0.5) / able[0]) ** (1 / (len(able) - 1))
    usual = fall_per_set(rest)
    if lost <= usual + rule("progress.fall_spreads") * spread_of_rule("fatigue.fall"):
        return None
    reps = ", ".join(str(one.reps) for one in sets)
    more = f"{100 * lost:.0f} % lost from set to set, usual is {100 * usual:.0f} %"
    says = f"{load_shown(sets[0].load_kg, unit)} × {reps}: {more}."
    tries = "Rest longer between the sets, or leave one more repetition in the first."
    return Notice("fall", bout.variant, says, tries, bout.day)


def _gave_out(rows: Sequence[Bout]) -> Notice | None:
    """Whether in the last two bouts the same thing, not the target, gave out first."""
    told = [{one.gave_out for one in bout.sets} & set(ELSEWHERE) for bout in rows[-2:]]
    both = sorted(set.intersection(*told)) if len(told) == 2 else []
    if not both:
        return None
    what, tries = ELSEWHERE[both[0]]
    says = f"Twice running {what} gave out first, not the muscle it is for."
    return Notice("gave_out", rows[-1].variant, says, f"Try {tries}.", rows[-1].day)
