"""Whom an answer is for: profile, body and room, what was learned of them, loads set by hand, their day.

Page, card, calendar, phone and shell take all of it from here, so that they cannot plan differently.
"""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime
from functools import cached_property

from curve_rank.answers.client import Client
from curve_rank.answers.means import Means
from curve_rank.answers.noise import noise_here
from curve_rank.answers.spoken import as_spoken
from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.facts import Facts
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import ClientProfile, load_shown, usual_profile
from curve_rank.practice.rooms import Room, usual_room
from curve_rank.practice.session import SetTarget, targets_in_words
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target, long_head
from curve_rank.store import documents, logs, people, profiles, rooms
from curve_rank.store.database import UNIT, DbSession
from curve_rank.store.plans import KeptPlan
from curve_rank.store.viewers import Viewer, viewer_of
from curve_rank.training.learning import LogFindings, learned_from
from curve_rank.training.log import Bout, LoggedSet, SessionNote, bouts, sets_in_words
from curve_rank.training.pain import PainState, pain_state
from curve_rank.training.planning import Planner
from curve_rank.training.slopes import Noise
from curve_rank.training.soreness import Soreness, with_soreness
from curve_rank.training.today import LOOKED_BACK, Ahead, sessions_to_do


def client_for(db: DbSession, viewer: Viewer, person: int | None) -> Client:
    """The person with that number whom a viewer may see, or the default body.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    if person is None:
        return Client()
    found = people.person(db, viewer, person)
    profile, _ = profiles.profile_of(db, viewer, person)
    return Client(person, found.name, people.body_of(found), profile.hair)


def planner_for(
    db: DbSession,
    viewer: Viewer,
    person: int | None,
    means: Means,
    loads: Mapping[str, float] | None = None,
    owner: int | None = None,
    *,
    learned: bool = True,
) -> Planner:
    """A planner for somebody whom a viewer may see, or for the default body.

    Parameters
    ----------
    db : DbSession
        The open database.
    viewer : Viewer
        Who asks.
    person : int, optional
        Whom it is for; nobody for the default body.
    means : Means
        With what it is worked out.
    loads : mapping, optional
        Set by hand, by variant id [kg].
    owner : int, optional
        Whose variants a block may hold beside the viewer's.
    learned : bool
        Whether loads and curves follow what was learned of the person, where that is on.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    variants = means.variants
    if owner not in (None, viewer.person):
        variants += _of_owner(db, owner, {variant.id for variant in variants})
    profile, body, room = whose(db, viewer, person)
    follows = followed(db, person) if learned else None
    house = as_spoken(db, person, profile.day_at(datetime.now(UTC)))
    there = room or usual_room(db.info[UNIT])
    return Planner(profile, body, there, variants, means.modeller, means.draw, loads or {}, follows, house)


def whose(db: DbSession, viewer: Viewer, person: int | None) -> tuple[ClientProfile, Body, Room | None]:
    """Profile, body and room of somebody whom a viewer may see; of nobody, the default ones.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    if person is None:
        return usual_profile(db.info[UNIT]), Body(), None
    body = people.body_of(people.person(db, viewer, person))
    profile, _ = profiles.profile_of(db, viewer, person)
    return profile, body, room_of(db, profile)


def room_of(db: DbSession, profile: ClientProfile) -> Room | None:
    """The room somebody trains in, whoever's it is; None where nobody said."""
    return rooms.any_room(db, profile.room) if profile.room is not None else None


def _of_owner(db: DbSession, owner: int | None, there: set[str]) -> tuple[Variant, ...]:
    """Variants of whoever owns a block, where the viewer has none of the name."""
    found = viewer_of(db, owner) if owner is not None else None
    own = documents.own_variants(db, found) if found else ()
    return tuple(variant for variant in own if variant.id not in there)


