"""One variant: everything about it, as a page, data, a handout and pictures."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from flask import Blueprint, Response, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.handout import Handout, Subject, handout, subject
from curve_rank.answers.people import Client
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.arm.tempo import TimedReps, time_rep
from curve_rank.errors import LoadError, PostureError
from curve_rank.exchange import json_views
from curve_rank.figures.curves import curves
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strip
from curve_rank.rating.cannot_tell import CannotTell, about_variant
from curve_rank.rating.criteria import carried
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.similar import Complement, Neighbour, complements, neighbours
from curve_rank.rating.spreads import interval
from curve_rank.rating.targets import known
from curve_rank.store.documents import is_own
from curve_rank.study.faults import FaultCost, fault_costs
from curve_rank.study.schemes import SchemeReading, read_pair, read_schemes, schemes, tempo_of
from curve_rank.study.transfer import reps_at
from curve_rank.web import arms, current, files, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import VariantQuery
from curve_rank.web.question import client_for

blueprint = Blueprint("variants", __name__)


@dataclass(frozen=True)
class VariantView(Handout):
    """Everything about it."""

    faults: tuple[FaultCost, ...]
    timed: TimedReps
    at_body_weight: float | None
    neighbours: tuple[Neighbour, ...]
    complements: tuple[Complement, ...]

    @property
    def cannot_tell(self) -> tuple[CannotTell, ...]:
        """What of it the model cannot tell."""
        return about_variant(self.variant)

    def as_data(self) -> dict[str, Any]:
        """The page's JSON twin."""
        modelled = self.modelled
        return json_views.model_view(modelled) | {
            "target": self.target.key,
            "lens": self.lens.key,
            "reps": self.reps,
            "why": self.why,
            "document": self.variant.model_dump(mode="json"),
            "intervals": [vars(one) for one in self.intervals],
            "faults": [json_views.fault_view(cost) for cost in self.faults],
            "cautions": [{"key": c.caution.key, "reason": c.reason} for c in self.cautions],
            "neighbours": [json_views.neighbour_view(n) for n in self.neighbours],
            "complements": [json_views.complement_view(c) for c in self.complements],
            "time": json_views.time_under_tension_view(self.timed),
            "schemes": [
                json_views.scheme_view(modelled, reading) for reading in _schemes(modelled, self.complements)
            ],
            "repetitions_at_body_weight": self.at_body_weight,
        }


@blueprint.get("/variants/<variant_id>")
@allowed(*TEACHING)
def show(variant_id: str) -> ResponseReturnValue:
    """Everything about one variant."""
    try:
        view = _view(variant_id)
    except (PostureError, LoadError):
        if not is_own(variant_id):
            raise
        return redirect(url_for("documents.show", kind="variant", slug=variant_id))
    return render_template("pages/variants/variant.html", view=view, interval=round(100 * interval()))


@blueprint.get("/variants/<variant_id>/schemes")
@allowed(*TEACHING)
def schemes_inside(variant_id: str) -> ResponseReturnValue:
    """Where rep schemes place tension; only the table when a script asks for that."""
    subject = subject_of(variant_id)
    others = _others(subject.client, subject.reps)
    readings = _schemes(subject.modelled, complements(subject.modelled, others, current.modeller()))
    name = "schemes" if request.headers.get("X-Part") == "inside" else "schemes_page"
    response = Response(render_template(f"pages/variants/{name}.html", subject=subject, schemes=readings))
    response.headers["Vary"] = "X-Part"
    return response


@blueprint.get("/variants/<variant_id>.json")
@allowed(*TEACHING)
def data(variant_id: str) -> ResponseReturnValue:
    """The page's data."""
    return jsonify(_view(variant_id).as_data())


@blueprint.post("/variants/<variant_id>/publish")
@allowed(*TEACHING)
def publish(variant_id: str) -> ResponseReturnValue:
    """Publish a variant as it stands."""
    view = handout_of(subject_of(variant_id))
    return publishing.keep(
        "variant",
        view.variant.name,
        _view(variant_id).as_data(),
        view=view,
        strip=strip(view.modelled, view.target, "large"),
        figures=view.figures(whole=False),
        curves=curves(view.modelled).picture,
    )


@blueprint.get("/variants/<variant_id>/<name>.svg")
@blueprint.get("/variants/<variant_id>/<name>.png")
@allowed(*TEACHING)
def picture_file(variant_id: str, name: str) -> ResponseReturnValue:
    """One picture on its own: its strip, figure or curves, on light or dark paper."""
    subject = subject_of(variant_id)
    makers: dict[str, Callable[[], Picture]] = {
        "strip": lambda: strip(subject.modelled, subject.target, "large"),
        "figure": lambda: subject.figures()["hard spot"],
        "curves": lambda: curves(subject.modelled).picture,
    }
    return files.picture_file(known("picture", name, makers)())


def _others(client: Client, reps: int) -> tuple[VariantModel, ...]:
    """Every variant that can be modelled for a person."""
    return current.modeller().able(current.all_variants(), client.body, effort=effort_for_reps(reps))


def subject_of(variant_id: str) -> Subject:
    """A variant as the address asks for it, modelled.

    Raises
    ------
    CurveRankError
        For what is not there, or cannot be modelled.
    """
    variant, query = current.variant_named(variant_id), VariantQuery.read(request.args)
    asked, lenses = {"target": query.target, "lens": query.lens}, current.lenses_for(query.lens)
    return subject(
        arms.means(waits=True), variant, client_for(query.person), lenses, reps=query.reps, **asked
    )


def handout_of(asked: Subject, others: tuple[VariantModel, ...] = ()) -> Handout:
    """What is printed of a variant, as `answers.handout` has it."""
    return handout(arms.means(waits=True), asked, others)


def _view(variant_id: str) -> VariantView:
    asked = subject_of(variant_id)
    modelled, body, target, lens = asked.modelled, asked.client.body, asked.target, asked.lens
    variant, effort = modelled.variant, effort_for_reps(asked.reps)
    keep = partial(current.modeller().derived, modelled)
    others = _others(asked.client, asked.reps)
    printed = handout_of(asked, others)
    completing = complements(modelled, others, current.modeller())
    return VariantView(
        **vars(printed),
        faults=keep(("faults", target.key, lens), lambda: _faults(asked, effort)),
        timed=keep("timed", lambda: time_rep(modelled.setup, body, modelled.load, tempo_of(variant))),
        # Repetitions with nothing added or taken off, where the body is the weight.
        at_body_weight=keep("at body weight", lambda: reps_at(variant, body, 0.0))
        if carried(variant)
        else None,
        neighbours=neighbours(modelled, others, current.modeller()),
        complements=completing,
    )


def _schemes(modelled: VariantModel, completing: tuple[Complement, ...]) -> tuple[SchemeReading, ...]:
    """Every scheme on a variant, and the pair with what completes it best."""
    keep = partial(current.modeller().derived, modelled)
    every = keep("schemes", lambda: read_schemes(modelled, tuple(schemes().values())))
    first = [one.modelled for one in completing[:1]]
    return (*every, *(keep(("pair", m.key), partial(read_pair, modelled, m)) for m in first))


def _faults(asked: Subject, effort: float) -> tuple[FaultCost, ...]:
    return fault_costs(asked.modelled, asked.target, asked.lens, effort=effort)
