"""Bundles: all documents of one's own in a file, and a file taken in item by item."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.errors import BadInputError
from curve_rank.exchange.bundles import LARGEST, BundlePreview, bundle_text, preview, read_bundle, take_in
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms.teaching import BundleForm
from curve_rank.web.problems import status_of

STATUSES = {
    "new": "new here",
    "same": "the same as here",
    "older": "older than here",
    "differs": "differs from here",
}


def register(blueprint: Blueprint) -> None:
    """The routes, beside those of the links."""
    for rule, view, methods, upload in (
        ("/published/bundle.json", bundle, ["GET"], 0),
        ("/published/bundle", look, ["POST"], 2 * LARGEST),
        ("/published/bundle/take", take, ["POST"], 2 * LARGEST),
    ):
        blueprint.add_url_rule(
            rule, f"bundle_{view.__name__}", allowed(*TEACHING, upload=upload)(view), methods=methods
        )


def bundle() -> ResponseReturnValue:
    """Everything of one's own, as a bundle."""
    text = bundle_text(current.session(), current.viewer())
    return named_file(text, "application/json", "curve-rank-bundle.json")


def look() -> ResponseReturnValue:
    """What a bundle holds, and what taking it in would do."""
    file = request.files.get("file")
    text = BundleForm.read(request.form).text
    try:
        if file is not None and file.filename:
            text = _text_of(file.read(LARGEST + 1))
        return _page(text)
    except BadInputError as error:
        return _page("", str(error)), status_of(error)


def take() -> ResponseReturnValue:
    """Keep the ticked items of a bundle."""
    form = BundleForm.read(request.form)
    try:
        found = _previews(form.text)
        ticked = [
            one.item for one in found if f"{one.item.kind}/{one.item.id}" in form.take and one.can_be_taken
        ]
        if not ticked:
            raise BadInputError("take in", "nothing", "at least one item that is ticked")
        with current.writing() as session:
            count = take_in(session, current.viewer(), ticked)
    except BadInputError as error:
        return _page(form.text, str(error)), status_of(error)
    notices.tell(f"{count} taken in. What stood here before is in each one’s history.")
    return redirect(url_for("published.show"), 303)


def _text_of(data: bytes) -> str:
    if len(data) > LARGEST:
        raise BadInputError("bundle", f"over {LARGEST // 2**20} MB", f"at most {LARGEST // 2**20} MB")
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadInputError("bundle", "no text", "a bundle as it was exported, UTF-8") from error


def _previews(text: str) -> tuple[BundlePreview, ...]:
    return preview(current.session(), current.viewer(), read_bundle(text), current.modeller())


def _page(text: str, problem: str = "") -> str:
    found: tuple[BundlePreview, ...] = ()
    if text:
        try:
            found = _previews(text)
        except BadInputError as error:
            problem = problem or str(error)
    if not text and not problem:
        problem = "bundle: nothing was chosen — a file that was exported here or elsewhere"
    return render_template(
        "pages/published/bundle.html",
        text=text,
        found=found,
        problem=problem,
        statuses=STATUSES,
    )
