"""One's own account: password, where one is signed in, consent, one's data, and leaving."""

from __future__ import annotations

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.errors import BadInputError
from curve_rank.exchange.personal import everything_of
from curve_rank.practice.consent import statement
from curve_rank.store import profiles
from curve_rank.store.house import access_tokens, accounts, audit, endings, leaving
from curve_rank.store.house.passwords import LEAST
from curve_rank.web import current, ending, notices
from curve_rank.web.access import EVERYONE, allowed
from curve_rank.web.auditing import request_id
from curve_rank.web.files import named_file
from curve_rank.web.forms.people import (
    AddressForm,
    BackForm,
    ConsentForm,
    NewPasswordForm,
    TokenForm,
    UnitForm,
)
from curve_rank.web.problems import status_of

blueprint = Blueprint("account", __name__)


@blueprint.get("/account")
@allowed(*EVERYONE, before_consent=True)
def show() -> ResponseReturnValue:
    """The page."""
    return _page()


@blueprint.post("/account/password")
@allowed(*EVERYONE, before_consent=True)
def change_password() -> ResponseReturnValue:
    """Set another password."""
    form = NewPasswordForm.read(request.form)
    door = current.desk().door
    try:
        with door.trying(f"password {current.viewer().person}"), current.writing() as session:
            accounts.change_password(
                session, current.viewer(), old=form.old, new=form.password, token=current.token()
            )
    except BadInputError as error:
        return _page(str(error)), status_of(error)
    notices.tell("Your new password is set. You are signed out everywhere else.")
    return redirect(url_for("account.show"), 303)


@blueprint.post("/account/sign-ins/<row:number>/end")
@allowed(*EVERYONE, before_consent=True)
def end(number: int) -> ResponseReturnValue:
    """Sign out somewhere else."""
    with current.writing() as session:
        accounts.end_one(session, current.viewer(), number)
    notices.tell("Signed out there.")
    return redirect(url_for("account.show"), 303)


@blueprint.post("/account/sign-ins/end")
@allowed(*EVERYONE, before_consent=True)
def end_others() -> ResponseReturnValue:
    """Sign out everywhere but here."""
    with current.writing() as session:
        gone = accounts.end_others(session, current.viewer().person, current.token())
    notices.tell(f"Signed out in {gone} other {'place' if gone == 1 else 'places'}.")
    return redirect(url_for("account.show"), 303)


@blueprint.post("/account/tokens")
@allowed(*EVERYONE, confirmed=True)
def make_token() -> ResponseReturnValue:
    """A token for a script; it is shown this once."""
    try:
        form = TokenForm.read(request.form)
        with current.writing() as session:
            made = access_tokens.make(session, current.viewer(), form.name, form.scope)
    except BadInputError as error:
        return _page(str(error)), status_of(error)
    return _page(token=made, token_of=form.name)


@blueprint.post("/account/tokens/<row:number>/end")
@allowed(*EVERYONE)
def end_token(number: int) -> ResponseReturnValue:
    """End a script's token."""
    with current.writing() as session:
        name = access_tokens.end(session, current.viewer(), number)
    notices.tell(f"The token “{name}” opens nothing any more.")
    return redirect(url_for("account.show"), 303)


@blueprint.get("/account/data.zip")
@allowed(*EVERYONE, before_consent=True, confirmed=True)
def data() -> ResponseReturnValue:
    """Everything of one's own, as JSON and CSV in one file."""
    packed = everything_of(leaving.all_of(current.session(), current.viewer()))
    return named_file(packed, "application/zip", "curve-rank-my-data.zip")


@blueprint.post("/account/confirm")
@allowed(*EVERYONE, before_consent=True, confirmed=True)
def confirm() -> ResponseReturnValue:
    """Go on to what the password was asked for."""
    return redirect(BackForm.read(request.form).back, 303)


