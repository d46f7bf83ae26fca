"""One exercise as it is done now: its sets, what to take for them, and what may stand instead."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Any

from markupsafe import Markup

from curve_rank.answers.drawn import setup_of, strip_of
from curve_rank.answers.means import Means
from curve_rank.answers.people import Trainee
from curve_rank.arm.tempo import Tempo
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.block import Exercise
from curve_rank.practice.facts import Facts
from curve_rank.practice.rooms import Room, loads_in, plates_for
from curve_rank.practice.session import SetTarget
from curve_rank.study.schemes import Scheme, schemes, tempo_of
from curve_rank.training.noticing import Notice
from curve_rank.training.pain import PainFlag, strained
from curve_rank.training.progression import NextTarget
from curve_rank.training.today import ExerciseSwap, ExerciseToday, swaps

NEAR = (0.4, 1.7)
"""Which loads can be picked, over the target's."""
MOST_STEPS = 80


@dataclass(frozen=True)
class SetupToday:
    """A set-up as it is shown to whoever does it."""

    document: Variant
    picture: Markup
    strip: Markup
    cautions: tuple[str, ...]
    fitted: tuple[Any, ...]
    """How it is set up for them."""
    steps: tuple[tuple[float, str], ...]
    """Loads that can be picked [kg], with what to take for each."""
    sides: tuple[str, ...]
    strains: tuple[str, ...]
    """Joints that it strains so that a sore one is not spared."""

    @property
    def id(self) -> str:
        """The variant's."""
        return self.document.id

    @property
    def name(self) -> str:
        """The variant's."""
        return self.document.name


@dataclass(frozen=True)
class SwapNow:
    """What may stand in an exercise's place now, with its load and the reason of it."""

    setup: SetupToday
    load: float
    reason: str
    says: str
    """The load in words."""
    sets: tuple[SetTarget, ...]
    finds: bool
    """Whether its sets find a weight that nobody knows yet."""

    def as_script(self) -> dict[str, Any]:
        """For the page's script."""
        return {
            "variant": self.setup.id,
            "name": self.setup.name,
            "load": self.load,
            "sets": [vars(one) for one in self.sets],
            "finds": self.finds,
            "reason": self.reason,
            "steps": [list(step) for step in self.setup.steps],
            "strains": list(self.setup.strains),
            "sides": list(self.setup.sides),
            "family": self.setup.document.family,
        }


@dataclass(frozen=True)
class ExerciseNow:
    """One exercise of a session, with everything that is said of it."""

    place: int
    planned: Exercise
    setup: SetupToday
    target: NextTarget
    sets: tuple[SetTarget, ...]
    warm_up: tuple[tuple[SetTarget, str], ...]
    """Light sets, each with what to take for it."""
    take: str
    aim: str
    """The sets to do, in words."""
    light: str
    """The light ones, in words."""
    last: tuple[date, str] | None
    """When it was done last, and what."""
    flag: PainFlag | None
    swaps: tuple[SwapNow, ...]
    notice: Notice | None
    finds: bool
    """Whether its sets find a weight that nobody knows yet."""

    @property
    def finisher(self) -> Scheme | None:
        """How the last set ends."""
        return schemes().get(self.planned.finisher)

    def as_script(self) -> dict[str, Any]:
        """For the page's script."""
        variant, planned = self.setup.document, self.planned
        tempo = Tempo.parse(planned.tempo) if planned.tempo else tempo_of(variant)
        return {
            "place": self.place,
            "variant": variant.id,
            "name": variant.name,
            "family": variant.family,
            "letter": planned.group,
            "strains": list(self.setup.strains),
            "sides": list(self.setup.sides),
            "sets": [vars(one) for one in self.sets],
            "finds": self.finds,
            "light": [vars(one) | {"take": take} for one, take in self.warm_up],
            "rest": planned.rest_s,
            "tempo": [tempo.lower, tempo.pause, tempo.lift, tempo.squeeze],
            "steps": [list(step) for step in self.setup.steps],
            "swaps": [one.as_script() for one in self.swaps],
        }


def exercise_now(
    one: ExerciseToday, who: Trainee, means: Means, taken: set[str], noticed: Mapping[str, Notice]
) -> ExerciseNow:
    """An exercise as somebody does it now.

    Parameters
    ----------
    one : ExerciseToday
        With its target.
    who : Trainee
        Who does it.
    means : Means
        With what it is drawn.
    taken : set of str
        What the session has already.
    noticed : mapping
        What was noticed, by variant.
    """
    room, variant = who.planner.room, one.fact.variant
    instead = swaps(one, who.context, taken, who.by_variant, who.pain)
    return ExerciseNow(
        place=one.place,
        planned=one.planned,
        setup=_setup(one.fact, one.target.load, who, means),
        target=one.target,
        sets=one.sets,
        warm_up=tuple((light, plates_for(room, variant, light.load)) for light in one.warm_up),
        take=one.take,
        aim=who.targets(one.sets),
        light=who.targets(one.warm_up),
        last=(one.last.day, who.sets(one.last.sets)) if one.last else None,
        flag=one.flag,
        swaps=tuple(_swap(swap, who, means) for swap in instead),
        notice=noticed.get(one.planned.variant),
        finds=one.finds,
    )


def _swap(swap: ExerciseSwap, who: Trainee, means: Means) -> SwapNow:
    setup = _setup(who.context.facts[swap.variant], swap.load, who, means)
    return SwapNow(setup, swap.load, swap.reason, who.load(swap.load), swap.sets, swap.finds)


def _setup(fact: Facts, load: float, who: Trainee, means: Means) -> SetupToday:
    variant, key = fact.variant, fact.variant.id
    modelled, first = who.modelled(key), who.first_side(fact)
    other = "right" if first == "left" else "left"
    return SetupToday(
        document=variant,
        picture=setup_of(means.modeller, modelled, who.planner.profile.hair),
        strip=strip_of(means.modeller, modelled, who.target(key)),
        cautions=tuple(one.caution.says for one in means.cautions(modelled)),
        fitted=tuple(who.context.fitted.get(key, ())),
        steps=_steps(fact, who.planner.room, load),
        sides=(first, other) if variant.equipment.arms == 1 else ("",),
        strains=tuple(joint for joint, part in fact.strain.items() if part >= strained()),
    )


def _steps(fact: Facts, room: Room, load: float) -> tuple[tuple[float, str], ...]:
    """Loads that can be picked, with what to take for each."""
    variant, steps = fact.variant, loads_in(room, fact.variant)
    if steps is None:
        size = variant.equipment.smallest_step_kg
        found = [round(load + n * size, 3) for n in range(-8, 13) if load + n * size > 0]
    else:
        held = load + fact.on_hands
        low, high = NEAR[0] * held - fact.on_hands - 5, NEAR[1] * held - fact.on_hands + 5
        inside = [float(step) for step in steps if low <= step <= high]
        found = sorted(sorted(inside, key=lambda step: abs(step - load))[:MOST_STEPS])
    return tuple((step, plates_for(room, variant, step)) for step in found)
