"""The whole catalogue: by family, or in the order of a reading; filtered by place, equipment and words."""

from __future__ import annotations

from flask import jsonify, render_template, request
from flask.typing import ResponseReturnValue

from curve_rank.answers.catalogue import CatalogueRequest, catalogue
from curve_rank.arm.readings import THIRDS
from curve_rank.catalogue import words
from curve_rank.catalogue.library import variant_line
from curve_rank.rating.readings import all_readings
from curve_rank.store.documents import unreadable
from curve_rank.web import arms, current
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.pages.variants.variant import blueprint
from curve_rank.web.question import client_for


@blueprint.get("/variants")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """The whole catalogue, or what of it fits."""
    asked = CatalogueRequest.read(request.args)
    return render_template(
        "pages/variants/variants.html",
        answer=catalogue(arms.means(waits=True), asked, client_for(asked.person)),
        damaged_variants=unreadable(current.session(), current.viewer(), "variant"),
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
    return jsonify([variant_line(v) for v in current.library().variants])
