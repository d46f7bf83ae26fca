"""A block as one of those who do it has it: on its page, on paper, as a table and in a calendar."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import partial
from math import ceil

from markupsafe import Markup

from curve_rank.answers.means import Means
from curve_rank.answers.people import planner_for
from curve_rank.answers.stretches import CAUTION, StretchesAnswer, StretchRequest, heads_trained, made_for
from curve_rank.catalogue.schema import Variant
from curve_rank.exchange.calendar import calendar
from curve_rank.exchange.paper import frozen_svg, on_paper
from curve_rank.exchange.pdf import pdf
from curve_rank.exchange.plan_views import plan_table
from curve_rank.exchange.tables import to_csv
from curve_rank.figures.figure import figure
from curve_rank.figures.strip import strip
from curve_rank.practice.block import Exercise, Session
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import WEEKDAYS, Hair, load_shown
from curve_rank.practice.session import SetTarget, targets_in_words
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target, long_head
from curve_rank.store.database import DbSession
from curve_rank.store.plans import KeptPlan
from curve_rank.store.viewers import Viewer
from curve_rank.study.heads import head_named
from curve_rank.study.schemes import schemes
from curve_rank.training.log import LoggedSet
from curve_rank.training.planning import ExercisePlan, Planner, session_plan
from curve_rank.training.today import exercises_today

SIDE_BY_SIDE = 6
"""Most weeks of a card in a row, each with room to write."""


@dataclass(frozen=True)
class DoneBlock:
    """A block as one person does it."""

    plan: KeptPlan
    planner: Planner
    context: PlanContext

    def done(self, week: int, session: Session) -> tuple[ExercisePlan | None, ...]:
        """What is done in a session of a week."""
        return session_plan(self.plan.block, week, session, self.context, self.planner.loads)

    def load(self, kilograms: float) -> str:
        """A load in the person's unit, in words where help is taken off."""
        return load_shown(kilograms, self.planner.profile.mass_unit)

    def sets_in_words(self, sets: tuple[SetTarget, ...]) -> str:
        """Sets in a line: "20 kg × 12, 10, 9"."""
        return targets_in_words(sets, self.planner.profile.mass_unit)

    def variant(self, key: str) -> Variant:
        """An exercise's document, as this person does it."""
        return self.context.facts[key].variant

    def modelled(self, key: str) -> VariantModel:
        """An exercise's model, to draw its strip from."""
        return self.planner.modelled(self.variant(key))

    def target(self, key: str) -> Target:
        """The head that its strip shows."""
        return long_head(self.variant(key).group)


@dataclass(frozen=True)
class Card(DoneBlock):
    """What stands on a card, and on the page of whoever does it: there by the log, where one is given."""

    name: str = ""
    log: tuple[LoggedSet, ...] = ()
    today: date | None = None

    def done(self, week: int, session: Session) -> tuple[ExercisePlan | None, ...]:
        """What is done in a session of a week: by the log, where there is one to go by."""
        if self.today is not None:
            asked = (self.plan.block, week, session, self.context, self.log, self.today)
            told = {one.place: one for one in exercises_today(*asked, self.planner.loads)}
            rows = (told.get(n) for n in range(len(session.exercises)))
            return tuple(
                ExercisePlan(row.planned.variant, row.warm_up, row.sets, 1.0) if row and row.sets else None
                for row in rows
            )
        return super().done(week, session)

    @property
    def trained(self) -> tuple[str, ...]:
        """Heads that the block trains, of those exercises that can be done."""
        facts = self.context.facts
        return heads_trained(facts[key] for key in self.plan.block.variants if key in facts)

    @property
    def stretches(self) -> StretchesAnswer | None:
        """What to hold after it, where the block asks for that."""
        if not self.plan.block.stretches:
            return None
        planner, trained = self.planner, self.trained
        asked, who = StretchRequest(heads=trained), (planner.profile, planner.body, planner.room)
        return made_for(planner.modeller, asked, tuple(map(head_named, trained)), self.name, who)

    @property
    def sheets(self) -> tuple[CardSheet, ...]:
        """Every session once, with all weeks in which it has the same exercises."""
        found: dict[str, list[tuple[int, Session]]] = {}
        for w, s, session in self.plan.block.sessions:
            alike = [one.model_copy(update={"sets": 1, "warm_up": 0}) for one in session.exercises]
            key = session.model_copy(update={"exercises": tuple(alike)}).model_dump_json()
            found.setdefault(f"{s} {key}", []).append((w, session))
        return tuple(self._sheet(weeks) for weeks in found.values())

    def _sheet(self, weeks: list[tuple[int, Session]]) -> CardSheet:
        done = [(w, self.done(w, session)) for w, session in weeks]
        session = weeks[0][1]
        places = [
            CardExercise(one, tuple((w, plan) for w, plans in done if (plan := plans[n]) is not None))
            for n, one in enumerate(session.exercises)
        ]
        shown = tuple(one for one in places if one.weeks)
        return CardSheet(session.day, tuple(w for w, _ in weeks), shown)

    def strip_of(self, key: str) -> Markup:
        """An exercise's strip, in colours of its own."""
        modelled, target = self.modelled(key), self.target(key)
        made = partial(_frozen_strip, modelled, target)
        return self.planner.modeller.derived(modelled, ("card strip", target.key), made)

    def figure_of(self, key: str) -> Markup:
        """An exercise's figure at its hard spot, in colours of its own."""
        modelled, hair = self.modelled(key), self.planner.profile.hair
        made = partial(_frozen_figure, modelled, hair)
        return self.planner.modeller.derived(modelled, ("card figure", hair), made)


