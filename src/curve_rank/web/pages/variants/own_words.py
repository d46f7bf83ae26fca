"""The words of a variant of one's own, changed where they stand."""

from __future__ import annotations

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.own_words import words_offered
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError, UnavailableError
from curve_rank.rating.cautions import cautions
from curve_rank.store import documents
from curve_rank.store.sharing import parent_of
from curve_rank.web import arms, current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.own_words import OwnWordsForm
from curve_rank.web.pages.variants.variant import blueprint
from curve_rank.web.parts import asks_for
from curve_rank.web.problems import status_of

KIND = "variant"


@blueprint.get("/variants/<variant_id>/words")
@allowed(*TEACHING)
def words(variant_id: str) -> ResponseReturnValue:
    """The words as they are, to be changed; only the form when a script asks for that."""
    variant = _own(variant_id)
    typed = OwnWordsForm.of(variant).model_copy(update={"at": request.args.get("at", "")})
    return _page(variant, typed)


@blueprint.post("/variants/<variant_id>/words")
@allowed(*TEACHING)
def keep_words(variant_id: str) -> ResponseReturnValue:
    """Keep the changed words as the variant's next version."""
    variant, form = _own(variant_id), OwnWordsForm.read(request.form)
    try:
        said = form.of_variant(variant)
        if any(v.name == said.name and v.id != variant_id for v in current.library().variants):
            raise BadInputError("name", said.name, "a name that no other set-up has")
        with current.writing() as session:
            number = documents.save_version(session, current.viewer(), KIND, variant_id, said)
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(variant, form, str(error)), status_of(error)
    notices.tell(f"The words are kept as version {number}.")
    page = "bench.show" if form.at == "bench" else "variants.show"
    return redirect(url_for(page, variant_id=variant_id), 303)


def _own(variant_id: str) -> Variant:
    found = documents.version(current.session(), current.viewer(), KIND, variant_id)
    assert isinstance(found, Variant)
    return found


def _page(variant: Variant, typed: OwnWordsForm, problem: str = "") -> str:
    parent = parent_of(current.session(), current.viewer(), KIND, variant.id)
    return render_template(
        f"pages/variants/{'words' if asks_for('inside') else 'words_page'}.html",
        variant=variant,
        typed=typed,
        problem=problem,
        offered=words_offered(arms.means(waits=True), parent, variant),
        tags=cautions(),
    )
