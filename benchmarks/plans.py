"""Blocks of 200 made-up clients, judged as a head coach would: `python -m benchmarks.plans [--print N]`.

Bodies, rooms, joints, days and minutes are drawn from a seed; for each the set is chosen and the block is
made in one step, as a coach does. What is counted stands in `RULES`; plans that break none are signed.
"""

from __future__ import annotations

import random
import sys
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from itertools import pairwise

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.library import built_in
from curve_rank.errors import CurveRankError
from curve_rank.practice.block import Block, Exercise, Session
from curve_rank.practice.coverage import heads_of
from curve_rank.practice.edit_kinds import SetBlock
from curve_rank.practice.edits import edited
from curve_rank.practice.limits import Limits
from curve_rank.practice.make_block import BlockWish
from curve_rank.practice.plan_warnings import PlanContext, PlanWarning, warnings
from curve_rank.practice.profile import WEEKDAYS, ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.session import seconds_of, targets_in_words
from curve_rank.practice.weekly_sets import heads_of_week
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.targets import targets
from curve_rank.training.planning import Planner, session_plan

CLIENTS, SEED = 200, 23
BODIES = (Body(), Body(1.63, 58), Body(1.90, 104), Body(1.70, 66, strength=0.7))
HOME = Room(
    name="Home",
    equipment=("dumbbell", "body_weight", "no_bench"),
    dumbbells_kg=(2, 4, 6, 8, 10, 12.5, 15, 17.5, 20),
)
LOFT = Room(
    name="Loft",
    equipment=("dumbbell", "cable", "incline_bench", "upright_seat"),
    dumbbells_kg=tuple(range(2, 26, 2)),
    stack_from_kg=5,
    stack_step_kg=5,
)
ROOMS = (Room(name="Gym", stations=2), HOME, LOFT)
TARGETS = (
    ("biceps_long", "triceps_long"),
    ("flexors", "extensors"),
    ("brachialis", "triceps_lateral"),
    ("flexors",),
)
JOINTS: tuple[tuple[Limits, tuple[str, ...]], ...] = (
    (Limits(), ()),
    (Limits(shoulder_back=30, shoulder_overhead=140), ("elbow",)),
    (Limits(elbow_straight=15, palm_up=70), ()),
    (Limits(), ("shoulder", "wrist")),
)


@dataclass(frozen=True)
class Made:
    """A block, and for whom it was made."""

    number: int
    profile: ClientProfile
    body: Body
    context: PlanContext
    wish: BlockWish
    block: Block


def somebody(rng: random.Random) -> tuple[ClientProfile, Body, Room, BlockWish]:
    """A client, a room and a wish at random."""
    limits, spare = rng.choice(JOINTS)
    per_week = rng.choice((2, 2, 3, 3))
    profile = ClientProfile(
        targets=rng.choice(TARGETS),
        spare=spare,
        limits=limits,
        minutes=rng.choice((35, 45, 60, 75)),
        days=tuple(sorted(rng.sample(range(7), rng.randint(5, 7)))),
        pulling_days=tuple(rng.sample(range(7), rng.randint(0, 2))),
        pressing_days=tuple(rng.sample(range(7), rng.randint(0, 1))),
    )
    wish = BlockWish(per_week=per_week, first=rng.choice(("triceps", "biceps", "alternate")))
    return profile, rng.choice(BODIES), rng.choice(ROOMS), wish


def made(count: int, modeller: Modeller) -> Iterator[Made]:
    """Blocks of made-up clients; those for whom nothing can be made are passed over."""
    rng = random.Random(SEED)
    chosen: dict[str, list[str]] = {}
    for number in range(count):
        profile, body, room, wish = somebody(rng)
        planner = Planner(
            profile, body, room, built_in(), modeller,
            lambda variants, whose, effort: fixed_draws(variants, whose, effort, modeller),
        )  # fmt: skip
        who = f"{profile.targets}{profile.spare}{profile.limits}{body}"
        key = f"{who}{room.name}{profile.minutes}{wish.per_week}"
        try:
            if key not in chosen:
                chosen[key] = picks_of(planner, wish)
            block = planner.make(chosen[key], wish, "long_length")
        except CurveRankError as error:
            print(f"client {number}: {error}", file=sys.stderr)
            continue
        yield Made(number, profile, body, planner.context(), wish, block)


def picks_of(planner: Planner, wish: BlockWish) -> list[str]:
    """What the profile asks for, as the page chooses it."""
    return list(planner.pool(lenses()["long_length"], wish))


def sessions(one: Made) -> list[Session]:
    """Of a usual week."""
    return list(one.block.weeks[0].sessions)


def minutes_used(one: Made) -> list[float]:
    """Part of the minutes, by session."""
    facts = one.context.facts
    return [
        seconds_of(s, facts, stretches=one.block.stretches) / 60 / one.block.minutes for s in sessions(one)
    ]


def deep_overhead_first(one: Made) -> bool:
    """Whether a session's first extension is deep overhead."""
    for session in sessions(one):
        extensions = [e for e in session.exercises if one.context.facts[e.variant].group == "extensors"]
        if extensions and _is_deep(extensions[0], one.context):
            return len(extensions) > 1 and not all(_is_deep(e, one.context) for e in extensions)
    return False


def _is_deep(exercise: Exercise, context: PlanContext) -> bool:
    return context.facts[exercise.variant].deep_overhead


def walks(one: Made) -> float:
    """Changes of equipment from one exercise to the next, over the fewest there could be, a session [1]."""
    over = []
    for session in sessions(one):
        loads = [one.context.facts[e.variant].variant.equipment.loads for e in session.exercises]
        over.append(sum(a != b for a, b in pairwise(loads)) - (len(set(loads)) - 1))
    return sum(over) / len(over)


