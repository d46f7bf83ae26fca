"""One variant: everything about it, as a page, data, a handout and pictures."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import Any

from flask import Blueprint, Response, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.people import Client
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.arm.tempo import TimedReps, time_rep
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import LoadError, PostureError
from curve_rank.exchange import json_views
from curve_rank.figures.curves import curves
from curve_rank.figures.figure import figure
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strip
from curve_rank.rating.cannot_tell import CannotTell, about_variant
from curve_rank.rating.cautions import CautionReason
from curve_rank.rating.criteria import carried
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.reading_intervals import ReadingInterval, reading_intervals
from curve_rank.rating.similar import Complement, Neighbour, complements, neighbours
from curve_rank.rating.spreads import interval
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import gives_out, why
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
class Subject:
    """One variant, modelled, for a target, a lens and a person."""

    modelled: VariantModel
    target: Target
    lens: Lens
    client: Client
    reps: int

    @property
    def head(self) -> int:
        """The head that tension is told of, as a place in the anatomy."""
        return self.modelled.anatomy.index(self.target.heads[0])

    @property
    def variant(self) -> Variant:
        """Its document."""
        return self.modelled.variant

    @property
    def limit(self) -> str:
        """What gives out first."""
        return gives_out(self.modelled)

    def figures(self, *, whole: bool = True) -> dict[str, Picture]:
        """The figure at the stretched end, the hard spot and the short end."""
        person, last = figure(self.modelled), self.modelled.along("demand").size - 1
        moments = {"stretched end": 0, "hard spot": self.modelled.hard, "short end": last}
        return {name: person.at(at, whole=whole) for name, at in moments.items()}


@dataclass(frozen=True)
class HandoutView(Subject):
    """What stands on its printed page."""

    intervals: tuple[ReadingInterval, ...]
    why: str
    cautions: tuple[CautionReason, ...]

    @property
    def load(self) -> ReadingInterval:
        """The load, as it is printed [kg]."""
        return next(one for one in self.intervals if one.key == "load")


@dataclass(frozen=True)
class VariantView(HandoutView):
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
    view = handout_view(subject_of(variant_id))
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
    """
    variant, query = current.variant_named(variant_id), VariantQuery.read(request.args)
    client = client_for(query.person)
    return Subject(
        modelled=current.modeller().one(variant, client.body, effort=effort_for_reps(query.reps)),
        target=_target(variant, query.target),
        lens=known("lens", query.lens, current.lenses_for(query.lens)),
        client=client,
        reps=query.reps,
    )


def _view(variant_id: str) -> VariantView:
    subject = subject_of(variant_id)
    modelled, body, target, lens = subject.modelled, subject.client.body, subject.target, subject.lens
    variant, effort = modelled.variant, effort_for_reps(subject.reps)
    keep = partial(current.modeller().derived, modelled)
    others = _others(subject.client, subject.reps)
    printed = handout_view(subject, others)
    completing = complements(modelled, others, current.modeller())
    return VariantView(
        **vars(printed),
        faults=keep(("faults", target.key, lens), lambda: _faults(subject, effort)),
        timed=keep("timed", lambda: time_rep(modelled.setup, body, modelled.load, tempo_of(variant))),
        # Repetitions with nothing added or taken off, where the body is the weight.
        at_body_weight=keep("at body weight", lambda: reps_at(variant, body, 0.0))
        if carried(variant)
        else None,
        neighbours=neighbours(modelled, others, current.modeller()),
        complements=completing,
    )


def handout_view(subject: Subject, others: tuple[VariantModel, ...] = ()) -> HandoutView:
    """What is printed; the others are drawn along where they are at hand anyway."""
    keep = partial(current.modeller().derived, subject.modelled)
    name, effort = ("intervals", subject.target.key, subject.lens), effort_for_reps(subject.reps)
    intervals, says = keep(name, lambda: _intervals(subject, others, effort))
    return HandoutView(
        **vars(subject),
        intervals=intervals,
        why=says,
        cautions=current.cautions(subject.modelled),
    )


def _schemes(modelled: VariantModel, completing: tuple[Complement, ...]) -> tuple[SchemeReading, ...]:
    """Every scheme on a variant, and the pair with what completes it best."""
    keep = partial(current.modeller().derived, modelled)
    every = keep("schemes", lambda: read_schemes(modelled, tuple(schemes().values())))
    first = [one.modelled for one in completing[:1]]
    return (*every, *(keep(("pair", m.key), partial(read_pair, modelled, m)) for m in first))


def _intervals(
    subject: Subject, others: tuple[VariantModel, ...], effort: float
) -> tuple[tuple[ReadingInterval, ...], str]:
    """Its intervals, and where it is hard; its family is drawn along, which costs little more than one."""
    modelled = subject.modelled
    family = [m.variant for m in others if m.variant.family == modelled.variant.family]
    drawn_for = (modelled.variant, *(v for v in family if v.id != modelled.variant.id))
    drawn, *_ = arms.drawn(drawn_for, subject.client.body, effort)
    intervals = reading_intervals(modelled, drawn, subject.target, subject.lens)
    return intervals, why(modelled, subject.target, drawn)


def _faults(subject: Subject, effort: float) -> tuple[FaultCost, ...]:
    return fault_costs(subject.modelled, subject.target, subject.lens, effort=effort)


def _target(variant: Variant, key: str) -> Target:
    """The target asked for if it belongs to the variant's group, else the group's long head."""
    asked = known("target", key, targets()) if key else None
    return asked if asked is not None and asked.group == variant.group else long_head(variant.group)
