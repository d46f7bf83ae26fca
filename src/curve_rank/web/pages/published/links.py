"""What one published, and the pages themselves, which are anyone's who has the link."""

from __future__ import annotations

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.exchange.leaflet import made_words
from curve_rank.store import publications, sharing
from curve_rank.store.tables import Publication
from curve_rank.web import current, notices
from curve_rank.web.access import ANYONE, EDUCATOR, TEACHING, allowed
from curve_rank.web.files import named_file, unlisted
from curve_rank.web.forms.teaching import TitleForm
from curve_rank.web.problems import status_of

blueprint = Blueprint("published", __name__)

KINDS = {
    "ranking": "ranking",
    "comparison": "comparison",
    "claim": "claim",
    "series": "steps",
    "plate": "head",
    "variant": "variant",
    "study": "bench",
    "faults": "faults",
    "set": "set",
}


@blueprint.get("/published")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The list."""
    return _page()


@blueprint.post("/published/<row:publication>/title")
@allowed(*TEACHING)
def rename(publication: int) -> ResponseReturnValue:
    """Give a page another title."""
    title = TitleForm.read(request.form).title
    try:
        with current.writing() as session:
            publications.rename(session, current.viewer(), publication, title)
    except BadInputError as error:
        return _page(problem=str(error)), status_of(error)
    return redirect(url_for("published.show"), 303)


@blueprint.post("/published/<row:publication>/withdraw")
@allowed(*TEACHING)
def withdraw(publication: int) -> ResponseReturnValue:
    """Take a page back, with a way to put it up again."""
    with current.writing() as session:
        title = publications.set_withdrawn(session, current.viewer(), publication, withdrawn=True)
    notices.tell(f"“{title}” is withdrawn.", undo=url_for("published.restore", publication=publication))
    return redirect(url_for("published.show"), 303)


@blueprint.post("/published/<row:publication>/restore")
@allowed(*TEACHING)
def restore(publication: int) -> ResponseReturnValue:
    """Put a withdrawn page up again."""
    with current.writing() as session:
        publications.set_withdrawn(session, current.viewer(), publication, withdrawn=False)
    return redirect(url_for("published.show"), 303)


@blueprint.post("/published/share/<kind>/<slug>")
@allowed(EDUCATOR)
def share(kind: str, slug: str) -> ResponseReturnValue:
    """Show a document to the coaches here, or no longer."""
    shared = request.form.get("shared") == "yes"
    with current.writing() as session:
        name = sharing.set_shared(session, current.viewer(), kind, slug, shared=shared)
    notices.tell(f"“{name}” is {'shown to the coaches here' if shared else 'yours alone again'}.")
    return redirect(url_for("published.show") + "#shared", 303)


@blueprint.get("/p/<token>")
@allowed(ANYONE)
def page(token: str) -> ResponseReturnValue:
    """A published page, as it was when it was made."""
    found = _opened(token)
    with current.writing() as session:
        publications.count_opening(session, token)
    return unlisted(
        Response(
            render_template(
                "pages/published/page.html", page=found, body=Markup(found.html), made_words=made_words
            )
        )
    )


@blueprint.get("/p/<token>.json")
@allowed(ANYONE)
def page_data(token: str) -> ResponseReturnValue:
    """Its data."""
    return unlisted(Response(_opened(token).data, mimetype="application/json"))


@blueprint.get("/p/<token>.pdf")
@allowed(ANYONE)
def page_pdf(token: str) -> ResponseReturnValue:
    """Its printed page."""
    return unlisted(named_file(_opened(token).pdf, "application/pdf", "curve-rank.pdf", inline=True))


@blueprint.get("/p/<token>.png")
@allowed(ANYONE)
def page_picture(token: str) -> ResponseReturnValue:
    """Its picture, for where the link is shown."""
    found = _opened(token)
    if found.preview is None:
        raise UnknownNameError("picture", found.title, "a page that was published since pages have pictures")
    return unlisted(named_file(found.preview, "image/png", "curve-rank.png", inline=True))


def _opened(token: str) -> Publication:
    return publications.opened(current.session(), token)


def _page(problem: str = "") -> str:
    return render_template(
        "pages/published/published.html",
        listed=publications.published(current.session(), current.viewer()),
        kinds=KINDS,
        shareable=sharing.shareable(current.session(), current.viewer()),
        problem=problem,
        longest=publications.LONGEST_TITLE,
    )
