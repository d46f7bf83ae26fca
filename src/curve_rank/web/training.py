"""What the pages of training share: a person with plan, log and what was learned of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import cached_property
from typing import Any

from curve_rank.practice.learning import Learned
from curve_rank.practice.log import Bout, LoggedSet, SessionNote, bouts, sets_in_words
from curve_rank.practice.pain import PainState, pain_state
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.planning import Planner
from curve_rank.practice.profile import ClientProfile, load_shown
from curve_rank.practice.session import SetTarget, targets_in_words
from curve_rank.practice.today import LOOKED_BACK
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target, long_head
from curve_rank.store import logs
from curve_rank.store.plans import KeptPlan
from curve_rank.store.viewers import Viewer
from curve_rank.web import current
from curve_rank.web.planning import learned_of, planner_for


@dataclass(frozen=True)
class Trainee:
    """Somebody who trains, as a viewer sees them.

    Attributes
    ----------
    person : int
    viewer : Viewer
    planner : Planner
        With what was learned, where that is on.
    learning : bool
        Whether learning is on.
    learned : Learned or None
        What was learned, from whichever state of the log.
    """

    person: int
    viewer: Viewer
    planner: Planner
    learning: bool
    learned: Learned | None

    @property
    def profile(self) -> ClientProfile:
        """Their profile."""
        return self.planner.profile

    @cached_property
    def today(self) -> date:
        """The day it is where they are."""
        return datetime.now(self.profile.clock).date()

    @cached_property
    def context(self) -> PlanContext:
        """Facts of everything they can do."""
        return self.planner.context()

    @cached_property
    def log(self) -> tuple[LoggedSet, ...]:
        """Their sets of the last months."""
        since = self.today - LOOKED_BACK
        return logs.log_of(current.session(), self.viewer, self.person, since=since)

    @cached_property
    def by_variant(self) -> dict[str, tuple[Bout, ...]]:
        """The same by exercise."""
        return bouts(self.log)

    @cached_property
    def pain(self) -> PainState:
        """What their pain asks for."""
        return pain_state(self.log, self.today, self.profile.mass_unit)

    def notes(self, plan: int | None = None) -> tuple[SessionNote, ...]:
        """What was said of their sessions."""
        return logs.notes_of(current.session(), self.viewer, self.person, plan)

    def modelled(self, key: str) -> VariantModel:
        """A variant's model, to draw from: with their own arm, where that was learned and is on."""
        return self.planner.modelled(self.context.facts[key].variant)

    def name(self, key: str) -> str:
        """An exercise's name, also of one that cannot be done any more."""
        facts = self.context.facts
        if key in facts:
            return facts[key].variant.name
        return next((v.name for v in self.planner.variants if v.id == key), key)

    def target(self, key: str) -> Target:
        """The head that an exercise's strip shows."""
        return long_head(self.context.facts[key].group)

    def load(self, kilograms: float) -> str:
        """A load in their unit, help in words."""
        return load_shown(kilograms, self.profile.mass_unit)

    def targets(self, sets: Sequence[SetTarget]) -> str:
        """Sets to do in a line: "14 kg × 10, 9; 12 kg × 8"."""
        return targets_in_words(sets, self.profile.mass_unit)

    def sets(self, sets: Sequence[LoggedSet]) -> str:
        """Sets in a line: "14 kg × 10, 9, 8"."""
        return sets_in_words(sets, self.profile.mass_unit)


def trainee(person: int, viewer: Viewer, plan: KeptPlan | None = None) -> Trainee:
    """Somebody who trains, and whom a viewer may see.

    Raises
    ------
    UnknownNameError
    """
    loads = {}
    if plan is not None:
        loads = next((member.loads for member in plan.members if member.person == person), {})
    is_on, learned = learned_of(person)
    planner = planner_for(person, viewer, loads, owner=plan.owner if plan else None, learned=False)
    if is_on:
        planner = replace(planner, learned=learned)
    return Trainee(person, viewer, planner, is_on, learned)


def set_data(one: LoggedSet, version: int) -> dict[str, Any]:
    """A set for a script."""
    return one.model_dump(mode="json") | {"version": version}
