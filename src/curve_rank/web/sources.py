"""Sources: every parameter, the load bands, what the model leaves out, safety and scope."""

from __future__ import annotations

from flask import Blueprint, jsonify, render_template
from flask.typing import ResponseReturnValue

from curve_rank.arm.body import Body
from curve_rank.arm.parameters import Parameter, parameter_set
from curve_rank.catalogue.library import built_in
from curve_rank.rating.bands import load_bands
from curve_rank.rating.vocabulary import criteria, joints, lenses
from curve_rank.web.library import modeller

blueprint = Blueprint("sources", __name__)


@blueprint.get("/sources")
def show() -> ResponseReturnValue:
    """The page."""
    parameters = parameter_set()
    groups: dict[str, list[Parameter]] = {}
    for parameter in parameters:
        groups.setdefault(parameter.key.rpartition(".")[0], []).append(parameter)
    return render_template(
        "sources/sources.html",
        groups=groups,
        titles={f"heads.{head.key}": head.name for head in parameters.heads} | GROUP_TITLES,
        sources=dict(parameters.sources),
        bands=load_bands(built_in(), Body(), modeller()),
        criteria=criteria(),
        lenses=lenses(),
        joints=joints(),
    )


@blueprint.get("/sources.json")
def data() -> ResponseReturnValue:
    """The page's data."""
    parameters = parameter_set()
    return jsonify(
        parameters=[
            {
                "key": p.key,
                "value": list(p.value),
                "unit": p.unit,
                "spread": p.spread,
                "spread_is_absolute": p.spread_is_absolute,
                "sources": list(p.sources),
                "note": p.note,
            }
            for p in parameters
        ],
        sources=dict(parameters.sources),
        bands=[vars(band) for band in load_bands(built_in(), Body(), modeller())],
    )


GROUP_TITLES = {
    "body": "Body",
    "arm_knots": "Knots of the elbow arm tables",
    "muscle": "Muscle",
    "helpers": "Helpers in the balances",
    "band": "Bands",
    "time": "Time",
    "readings": "Readings",
}
