"""A variant of one's own from scratch: where, what and how; then the bench, by hand."""

from __future__ import annotations

from typing import Any

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.catalogue import words
from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.rating.targets import long_head
from curve_rank.rating.words import lower_first
from curve_rank.store import documents
from curve_rank.store.names import plain_name
from curve_rank.study.scratch import Beginning, choices, from_scratch
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.scratch import ScratchForm
from curve_rank.web.pages.variants.variant import blueprint
from curve_rank.web.problems import status_of


@blueprint.get("/variants/new")
@allowed(*TEACHING)
def new() -> ResponseReturnValue:
    """What it begins with."""
    return _form(ScratchForm.read(request.args))


@blueprint.post("/variants/new")
@allowed(*TEACHING)
def begin() -> ResponseReturnValue:
    """Keep it, and go to the bench with it."""
    form = ScratchForm.read(request.form)
    asked = Beginning(form.group, form.base, form.load, form.grip, form.arms)
    try:
        made = from_scratch(asked, plain_name(form.name))
        with current.writing() as session:
            slug = documents.save_new(session, current.viewer(), "variant", made, name=form.name)
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _form(form, str(error)), status_of(error)
    notices.tell(
        "It stands on the board. Move what is not yet right by hand, then save it as its next version."
    )
    return redirect(url_for("bench.show", variant_id=slug, target=long_head(form.group).key), 303)


def _form(form: ScratchForm, problem: str = "") -> str:
    return render_template(
        "pages/variants/new.html",
        form=form,
        problem=problem,
        choices=choices(),
        groups=[(key, lower_first(name)) for key, name in words.groups().items()],
        names=_names,
    )


def _names(table: dict[str, Any]) -> list[tuple[str, str]]:
    return [(key, one["name"]) for key, one in table.items()]
