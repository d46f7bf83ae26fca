"""How often a log's words are wrong, by simulation: `python -m benchmarks.alarms`.

Lifters gain so much a week, scatter by bout and day as is usual, and say what is left give or take one, in
whole repetitions on real steps. What is said of them now stands beside what was said by the rules that this
replaced: no better in four sessions of an exercise; a block's last sessions against its first.
"""

from __future__ import annotations

import sys
from collections.abc import Callable, Sequence
from datetime import date, timedelta
from itertools import count
from typing import Any

import numpy as np

from benchmarks.lifters import AIM, House
from curve_rank.practice.block import Block, checked
from curve_rank.practice.rooms import Room, load_down
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.review import review
from curve_rank.training.same_effort import points_of, said_of
from curve_rank.training.slopes import SaidBout, lately, slope_of, usual_noise
from curve_rank.training.trial import power, strength_compared

MONDAY = date(2026, 1, 5)
PEOPLE, SEED = 1000, 7
GAINS = (0.0, 0.005, 0.01, 0.02)
DAYS = {1: (0,), 2: (0, 3), 3: (0, 2, 4)}
FORM = (0.0, 0.01, 0.02)
"""Of a week, that all exercises share [1]."""
OLD_SESSIONS, OLD_GAIN, OLD_ENDS = 4, 0.01, 3
CURLS = ("standing-dumbbell-curl", "pad-45-dumbbell-curl", "cable-curl-arm-behind")
EXTENSIONS = ("rope-press-down", "overhead-dumbbell-one-arm", "seated-press-down")
_KEYS = count(1)


class Logger:
    """Writes logs of lifters who gain so much a week on each of some exercises."""

    def __init__(self, house: House, seed: int) -> None:
        self.house, self.rng = house, np.random.default_rng(seed)

    def log(
        self, gains: dict[str, float], days: int, weeks: int, start: date = MONDAY, form: float = 0.0
    ) -> list[LoggedSet]:
        """First sets of every exercise on so many days a week, each with what is said to be left."""
        rng, found, noise = self.rng, [], usual_noise()
        own = {key: rng.normal(0, 0.1) for key in gains}
        for week in range(weeks):
            shared = rng.normal(0, form)
            for day in DAYS[days]:
                good = shared + rng.normal(0, noise.day)
                for key, gain in gains.items():
                    at = own[key] + gain * (week + day / 7)
                    one = self._set(key, start + timedelta(days=7 * week + day), at, good)
                    found += [one] if one else []
        return found

    def _set(self, key: str, day: date, true: float, form: float) -> LoggedSet | None:
        fact = self.house.facts[key]
        aimed = self.house.held(key, AIM) * np.exp(true) - fact.on_hands
        load = load_down(Room(), fact.variant, float(aimed))
        able = self.house.capacity(key, load, true + form + self.rng.normal(0, usual_noise().own))
        if not 3 <= able <= 25:
            return None
        reps = max(1, int(able - 2))
        left = able - reps + self.rng.choice([-1, 0, 1])
        reserve = int(np.clip(round(left), 0, 10))
        return LoggedSet(
            key=f"alarm-{next(_KEYS):09d}", day=day, variant=key, load_kg=round(load, 3), reps=reps,
            reserve=reserve,
        )  # fmt: skip


def old_stall(log: Sequence[LoggedSet], house: House) -> bool:
    """No better in four sessions than before, on any exercise."""
    for key, rows in bouts(log).items():
        values = [p.strength for p in points_of({key: rows}, house.facts, house.facts[key].group)]
        recent, before = values[-OLD_SESSIONS:], values[:-OLD_SESSIONS]
        if before and max(recent) <= max(before) * (1 + OLD_GAIN):
            return True
    return False


