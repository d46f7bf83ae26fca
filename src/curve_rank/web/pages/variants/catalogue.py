"""The whole catalogue: by family, or in the order of a reading; filtered by place, equipment and words."""

from __future__ import annotations

from dataclasses import dataclass

from flask import jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.arm.readings import THIRDS, Readings
from curve_rank.arm.rep_setup import effort_for_reps
from curve_rank.catalogue import words
from curve_rank.catalogue.library import is_called
from curve_rank.exchange import json_views
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.ranking import lacking
from curve_rank.rating.readings import Reading, all_readings
from curve_rank.rating.spreads import spread_of
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.store.documents import Unreadable, unreadable
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import CatalogueQuery
from curve_rank.web.pages.variants.variant import blueprint
from curve_rank.web.question import client_for


@dataclass(frozen=True)
class CatalogueView:
    """The variants that fit, by group and family or by a reading, and documents that cannot be read."""

    query: CatalogueQuery
    fitting: tuple[VariantModel, ...]
    drawn: dict[str, Readings]
    order: Reading | None
    heads: dict[str, Target]
    all: int
    damaged: tuple[Unreadable, ...]

    @property
    def groups(self) -> dict[tuple[str, str], list[VariantModel]]:
        """By group and family; the family is empty where a reading gives the order."""
        found: dict[tuple[str, str], list[VariantModel]] = {}
        for m in self.fitting:
            found.setdefault((m.variant.group, "" if self.order else m.variant.family), []).append(m)
        if self.order:
            for (group, _), some in found.items():
                head, order = self.heads[group], self.order
                some.sort(key=lambda m: self.read(m, order, head), reverse=True)
        return found

    def read(self, m: VariantModel, reading: Reading, head: Target) -> float:
        """A reading's median over the fixed draws, as it is printed everywhere."""
        return spread_of(reading.values(self.drawn[m.variant.id], head.heads[0])).median


@blueprint.get("/variants")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """The whole catalogue, or what of it fits."""
    return render_template(
        "pages/variants/variants.html",
        view=_catalogue(CatalogueQuery.read(request.args)),
        families=words.families(),
        group_names=words.groups(),
        readings=all_readings().values(),
        thirds=THIRDS,
        equipment=words.equipment(),
    )


@blueprint.get("/variants.json")
@allowed(*TEACHING)
def index_data() -> ResponseReturnValue:
    """The catalogue as data."""
    return jsonify([json_views.variant_line(v) for v in current.library().variants])


def _catalogue(query: CatalogueQuery) -> CatalogueView:
    client, effort = client_for(query.person), effort_for_reps(query.reps)
    able = current.modeller().able(current.library().variants, client.body, effort=effort)
    drawn = arms.drawn(tuple(m.variant for m in able), client.body, effort)
    head = known("head", query.head, targets()) if query.head else None
    for item in query.equipment:
        known("equipment", item, words.equipment())
    heads = {group: head if head and head.group == group else long_head(group) for group in words.groups()}
    return CatalogueView(
        query=query,
        fitting=tuple(m for m in able if _fits(m, query)),
        drawn={m.variant.id: one for m, one in zip(able, drawn, strict=True)},
        order=known("order", query.order, all_readings()) if query.order else None,
        heads=heads,
        all=len(able),
        damaged=unreadable(current.session(), current.viewer(), "variant"),
    )


def _fits(modelled: VariantModel, query: CatalogueQuery) -> bool:
    return (
        (not query.hard or modelled.hard_third == query.hard)
        and not lacking(modelled.variant, query.equipment)
        and is_called(modelled.variant, query.words)
    )