def differing(one: Made) -> bool:
    """Whether sessions of the week differ by at least a third, where there is enough to choose from."""
    ones = [{e.variant for e in s.exercises} for s in sessions(one)]
    if len(set().union(*ones)) < 4:
        return True
    return all(len(a & b) <= 0.67 * len(a | b) for a, b in pairwise(ones))


def main_sets(one: Made) -> bool:
    """Whether every session has three or four sets of most of its exercises."""
    return all(
        sum(e.sets >= 3 for e in s.exercises) * 2 >= len(s.exercises)
        and all(e.sets <= 4 for e in s.exercises)
        for s in sessions(one)
    )


def heads_in_range(one: Made) -> bool:
    """Whether every head of the targets has its sets a week."""
    return not any(w.kind == "weekly_sets" for w in warnings(one.block, one.context))


def minutes_kept(one: Made) -> bool:
    """Whether every session uses its minutes, or the week has no room for another set of any group."""
    if all(part <= 1.01 for part in minutes_used(one)) and all(part >= 0.8 for part in minutes_used(one)):
        return True
    sets = heads_of_week(one.block.weeks[0], one.context.facts, one.profile)
    heads = heads_of(one.profile.targets)
    groups = {targets()[head].group for head in heads}
    full = {
        targets()[head].group for head in heads if head in sets and sets[head].sets > one.block.high - 1.5
    }
    return groups == full


def avoidable(one: Made) -> list[PlanWarning]:
    """Warnings whose own mend takes them away and brings none: nothing has to be given up for it."""
    found, free = warnings(one.block, one.context), []
    for warning in found:
        if warning.mend is not None and not isinstance(warning.mend, SetBlock):
            after = warnings(edited(one.block, warning.mend, one.context.facts), one.context)
            free += [warning] if {w.says for w in after} < {w.says for w in found} else []
    return free


RULES: dict[str, Callable[[Made], bool]] = {
    "80 to 100 % of the minutes, or the week is full": minutes_kept,
    "three or four sets of most": main_sets,
    "sessions of a week differ": differing,
    "sets a head inside the week's range": heads_in_range,
    "never deep overhead first": lambda one: not deep_overhead_first(one),
    "at most one walk too many a session": lambda one: walks(one) <= 1,
    "no warning that could be avoided": lambda one: not avoidable(one),
}


def told(one: Made) -> str:
    """A plan whole, as it is handed over."""
    profile, lines = one.profile, []
    body, room = one.body, one.context.room.name
    who = f"{body.height:.2f} m, {body.mass:.0f} kg, strength {body.strength:g}; {', '.join(profile.targets)}"
    when = f"{room}, {profile.minutes} min × {one.wish.per_week}; {one.wish.first} first"
    lines.append(f"Client {one.number}: {who}; {when}; spares {', '.join(profile.spare) or 'nothing'}")
    for n, session in enumerate(sessions(one)):
        used = minutes_used(one)[n] * one.block.minutes
        lines.append(f"  {WEEKDAYS[session.day]}, {used:.0f} min")
        for e, plan in zip(
            session.exercises, session_plan(one.block, 0, session, one.context, {}), strict=True
        ):
            assert plan is not None
            name = one.context.facts[e.variant].variant.name
            light = targets_in_words(plan.warm_up, "kg") if plan.warm_up else "none"
            lines.append(
                f"    {e.group or ' '} {name}: {targets_in_words(plan.sets, 'kg')}, {plan.left} left; "
                f"rest {e.rest_s} s; {e.reps_from}–{e.reps_to}{'; ' + e.kind if e.kind != 'straight' else ''}"
                f"{'; ' + e.finisher if e.finisher else ''}; light: {light}"
            )
    sets = heads_of_week(one.block.weeks[0], one.context.facts, profile)
    lines.append("  week: " + ", ".join(f"{head} {row.sets:.1f}" for head, row in sets.items()))
    lines += [f"  ! {w.says}" for w in warnings(one.block, one.context)]
    return "\n".join(lines)


def main(arguments: list[str] | None = None) -> None:
    """Print how many plans keep each rule, which warnings stand, and some plans whole."""
    asked = arguments if arguments is not None else sys.argv[1:]
    count = CLIENTS // 5 if "--quick" in asked else CLIENTS
    shown = int(asked[asked.index("--print") + 1]) if "--print" in asked else 0
    modeller = Modeller()
    modeller.able(built_in(), Body(), effort=usual_effort())
    kept, kinds, total, plans = Counter[str](), Counter[str](), 0, []
    for one in made(count, modeller):
        total += 1
        kept.update(name for name, rule in RULES.items() if rule(one))
        kept["all of these"] += all(rule(one) for rule in RULES.values())
        kinds.update({w.kind for w in warnings(one.block, one.context)})
        plans.append(one)
    print(f"{total} blocks of {count} made-up clients, seed {SEED}")
    for name in (*RULES, "all of these"):
        print(f"{name:46} {100 * kept[name] / total:6.1f} %")
    if "--why" in asked:
        for one in plans:
            broken = [name for name, rule in RULES.items() if not rule(one)]
            used = ", ".join(f"{100 * part:.0f} %" for part in minutes_used(one))
            said = " ".join(w.says for w in warnings(one.block, one.context))
            if broken:
                print(f"{one.number}: {'; '.join(broken)} ({used}) {said}")
    print("with a warning of a kind: " + ", ".join(f"{kind} {n}" for kind, n in kinds.most_common()))
    for one in plans[:: max(1, len(plans) // shown)][:shown] if shown else ():
        print("\n" + told(one))


if __name__ == "__main__":
    main()
