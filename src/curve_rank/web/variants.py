"""Variants: the whole catalogue, and a page about each."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.arm.tempo import time_rep
from curve_rank.catalogue.schema import Variant
from curve_rank.exchange.views import model_view, variant_line
from curve_rank.rating.cautions import cautions_for
from curve_rank.rating.certainty import INTERVAL
from curve_rank.rating.faults import fault_costs
from curve_rank.rating.kinship import Complement, complements, neighbours
from curve_rank.rating.modelling import Modelled
from curve_rank.rating.schemes import LENGTHS, read_pair, read_scheme, schemes, tempo_of
from curve_rank.rating.scoring import Ingredients, carried, ingredients_of, scores
from curve_rank.rating.transfer import reps_at
from curve_rank.rating.vocabulary import Aim, Lens, aims, known, long_head
from curve_rank.rating.why import limit_words, why
from curve_rank.web.board import Asked, asked
from curve_rank.web.library import able, aim_for, all_variants, draws, modeller, variant_named
from curve_rank.web.sheet import figure_svg

blueprint = Blueprint("variants", __name__)

FAMILIES = {
    "standing": "Standing, free weight",
    "reclined": "Reclined",
    "supported": "Supported",
    "cable": "Cable",
    "band": "Band",
    "pulling": "Pulling",
    "press_down": "Press-down",
    "overhead": "Overhead",
    "lying": "Lying",
    "arm_behind": "Arm behind",
    "straight_arm": "Straight arm",
    "sideways": "Sideways",
    "pressing": "Pressing",
}


@dataclass(frozen=True)
class Told:
    """One reading of the page: its name, value, interval and unit."""

    name: str
    value: float
    low: float
    high: float
    unit: str
    digits: int = 0


@blueprint.get("/variants")
def index() -> ResponseReturnValue:
    """The whole catalogue, by family."""
    groups: dict[tuple[str, str], list[Modelled]] = {}
    for m in _modelled(asked(request.args)):
        groups.setdefault((m.variant.target, m.variant.family), []).append(m)
    shown = {target: long_head(target) for target in TARGETS}
    return render_template(
        "variants/index.html", groups=groups, families=FAMILIES, targets=TARGETS, shown=shown
    )


TARGETS = {"flexors": "Elbow flexors", "extensors": "Elbow extensors"}


@blueprint.get("/variants.json")
def index_data() -> ResponseReturnValue:
    """The catalogue as data."""
    return jsonify([variant_line(v) for v in all_variants()])


@blueprint.get("/variants/<variant_id>")
def show(variant_id: str) -> ResponseReturnValue:
    """Everything about one variant."""
    variant = variant_named(variant_id)
    asking = asked(request.args)
    aim, lens = _aim(variant, request.args.get("target")), asking.question.lens_used
    modelled, effort = _one(variant, asking), asking.question.effort
    drawn = draws().quick(variant, asking.question.body, effort)
    others = _modelled(asking)
    completing = complements(modelled, others)
    setup = modelled.batch.setups[modelled.place]
    return render_template(
        "variants/variant.html",
        asked=asking,
        modelled=modelled,
        aim=aim,
        lens=lens,
        figures=[figure_svg(modelled, at=int(at)) for at in _moments(modelled)],
        told=told(modelled, drawn, aim, lens),
        why=why(modelled, aim),
        limit=limit_words(modelled),
        faults=fault_costs(modelled, aim, lens, modeller(), effort=effort),
        cares=cautions_for(modelled),
        timed=time_rep(setup, asking.question.body, modelled.readings.load, tempo_of(variant)),
        schemes=_schemes(modelled, aim, completing[:1]),
        at_body_weight=_at_body_weight(modelled),
        neighbours=neighbours(modelled, others),
        complements=completing,
        lengths=LENGTHS,
        interval=round(100 * INTERVAL),
    )


@blueprint.get("/variants/<variant_id>.json")
def data(variant_id: str) -> ResponseReturnValue:
    """The page's data: the model, the readings' intervals, faults, neighbours."""
    variant = variant_named(variant_id)
    asking = asked(request.args)
    aim, lens = _aim(variant, request.args.get("target")), asking.question.lens_used
    modelled, effort = _one(variant, asking), asking.question.effort
    drawn = draws().quick(variant, asking.question.body, effort)
    others = _modelled(asking)
    costs = fault_costs(modelled, aim, lens, modeller(), effort=effort)
    return jsonify(
        model_view(modelled)
        | {
            "document": variant.model_dump(mode="json"),
            "intervals": [vars(t) for t in told(modelled, drawn, aim, lens)],
            "faults": [
                {"name": c.fault.name, "score_change": round(c.score_change, 2), "says": c.says or c.problem}
                for c in costs
            ],
            "cautions": [{"key": c.caution.key, "reason": c.reason} for c in cautions_for(modelled)],
            "neighbours": [
                {"variant": n.modelled.variant.id, "difference": round(n.difference, 4)}
                for n in neighbours(modelled, others)
            ],
            "complements": [
                {
                    "variant": c.modelled.variant.id,
                    "gain": round(c.gain, 4),
                    "head": c.head,
                    "length": c.length,
                }
                for c in complements(modelled, others)
            ],
        }
    )


def told(modelled: Modelled, drawn: Ingredients, aim: Aim, lens: Lens) -> list[Told]:
    """The readings a teacher quotes, with their 80 % intervals."""
    plain = ingredients_of(modelled)
    mass = modelled.batch.body.mass
    tail = (1 - INTERVAL) / 2
    head = modelled.batch.anatomy.index(aim.heads[0])

    def one(name: str, value: Any, many: Any, unit: str, scale: float = 1.0, digits: int = 0) -> Told:
        low, high = (float(v) for v in np.quantile(many, (tail, 1 - tail)))
        here = float(value)
        return Told(name, scale * here, scale * min(low, here), scale * max(high, here), unit, digits)

    def of_head(name: str, key: str, unit: str, scale: float) -> Told:
        return one(name, plain.heads[key][head], drawn.heads[key][:, head], unit, scale)

    variant = modelled.variant
    return [
        one(
            f"Score by {lens.name.lower()}",
            scores(plain, variant, mass, aim, lens),
            scores(drawn, variant, mass, aim, lens),
            "of 100",
        ),
        one("Working load", plain.whole["load"], drawn.whole["load"], "kg", digits=1),
        of_head("Length at the hard spot", "length_at_hard_spot", "% of range", 1),
        of_head("Share of the work", "share", "%", 100),
        of_head("Long-length tension", "long_tension", "% of peak force", 100),
        of_head("Short-length tension", "short_tension", "% of peak force", 100),
        one("Evenness", plain.whole["evenness"], drawn.whole["evenness"], "% of peak", 100),
        one("Slack", plain.whole["slack_share"], drawn.whole["slack_share"], "% of the rep", 100),
    ]


def _modelled(asking: Asked) -> tuple[Modelled, ...]:
    """Every variant that can be modelled for the question's body."""
    return able(all_variants(), asking.question.body, effort=asking.question.effort)


