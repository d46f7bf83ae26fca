"""People: who is invited, by whom, as what; and the outbox, for whoever runs this."""

from __future__ import annotations

from pathlib import Path

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.errors import BadInputError, NotAllowedError
from curve_rank.exchange import outbox
from curve_rank.store.house import invitations
from curve_rank.store.viewers import ROLES
from curve_rank.web import current, notices
from curve_rank.web.access import OWNER, TEACHING, allowed
from curve_rank.web.forms.people import InviteForm
from curve_rank.web.inviting import send_invitation
from curve_rank.web.problems import status_of

blueprint = Blueprint("people", __name__)


@blueprint.get("/people")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The page."""
    return _page()


@blueprint.post("/people/invite")
@allowed(*TEACHING)
def invite() -> ResponseReturnValue:
    """Invite somebody; the link is shown once, and lies in the outbox."""
    try:
        form = InviteForm.read(request.form)
        link = send_invitation(form.name, form.email, form.roles)
    except (BadInputError, NotAllowedError) as error:
        return _page(str(error), typed=request.form.to_dict(flat=False)), status_of(error)
    return _page(link=link, invited=form.name)


@blueprint.post("/people/invitations/<row:number>/withdraw")
@allowed(*TEACHING)
def withdraw(number: int) -> ResponseReturnValue:
    """Take an invitation back."""
    with current.writing() as session:
        name = invitations.withdraw(session, current.viewer(), number)
    notices.tell(f"The invitation of {name} is withdrawn.")
    return redirect(url_for("people.show"), 303)


@blueprint.get("/outbox")
@allowed(OWNER)
def show_outbox() -> ResponseReturnValue:
    """What would have been sent."""
    return render_template("pages/people/outbox.html", letters=outbox.letters(_folder()), letter=None)


@blueprint.get("/outbox/<name>")
@allowed(OWNER)
def show_letter(name: str) -> ResponseReturnValue:
    """One letter."""
    folder = _folder()
    return render_template(
        "pages/people/outbox.html", letters=outbox.letters(folder), letter=outbox.letter(folder, name)
    )


def _folder() -> Path:
    return current.desk().settings.data


def _page(
    problem: str = "", link: str = "", invited: str = "", typed: dict[str, list[str]] | None = None
) -> str:
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/people/people.html",
        invitations=invitations.invitations(session, viewer),
        roles=ROLES if "educator" in viewer.roles else ("client",),
        problem=problem,
        link=link,
        invited=invited,
        typed=typed or {},
        owner=OWNER in viewer.roles,
        days=invitations.VALID_FOR.days,
    )