@blueprint.post("/account/address")
@allowed(*EVERYONE, before_consent=True, confirmed=True)
def change_address() -> ResponseReturnValue:
    """Sign in with another address from now on; the old one is told."""
    try:
        form = AddressForm.read(request.form)
        with current.writing() as session:
            ending.change_address(session, current.viewer().person, form.email)
    except BadInputError as error:
        return _page(str(error)), status_of(error)
    notices.tell("You sign in with your new address from now on.")
    return redirect(url_for("account.show"), 303)


@blueprint.post("/account/unit")
@allowed(*EVERYONE, before_consent=True)
def choose_unit() -> ResponseReturnValue:
    """Read loads in kilograms or in pounds."""
    unit, viewer = UnitForm.read(request.form).mass_unit, current.viewer()
    with current.writing() as session:
        profile, version = profiles.profile_of(session, viewer, viewer.person)
        changed = profile.model_copy(update={"mass_unit": unit})
        profiles.save_profile(session, viewer, viewer.person, changed, version)
    notices.tell(f"Loads are in {'pounds' if unit == 'lb' else 'kilograms'} from now on.")
    return redirect(url_for("account.show"), 303)


@blueprint.post("/account/coaches/<row:person>/part")
@allowed(*EVERYONE, before_consent=True)
def part(person: int) -> ResponseReturnValue:
    """Be looked after by a coach no longer."""
    viewer = current.viewer()
    with current.writing() as session:
        tie = endings.part(session, viewer, person, viewer.person, request=request_id())
    notices.tell(f"{tie.coach_name} sees nothing of yours any more. What was handed to you stays yours.")
    return redirect(url_for("account.show"), 303)


@blueprint.post("/account/leave")
@allowed(*EVERYONE, before_consent=True, confirmed=True)
def leave() -> ResponseReturnValue:
    """Ask to be deleted."""
    with current.writing() as session:
        when = leaving.leave(session, current.viewer())
    notices.tell(f"You will be deleted on {when:%-d %B %Y}. Until then you can change your mind here.")
    return redirect(url_for("account.show"), 303)


@blueprint.post("/account/stay")
@allowed(*EVERYONE, before_consent=True)
def stay() -> ResponseReturnValue:
    """Change one's mind."""
    with current.writing() as session:
        leaving.stay(session, current.viewer())
    notices.tell("You stay. Nothing is deleted.")
    return redirect(url_for("account.show"), 303)


@blueprint.get("/consent")
@allowed(*EVERYONE, before_consent=True)
def consent() -> ResponseReturnValue:
    """The statement of consent and scope."""
    return _consent()


@blueprint.post("/consent")
@allowed(*EVERYONE, before_consent=True)
def agree() -> ResponseReturnValue:
    """What a client says to it."""
    try:
        form = ConsentForm.read(request.form)
        if not form.agree:
            raise BadInputError("agreed", "not ticked", "ticked, where you agree; or sign out")
        with current.writing() as session:
            may = accounts.consent(
                session,
                current.viewer(),
                minor=bool(form.minor),
                injured=bool(form.injured),
                cleared_on=form.cleared_on,
            )
    except BadInputError as error:
        return _consent(str(error)), status_of(error)
    if not may:
        return _consent("clinician"), 200
    return redirect("/", 303)


def _consent(problem: str = "") -> str:
    return render_template(
        "pages/account/consent.html",
        statement=statement(),
        problem=problem,
        typed=request.form,
        agreed=current.viewer().agreed,
    )


def _page(problem: str = "", *, token: str = "", token_of: str = "") -> str:
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/account/account.html",
        email=accounts.email_of(session, viewer.person),
        sign_ins=accounts.sign_ins(session, viewer, current.token()),
        consents=accounts.consents(session, viewer, viewer.person),
        coaches=endings.coaches_of(session, viewer),
        seen_by=audit.seen_by(session, viewer),
        leaving_at=leaving.leaving_at(session, viewer),
        grace=leaving.GRACE.days,
        least=LEAST,
        mass_unit=current.unit(),
        problem=problem,
        tokens=access_tokens.tokens_of(session, viewer),
        scopes=access_tokens.SCOPES,
        token=token,
        token_of=token_of,
    )