def old_trial(first: Sequence[SaidBout], second: Sequence[SaidBout]) -> bool:
    """Whether last sessions against first ones, of two blocks, differed by twice their error."""
    means, errors = [], []
    for said in (first, second):
        gains, spread = [], []
        for key in sorted({one.variant for one in said}):
            row = np.array([one.value for one in said if one.variant == key])
            ends = min(OLD_ENDS, len(row) // 2)
            gains.append(row[-ends:].mean() - row[:ends].mean())
            at = np.arange(len(row))
            left = row - np.polyval(np.polyfit(at, row, 1), at)
            spread.append(np.sqrt((left @ left + 4 * 0.04**2) / (len(row) + 2)) * np.sqrt(2 / ends))
        weights = 1 / np.square(spread)
        means.append(np.average(gains, weights=weights))
        errors.append(1 / np.sqrt(weights.sum()))
    return bool(abs(means[1] - means[0]) > 1.96 * np.sqrt(errors[0] ** 2 + errors[1] ** 2 + 0.015**2))


def stall_table(house: House, people: int, say: Callable[[str], None]) -> None:
    """Part of lifters who are flagged, at one look and by then, and by the old rule."""
    say("Flagged at one look / at any weekly look so far / by the rule of four sessions [% of lifters]")
    say(f"{'':34}" + "".join(f"{100 * gain:>14.1f} % a week" for gain in GAINS))
    for exercises, days in ((4, 3), (2, 3), (2, 2)):
        keys, rows = [*CURLS[:1], *EXTENSIONS[:1], *CURLS[1:2], *EXTENSIONS[1:2]][:exercises], []
        for gain in GAINS:
            logger = Logger(house, SEED)
            seen: dict[int, list[tuple[bool, bool, bool]]] = {4: [], 6: [], 8: []}
            for _ in range(people):
                log, ever = logger.log(dict.fromkeys(keys, gain), days, 8), False
                for week in range(4, 9):
                    part = [one for one in log if one.day < MONDAY + timedelta(weeks=week)]
                    slope = slope_of(lately(said_of(bouts(part), house.facts)), usual_noise())
                    now = slope is not None and slope.stalls
                    ever |= now
                    if week in seen:
                        seen[week].append((now, ever, old_stall(part, house)))
            rows.append({week: 100 * np.mean(found, axis=0) for week, found in seen.items()})
        for week in (4, 6, 8):
            cells = "".join(f"{'/'.join(f'{part:.0f}' for part in row[week]):>21}" for row in rows)
            say(f"{exercises} exercises × {days} a week, week {week:<6}" + cells)


def trial_table(house: House, people: int, say: Callable[[str], None]) -> None:
    """Part of trials of two blocks of eight weeks that show a difference."""
    say("\nTrials of two blocks of 8 weeks that show a difference [%]; by last sessions against first ones")
    say(f"{'':34}" + "".join(f"{100 * gain:>12.1f} % a week" for gain in GAINS))
    groups = {key: fact.group for key, fact in house.facts.items()}
    for crossed in (False, True):
        for form in FORM:
            cells = []
            for gain in GAINS:
                logger, shown, old = Logger(house, SEED), [], []
                for _ in range(people // 4):
                    one, other = 0.005, 0.005 + gain
                    ways = ((one, other), (other, one)) if crossed else ((one, one), (other, other))
                    blocks = [
                        said_of(
                            bouts(
                                logger.log(
                                    dict.fromkeys(CURLS[:2], flex) | dict.fromkeys(EXTENSIONS[:2], extend),
                                    3, 8, MONDAY + timedelta(weeks=8 * n), form,
                                )
                            ),
                            house.facts,
                        )
                        for n, (flex, extend) in enumerate(ways)
                    ]  # fmt: skip
                    measure = strength_compared(blocks[0], blocks[1], groups, crossed=crossed)
                    shown.append(measure is not None and measure.shown)
                    old.append(old_trial(*blocks))
                cells.append(
                    f"{100 * np.mean(shown):.0f}" + ("" if crossed else f"; {100 * np.mean(old):.0f}")
                )
            name = f"{'crossed' if crossed else 'one after the other'}, {100 * form:.0f} % weekly form"
            say(f"{name:34}" + "".join(f"{cell:>19}" for cell in cells))
        said = "".join(f"{f'{100 * power(8, gain, crossed=crossed):.0f}':>19}" for gain in GAINS)
        say(f"{'as is said before it begins':34}" + said)


def block_of(keys: Sequence[str], days: int, weeks: int) -> Block:
    """Weeks of the same exercises."""
    exercises: list[dict[str, Any]] = [{"variant": key, "sets": 1} for key in keys]
    week = {"sessions": [{"day": day, "exercises": exercises} for day in DAYS[days]]}
    return checked({"name": "B", "targets": ["biceps_long"], "weeks": [week] * weeks, "start": MONDAY})


def review_table(house: House, people: int, say: Callable[[str], None]) -> None:
    """Part of six-exercise reviews with a word, false where nobody grows, and told where all grow."""
    say("\nReviews of six exercises three times a week [% of reviews]: says that all climb; that one does")
    say("by itself; that one lags; any false word; and a false one by exercises’ own least squares")
    keys = (*CURLS, *EXTENSIONS)
    for weeks in (6, 8):
        for gain in (0.0, 0.01):
            logger, rows = Logger(house, SEED), []
            for _ in range(people // 2):
                log, block = logger.log(dict.fromkeys(keys, gain), 3, weeks), block_of(keys, 3, weeks)
                end = MONDAY + timedelta(weeks=weeks)
                found = review(block, log, house.facts, end)
                why = [one.why for one in found.advice]
                climbs = found.slope is not None and found.slope.climbs
                alone = any("climbs by itself" in one for one in why)
                lags = any("lags the rest" in one for one in why)
                false = (climbs or alone) if not gain else False
                rows.append((climbs, alone, lags, false or lags, old_words(log, house, gain)))
            cells = "".join(f"{100 * part:>10.0f}" for part in np.mean(rows, axis=0))
            say(f"{weeks} weeks, all gain {100 * gain:.0f} % a week" + cells)


def old_words(log: Sequence[LoggedSet], house: House, gain: float) -> bool:
    """Whether any exercise's own least squares, at four in five, say what is not so."""
    for key, rows in bouts(log).items():
        points = points_of({key: rows}, house.facts, house.facts[key].group)
        at = np.array([point.day.toordinal() / 7 for point in points])
        values = np.log([point.strength for point in points])
        table = np.column_stack([at - at.mean(), np.ones(len(at))])
        fit, *_ = np.linalg.lstsq(table, values, rcond=None)
        left = values - table @ fit
        error = np.sqrt(left @ left / (len(at) - 2) / ((at - at.mean()) ** 2).sum())
        low, high = fit[0] - 1.33 * error, (fit[0] + 1.33 * error) * np.ptp(at)
        if (not gain and low > 0) or (gain and low <= 0 and high < 0.02):
            return True
    return False


def main(arguments: list[str] | None = None) -> None:
    """Print all tables; `--quick` with a tenth of the lifters."""
    people = PEOPLE // 10 if "--quick" in (arguments if arguments is not None else sys.argv[1:]) else PEOPLE
    print(f"{people} lifters a cell (trials {people // 4}, reviews {people // 2}), seed {SEED}")
    house = House(1)
    stall_table(house, people, print)
    trial_table(house, people, print)
    review_table(house, people, print)


if __name__ == "__main__":
    main()
