"""Demo logs: what the made-up clients of Lanternfield Barn did, measured and wrote."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, date, datetime, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.practice.block import Block
from curve_rank.practice.rooms import Room
from curve_rank.store.comments import add_comment
from curve_rank.store.logs import add_sets, log_of
from curve_rank.store.measures import add_sitting
from curve_rank.store.viewers import Viewer
from curve_rank.training.circumference import ArmMeasure
from curve_rank.training.log import LoggedSet, bouts
from curve_rank.training.progression import Range, next_target

BEGUN_WITH: dict[str, dict[str, float]] = {
    "Wren Achterberg": {
        "seated-press-down": 15.0,
        "reclined-60-dumbbell-curl": 8.0,
        "overhead-dumbbell-one-arm": 6.0,
        "reclined-45-thumb-up-curl": 8.0,
        "standing-dumbbell-curl": 8.0,
        "bent-over-pull-back": 4.0,
    },
    "Ines Quarrie": {
        "seated-press-down": 20.0,
        "reclined-60-dumbbell-curl": 12.0,
        "overhead-dumbbell-one-arm": 7.0,
        "reclined-45-thumb-up-curl": 12.0,
        "standing-dumbbell-curl": 11.0,
        "bent-over-pull-back": 6.0,
    },
}
"""Per client, what they began each exercise with [kg]."""
SORE = {"Ines Quarrie": ("overhead-dumbbell-one-arm", "shoulder", (3, 4))}
"""Whose joint hurts in which exercise, in the last sessions of it, and how much of 10."""
WEAKER = 0.93
"""What the weaker side does of the stronger one's repetitions [1]."""
COMMENTS = (
    (
        "Wren Achterberg",
        True,
        "The recline feels strong this week. The overhead one still wobbles on the left.",
    ),
    (
        "Wren Achterberg",
        False,
        "Keep the left first, and let the right only match it. We look at it on Saturday.",
    ),
    ("Ines Quarrie", True, "Shoulder again in the overhead extension. What do I do instead?"),
)
TAPE = {  # relaxed and flexed, start and end [cm]
    "Harvest arms": (((27.9, 28.1, 28.0), (30.2, 30.4, 30.3)), ((28.1, 28.3, 28.1), (30.6, 30.5, 30.8))),
    "Lantern weeks": (((28.1, 28.0, 28.3), (30.5, 30.7, 30.6)), None),
}


def log_block(
    session: DbSession, who: Viewer, block: Block, number: int, room: Room, today: date, *, weaker: str
) -> None:
    """What somebody did of a block up to a day: progress by the rules, with a lifter's scatter."""
    rng = np.random.default_rng(sum(map(ord, who.name + block.name)))
    log = list(log_of(session, who, who.person))
    before = len(log)
    for w, s, planned in block.sessions:
        day = (block.start or today) + timedelta(days=7 * w + planned.day)
        if day >= today or (w, s) == (1, 1):  # one was missed
            continue
        for place, one in enumerate(planned.exercises):
            document = find_variant(one.variant, built_in())
            wanted = Range(one.sets, one.reps_from, one.reps_to)
            begun = BEGUN_WITH[who.name][one.variant]
            rows = bouts(log).get(one.variant, ())
            target = next_target(rows, document, wanted, room, day, start=begun)
            aims = target.reps or (one.reps_from,) * one.sets
            both = (weaker or "left", "left" if weaker == "right" else "right")
            sides = both if document.equipment.arms == 1 else ("",)
            for n, aim in enumerate(aims, 1):
                for side in sides:
                    part = WEAKER if side == weaker and side else 1.0
                    reps = max(1, round(float(aim * part + rng.normal(0.2, 0.6) - 0.3 * (n - 1))))
                    log.append(
                        LoggedSet(
                            key=f"demo-{number}-{who.person}-{w}-{s}-{place}-{n}{side}",
                            day=day,
                            variant=one.variant,
                            side=side,
                            set=n,
                            load_kg=target.load,
                            reps=reps,
                            reserve=int(rng.integers(1, 3)),
                            gave_out="target" if n == one.sets else "",
                            plan=number,
                            week=w,
                            session=s,
                            place=place,
                        )
                    )
    add_sets(session, who, who.person, _with_pain(who.name, log[before:]), "demo")


def measure_block(session: DbSession, who: Viewer, block: Block, number: int) -> None:
    """The tape at both ends of a block, as far as it has gone."""
    start = block.start or datetime.now(UTC).astimezone().date()
    ends = zip(("start", "end"), (start, start + timedelta(days=7 * len(block.weeks) - 1)), strict=True)
    for (when, day), readings in zip(ends, TAPE[block.name], strict=True):
        if readings is not None:
            relaxed, flexed = readings
            data = {"day": day, "when": when, "hour": 18, "relaxed": relaxed, "flexed": flexed}
            add_sitting(session, who, who.person, ArmMeasure.model_validate(data), number)


def write_comments(session: DbSession, viewers: Mapping[str, Viewer], coach: Viewer) -> None:
    """What they wrote to each other."""
    for name, own, text in COMMENTS:
        add_comment(session, viewers[name] if own else coach, viewers[name].person, text)


def _with_pain(name: str, log: list[LoggedSet]) -> list[LoggedSet]:
    if name not in SORE:
        return log
    variant, joint, pains = SORE[name]
    days = sorted({one.day for one in log if one.variant == variant})[-len(pains) :]
    told = dict(zip(days, pains, strict=False))
    return [
        one.model_copy(update={"pain_joint": joint, "pain": told[one.day]})
        if one.variant == variant and one.day in told and one.set == 1
        else one
        for one in log
    ]
