"""Heads: a plate to choose from, each head in words, and its maps over the joints."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any
from urllib.parse import urlencode

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.arm.atlas import RANGES, Across, Atlas, atlas
from curve_rank.arm.body import Body
from curve_rank.arm.posture import ELBOW_RANGE
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import SetupAddress, parse_setup
from curve_rank.errors import BadInputError
from curve_rank.exchange.study_views import atlas_view
from curve_rank.figures.maps import KINDS, Kind, head_map, scale_of, sections, values_of
from curve_rank.figures.overlay import LETTERS
from curve_rank.figures.plate import VIEWS, plate
from curve_rank.figures.svg import svg
from curve_rank.rating.cannot_tell import about_target
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import targets
from curve_rank.store import people
from curve_rank.study.heads import Head, LoadedLists, head_named, heads, loaded_lists, model_says
from curve_rank.web import arms, current, files, notices, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import HeadQuery, PartForm
from curve_rank.web.problems import status_of

blueprint = Blueprint("heads", __name__)

FIRST = "biceps_long"
WALKS = {
    "flexors": ("reclined-60-dumbbell-curl", "pad-45-dumbbell-curl"),
    "extensors": ("overhead-rope-low-pulley", "rope-press-down"),
}
MOST_WALKS = 4


@dataclass(frozen=True)
class HeadView:
    """One head: its map, the cuts through it, and the reps that walk over it."""

    head: Head
    kind: Kind
    across: Across
    at: tuple[float, float]
    atlas: Atlas
    setups: tuple[SetupAddress, ...]
    walks: tuple[VariantModel, ...]

    @property
    def held(self) -> tuple[str, float]:
        """The third joint, and the angle it is held at."""
        ((joint, angle),) = self.atlas.held.items()
        return joint, angle

    def address(self, **replaced: object) -> str:
        """The state as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "map": self.kind,
            "across": self.across,
            "elbow": f"{self.at[0]:g}",
            "other": f"{self.at[1]:g}",
            "held": f"{self.held[1]:g}" if self.held[1] else None,
            "with": [setup.text for setup in self.setups],
        }
        values |= replaced
        return urlencode({k: v for k, v in values.items() if v is not None}, doseq=True)

    @cached_property
    def map(self) -> str:
        """The map, drawn."""
        return svg(head_map(self.atlas, self.kind, self.walks, self.at))

    @cached_property
    def sections(self) -> list[str]:
        """The cuts along both axes, drawn."""
        return [svg(one) for one in sections(self.atlas, self.kind, self.at)]

    def as_script(self) -> dict[str, Any]:
        """What the page's script reads under the pointer."""
        scale = scale_of(self.atlas)
        name, unit = KINDS[self.kind]
        return {
            "elbow": self.atlas.elbow.tolist(),
            "other": self.atlas.other.tolist(),
            "values": values_of(self.atlas, self.kind).round(2).tolist(),
            "name": name,
            "unit": unit,
            "across": self.across,
            "x": [scale.x(scale.elbow[0]), scale.x(scale.elbow[1])],
            "y": [scale.y(scale.other[0]), scale.y(scale.other[1])],
        }


@blueprint.get("/heads")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """The first head's page."""
    return redirect(url_for("heads.show", head=FIRST))


@blueprint.get("/heads/<head>")
@allowed(*TEACHING)
def show(head: str) -> ResponseReturnValue:
    """One head."""
    return _page(_view(head))


@blueprint.get("/heads/<head>.json")
@allowed(*TEACHING)
def data(head: str) -> ResponseReturnValue:
    """Its map as grids."""
    return jsonify(atlas_view(_view(head).atlas))


@blueprint.get("/heads/<head>/map.svg")
@blueprint.get("/heads/<head>/map.png")
@allowed(*TEACHING)
def picture(head: str) -> ResponseReturnValue:
    """Its map on its own."""
    view = _view(head)
    return files.picture_file(head_map(view.atlas, view.kind, view.walks, view.at))


