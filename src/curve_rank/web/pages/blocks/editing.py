"""One block: as a staff, session by session; every edit can be undone, and mends are one click away."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, partial

from flask import jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.card import DoneBlock
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, ChangedMeanwhileError, CurveRankError, UnavailableError
from curve_rank.exchange.plan_views import plan_view
from curve_rank.figures.staff import staff
from curve_rank.figures.svg import svg
from curve_rank.practice.block import KINDS, Block, Exercise, Session, Week
from curve_rank.practice.coverage import heads_of
from curve_rank.practice.edit_kinds import MoveSession, SwapExercise, read_edit
from curve_rank.practice.edits import edited, said, variant_named
from curve_rank.practice.facts import Facts
from curve_rank.practice.finishers import finish
from curve_rank.practice.plan_warnings import PlanWarning, badly_placed, warnings
from curve_rank.practice.profile import WEEKDAYS
from curve_rank.practice.session import fatigue_words, kind_of_pair, seconds_of
from curve_rank.practice.weekly_sets import HeadWeek, heads_of_week, why_short
from curve_rank.rating.targets import Target, targets
from curve_rank.store import people, plans, profiles
from curve_rank.study.schemes import schemes
from curve_rank.training.planning import Planner
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.coaching import BlockQuery, SeenForm, read_edit_form
from curve_rank.web.pages.blocks import blueprint
from curve_rank.web.planning import planner_for
from curve_rank.web.problems import status_of

OF_ONE_CLIENT = ("unfit", "unavailable", "spared_joint", "step", "cannot_come", "busy_day")
"""Kinds of warnings that are true of one client, whatever holds of others who do the block."""


@dataclass(frozen=True)
class BlockView(DoneBlock):
    """A block as one of its clients does it, and what is to be mended in it."""

    person: int | None
    week_number: int
    own: Block
    """The block as they bend it, place for place as the shared one."""
    found: tuple[PlanWarning, ...]
    elsewhere: tuple[tuple[str, PlanWarning, int], ...] = ()
    """Days that do not suit others who do it: who, what is wrong, and their number."""
    problem: str = ""
    tried: str = ""

    @property
    def week(self) -> Week:
        """The week that is looked at, as they do it."""
        return self.own.weeks[self.week_number]

    @property
    def name_here(self) -> str:
        """What the client is called by those who know them: the first of their names."""
        return self.plan.member(self.person).name.split()[0] if self.person is not None else ""

    @property
    def is_shared(self) -> bool:
        """Whether others do it too."""
        return len(self.plan.members) > 1

    def own_session(self, s: int) -> Session:
        """A session of the week that is looked at, as they do it."""
        return self.week.sessions[s]

    def own_mend(self, one: PlanWarning) -> dict[str, object] | None:
        """The mend of what is wrong for this client alone, as a form that bends their block alone."""
        if not self.is_shared or self.person is None:
            return None
        match one.mend:
            case SwapExercise(session=s, exercise=n, variant=own):
                shared, mine = (
                    b.weeks[one.week].sessions[s].exercises[n] for b in (self.plan.block, self.own)
                )
                is_own = one.kind in OF_ONE_CLIENT or mine.variant != shared.variant
                return {"variant": shared.variant, "own": own} if is_own else None
            case MoveSession() if one.kind in OF_ONE_CLIENT:
                shared_day = self.plan.block.weeks[one.week].sessions[one.mend.session].day
                return {"of_day": shared_day, "day": one.mend.day}
        return None

    @property
    def heads(self) -> tuple[str, ...]:
        """The heads it is for."""
        return heads_of(self.plan.block.targets)

    @property
    def picture(self) -> Markup:
        """The staff."""
        return Markup(svg(staff(self.own, self.heads, self.context.facts, self.week_number)))

    @cached_property
    def sets(self) -> list[tuple[Target, HeadWeek]]:
        """Hard sets of the heads it is for, in the week that is looked at."""
        week = heads_of_week(self.context.known(self.week), self.context.facts, self.context.profile)
        return [(targets()[head], week[head]) for head in self.heads if head in week]

    @cached_property
    def short(self) -> str:
        """Why the week leaves much of its minutes, where it does."""
        used = max((self.minutes(session) for session in self.week.sessions), default=0.0)
        weekly = {target.key: head for target, head in self.sets}
        return why_short(self.week, used, self.own, weekly)

    def minutes(self, session: Session) -> float:
        """How long it takes."""
        known = self.context.known(Week(sessions=(session,))).sessions[0]
        return seconds_of(known, self.context.facts, stretches=self.plan.block.stretches) / 60

    def name(self, key: str) -> str:
        """What an exercise is called, even one that this client cannot do, or that is there no more."""
        return next((one.name for one in self.planner.variants if one.id == key), key)

    def pair(self, session: Session, n: int) -> str:
        """What an exercise and the one after it are to each other."""
        ones = session.exercises[n : n + 2]
        if len(ones) < 2 or any(one.variant not in self.context.facts for one in ones):
            return ""
        return kind_of_pair(*(self.context.facts[one.variant] for one in ones))

    def finish(self, one: Exercise) -> str:
        """What its last set adds, and where."""
        if one.finisher not in schemes():
            return ""
        modelled, head = self.modelled(one.variant), self.target(one.variant).key
        key = ("finish", one.finisher, head, one.reps_to)
        made = partial(finish, modelled, schemes()[one.finisher], head, one.reps_to)
        return self.planner.modeller.derived(modelled, key, made).says

    def mend_text(self, one: PlanWarning) -> str:
        """The edit that mends something, for its form."""
        return one.mend.model_dump_json() if one.mend else ""

    def offered(self) -> list[Variant]:
        """What may be put in, by name."""
        may = (f.variant for f in self.context.facts.values() if self.context.may(f))
        return sorted(may, key=lambda variant: variant.name)


@blueprint.get("/blocks/<row:number>")
@allowed(*TEACHING)
def show(number: int) -> ResponseReturnValue:
    """The block."""
    query = BlockQuery.read(request.args)
    return _page(number, query.person, query.week)


@blueprint.get("/blocks/<row:number>.json")
@allowed(*TEACHING)
def data(number: int) -> ResponseReturnValue:
    """Its data."""
    view = _view(number, BlockQuery.read(request.args).person, 1)
    return jsonify(plan_view(view.own, view.context, view.planner.loads, view.found))


@blueprint.post("/blocks/<row:number>/edit")
@allowed(*TEACHING)
def edit(number: int) -> ResponseReturnValue:
    """One edit."""
    form = SeenForm.read(request.form)
    try:
        plan, planner, _ = _opened(number, form.person)
        facts = planner.context().facts
        made = read_edit(_by_name(read_edit_form(request.form), facts))
        block = edited(plan.block, made, facts)
        with current.writing() as session:
            plans.save(session, current.viewer(), number, block, said(made, facts), form.seen)
    except UnavailableError:
        raise
    except ChangedMeanwhileError as error:
        tried = made.model_dump_json()
        return _page(number, form.person, form.week, str(error), tried), status_of(error)
    except CurveRankError as error:
        return _page(number, form.person, form.week, str(error)), status_of(error)
    return _back(number, form)


@blueprint.post("/blocks/<row:number>/undo")
@allowed(*TEACHING)
def undo(number: int) -> ResponseReturnValue:
    """Take the last edit back."""
    return _step(number, back=True)


@blueprint.post("/blocks/<row:number>/redo")
@allowed(*TEACHING)
def redo(number: int) -> ResponseReturnValue:
    """Do again what was taken back."""
    return _step(number, back=False)


@blueprint.post("/blocks/<row:number>/remove")
@allowed(*TEACHING)
def remove(number: int) -> ResponseReturnValue:
    """Take a block off the list."""
    with current.writing() as session:
        name = plans.set_removed(session, current.viewer(), number, removed=True)
    notices.tell(f"“{name}” is removed.", undo=url_for("blocks.put_back", number=number))
    return redirect(url_for("blocks.index"), 303)


@blueprint.post("/blocks/<row:number>/put-back")
@allowed(*TEACHING)
def put_back(number: int) -> ResponseReturnValue:
    """Put a removed block back."""
    with current.writing() as session:
        plans.set_removed(session, current.viewer(), number, removed=False)
    return redirect(url_for("blocks.show", number=number), 303)


def _by_name(data: dict[str, object], facts: Mapping[str, Facts]) -> dict[str, object]:
    """The same edit with a variant's id where its name was typed."""
    typed = data.get("variant")
    return data | {"variant": variant_named(typed, facts)} if isinstance(typed, str) else data


