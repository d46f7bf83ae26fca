"""The list of blocks, and making one."""

from __future__ import annotations

from datetime import UTC, datetime

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import whose
from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.practice.block import Block, next_monday, with_values
from curve_rank.practice.make_block import BlockWish
from curve_rank.rating.targets import known
from curve_rank.store import people, plans
from curve_rank.store.documents import kept_sets, templates
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.coaching import BlockForm
from curve_rank.web.pages.blocks import blueprint
from curve_rank.web.planning import planner_for
from curve_rank.web.problems import status_of


@blueprint.get("/blocks")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """The blocks there are."""
    session, viewer = current.session(), current.viewer()
    return render_template("pages/blocks/blocks.html", plans=plans.plans(session, viewer))


@blueprint.get("/blocks/new")
@allowed(*TEACHING)
def new() -> ResponseReturnValue:
    """What a new block should be."""
    return _page(BlockForm.read(request.args))


@blueprint.post("/blocks")
@allowed(*TEACHING)
def make() -> ResponseReturnValue:
    """Make a block, in one step."""
    form = BlockForm()
    try:
        form = BlockForm.read(request.form)
        clients = _clients(form)
        block = _made(form, clients)
        with current.writing() as session:
            number = plans.add_plan(session, current.viewer(), block, clients)
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(form, str(error)), status_of(error)
    notices.tell("Made. Everything in it can be changed by hand, and undone.")
    return redirect(url_for("blocks.show", number=number), 303)


def _clients(form: BlockForm) -> tuple[int, ...]:
    named = [*([form.person] if form.person is not None else []), *form.clients]
    session, viewer = current.session(), current.viewer()
    for number in named:
        people.known_person(session, viewer, number)
    return tuple(dict.fromkeys(named))


def _made(form: BlockForm, clients: tuple[int, ...]) -> Block:
    """The block that a form describes, for the first of its clients; begun next Monday, if none is said."""
    viewer = current.viewer()
    profile, _, _ = whose(current.session(), viewer, clients[0] if clients else None)
    start = form.start or next_monday(profile.day_at(datetime.now(UTC)))
    return with_values(_undated(form, clients), start=start)


def _undated(form: BlockForm, clients: tuple[int, ...]) -> Block:
    session, viewer = current.session(), current.viewer()
    if form.template:
        kept = known("template", form.template, templates(session, viewer))
        return with_values(kept.block, name=form.name or kept.name, start=None)
    planner = planner_for(clients[0] if clients else None, viewer)
    lens = current.library().lens(form.lens)
    wish = BlockWish(
        name=form.name or "Block",
        weeks=form.weeks,
        per_week=form.per_week,
        first=form.first,
        kind=form.kind,
        rotate=bool(form.rotate),
        stretches=bool(form.stretches),
        last=form.last,
        low=form.low,
        high=form.high,
        override=form.override.strip(),
        vary=not form.same,
        every=bool(form.picks),
    )
    return planner.make(form.picks or planner.pool(lens, wish), wish, lens.key)


def _page(form: BlockForm, problem: str = "") -> str:
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/blocks/new.html",
        form=form,
        problem=problem,
        clients=[p for p in people.clients(session, viewer) if p.bodies],
        sets=kept_sets(session, viewer),
        templates=templates(session, viewer),
        lenses=current.library().lenses,
        monday=next_monday(datetime.now(UTC).date()),
        named=current.library().names,
    )
