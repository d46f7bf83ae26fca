"""A block on paper and in a calendar, for one of those who do it: what coach and client both get."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import partial

from flask import Response, render_template
from markupsafe import Markup

from curve_rank.catalogue.schema import Variant
from curve_rank.exchange.calendar import calendar
from curve_rank.exchange.pdf import pdf
from curve_rank.exchange.plan_views import plan_table
from curve_rank.exchange.tables import to_csv
from curve_rank.figures.strip import strip
from curve_rank.practice.block import Session
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import WEEKDAYS, load_shown
from curve_rank.practice.session import SetTarget, targets_in_words
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target, long_head
from curve_rank.store.plans import KeptPlan
from curve_rank.store.viewers import Viewer
from curve_rank.study.schemes import schemes
from curve_rank.training.log import LoggedSet
from curve_rank.training.planning import ExercisePlan, Planner, session_plan
from curve_rank.training.today import exercises_today
from curve_rank.web.files import fonts, named_file
from curve_rank.web.planning import planner_for
from curve_rank.web.publishing import frozen_svg


@dataclass(frozen=True)
class DoneView:
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
class CardView(DoneView):
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

    def strip_of(self, key: str) -> Markup:
        """An exercise's strip, in colours of its own."""
        modelled, target = self.modelled(key), self.target(key)
        made = partial(_frozen_strip, modelled, target)
        return self.planner.modeller.derived(modelled, ("card strip", target.key), made)


def _frozen_strip(modelled: VariantModel, target: Target) -> Markup:
    return frozen_svg(strip(modelled, target, "row"))


def card_view(plan: KeptPlan, person: int | None, viewer: Viewer) -> CardView:
    """A block as somebody does it."""
    member = plan.member(person) if person is not None else None
    loads = member.loads if member else {}
    planner = planner_for(person, viewer, loads, owner=plan.owner)
    return CardView(plan, planner, planner.context(), member.name if member else "")


def card(view: CardView, paper: str) -> Response:
    """The printed card."""
    page = render_template("print/card.html", view=view, weekdays=WEEKDAYS, schemes=schemes(), paper=paper)
    return named_file(pdf(page, fonts=fonts()), "application/pdf", "curve-rank-block.pdf", inline=True)


def table(view: CardView) -> Response:
    """Every set as CSV."""
    text = to_csv(plan_table(view.plan.block, view.context, view.planner.loads))
    return named_file(text, "text/csv", "curve-rank-block.csv")


def dates(view: CardView) -> Response:
    """Every session as iCalendar."""
    text = calendar(view.plan.block, view.context, view.planner.loads, key=f"block-{view.plan.id}")
    return named_file(text, "text/calendar", "curve-rank-block.ics")