def followed(db: DbSession, person: int | None) -> LogFindings | None:
    """What loads of somebody whom the viewer has been shown follow; None where learning is off."""
    is_on, learned = learned_of(db, person) if person is not None else (False, None)
    return learned if is_on else None


def learned_of(db: DbSession, person: int) -> tuple[bool, LogFindings | None]:
    """Whether learning is on for somebody, and what was learned of them."""
    state = logs.states_of(db, [person]).get(person)
    learned = learned_from(json.loads(state.learned)) if state and state.learned else None
    return (state.learning if state else True), learned


@dataclass(frozen=True)
class Trainee:
    """Somebody who trains, as a viewer sees them while a session with the database is open.

    Attributes
    ----------
    db : DbSession
    viewer : Viewer
    person : int
    planner : Planner
        With what was learned, where that is on.
    learning : bool
        Whether learning is on.
    learned : LogFindings or None
        What was learned, from whichever state of the log.
    day : date, optional
        As if it were that day.
    sore : Soreness
        What they say is sore before they begin.
    """

    db: DbSession
    viewer: Viewer
    person: int
    planner: Planner
    learning: bool
    learned: LogFindings | None
    day: date | None = None
    sore: Soreness = field(default_factory=Soreness)

    @property
    def profile(self) -> ClientProfile:
        """Their profile."""
        return self.planner.profile

    @cached_property
    def today(self) -> date:
        """The day it is where they are."""
        return self.day or self.profile.day_at(datetime.now(UTC))

    @cached_property
    def context(self) -> PlanContext:
        """Facts of everything they can do."""
        return self.planner.context()

    @cached_property
    def log(self) -> tuple[LoggedSet, ...]:
        """Their sets of the last months."""
        since = self.today - LOOKED_BACK
        return logs.log_of(self.db, self.viewer, self.person, since=since)

    @cached_property
    def by_variant(self) -> dict[str, tuple[Bout, ...]]:
        """The same by exercise."""
        return bouts(self.log)

    @cached_property
    def pain(self) -> PainState:
        """What their pain asks for."""
        pain = pain_state(self.log, self.today, self.profile.mass_unit)
        return with_soreness(pain, self.sore, self.context.facts, (), self.today)

    @cached_property
    def noise(self) -> Noise:
        """In which their log is read."""
        return noise_here(self.db)

    def first_side(self, fact: Facts) -> str:
        """Which side begins: one that is sore, or else the weaker."""
        is_sore = self.sore.side and (self.sore.lightens(fact) or self.sore.spares(fact))
        return self.sore.side if is_sore else self.profile.weaker or "left"

    def notes(self, plan: int | None = None) -> tuple[SessionNote, ...]:
        """What was said of their sessions."""
        return logs.notes_of(self.db, self.viewer, self.person, plan)

    def next_in(self, plan: KeptPlan) -> tuple[int, int] | None:
        """Week and session of a block that come next, by the log; None where the block is over."""
        return next((one[:2] for one in self.to_do_in(plan)), None)

    def to_do_in(self, plan: KeptPlan) -> Ahead:
        """All that is to be done of a block from now on, by the log."""
        mine = [one for one in self.log if one.plan == plan.id]
        return sessions_to_do(plan.block, mine, self.notes(plan.id), self.today)

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


def trainee(
    db: DbSession,
    viewer: Viewer,
    person: int,
    means: Means,
    plan: KeptPlan | None = None,
    day: date | None = None,
) -> Trainee:
    """Somebody who trains, and whom a viewer may see; with the loads set by hand of a block.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    loads: Mapping[str, float] = {}
    if plan is not None:
        loads = next((member.loads for member in plan.members if member.person == person), {})
    is_on, learned = learned_of(db, person)
    owner = plan.owner if plan else None
    planner = planner_for(db, viewer, person, means, loads, owner, learned=False)
    if is_on:
        planner = replace(planner, learned=learned)
    return Trainee(db, viewer, person, planner, is_on, learned, day)
