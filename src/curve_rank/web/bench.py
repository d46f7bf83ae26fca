"""The bench: one set-up studied, changed, and saved as one's own."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from flask import Blueprint, Response, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import MultiDict

from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.setup import effort_for_reps, least_load
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import BadInputError, CurveRankError, UnknownNameError
from curve_rank.exchange.tables import rep_table, to_csv
from curve_rank.exchange.views import model_view
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.modelling import Modelled, model_variants
from curve_rank.rating.scoring import strains
from curve_rank.rating.vocabulary import Aim
from curve_rank.rating.why import limit_words, load_words, why
from curve_rank.store import variants as own
from curve_rank.store.database import local_educator
from curve_rank.web.board import asked
from curve_rank.web.controls import HANDLES, controls
from curve_rank.web.drawing import VIEWS
from curve_rank.web.figure import figure
from curve_rank.web.library import aim_for, all_variants, store, variant_named
from curve_rank.web.scenery import best_view
from curve_rank.web.strip import strip_svg

blueprint = Blueprint("bench", __name__, url_prefix="/bench")

FIRST = "reclined-60-dumbbell-curl"
MOST_SETTINGS = 40


@dataclass(frozen=True)
class Studied:
    """A variant as saved, as changed in the address, and what it was modelled for."""

    saved: Variant
    changed: Variant
    settings: tuple[str, ...]
    aim: Aim
    load: float | None
    reps: int
    view: str
    body: Body
    person_id: int | None
    person_name: str

    def model(self) -> Modelled:
        """The changed variant, modelled."""
        return model_variants((self.changed,), self.body, effort=effort_for_reps(self.reps), load=self.load)[
            0
        ]

    def address(self, **replaced: object) -> str:
        """The state as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "set": self.settings,
            "load": self.load,
            "reps": self.reps,
            "view": self.view,
        }
        values |= {"target": self.aim.key, "for": self.person_id} | replaced
        defaults: dict[str, object] = {
            "reps": 10,
            "view": best_view(self.saved),
            "load": None,
            "for": None,
            "set": (),
        }
        kept = {k: v for k, v in values.items() if v is not None and v != defaults.get(k)}
        return urlencode(kept, doseq=True)


@blueprint.get("")
def index() -> ResponseReturnValue:
    """The bench of a first variant."""
    return redirect(url_for(".show", variant_id=FIRST))


@blueprint.get("/<variant_id>")
def show(variant_id: str) -> ResponseReturnValue:
    """The page."""
    return _page(_studied(variant_id, request.args))


@blueprint.get("/<variant_id>.json")
def data(variant_id: str) -> ResponseReturnValue:
    """The page's data, and with `part=bench` what its script redraws from."""
    studied = _studied(variant_id, request.args)
    modelled = studied.model()
    if request.args.get("part") == "bench":
        return jsonify(_drawn(studied, modelled))
    return jsonify(model_view(modelled))


@blueprint.get("/<variant_id>.csv")
def table(variant_id: str) -> ResponseReturnValue:
    """The curves as CSV."""
    text = to_csv(rep_table(_studied(variant_id, request.args).model()))
    return _download(text, "text/csv", f"{variant_id}.csv")


@blueprint.get("/<variant_id>/document.json")
def document(variant_id: str) -> ResponseReturnValue:
    """The variant's document, as changed in the address."""
    text = _studied(variant_id, request.args).changed.model_dump_json(indent=2)
    return _download(text, "application/json", f"{variant_id}.json")


@blueprint.post("/<variant_id>/save")
def save(variant_id: str) -> ResponseReturnValue:
    """Save the changed set-up: as a new variant, or as the next version of one's own."""
    studied = _studied(variant_id, request.form)
    try:
        studied.model()
        with store().session() as session:
            educator = local_educator(session)
            if request.form.get("as") == "version":
                number = own.save_version(session, educator, studied.changed)
                kept, message = studied.changed, f"Saved as version {number}."
            else:
                name = request.form.get("name", "")
                kept = own.save_new(session, educator, studied.changed, name=name)
                message = "Saved. It stands on the board with the others."
    except CurveRankError as error:
        return _page(studied, problem=str(error)), 400
    flash(message, "saved")
    return redirect(url_for(".show", variant_id=kept.id, target=studied.aim.key), 303)


@blueprint.post("/<variant_id>/restore")
def restore(variant_id: str) -> ResponseReturnValue:
    """Make an earlier version of an own variant the newest."""
    number = request.form.get("number", "")
    if not (number.isascii() and number.isdigit()):
        raise BadInputError("version", number, "a version's number")
    with store().session() as session:
        made = own.restore_version(session, local_educator(session), variant_id, int(number))
    flash(f"Version {number} is back, as version {made}.", "saved")
    return redirect(url_for(".show", variant_id=variant_id), 303)


@blueprint.post("/<variant_id>/remove")
def remove(variant_id: str) -> ResponseReturnValue:
    """Take an own variant off the board, with a way back."""
    with store().session() as session:
        own.set_removed(session, variant_id, removed=True)
    flash(variant_id, "variant-removed")
    return redirect(url_for("board.show"), 303)