def _step(number: int, *, back: bool) -> ResponseReturnValue:
    form = SeenForm.read(request.form)
    try:
        with current.writing() as session:
            plans.step(session, current.viewer(), number, form.seen, back=back)
    except (BadInputError, ChangedMeanwhileError) as error:
        notices.tell(str(error))  # nothing was typed: the newest state and why are all there is to see
    return _back(number, form)


def _back(number: int, form: SeenForm) -> ResponseReturnValue:
    person = "" if form.person is None else f"&for={form.person}"
    return redirect(f"{url_for('blocks.show', number=number)}?week={form.week}{person}", 303)


def _opened(number: int, person: int | None) -> tuple[plans.KeptPlan, Planner, int | None]:
    """A block, and a planner for whichever of its clients is asked for, or the first."""
    viewer = current.viewer()
    plan = plans.plan(current.session(), viewer, number)
    if person is None and plan.members:
        person = plan.members[0].person
    loads = plan.member(person).loads if person is not None else {}
    return plan, planner_for(person, viewer, loads, owner=plan.owner), person


def _view(number: int, person: int | None, week: int, problem: str = "", tried: str = "") -> BlockView:
    plan, planner, person = _opened(number, person)
    context = planner.context()
    at = min(max(week, 1), len(plan.block.weeks)) - 1
    own = plan.as_done_by(person).block
    found, elsewhere = warnings(own, context), _elsewhere(plan, person)
    return BlockView(plan, planner, context, person, at, own, found, elsewhere, problem, tried)


def _elsewhere(plan: plans.KeptPlan, person: int | None) -> tuple[tuple[str, PlanWarning, int], ...]:
    """Days that do not suit others who do a block."""
    db, viewer = current.session(), current.viewer()
    found = []
    for member in plan.members:
        if member.person != person:
            profile, _ = profiles.profile_of(db, viewer, member.person)
            weeks = enumerate(member.bends.of(plan.block).weeks)
            wrong = {one.says: one for w, week in weeks for one in badly_placed(week, w, profile)}
            found += [(member.name, one, member.person) for one in wrong.values()]
    return tuple(found)


def _page(number: int, person: int | None, week: int, problem: str = "", tried: str = "") -> str:
    view = _view(number, person, week, problem, tried)
    session, viewer = current.session(), current.viewer()
    others = {m.person for m in view.plan.members}
    return render_template(
        "pages/blocks/block.html",
        view=view,
        plan=view.plan,
        weekdays=WEEKDAYS,
        kinds=KINDS,
        schemes=schemes(),
        fatigue=fatigue_words(),
        clients=[p for p in people.clients(session, viewer) if p.bodies and p.id not in others],
    )
