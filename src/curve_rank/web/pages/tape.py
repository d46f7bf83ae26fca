"""The tape: an arm measured at both ends of a block, guided; and one's own photographs."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import Trainee
from curve_rank.errors import BadInputError
from curve_rank.exchange.uploads import LARGEST, upright
from curve_rank.practice.rules import rule
from curve_rank.practice.units import CM_PER_IN
from curve_rank.store import measures, people, plans
from curve_rank.store.plans import KeptPlan
from curve_rank.training.circumference import (
    ArmChange,
    ArmMeasure,
    due,
    error_of,
    hopes,
    why_not_now,
    within,
)
from curve_rank.validation import validated
from curve_rank.web import current, notices
from curve_rank.web.access import EVERYONE, allowed
from curve_rank.web.forms.training import TapeForm
from curve_rank.web.planning import trainee
from curve_rank.web.problems import status_of
from curve_rank.web.serving import LARGEST_UPLOAD

blueprint = Blueprint("tape", __name__)


@dataclass(frozen=True)
class TapeView:
    """A person's sittings, and what may be said of them."""

    who: Trainee
    plan: KeptPlan | None
    sittings: tuple[measures.Sitting, ...]

    @property
    def due(self) -> str:
        """Whether it is time: "start", "end" or nothing."""
        return due(self.plan.block, self.who.today, self.measured) if self.plan else ""

    @property
    def why_not(self) -> str:
        """Why measuring now tells nothing."""
        return why_not_now(self.plan.block if self.plan else None, self.who.today)

    @property
    def measured(self) -> list[ArmMeasure]:
        """Every sitting."""
        return [one.measure for one in self.sittings]

    @cached_property
    def spread(self) -> tuple[float, int]:
        """How far readings of one sitting scatter [cm], and from how many it is known."""
        return within(self.measured)

    @property
    def error(self) -> float:
        """Of a change, one standard deviation [cm]."""
        return error_of(self.spread[0])

    @cached_property
    def changes(self) -> tuple[ArmChange, ...]:
        """Between the ends of the block."""
        return measures.changes_over(self.sittings, self.plan.id) if self.plan else ()

    @property
    def last(self) -> ArmMeasure | None:
        """The newest sitting, whose side, site and hour the next one takes."""
        return self.measured[-1] if self.measured else None

    @property
    def hopes(self) -> str:
        """What may honestly be hoped for."""
        return hopes(len(self.plan.block.weeks) if self.plan else 8)

    def length(self, centimetres: float) -> str:
        """In the person's unit."""
        unit = self.who.profile.length_unit
        return f"{centimetres / CM_PER_IN:.2f} in" if unit == "in" else f"{centimetres:.1f} cm"


@blueprint.get("/tape")
@allowed(*EVERYONE)
def show() -> ResponseReturnValue:
    """One's own arm."""
    return _page(current.viewer().person)


@blueprint.get("/tape/<row:person>")
@allowed(*EVERYONE)
def one(person: int) -> ResponseReturnValue:
    """Somebody's arm, for whoever may see them."""
    return _page(person)


@blueprint.post("/tape/<row:person>")
@allowed(*EVERYONE)
def keep(person: int) -> ResponseReturnValue:
    """Keep a sitting."""
    view = _view(person)
    try:
        form = TapeForm.read(request.form)
        measure = _measure(form, view)
        apart = max(measure.spread("relaxed"), measure.spread("flexed"))
        if apart > 4 * rule("circumference.spread_warn"):
            told = f"readings {apart:.1f} cm apart"
            raise BadInputError("readings", told, "three that lie closer together; take them again")
        plan = view.plan.id if view.plan and not view.why_not else None
        with current.writing() as session:
            measures.add_sitting(session, view.who.viewer, person, measure, plan)
    except BadInputError as error:
        return _page(person, str(error)), status_of(error)
    warn = rule("circumference.spread_warn")
    notices.tell(
        f"Kept. The readings lie {apart:.1f} cm apart: take more care next time, the same site and pull."
        if apart > warn
        else "Kept."
    )
    return redirect(url_for("tape.one", person=person), 303)


@blueprint.post("/tape/photographs")
@allowed(*EVERYONE, upload=LARGEST_UPLOAD)
def keep_photograph() -> ResponseReturnValue:
    """Keep one's own photograph: nobody else sees it, coach and educator neither."""
    view = _view(current.viewer().person)
    try:
        sent = request.files.get("picture")
        if sent is None or not sent.filename:
            raise BadInputError("picture", None, "a photograph as JPEG, PNG or WebP")
        at = "end" if request.form.get("when") == "end" else "start"
        made = upright(sent.stream.read(LARGEST + 1))
        plan = view.plan.id if view.plan else None
        with current.writing() as session:
            measures.keep_photograph(
                session, view.who.viewer, made.jpeg, day=view.who.today, at=at, plan=plan
            )
    except BadInputError as error:
        return _page(view.who.person, str(error)), status_of(error)
    return redirect(url_for("tape.show") + "#photographs", 303)


@blueprint.get("/tape/photographs/<row:number>")
@allowed(*EVERYONE)
def photograph(number: int) -> ResponseReturnValue:
    """One's own photograph."""
    return Response(measures.photograph(current.session(), current.viewer(), number), mimetype="image/jpeg")


@blueprint.post("/tape/photographs/<row:number>/remove")
@allowed(*EVERYONE)
def remove_photograph(number: int) -> ResponseReturnValue:
    """Delete one."""
    with current.writing() as session:
        measures.remove_photograph(session, current.viewer(), number)
    return redirect(url_for("tape.show") + "#photographs", 303)


def _view(person: int) -> TapeView:
    viewer, session = current.viewer(), current.session()
    done = plans.done_by(session, viewer, person)
    who = trainee(person, viewer)
    return TapeView(who, done[0] if done else None, measures.sittings(session, viewer, person))


def _measure(form: TapeForm, view: TapeView) -> ArmMeasure:
    per = view.who.profile.cm_per_unit

    def three(state: str) -> list[float]:
        return [round(getattr(form, f"{state}_{n}") * per, 2) for n in (1, 2, 3)]

    data = {
        "day": view.who.today,
        "when": form.when,
        "side": form.side,
        "hour": form.hour,
        "site_cm": round(form.site * per, 1),
        "relaxed": three("relaxed"),
        "flexed": three("flexed"),
    }
    return validated(ArmMeasure, data, "")


def _page(person: int, problem: str = "") -> str:
    found = people.known_person(current.session(), current.viewer(), person)
    if not found.bodies:
        return render_template("pages/record/none.html", person=found)
    view = _view(person)
    own = person == current.viewer().person
    return render_template(
        "pages/tape/tape.html",
        view=view,
        problem=problem,
        is_me=own,
        name=found.name,
        typed=request.form,
        photographs=measures.photographs(current.session(), view.who.viewer) if own else (),
        unit=view.who.profile.length_unit,
        per=view.who.profile.cm_per_unit,
    )
