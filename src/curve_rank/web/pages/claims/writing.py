"""Claims of one's own: written down from the board, a comparison or a series, changed, and taken away."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.catalogue.setups import BETWEEN
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.readings import all_readings
from curve_rank.rating.targets import targets
from curve_rank.store import documents
from curve_rank.study.claims import SCORE, Claim, built_in_claims, validate_claim
from curve_rank.study.verdicts import asked_of
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.teaching import ClaimForm
from curve_rank.web.problems import status_of

KIND = "claim"


def register(blueprint: Blueprint) -> None:
    """The routes, beside those of the ledger."""
    for rule, view, methods in (
        ("/claims/new", new, ["GET"]),
        ("/claims/new", save_new, ["POST"]),
        ("/claims/<key>/edit", edit, ["GET"]),
        ("/claims/<key>/edit", save_version, ["POST"]),
        ("/claims/<key>/remove", remove, ["POST"]),
        ("/claims/<key>/put-back", put_back, ["POST"]),
    ):
        blueprint.add_url_rule(rule, view.__name__, allowed(*TEACHING)(view), methods=methods)


def new() -> ResponseReturnValue:
    """The form: empty, from a claim that there is, or with what a page asks."""
    form = ClaimForm.read(request.args)
    if form.start:
        return _page(_filled(_claim(form.start)).model_copy(update={"name": ""}))
    return _page(_drafted(form))


def save_new() -> ResponseReturnValue:
    """Keep a claim."""
    form = ClaimForm.read(request.form)
    try:
        claim = _checked(form)
        with current.writing() as session:
            key = documents.save_new(session, current.viewer(), KIND, claim, name=claim.name)
    except BadInputError as error:
        return _page(form, problem=str(error)), status_of(error)
    return redirect(url_for("claims.one", key=key), 303)


def edit(key: str) -> ResponseReturnValue:
    """The form on a claim of one's own."""
    claim = documents.version(current.session(), current.viewer(), KIND, key)
    assert isinstance(claim, Claim)
    return _page(_filled(claim), key)


def save_version(key: str) -> ResponseReturnValue:
    """Keep a changed claim as its next version."""
    form = ClaimForm.read(request.form)
    try:
        claim = _checked(form)
        with current.writing() as session:
            number = documents.save_version(session, current.viewer(), KIND, key, claim)
    except BadInputError as error:
        return _page(form, key, str(error)), status_of(error)
    notices.tell(f"Kept as version {number}.")
    return redirect(url_for("claims.one", key=key), 303)


def remove(key: str) -> ResponseReturnValue:
    """Take a claim out of the ledger, with a way back."""
    with current.writing() as session:
        name = documents.set_removed(session, current.viewer(), KIND, key, removed=True)
    notices.tell(f"“{name}” is out of the ledger.", undo=url_for("claims.put_back", key=key))
    return redirect(url_for("claims.show"), 303)


def put_back(key: str) -> ResponseReturnValue:
    """Undo a removal."""
    with current.writing() as session:
        documents.set_removed(session, current.viewer(), KIND, key, removed=False)
    return redirect(url_for("claims.one", key=key), 303)


def _drafted(form: ClaimForm) -> ClaimForm:
    """The form with sentences to begin from, where a page asks with set-ups alone."""
    if form.says or not form.more:
        return form
    names = current.library().names
    one, other = (
        names.get(line.partition(BETWEEN)[0], line) + (" (changed)" if BETWEEN in line else "")
        for line in (form.more[0], next(iter(form.less), ""))
    )
    read = all_readings()[form.reading].name.lower() if form.reading in all_readings() else "score"
    head = targets()[form.head].name.lower() if form.head in targets() else form.head
    against = f" than {other[:1].lower()}{other[1:]}" if form.less else ""
    return form.model_copy(
        update={
            "name": f"{one}: {read}"[:80],
            "says": f"{one} gives the {head} {'more' if form.way == 'up' else 'less'} {read}{against}."[:200],
            "other": "There is nothing in it.",
        }
    )


def _claim(key: str) -> Claim:
    """A claim that there is, built in or of one's own."""
    if key in built_in_claims():
        return built_in_claims()[key]
    claim = documents.version(current.session(), current.viewer(), KIND, key)
    assert isinstance(claim, Claim)
    return claim


def _checked(form: ClaimForm) -> Claim:
    """The claim that a form describes, its set-ups found.

    Raises
    ------
    BadInputError
    """
    data = form.as_document()
    ids = {v.name.casefold(): v.id for v in current.library().variants}
    if data["test"]:
        for name in ("more", "less"):
            data["test"][name] = tuple(ids.get(line.casefold(), line) for line in data["test"][name])
    claim = validate_claim(data)
    try:
        asked_of(claim, lambda line: current.library().setup_in(line), current.library().lenses)
    except CurveRankError as error:
        raise BadInputError("set-up", _lines(claim), str(error)) from error
    return claim


def _lines(claim: Claim) -> str:
    return ", ".join(claim.test.setups) if claim.test else ""


def _filled(claim: Claim) -> ClaimForm:
    """The form with what stands in a claim."""
    test = claim.test.model_dump() | {"by": f"{claim.test.by:g}"} if claim.test else {}
    return ClaimForm(
        name=claim.name,
        question=claim.question,
        says=claim.sides[0],
        other=claim.sides[1],
        missing=claim.missing,
        notes=claim.notes,
        sources="\n".join(claim.sources),
        **test,
    )


def _page(form: ClaimForm, key: str = "", problem: str = "") -> str:
    variants = current.library().variants
    names = {v.id: v.name for v in variants}
    return render_template(
        "pages/claims/writing.html",
        form=form,
        key=key,
        problem=problem,
        shown=lambda line: names.get(line, line),
        variants=variants,
        readings=all_readings(),
        score=SCORE,
        lenses=current.library().lenses,
        targets=targets,
    )
