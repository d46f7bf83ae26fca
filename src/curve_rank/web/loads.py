"""Loads: what a known set is worth on other variants, and a person's size and strength."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.exchange.views import transfer_view
from curve_rank.rating.transfer import KnownSet, Transfer, body_from_set, worth
from curve_rank.store import people
from curve_rank.store.database import local_educator
from curve_rank.web.board import asked
from curve_rank.web.library import able, all_variants, store, variant_named
from curve_rank.web.typed import needed_whole, whole_or

blueprint = Blueprint("loads", __name__)

FROM, TO = "standing-dumbbell-curl", "reclined-60-dumbbell-curl"
LOAD, REPS = 12.0, 10


@dataclass(frozen=True)
class Asking:
    """A known set, and where its worth is wanted."""

    known: KnownSet
    to: Variant
    to_reps: int
    body: Body
    person_id: int | None
    person_name: str


@blueprint.get("/loads")
def show() -> ResponseReturnValue:
    """The page."""
    asking = _asking(request.args)
    wanted, others = _worth(asking)
    with store().session() as session:
        known_people = people.people_with_bodies(session)
        person = people.person(session, asking.person_id) if asking.person_id is not None else None
        row = person.bodies[-1] if person else None
    return render_template(
        "loads/loads.html",
        asking=asking,
        wanted=wanted,
        others=others,
        variants=all_variants(),
        people=known_people,
        row=row,
    )


@blueprint.get("/loads.json")
def data() -> ResponseReturnValue:
    """The page's data."""
    asking = _asking(request.args)
    wanted, others = _worth(asking)
    return jsonify(
        transfer_view(wanted)
        | {"strength": round(wanted.modelled.batch.body.strength, 4)}
        | {"others": [transfer_view(t) for t in others]}
    )


@blueprint.post("/loads/body")
def save_body() -> ResponseReturnValue:
    """Keep a person's size, and the strength that a known set explains."""
    form = request.form
    person_id = needed_whole(form, "for")
    known: KnownSet | None = None
    body = Body(
        height=_number(form, "height", 178.0) / 100,
        mass=_number(form, "mass", 80.0),
        upper_arm_m=_centimetres(form, "upper_arm"),
        forearm_m=_centimetres(form, "forearm"),
    )
    if form.get("load", "").strip():
        known = KnownSet(
            variant_named(form.get("variant", FROM)), _number(form, "load", LOAD), needed_whole(form, "reps")
        )
        body = body_from_set(body, known)
    with store().session() as session:
        person = people.person(session, person_id)
        people.save_body(session, local_educator(session), person, body, known)
    flash(f"Kept for {person.name}.", "saved")
    return redirect(f"{url_for('.show')}?for={person_id}", 303)


def _asking(args: MultiDict[str, str]) -> Asking:
    question = asked(MultiDict([(k, v) for k, v in args.items(multi=True) if k == "for"]))
    known = KnownSet(
        variant_named(args.get("variant") or FROM),
        _number(args, "load", LOAD),
        whole_or(args, "reps", REPS),
    )
    to = variant_named(args.get("to") or (TO if known.variant.id != TO else FROM))
    return Asking(
        known,
        to,
        whole_or(args, "to_reps", REPS),
        question.question.body,
        question.person_id,
        question.person_name,
    )


def _worth(asking: Asking) -> tuple[Transfer, tuple[Transfer, ...]]:
    """The known set's worth on the variant asked for, and on its whole group without intervals."""
    strong = body_from_set(asking.body, asking.known)
    (wanted,) = worth(strong, asking.known, (asking.to,), reps=asking.to_reps)
    group = tuple(v for v in all_variants() if v.target == asking.to.target)
    targets = tuple(m.variant for m in able(group, asking.body, effort=0.75))
    return wanted, worth(strong, asking.known, targets, reps=asking.to_reps, draws=0)


def _number(args: MultiDict[str, str], name: str, otherwise: float) -> float:
    text = args.get(name, "").strip().replace(",", ".")
    if not text:
        return otherwise
    try:
        return float(text)
    except ValueError as error:
        raise BadInputError(name, text, "a number") from error


def _centimetres(args: MultiDict[str, str], name: str) -> float | None:
    return _number(args, name, 0.0) / 100 if args.get(name, "").strip() else None
