"""Sources: every parameter, whether the loads look right, what the model leaves out."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, jsonify, render_template
from flask.typing import ResponseReturnValue

from curve_rank.arm.body import Body
from curve_rank.arm.parameters import Parameter, parameter_set
from curve_rank.arm.rep_setup import LINKS, usual_effort
from curve_rank.catalogue.library import built_in
from curve_rank.exchange.json_views import parameter_view
from curve_rank.rating.cannot_tell import questions
from curve_rank.rating.criteria import criteria
from curve_rank.rating.joints import joints
from curve_rank.rating.lenses import lenses
from curve_rank.rating.load_bands import LoadRange, load_bands
from curve_rank.web import current
from curve_rank.web.access import ANYONE, allowed

blueprint = Blueprint("sources", __name__)

GROUP_TITLES = {
    "body": "Body",
    "ranges": "Reach of the joints",
    "hips": "Where the hips are",
    "arm_knots": "Knots of the elbow arm tables",
    "muscle": "Muscle",
    "helpers": "Actuators beside the heads",
    "sharing": "Load sharing",
    "press": "Presses",
    "band": "Bands",
    "time": "Time",
    "readings": "Readings",
    "joint_notes": "What joints bear",
    "cautions": "When cautions apply",
    "certainty": "How sure",
}


@dataclass(frozen=True)
class SourcesView:
    """Every number with its source, and the loads against ordinary experience."""

    parameters: tuple[Parameter, ...]
    sources: dict[str, str]
    load_ranges: tuple[LoadRange, ...]
    links: dict[str, int]

    @property
    def inside(self) -> int:
        """Load ranges that are met."""
        return sum(one.inside for one in self.load_ranges)

    @property
    def groups(self) -> dict[str, list[Parameter]]:
        """Parameters by the part of the file they stand in."""
        found: dict[str, list[Parameter]] = {}
        for parameter in self.parameters:
            found.setdefault(parameter.key.rpartition(".")[0], []).append(parameter)
        return found

    def as_data(self) -> dict[str, Any]:
        """The page's JSON twin."""
        return {
            "parameters": [parameter_view(p) for p in self.parameters],
            "sources": self.sources,
            "bands": [vars(one) for one in self.load_ranges],
            "limiting_links": self.links,
        }


@blueprint.get("/sources")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """The page."""
    heads = {f"heads.{head.key}": head.name for head in parameter_set().heads}
    return render_template(
        "pages/sources/sources.html",
        view=_view(),
        titles=heads | GROUP_TITLES,
        criteria=criteria(),
        lenses=lenses(),
        joints=joints(),
        cannot_tell=questions(),
    )


@blueprint.get("/sources.json")
@allowed(ANYONE)
def data() -> ResponseReturnValue:
    """The page's data."""
    return jsonify(_view().as_data())


def _view() -> SourcesView:
    known, effort = parameter_set(), usual_effort()
    able = current.modeller().able(built_in(), Body(), effort=effort)
    counted = Counter(m.limited_by for m in able)
    return SourcesView(
        known.parameters,
        dict(known.sources),
        load_bands(built_in(), Body(), current.modeller()),
        {link: counted[link] for link in LINKS},
    )
