"""Today: the next session, or another one, with every target, its reason, and what may stand instead."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from flask import jsonify, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.people import Trainee
from curve_rank.arm.tempo import Tempo
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import UnknownNameError
from curve_rank.figures.figure import figure
from curve_rank.figures.svg import svg
from curve_rank.practice.block import Block, Exercise, Session, Week
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import WEEKDAYS
from curve_rank.practice.rooms import Room, loads_in, plates_for
from curve_rank.rating.joints import joints
from curve_rank.rating.modelling import VariantModel
from curve_rank.store import logs, measures, plans
from curve_rank.store.plans import KeptPlan
from curve_rank.study.schemes import schemes, tempo_of
from curve_rank.training.circumference import due
from curve_rank.training.noticing import Notice, notices
from curve_rank.training.pain import strained
from curve_rank.training.today import ExerciseToday, Swap, exercises_today, swaps
from curve_rank.web import arms, current
from curve_rank.web.access import EVERYONE, allowed
from curve_rank.web.forms.training import TodayQuery
from curve_rank.web.pages.today import blueprint
from curve_rank.web.planning import trainee

NEAR = (0.4, 1.7)
"""Which loads can be picked, over the target's."""
MOST_STEPS = 80
FREE = Block(name="On its own", targets=("biceps_long",), weeks=(Week(sessions=(Session(day=0),)),))
"""What stands for a block where there is none."""


@dataclass(frozen=True)
class TodayView:
    """A session as it is done today."""

    who: Trainee
    plan: KeptPlan | None
    week: int
    session: int
    block: Block
    extra: tuple[str, ...] = ()

    @cached_property
    def planned(self) -> Session:
        """The session, with what was added to it today."""
        kept = self.block.weeks[self.week].sessions[self.session]
        more = tuple(_extra(self.who.context.facts[key].variant) for key in self.extra)
        return kept.model_copy(update={"exercises": kept.exercises + more})

    @cached_property
    def exercises(self) -> tuple[ExerciseToday, ...]:
        """Each with its target."""
        who = self.who
        asked = (self.block, self.week, self.planned, who.context, who.log, who.today)
        return exercises_today(*asked, who.planner.loads)

    @cached_property
    def kept(self) -> tuple[logs.KeptSet, ...]:
        """What has been logged today."""
        return logs.kept_sets(current.session(), self.who.viewer, self.who.person, since=self.who.today)

    @cached_property
    def noticed(self) -> dict[str, Notice]:
        """What was noticed of the session's exercises, one each."""
        rests = {one.planned.variant: float(one.planned.rest_s) for one in self.exercises}
        found = notices(self.who.by_variant, self.who.context.facts, rests, self.who.profile.mass_unit)
        return {one.variant: one for one in reversed(found)}

    @cached_property
    def swaps(self) -> dict[int, tuple[Swap, ...]]:
        """What may stand in each one's place."""
        taken = {e.planned.variant for e in self.exercises}
        who = self.who
        return {e.place: swaps(e, who.context, taken, who.by_variant, who.pain) for e in self.exercises}

    def setup_picture(self, key: str) -> Markup:
        """The set-up, where it is hardest."""
        modelled = self.who.modelled(key)
        return current.modeller().derived(modelled, "set-up picture", lambda: _drawn(modelled))

    def cautions(self, key: str) -> list[str]:
        """What to take care of."""
        return [one.caution.says for one in arms.means().cautions(self.who.modelled(key))]

    @cached_property
    def order(self) -> list[tuple[int, int]]:
        """Places and sets in the order they are done: pairs and triples in turn."""
        at = {one.place: one for one in self.exercises}
        found = []
        for places in self.planned.rounds:
            rounds = max((len(at[place].sets) for place in places if place in at), default=0)
            for n in range(rounds):
                found += [(place, n + 1) for place in places if place in at and n < len(at[place].sets)]
        return found

    @property
    def measuring(self) -> str:
        """Whether the arm is to be measured now: "start", "end" or nothing."""
        if self.plan is None:
            return ""
        measured = measures.sittings(current.session(), self.who.viewer, self.who.person)
        return due(self.block, self.who.today, [one.measure for one in measured])

    def as_script(self) -> dict[str, Any]:
        """For the script, and to be read without a connection."""
        who = self.who
        return {
            "person": who.person,
            "plan": self.plan.id if self.plan else None,
            "week": self.week if self.plan else None,
            "session": self.session if self.plan else None,
            "day": who.today.isoformat(),
            "unit": who.profile.mass_unit,
            "perKg": 1 / who.profile.kg_per_unit,
            "joints": {key: joint.name.lower() for key, joint in joints().items()},
            "exercises": [self._exercise(one) for one in self.exercises],
            "order": self.order,
            "kept": [one.set.model_dump(mode="json") | {"version": one.version} for one in self.kept],
            "log": url_for("today.send"),
            "queue": url_for("today.queue"),
        }

    def _exercise(self, one: ExerciseToday) -> dict[str, Any]:
        variant, planned = one.fact.variant, one.planned
        weaker = self.who.profile.weaker or "left"
        sides = [weaker, "right" if weaker == "left" else "left"]
        tempo = Tempo.parse(planned.tempo) if planned.tempo else tempo_of(variant)
        return {
            "place": one.place,
            "variant": variant.id,
            "name": variant.name,
            "family": variant.family,
            "letter": planned.group,
            "sides": sides if variant.equipment.arms == 1 else [""],
            "sets": [vars(s) for s in one.sets],
            "usual": {"sets": planned.sets, "reps": planned.reps_from, "reserve": one.target.reserve},
            "light": [vars(s) | {"take": plates_for(self._room, variant, s.load)} for s in one.warm_up],
            "rest": planned.rest_s,
            "tempo": [tempo.lower, tempo.pause, tempo.lift, tempo.squeeze],
            "steps": _steps(one.fact, self, one.target.load),
            "swaps": [
                {
                    "variant": swap.variant,
                    "name": swap.name,
                    "load": swap.load,
                    "reason": swap.reason,
                    "steps": _steps(self.who.context.facts[swap.variant], self, swap.load),
                    "strains": self._strains(swap.variant),
                    "sides": sides if self._arms(swap.variant) == 1 else [""],
                    "family": self.who.context.facts[swap.variant].variant.family,
                }
                for swap in self.swaps[one.place]
            ],
        }

    def _arms(self, key: str) -> int:
        return self.who.context.facts[key].variant.equipment.arms

    def _strains(self, key: str) -> list[str]:
        """Joints that an exercise strains so that a sore one is not spared."""
        return [joint for joint, part in self.who.context.facts[key].strain.items() if part >= strained()]

    @property
    def _room(self) -> Room:
        return self.who.planner.room


