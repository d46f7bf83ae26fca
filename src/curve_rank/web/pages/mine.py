"""My block: what was handed over to whoever is here, the next session first; its calendar's link."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.card import Card
from curve_rank.errors import UnknownNameError
from curve_rank.practice.profile import WEEKDAYS
from curve_rank.store import calendars, plans
from curve_rank.study.schemes import schemes
from curve_rank.web import arms, cards, current, notices
from curve_rank.web.access import ANYONE, EVERYONE, allowed
from curve_rank.web.files import unlisted
from curve_rank.web.forms.coaching import BlockQuery
from curve_rank.web.planning import trainee

blueprint = Blueprint("mine", __name__)


@blueprint.get("/my-block")
@allowed(*EVERYONE)
def show() -> ResponseReturnValue:
    """The newest block that was handed over."""
    handed = _handed()
    return _page(handed[0], handed) if handed else render_template("pages/mine/none.html")


@blueprint.get("/my-block/<row:number>")
@allowed(*EVERYONE)
def one(number: int) -> ResponseReturnValue:
    """One of them."""
    handed = _handed()
    return _page(_one(number, handed), handed)


@blueprint.get("/my-block/<row:number>/card.pdf")
@allowed(*EVERYONE)
def card(number: int) -> ResponseReturnValue:
    """Its card."""
    return cards.card(_view(number), BlockQuery.read(request.args).paper)


@blueprint.get("/my-block/<row:number>.ics")
@allowed(*EVERYONE)
def dates(number: int) -> ResponseReturnValue:
    """Its sessions."""
    return cards.dates(_view(number))


@blueprint.post("/my-block/<row:number>/feed")
@allowed(*EVERYONE)
def feed(number: int) -> ResponseReturnValue:
    """Make a private link to its calendar, or withdraw the one there is."""
    on = request.form.get("on") == "yes"
    with current.writing() as session:
        token = calendars.set_feed(session, current.viewer(), number, on=on)
    if token:
        link = url_for("mine.calendar", token=token, _external=True)
        notices.tell(f"Your calendar, for your eyes alone; shown only now: {link}")
    else:
        notices.tell("The link is withdrawn; calendars that used it get nothing any more.")
    return redirect(url_for("mine.one", number=number), 303)


@blueprint.get("/calendar/<token>.ics")
@allowed(ANYONE)
def calendar(token: str) -> ResponseReturnValue:
    """The calendar behind a private link."""
    plan, viewer = calendars.by_feed(current.session(), token)
    return unlisted(cards.dates(cards.card_of(plan, viewer.person, viewer)))


def _handed() -> tuple[plans.KeptPlan, ...]:
    return plans.handed_to(current.session(), current.viewer())


def _one(number: int, handed: tuple[plans.KeptPlan, ...]) -> plans.KeptPlan:
    for plan in handed:
        if plan.id == number:
            return plan
    raise UnknownNameError("block", number, "one that was handed over to you")


def _view(number: int) -> Card:
    viewer = current.viewer()
    return cards.card_of(_one(number, _handed()), viewer.person, viewer)


def _page(plan: plans.KeptPlan, handed: tuple[plans.KeptPlan, ...]) -> str:
    viewer = current.viewer()
    who, member = trainee(viewer.person, viewer, plan), plan.member(viewer.person)
    view = Card(plan, who.planner, who.context, member.name, who.log, who.today)
    block, coming = plan.block, who.next_in(plan)
    week = coming[0] if coming else len(block.weeks) - 1
    asked = BlockQuery.read(request.args).week if "week" in request.args else week + 1
    at = min(max(asked, 1), len(block.weeks)) - 1
    return render_template(
        "pages/mine/block.html",
        view=view,
        block=block,
        week=at,
        upcoming=coming[1] if coming and at == week else None,
        weekdays=WEEKDAYS,
        stretch=view.trained if block.stretches else (),
        schemes=schemes(),
        others=handed,
        cautions=lambda key: _cautions(view, key),
        member=member,
    )


def _cautions(view: Card, key: str) -> list[str]:
    return [one.caution.says for one in arms.means().cautions(view.modelled(key))]
