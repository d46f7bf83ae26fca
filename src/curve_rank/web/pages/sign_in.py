"""The door: sign-in and out, the first account, coming by an invitation, and a new password by a link."""

from __future__ import annotations

from flask import Blueprint, make_response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.background.leaving import delete_due
from curve_rank.errors import BadInputError, NotAllowedError, UnknownNameError, WrongSecretError
from curve_rank.exchange import outbox
from curve_rank.store.house import accounts, invitations
from curve_rank.store.house.passwords import LEAST
from curve_rank.web import current, notices
from curve_rank.web.access import ANYONE, EVERYONE, allowed
from curve_rank.web.forms.people import FirstForm, JoinForm, NewPasswordForm, PickForm, SignInForm
from curve_rank.web.problems import status_of

blueprint = Blueprint("sign_in", __name__)

ASKED = "If somebody here goes by that address, a link is on its way. It works once, for half an hour."


@blueprint.get("/sign-in")
@allowed(ANYONE)
def show() -> ResponseReturnValue:
    """The door."""
    return _page(SignInForm.read(request.args).back)


@blueprint.post("/sign-in")
@allowed(ANYONE)
def enter() -> ResponseReturnValue:
    """Come in by address and password."""
    form = SignInForm.read(request.form)
    try:
        with current.desk().door.trying(form.email):
            person = accounts.check_password(current.session(), form.email, form.password)
    except (BadInputError, NotAllowedError) as error:
        return _page(form.back, form.email, str(error)), status_of(error)
    return _come_in(person, form.back, email=form.email)


@blueprint.post("/sign-in/as")
@allowed(ANYONE)
def enter_as() -> ResponseReturnValue:
    """Come in as anybody: in the demo, and only there.

    Raises
    ------
    NotAllowedError, UnknownNameError
    """
    if not current.desk().demo:
        raise NotAllowedError("sign-in", "without a password", "the demo: only there nobody is real")
    form = PickForm.read(request.form)
    if form.person not in {number for number, _, _ in accounts.everyone(current.session())}:
        raise UnknownNameError("person", form.person, "somebody in the demo")
    return _come_in(form.person, form.back)


@blueprint.post("/sign-out")
@allowed(*EVERYONE, before_consent=True)
def leave() -> ResponseReturnValue:
    """Go."""
    current.sign_out()
    notices.tell("You are signed out.")
    return redirect(url_for("sign_in.show"), 303)


@blueprint.get("/first")
@allowed(ANYONE)
def first() -> ResponseReturnValue:
    """Where the first account is made."""
    return _first({}) if not accounts.has_accounts(current.session()) else redirect(url_for("sign_in.show"))


@blueprint.post("/first")
@allowed(ANYONE)
def make_first() -> ResponseReturnValue:
    """Make the first account, behind the code printed where the application was started."""
    form, door = FirstForm.read(request.form), current.desk().door
    try:
        with door.trying("the first account"):
            if not door.knows(form.code):
                right = "the one printed where the application was started"
                raise WrongSecretError("code", form.code, right)
        with current.writing() as session:
            person = accounts.make_first(session, name=form.name, email=form.email, password=form.password)
    except BadInputError as error:
        return _first(request.form.to_dict(), str(error)), status_of(error)
    told = "The first account is yours. What was made on this machine before is yours as well."
    return _come_in(person, "/", told, email=form.email)


@blueprint.get("/join/<token>")
@allowed(ANYONE)
def join(token: str) -> ResponseReturnValue:
    """What an invitation says."""
    return _join(token)


@blueprint.post("/join/<token>")
@allowed(ANYONE)
def accept(token: str) -> ResponseReturnValue:
    """Come in by an invitation."""
    form = JoinForm.read(request.form)
    found = invitations.invitation_of(current.session(), token)
    try:
        with current.desk().door.trying(found.email), current.writing() as session:
            person = invitations.accept(session, token, name=form.name, password=form.password)
    except (BadInputError, NotAllowedError) as error:
        return _join(token, form.name, str(error)), status_of(error)
    return _come_in(person, "/", email=found.email)


@blueprint.get("/reset")
@allowed(ANYONE)
def ask_reset() -> ResponseReturnValue:
    """Where a forgotten password is told."""
    return render_template("pages/sign_in/reset.html", problem="", email="", token="")


@blueprint.post("/reset")
@allowed(ANYONE)
def send_reset() -> ResponseReturnValue:
    """Send a link, if there is such an account; what is told and done is the same where there is none."""
    form = SignInForm.read(request.form)
    current.desk().door.knock(f"reset {form.email}")
    try:
        email = accounts.plain_email(form.email)
    except BadInputError as error:
        page = render_template("pages/sign_in/reset.html", problem=str(error), email=form.email, token="")
        return page, status_of(error)
    with current.writing() as session:
        token, instead = accounts.ask_reset(session, email)
        text = f"Somebody asked for a new password for this address. {instead}"
        if token:
            link = url_for("sign_in.show_reset", token=token, _external=True)
            text = f"A new password, once, within half an hour:\n\n{link}\n\nNot you? Nothing has changed."
        outbox.send(current.desk().settings.data, to=email, subject="A new password", text=text)
    notices.tell(ASKED)
    return redirect(url_for("sign_in.show"), 303)


@blueprint.get("/reset/<token>")
@allowed(ANYONE)
def show_reset(token: str) -> ResponseReturnValue:
    """Where a new password is set."""
    accounts.reset_of(current.session(), token)
    return render_template("pages/sign_in/reset.html", problem="", email="", token=token, least=LEAST)


@blueprint.post("/reset/<token>")
@allowed(ANYONE)
def reset(token: str) -> ResponseReturnValue:
    """Set a new password, once."""
    form = NewPasswordForm.read(request.form)
    try:
        with current.writing() as session:
            person = accounts.reset(session, token, form.password)
            email = accounts.email_of(session, person)
    except BadInputError as error:
        page = render_template(
            "pages/sign_in/reset.html", problem=str(error), email="", token=token, least=LEAST
        )
        return page, status_of(error)
    told = "Your new password is set. You are signed out everywhere else."
    return _come_in(person, "/", told, email=email or "")


def _come_in(person: int, back: str, told: str = "", *, email: str = "") -> ResponseReturnValue:
    delete_due(current.desk().store)
    current.sign_in(person, request.headers.get("User-Agent", ""))
    if told:
        notices.tell(told)
    response = make_response(redirect(back, 303))
    if email:
        current.desk().door.recognize_again(response, email)
    return response


def _page(back: str, email: str = "", problem: str = "") -> str:
    return render_template("pages/sign_in/sign_in.html", back=back, email=email, problem=problem, typed=[])


def _first(typed: dict[str, str], problem: str = "") -> str:
    return render_template("pages/sign_in/first.html", typed=typed, problem=problem, least=LEAST)


def _join(token: str, name: str = "", problem: str = "") -> str:
    session = current.session()
    found = invitations.invitation_of(session, token)
    return render_template(
        "pages/sign_in/join.html",
        invitation=found,
        has_account=accounts.account_at(session, found.email) is not None,
        name=name or found.name,
        problem=problem,
        token=token,
        least=LEAST,
    )