def _one(variant: Variant, asking: Asked) -> Modelled:
    (found,) = modeller().model((variant,), asking.question.body, effort=asking.question.effort)
    if not isinstance(found, Modelled):
        raise found
    return found


def _aim(variant: Variant, key: str | None) -> Aim:
    if key:
        known("target", key, aims())
    return aim_for(variant, key)


def _moments(modelled: Modelled) -> tuple[int, int, int]:
    """Stretched end, hard spot, short end."""
    return 0, int(modelled.along("demand").argmax()), modelled.along("demand").size - 1


def _schemes(modelled: Modelled, aim: Aim, partners: tuple[Complement, ...]) -> list[dict[str, Any]]:
    """Every scheme on the curve, and a back-to-back pair with what completes it best."""
    readings = [read_scheme(modelled, scheme) for scheme in schemes().values()]
    readings += [read_pair(modelled, c.modelled) for c in partners]
    head = modelled.batch.anatomy.index(aim.heads[0])
    return [
        {
            "scheme": reading.scheme,
            "seconds": reading.seconds,
            "tension": {length: float(reading.tension[length][head]) for length in LENGTHS},
            "per_minute": {length: float(reading.per_minute(length)[head]) for length in LENGTHS},
        }
        for reading in readings
    ]


def _at_body_weight(modelled: Modelled) -> float | None:
    """Repetitions with nothing added or taken off, where the body is the weight."""
    if not carried(modelled.variant):
        return None
    return reps_at(modelled.variant, modelled.batch.body, 0.0)
