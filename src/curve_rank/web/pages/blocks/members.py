"""Who does a block: own loads, handing over; and templates made from it."""

from __future__ import annotations

from flask import redirect, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.practice.block import with_values
from curve_rank.practice.pick_list import validate_template
from curve_rank.store import documents, plans
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import SaveForm
from curve_rank.web.forms.coaching import MemberForm
from curve_rank.web.pages.blocks import blueprint


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


def _back(number: int, person: int) -> ResponseReturnValue:
    return redirect(f"{url_for('blocks.show', number=number)}?for={person}", 303)