@blueprint.post("/<variant_id>/put-back")
def put_back(variant_id: str) -> ResponseReturnValue:
    """Undo a removal."""
    with store().session() as session:
        own.set_removed(session, variant_id, removed=False)
    return redirect(url_for(".show", variant_id=variant_id), 303)


def _studied(variant_id: str, args: MultiDict[str, str]) -> Studied:
    """Read the bench's state from an address or a form.

    Raises
    ------
    CurveRankError
    """
    saved = variant_named(variant_id)
    texts = tuple(args.getlist("set"))
    if len(texts) > MOST_SETTINGS:
        raise BadInputError("set", len(texts), f"at most {MOST_SETTINGS} changes")
    latest = {change.field: change for change in (parse_setting(text) for text in texts)}
    view = args.get("view") or best_view(saved)
    if view not in VIEWS:
        raise UnknownNameError("view", view, "one of: " + ", ".join(VIEWS))
    question = asked(MultiDict([(k, v) for k, v in args.items(multi=True) if k in ("for", "reps")]))
    return Studied(
        saved=saved,
        changed=changed(saved, tuple(latest.values())),
        settings=tuple(f"{change.field}={_plain(change)}" for change in latest.values()),
        aim=aim_for(saved, args.get("target")),
        load=_load(args.get("load", "")),
        reps=question.question.reps,
        view=view,
        body=question.question.body,
        person_id=question.person_id,
        person_name=question.person_name,
    )


def _plain(change: Change) -> str:
    if isinstance(change.set, bool):
        return str(change.set).lower()
    return f"{change.set:g}" if isinstance(change.set, float) else str(change.set)


def _load(text: str) -> float | None:
    if not text.strip():
        return None
    try:
        load = float(text)
    except ValueError as error:
        raise BadInputError("load", text, "a number of kilograms") from error
    if not math.isfinite(load):
        raise BadInputError("load", text, "a number of kilograms")
    return load


def _page(studied: Studied, problem: str = "") -> str:
    """The page; with a problem, the saved state is shown and what was typed stays in the forms."""
    modelled = studied.model() if not problem else _model_saved(studied)
    with store().session() as session:
        is_own = studied.saved.id.startswith(own.PREFIX)
        versions = list(own.own_row(session, studied.saved.id).versions) if is_own else []
    return render_template(
        "bench/bench.html",
        studied=studied,
        modelled=modelled,
        drawn=_drawn(studied, modelled),
        least=math.ceil(least_load(modelled.batch.setups[modelled.place], studied.body)),
        ghost=_drawn(studied, _model_saved(studied)),
        table=rep_table(modelled),
        controls=controls(studied.changed),
        handles=HANDLES,
        versions=versions,
        strains=strains(modelled),
        cautions_for=cautions_for,
        problem=problem,
        typed_name=request.form.get("name", ""),
        neighbours=[(v.id, v.name) for v in all_variants() if v.target == studied.saved.target],
    )


def _model_saved(studied: Studied) -> Modelled:
    return model_variants((studied.saved,), studied.body, effort=effort_for_reps(studied.reps))[0]


def _drawn(studied: Studied, modelled: Modelled) -> dict[str, Any]:
    """What the page's script draws: figure, curves, strip and sentences."""
    readings = modelled.readings
    heads = [h for h in parameter_set().heads if h.counted and h.group == modelled.variant.target]
    return {
        "figure": figure(modelled, studied.view),
        "curves": {
            "elbow": _short(modelled.angle("elbow"), 1),
            "shoulder": _short(modelled.angle("shoulder"), 1),
            "demand": _short(modelled.along("demand"), 2),
            "strength": _short(modelled.along("strength"), 2),
            "effort": _short(100 * modelled.along("effort"), 1),
            "lever": [round(v, 1) if math.isfinite(v) else None for v in 100 * modelled.along("lever")],
            "angle": _short(modelled.along("angle"), 1),
            "heads": [
                {
                    "key": h.key,
                    "name": h.name,
                    "drive": _short(100 * modelled.head_along("drive", h.key), 1),
                    "length": _short(
                        modelled.batch.geometry.percent[modelled.batch.anatomy.index(h.key), modelled.place],
                        1,
                    ),
                }
                for h in heads
            ],
            "slack": [list(stretch) for stretch in readings.slack],
            "hard": round(readings.hard_at * (modelled.angle("elbow").size - 1)),
        },
        "strip": str(strip_svg(modelled, studied.aim, "large")),
        "why": why(modelled, studied.aim),
        "load": round(readings.load, 1),
        "load_words": load_words(modelled),
        "joint": modelled.variant.coordinate,
        "limit": limit_words(modelled),
        "fixed_load": studied.load is not None,
        "evenness": round(100 * readings.evenness),
        "slack_share": round(100 * readings.slack_share),
    }


def _short(values: Any, digits: int) -> list[float]:
    rounded: list[float] = (values.round(digits) + 0.0).tolist()
    return rounded


def _download(text: str, kind: str, name: str) -> Response:
    response = Response(text, mimetype=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
