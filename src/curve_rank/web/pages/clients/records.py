"""A client's record: size, profile, the guided check, and an invitation."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any, get_args

from flask import redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.clients import ClientsAnswer, ClientsRequest, clients, see, send_word
from curve_rank.answers.joint_check import joint_check
from curve_rank.arm.body import LEVELS, Body, level_of, strength_of
from curve_rank.errors import (
    BadInputError,
    ChangedMeanwhileError,
    CurveRankError,
    NotAllowedError,
    UnavailableError,
    UnknownNameError,
)
from curve_rank.figures.range_check import CHECKS, check_picture
from curve_rank.figures.svg import svg
from curve_rank.practice.profile import WEEKDAYS, ClientProfile, Hair
from curve_rank.rating.joints import joints
from curve_rank.store import people, profiles
from curve_rank.store.house import accounts, endings
from curve_rank.store.rooms import KeptRoom, room, rooms
from curve_rank.store.tables import BodyRow, Person
from curve_rank.study.transfer import KnownSet, body_from_set
from curve_rank.web import current, notices
from curve_rank.web.access import EVERYONE, TEACHING, allowed
from curve_rank.web.auditing import request_id
from curve_rank.web.forms.coaching import LimitsForm, NewClientForm, ProfileForm, SizeForm, WordForm
from curve_rank.web.forms.people import InviteForm
from curve_rank.web.inviting import send_invitation
from curve_rank.web.pages.clients import blueprint
from curve_rank.web.problems import status_of


@dataclass(frozen=True)
class RecordView:
    """Everything on a client's page."""

    person: Person
    profile: ClientProfile
    version: int
    rooms: list[KeptRoom]
    email: str | None
    agreed: bool
    problem: str = ""
    link: str = ""

    @property
    def body(self) -> BodyRow | None:
        """The newest size."""
        return self.person.bodies[-1] if self.person.bodies else None

    @property
    def level(self) -> str:
        """How strong they are said to be where no set is known."""
        if self.body is None or self.body.known_variant is not None:
            return level_of(1.0)
        return level_of(self.body.strength)

    def length(self, metres: float | None) -> str:
        """A length in the client's unit."""
        if metres is None:
            return ""
        return f"{100 * metres / self.profile.cm_per_unit:.4g}"

    def mass(self, kilograms: float | None) -> str:
        """A mass in the client's unit."""
        if kilograms is None:
            return ""
        return f"{kilograms / self.profile.kg_per_unit:.4g}"


@blueprint.get("/clients")
@allowed(*TEACHING)
def index() -> ResponseReturnValue:
    """Everyone whom the viewer looks after."""
    return _index(asked=ClientsRequest.read(request.args))


@blueprint.post("/clients/word")
@allowed(*TEACHING)
def word() -> ResponseReturnValue:
    """The same word to several: to those who are ticked, or to all who are shown."""
    try:
        form = WordForm.read(request.form)
        asked = ClientsRequest.read(request.form)
        to = form.to or tuple(row.person for row in _answer(asked).rows)
        if not to:
            raise BadInputError("to", None, "at least one client")
        with current.writing() as session:
            send_word(session, current.viewer(), to, form.text)
    except (BadInputError, UnknownNameError) as error:
        return _index(str(error)), status_of(error)
    notices.tell("Sent to 1 client." if len(to) == 1 else f"Sent to {len(to)} clients.")
    return redirect(url_for("clients.index", **_address(asked)), 303)


@blueprint.post("/clients/<row:person>/seen")
@allowed(*TEACHING)
def seen(person: int) -> ResponseReturnValue:
    """What there is of a client was seen: it comes back with something new."""
    asked, here = ClientsRequest.read(request.form), current.desk()
    see(here.store, current.session(), current.viewer(), current.library(), person, datetime.now(UTC))
    return redirect(url_for("clients.index", **_address(asked)), 303)


def _address(asked: ClientsRequest) -> dict[str, Any]:
    """The same question in an address."""
    return {name: value for name, value in asked.model_dump().items() if value not in (None, "", "all")}


@blueprint.post("/clients")
@allowed(*TEACHING)
def add() -> ResponseReturnValue:
    """Write down somebody new."""
    try:
        with current.writing() as session:
            person = people.add_client_record(
                session, current.viewer(), NewClientForm.read(request.form).name
            )
    except BadInputError as error:
        return _index(str(error)), status_of(error)
    return redirect(url_for("clients.show", person=person), 303)


@blueprint.get("/clients/<row:person>")
@allowed(*TEACHING)
def show(person: int) -> ResponseReturnValue:
    """One client's record."""
    return _page(person)


@blueprint.post("/clients/<row:person>/size")
@allowed(*TEACHING)
def save_size(person: int) -> ResponseReturnValue:
    """Keep a client's size, and the strength that a known set explains."""
    profile, _ = profiles.profile_of(current.session(), current.viewer(), person)
    try:
        body, known = _measured(SizeForm.read(request.form), profile)
        with current.writing() as session:
            people.save_body(session, current.viewer(), person, body, known)
            people.set_spare(session, current.viewer(), person, profile.spare)
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(person, str(error)), status_of(error)
    notices.tell("Size kept.")
    return redirect(url_for("clients.show", person=person), 303)