@dataclass(frozen=True)
class CardExercise:
    """An exercise on a card: how it is planned, and what is done of it in each week that has it."""

    planned: Exercise
    weeks: tuple[tuple[int, ExercisePlan], ...]

    @property
    def first(self) -> ExercisePlan:
        """In the first of its weeks."""
        return self.weeks[0][1]

    @property
    def range_in_words(self) -> str:
        """Sets and repetitions, as "3 sets of 8 to 12"."""
        one, count = self.planned, len(self.first.sets)
        reps = f"{one.reps_from} to {one.reps_to}" if one.reps_to > one.reps_from else f"{one.reps_to}"
        return f"{count} {'set' if count == 1 else 'sets'} of {reps}"

    @property
    def rows(self) -> tuple[tuple[tuple[int, ExercisePlan], ...], ...]:
        """Its weeks, as many side by side as a page has room for."""
        each = ceil(len(self.weeks) / ceil(len(self.weeks) / SIDE_BY_SIDE))
        return tuple(self.weeks[n : n + each] for n in range(0, len(self.weeks), each))


@dataclass(frozen=True)
class CardSheet:
    """A session on a card: its day, its weeks counted from 0, its exercises."""

    day: int
    weeks: tuple[int, ...]
    exercises: tuple[CardExercise, ...]

    @property
    def weeks_in_words(self) -> str:
        """As "weeks 1 to 4", or "weeks 1, 3"."""
        first, last = self.weeks[0] + 1, self.weeks[-1] + 1
        if len(self.weeks) == 1:
            return f"week {first}"
        if last - first + 1 == len(self.weeks):
            return f"weeks {first} to {last}"
        return "weeks " + ", ".join(str(w + 1) for w in self.weeks)


def steps_that_matter(variant: Variant) -> tuple[str, ...]:
    """Two steps of its set-up, those with a number first: a bench or pulley stands wrong soonest."""
    with_number = [step for step in variant.setup if any(c.isdigit() for c in step)]
    picked = [*with_number, *(step for step in variant.setup if step not in with_number)][:2]
    return tuple(step for step in variant.setup if step in picked)


def _frozen_strip(modelled: VariantModel, target: Target) -> Markup:
    return frozen_svg(strip(modelled, target, "row"))


def _frozen_figure(modelled: VariantModel, hair: Hair) -> Markup:
    return frozen_svg(figure(modelled, hair=hair).at(modelled.hard, whole=False))


def card(db: DbSession, viewer: Viewer, plan: KeptPlan, person: int | None, means: Means) -> Card:
    """A block as somebody does it whom a viewer may see; as the default body does it, for nobody.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    member = plan.member(person) if person is not None else None
    loads = member.loads if member else {}
    planner = planner_for(db, viewer, person, means, loads, plan.owner)
    return Card(plan.as_done_by(person), planner, planner.context(), member.name if member else "")


def first_of(plan: KeptPlan) -> int | None:
    """Whom a block is shown for where nobody is named: the first who does it."""
    return plan.members[0].person if plan.members else None


def card_pdf(made: Card, paper: str) -> bytes:
    """The printed card, on "a4" or "letter"."""
    parts = {
        "weekdays": WEEKDAYS,
        "schemes": schemes(),
        "steps": steps_that_matter,
        "stretch_caution": CAUTION,
    }
    return pdf(on_paper("print/card", view=made, unit=made.planner.profile.mass_unit, paper=paper, **parts))


def card_table(made: Card) -> str:
    """Every set as CSV."""
    return to_csv(plan_table(made.plan.block, made.context, made.planner.loads))


def card_dates(made: Card) -> bytes:
    """Every session as iCalendar."""
    key = f"block-{made.plan.id}"
    return calendar(made.plan.block, made.context, made.planner.loads, key=key)