@blueprint.get("/today")
@allowed(*EVERYONE)
def show() -> ResponseReturnValue:
    """The next session, or the one that is named."""
    view = _view()
    if view is None:
        return render_template("pages/today/none.html", person=current.viewer().person)
    page = render_template(
        "pages/today/session.html",
        view=view,
        unsettled=logs.unsettled(current.session(), current.viewer(), view.who.person),
        schemes=schemes(),
        weekdays=WEEKDAYS,
        joints=joints(),
    )
    until = current.signed_in_until()  # for so long a phone may open it without a connection
    return page, {"X-Signed-In-Until": f"{until:%Y-%m-%dT%H:%M:%SZ}"}


@blueprint.get("/today.json")
@allowed(*EVERYONE)
def data() -> ResponseReturnValue:
    """The same for other programs."""
    view = _view()
    if view is None:
        return jsonify({"person": current.viewer().person, "exercises": []})
    told = view.as_script()
    targets = {
        one.planned.variant: {
            "action": one.target.action,
            "load": one.target.load,
            "reps": list(one.target.reps),
            "reason": one.target.reason,
        }
        for one in view.exercises
    }
    return jsonify(told | {"targets": targets})


def _view() -> TodayView | None:
    """What is done today; None for somebody whose size nobody knows."""
    asked, viewer = TodayQuery.read(request.args), current.viewer()
    session = current.session()
    handed = plans.handed_to(session, viewer)
    if asked.block is not None:
        handed = tuple(plan for plan in handed if plan.id == asked.block)
        if not handed:
            raise UnknownNameError("block", asked.block, "one that was handed over to you")
    try:
        who = trainee(viewer.person, viewer, handed[0] if handed else None)
    except UnknownNameError:
        return None
    extra = tuple(key for key in asked.also if key in who.context.facts)
    for plan in handed:
        at = _place(plan, asked, who)
        if at is not None:
            own = who if plan is handed[0] else trainee(viewer.person, viewer, plan)
            return TodayView(own, plan, at[0], at[1], plan.block, extra)
    return TodayView(who, None, 0, 0, FREE, extra)


def _place(plan: KeptPlan, asked: TodayQuery, who: Trainee) -> tuple[int, int] | None:
    """Which session of a block: the one that is named, else the next; None where it is over."""
    if asked.week is None or asked.session is None:
        return who.next_in(plan)
    week, session, weeks = asked.week - 1, asked.session - 1, plan.block.weeks
    if not (0 <= week < len(weeks) and 0 <= session < len(weeks[week].sessions)):
        raise UnknownNameError("session", f"week {asked.week}, {asked.session}", "one of the block's")
    return week, session


def _extra(variant: Variant) -> Exercise:
    """An exercise that nobody planned, by its own guide."""
    low, high = (min(reps, 30) for reps in (variant.guide.reps_from, variant.guide.reps_to))
    return Exercise(variant=variant.id, sets=3, reps_from=low, reps_to=high)


def _steps(fact: Facts, view: TodayView, load: float) -> list[list[Any]]:
    """Loads that can be picked, with what to take for each."""
    room, variant = view.who.planner.room, fact.variant
    steps = loads_in(room, variant)
    if steps is None:
        size = variant.equipment.smallest_step_kg
        found = [round(load + n * size, 3) for n in range(-8, 13) if load + n * size > 0]
    else:
        held = load + fact.on_hands
        low, high = NEAR[0] * held - fact.on_hands - 5, NEAR[1] * held - fact.on_hands + 5
        found = [float(step) for step in steps if low <= step <= high]
        near = sorted(found, key=lambda step: abs(step - load))[:MOST_STEPS]
        found = sorted(near)
    return [[step, plates_for(room, variant, step)] for step in found]


def _drawn(modelled: VariantModel) -> Markup:
    shown = figure(modelled, only=modelled.hard)
    return Markup(svg(shown.at(0)))  # the writer escapes whatever stands in it