@blueprint.post("/heads/<head>/part")
@allowed(*TEACHING)
def save_part(head: str) -> ResponseReturnValue:
    """Keep the triceps' part of the upper arm."""
    head_named(head)
    try:
        part = PartForm.read(request.form).part
        with current.writing() as session:
            people.save_triceps_part(session, current.viewer(), part / 100)
    except BadInputError as error:
        return _page(_view(head), problem=str(error), typed=request.form.get("part", "")), status_of(error)
    notices.tell(f"Kept: triceps {part:g} % of the upper arm.")
    return redirect(url_for("heads.show", head=head), 303)


@blueprint.post("/heads/<head>/publish")
@allowed(*TEACHING)
def publish(head: str) -> ResponseReturnValue:
    """Publish a head's plate and the map as it stands."""
    view = _view(head)
    names = {key: one.name for key, one in heads().items()}
    return publishing.keep(
        "plate",
        view.head.name,
        atlas_view(view.atlas),
        head=view.head,
        plates=[plate(side, names, view.head.key, lambda _: "") for side in VIEWS],
        says=[*model_says(view.head.key), *view.head.said],
        map=head_map(view.atlas, view.kind, view.walks, view.at),
        walks=[m.variant.name for m in view.walks],
        letters=LETTERS.upper(),
    )


def _page(view: HeadView, problem: str = "", typed: str = "") -> str:
    names = {key: one.name for key, one in heads().items()}
    part = people.triceps_part(current.session(), current.viewer())
    return render_template(
        "pages/heads/heads.html",
        view=view,
        head=view.head,
        heads=heads(),
        plates=[Markup(svg(plate(side, names, view.head.key, _address))) for side in VIEWS],
        map=Markup(view.map),
        sections=[Markup(one) for one in view.sections],
        says=model_says(view.head.key),
        cannot_tell=about_target(targets()[view.head.key]) if view.head.counted else (),
        loaded=_loaded(view.head),
        kinds=KINDS,
        letters=LETTERS.upper(),
        ranges={"elbow": ELBOW_RANGE} | RANGES,
        neighbours=_group(view.head),
        most=MOST_WALKS,
        part=100 * part,
        typed=typed,
        problem=problem,
    )


def _address(head: str) -> str:
    return url_for("heads.show", head=head)


def _loaded(head: Head) -> LoadedLists | None:
    """How variants load it; None for a helper."""
    if not head.counted:
        return None
    body, effort = Body(), usual_effort()
    able = tuple(m.variant for m in current.group_modelled(head.group, body, effort=effort))
    drawn = dict(zip((v.id for v in able), arms.drawn(able, body, effort), strict=True))
    return loaded_lists(head.key, drawn, able)


def _group(head: Head) -> list[Variant]:
    return [v for v in current.all_variants() if head.group not in WALKS or v.group == head.group]


def _view(key: str) -> HeadView:
    """What the address asks.

    Raises
    ------
    CurveRankError
    """
    head, query = head_named(key), HeadQuery.read(request.args)
    at = (query.elbow, query.other)
    for name, value, (low, high) in (
        ("elbow", at[0], ELBOW_RANGE),
        ("other", at[1], RANGES[query.across]),
    ):
        if not low <= value <= high:
            raise BadInputError(name, value, f"{low:g} to {high:g} degrees")
    setups = tuple(map(parse_setup, query.setups or WALKS.get(head.group, WALKS["flexors"])))
    if len(setups) > MOST_WALKS:
        raise BadInputError("with", f"{len(setups)} set-ups", f"at most {MOST_WALKS} on one map")
    variants = tuple(current.setup_of(setup) for setup in setups)
    effort = usual_effort()
    return HeadView(
        head=head,
        kind=query.kind,
        across=query.across,
        at=at,
        atlas=atlas(key, query.across, held=query.held or 0.0),
        setups=setups,
        walks=tuple(current.modeller().one(v, Body(), effort=effort) for v in variants),
    )
