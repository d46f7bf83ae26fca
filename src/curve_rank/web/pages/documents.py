"""Documents that cannot be read: what is stored, why not, and a way to mend or remove it."""

from __future__ import annotations

import json
from dataclasses import dataclass

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError, UnavailableError
from curve_rank.rating.targets import known
from curve_rank.store import documents
from curve_rank.store.documents import StoredText, VersionLine
from curve_rank.study.trying import try_out
from curve_rank.validation import read_json
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms import NumberForm, TextForm

blueprint = Blueprint("documents", __name__, url_prefix="/documents/<kind>/<slug>")

LISTS = {
    "variant": "variants.index",
    "lens": "schools.show",
    "fault": "faults.show",
    "claim": "claims.show",
    "profile": "measure.show",
}
"""Per kind, the page that lists its documents."""


@dataclass(frozen=True)
class RepairView:
    """A stored document as text, why it cannot be read, and its history."""

    stored: StoredText
    text: str
    problem: str
    versions: tuple[VersionLine, ...]


@blueprint.get("")
@allowed(*TEACHING)
def show(kind: str, slug: str) -> ResponseReturnValue:
    """The document as it is stored."""
    problem = ""
    try:
        content = documents.version(current.session(), current.viewer(), _kind(kind), slug)
        if isinstance(content, Variant):
            try_out(content, Body())
    except CurveRankError as error:
        problem = str(error)
    return _page(kind, slug, problem=problem)


@blueprint.get("/document.json")
@allowed(*TEACHING)
def text(kind: str, slug: str) -> ResponseReturnValue:
    """The stored text itself."""
    return named_file(_stored(kind, slug).text, "application/json", f"{slug}.json")


@blueprint.post("/repair")
@allowed(*TEACHING)
def repair(kind: str, slug: str) -> ResponseReturnValue:
    """Keep the mended text as the next version."""
    typed = TextForm.read(request.form).text
    try:
        with current.writing() as session:
            number = documents.repair(session, current.viewer(), _kind(kind), slug, typed)
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(kind, slug, problem=str(error), typed=typed), 400
    notices.tell(f"Mended; kept as version {number}.")
    return redirect(url_for(LISTS[kind]), 303)


@blueprint.post("/restore")
@allowed(*TEACHING)
def restore(kind: str, slug: str) -> ResponseReturnValue:
    """Make an earlier version the newest again."""
    number = NumberForm.read(request.form).number
    with current.writing() as session:
        made = documents.restore_version(session, current.viewer(), _kind(kind), slug, number)
    notices.tell(f"Version {number} is back, as version {made}.")
    return redirect(url_for(LISTS[kind]), 303)


@blueprint.post("/remove")
@allowed(*TEACHING)
def remove(kind: str, slug: str) -> ResponseReturnValue:
    """Take the document off every list, with a way back."""
    with current.writing() as session:
        name = documents.set_removed(session, current.viewer(), _kind(kind), slug, removed=True)
    notices.tell(f"“{name}” is removed.", undo=url_for("documents.put_back", kind=kind, slug=slug))
    return redirect(url_for(LISTS[kind]), 303)


@blueprint.post("/put-back")
@allowed(*TEACHING)
def put_back(kind: str, slug: str) -> ResponseReturnValue:
    """Undo a removal."""
    with current.writing() as session:
        documents.set_removed(session, current.viewer(), _kind(kind), slug, removed=False)
    return redirect(url_for(LISTS[kind]), 303)


def _kind(kind: str) -> str:
    known("kind of document", kind, LISTS)
    return kind


def _stored(kind: str, slug: str) -> StoredText:
    return documents.stored_text(current.session(), current.viewer(), _kind(kind), slug)


def _page(kind: str, slug: str, *, problem: str, typed: str | None = None) -> str:
    stored = _stored(kind, slug)
    versions = documents.versions(current.session(), current.viewer(), kind, slug)
    view = RepairView(stored, _laid_out(stored.text) if typed is None else typed, problem, versions)
    return render_template("pages/documents/documents.html", view=view, back=url_for(LISTS[kind]))


def _laid_out(text: str) -> str:
    """JSON over several lines; what is none as it stands."""
    try:
        return json.dumps(read_json(text, "text", "JSON"), indent=2, ensure_ascii=False)
    except BadInputError:
        return text
