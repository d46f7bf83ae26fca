"""Who does a block: own loads, handing over; and templates made from it."""

from __future__ import annotations

from collections.abc import Callable

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.errors import BadInputError, UnavailableError
from curve_rank.practice.bends import Bends, with_day, with_exercise
from curve_rank.practice.block import with_values
from curve_rank.practice.edits import variant_named
from curve_rank.practice.pick_list import validate_template
from curve_rank.store import documents, plans
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import SaveForm
from curve_rank.web.forms.coaching import BendForm, MemberForm
from curve_rank.web.pages.blocks import blueprint
from curve_rank.web.planning import planner_for


@blueprint.post("/blocks/<row:number>/clients/add")
@allowed(*TEACHING)
def add_client(number: int) -> ResponseReturnValue:
    """Let one more do it."""
    form = MemberForm.read(request.form)
    with current.writing() as session:
        plans.add_client(session, current.viewer(), number, form.person)
    return _back(number, form.person)


@blueprint.post("/blocks/<row:number>/clients/remove")
@allowed(*TEACHING)
def remove_client(number: int) -> ResponseReturnValue:
    """Let somebody do it no longer."""
    form = MemberForm.read(request.form)
    with current.writing() as session:
        plans.remove_client(session, current.viewer(), number, form.person)
    undo = url_for("blocks.add_client", number=number)
    notices.tell("Taken off this block.", undo=undo, client=str(form.person))
    return redirect(url_for("blocks.show", number=number), 303)


@blueprint.post("/blocks/<row:number>/load")
@allowed(*TEACHING)
def set_load(number: int) -> ResponseReturnValue:
    """Set somebody's load by hand; empty leaves it to the model."""
    form = MemberForm.read(request.form)
    with current.writing() as session:
        plans.set_load(session, current.viewer(), number, form.person, form.variant, form.load)
    return _back(number, form.person)


@blueprint.post("/blocks/<row:number>/hand-over")
@allowed(*TEACHING)
def hand_over(number: int) -> ResponseReturnValue:
    """Let a client see it, or no longer."""
    form = MemberForm.read(request.form)
    with current.writing() as session:
        plans.hand_over(session, current.viewer(), number, form.person, handed=bool(form.on))
    notices.tell("Handed over: it stands under “My block”." if form.on else "Taken back.")
    return _back(number, form.person)


@blueprint.post("/blocks/<row:number>/own-exercise")
@allowed(*TEACHING)
def set_own_exercise(number: int) -> ResponseReturnValue:
    """Let one of those who share it do another exercise in a place; as shared where none is named."""
    form = BendForm.read(request.form)

    def bent(plan: plans.KeptPlan, member: plans.BlockMember) -> tuple[Bends, dict[str, str]]:
        loads, owner = member.loads, plan.owner
        facts = planner_for(form.person, current.viewer(), loads, owner=owner).context().facts
        own = variant_named(form.own, facts)
        before = member.bends.exercises.get(form.variant)
        undo = {"variant": form.variant, "own": before.variant if before else ""}
        return with_exercise(member.bends, plan.block, form.variant, own, facts), undo

    return _bend(number, form, "blocks.set_own_exercise", bent)


@blueprint.post("/blocks/<row:number>/own-day")
@allowed(*TEACHING)
def set_own_day(number: int) -> ResponseReturnValue:
    """Let one of those who share it come on another day."""
    form = BendForm.read(request.form)

    def bent(plan: plans.KeptPlan, member: plans.BlockMember) -> tuple[Bends, dict[str, str]]:
        undo = {"of_day": str(form.of_day), "day": str(member.bends.days.get(form.of_day, form.of_day))}
        return with_day(member.bends, plan.block, form.of_day, form.day), undo

    return _bend(number, form, "blocks.set_own_day", bent)


Bent = Callable[[plans.KeptPlan, plans.BlockMember], tuple[Bends, dict[str, str]]]
"""Finds how somebody bends a block now, and what would undo it."""


def _bend(number: int, form: BendForm, undo: str, bent: Bent) -> ResponseReturnValue:
    try:
        plan = plans.plan(current.session(), current.viewer(), number)
        member = plan.member(form.person)
        bends, before = bent(plan, member)
        with current.writing() as session:
            plans.set_bends(session, current.viewer(), number, form.person, bends)
    except UnavailableError:
        raise
    except BadInputError as error:
        notices.tell(str(error))
        return _back(number, form.person, form.week)
    again = {"client": str(form.person), "at": str(form.week), **before}
    notices.tell(
        f"For {member.name} alone; the others’ block is as it was.",
        undo=url_for(undo, number=number),
        **again,
    )
    return _back(number, form.person, form.week)


@blueprint.post("/blocks/<row:number>/template")
@allowed(*TEACHING)
def keep_template(number: int) -> ResponseReturnValue:
    """Keep the block as a template."""
    form, viewer = SaveForm.read(request.form), current.viewer()
    with current.writing() as session:
        block = with_values(plans.plan(session, viewer, number).block, start=None)
        template = validate_template({"name": form.name or block.name, "block": block}, name="")
        documents.save_new(session, viewer, "template", template, name=template.name)
    notices.tell(f"“{template.name}” is kept as a template. Published shows how to let coaches use it.")
    return redirect(url_for("blocks.show", number=number), 303)


def _back(number: int, person: int, week: int = 1) -> ResponseReturnValue:
    return redirect(f"{url_for('blocks.show', number=number)}?for={person}&week={week}", 303)