@blueprint.post("/clients/<row:person>/profile")
@allowed(*TEACHING)
def save_profile(person: int) -> ResponseReturnValue:
    """Keep a client's profile."""
    profile, _ = profiles.profile_of(current.session(), current.viewer(), person)
    try:
        form = ProfileForm.read(request.form)
        kept = profiles.changed_profile(profile, **form.fields)
        if kept.room is not None and kept.room != profile.room:
            room(current.session(), current.viewer(), kept.room)
        with current.writing() as session:
            profiles.save_profile(session, current.viewer(), person, kept, form.version)
    except (BadInputError, UnknownNameError, ChangedMeanwhileError) as error:
        return _page(person, str(error)), status_of(error)
    notices.tell("Profile kept.")
    return redirect(url_for("clients.show", person=person), 303)


@blueprint.post("/clients/<row:person>/invite")
@allowed(*TEACHING)
def invite(person: int) -> ResponseReturnValue:
    """Invite the client to their own record; the link is shown once."""
    found = people.known_person(current.session(), current.viewer(), person)
    try:
        link = send_invitation(found.name, InviteForm.read(request.form).email, ("client",), person)
    except (BadInputError, NotAllowedError) as error:
        return _page(person, str(error)), status_of(error)
    return _page(person, link=link)


@blueprint.post("/clients/<row:person>/part")
@allowed(*TEACHING)
def part(person: int) -> ResponseReturnValue:
    """Look after somebody no longer."""
    viewer = current.viewer()
    people.known_person(current.session(), viewer, person)
    with current.writing() as session:
        tie = endings.part(session, viewer, viewer.person, person, request=request_id())
    notices.tell(f"You look after {tie.client_name} no longer, and see nothing of theirs.")
    return redirect(url_for("clients.index"), 303)


@blueprint.get("/clients/<row:person>/check")
@allowed(*EVERYONE)
def check(person: int) -> ResponseReturnValue:
    """The guided check: how far each joint goes without pain."""
    return _check(person)


@blueprint.post("/clients/<row:person>/check")
@allowed(*EVERYONE)
def save_check(person: int) -> ResponseReturnValue:
    """Take down what the check found."""
    session, viewer = current.session(), current.viewer()
    profile, _ = profiles.profile_of(session, viewer, person)
    try:
        form = LimitsForm.read(request.form)
        kept = profiles.changed_profile(profile, limits=profile.limits.model_dump() | form.fields)
        with current.writing() as writing:
            profiles.save_profile(writing, viewer, person, kept, form.version)
    except (BadInputError, ChangedMeanwhileError) as error:
        return _check(person, str(error)), status_of(error)
    notices.tell("Taken down. Set-ups are fitted to it from now on.")
    own = person == viewer.person and not viewer.teaches
    return redirect(url_for("mine.show") if own else url_for("clients.show", person=person), 303)


def _measured(form: SizeForm, profile: ClientProfile) -> tuple[Body, KnownSet | None]:
    """The body that a form describes in the client's units."""
    length, mass = profile.cm_per_unit, profile.kg_per_unit
    metres = {
        name: None if value is None else value * length / 100
        for name, value in (("upper_arm", form.upper_arm), ("forearm", form.forearm))
    }
    body = Body(
        height=form.height * length / 100,
        mass=form.mass * mass,
        upper_arm_m=metres["upper_arm"],
        forearm_m=metres["forearm"],
    )
    if form.load is None:
        return replace(body, strength=strength_of(form.level)), None
    known = KnownSet(current.library().variant(form.variant), form.load * mass, form.reps)
    return body_from_set(body, known, current.modeller()), known


def _answer(asked: ClientsRequest) -> ClientsAnswer:
    store, db, viewer = current.desk().store, current.session(), current.viewer()
    return clients(store, db, viewer, current.library(), asked, datetime.now(UTC))


def _index(problem: str = "", asked: ClientsRequest | None = None) -> str:
    return render_template(
        "pages/clients/clients.html",
        answer=_answer(asked or ClientsRequest()),
        kept_rooms=rooms(current.session(), current.viewer()),
        typed=request.form if problem else {},
        problem=problem,
    )


def _page(person: int, problem: str = "", link: str = "") -> str:
    session, viewer = current.session(), current.viewer()
    profile, version = profiles.profile_of(session, viewer, person)
    said = accounts.consents(session, viewer, person)
    view = RecordView(
        person=people.known_person(session, viewer, person),
        profile=profile,
        version=version,
        rooms=rooms(session, viewer),
        email=accounts.email_of(session, person),
        agreed=bool(said) and said[0].agreed,
        problem=problem,
        link=link,
    )
    return render_template(
        "pages/clients/client.html",
        view=view,
        joints=joints(),
        weekdays=WEEKDAYS,
        variants=current.library().variants,
        levels=LEVELS,
        hair=get_args(Hair),
        typed=request.form if problem else {},
        checks=CHECKS,
    )


def _check(person: int, problem: str = "") -> str:
    session, viewer = current.session(), current.viewer()
    profile, version = profiles.profile_of(session, viewer, person)
    variants = {variant.id: variant for variant in current.library().variants}
    return render_template(
        "pages/clients/check.html",
        check=joint_check(session, viewer, person, variants),
        person=people.known_person(session, viewer, person),
        limits=profile.limits.model_dump(),
        version=version,
        picture_of=lambda key, angle: Markup(svg(check_picture(key, angle))),
        problem=problem,
    )
