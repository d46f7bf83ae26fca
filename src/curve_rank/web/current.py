"""What a request works with: its one database session, its viewer, modeller, draws, and all variants."""

from __future__ import annotations

import logging
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from datetime import datetime
from http import HTTPStatus
from typing import TypeVar, cast

from flask import Flask, Response, current_app, g, request
from flask import session as cookie
from flask_wtf.csrf import generate_csrf

from curve_rank.answers.desk import Desk
from curve_rank.answers.means import Library
from curve_rank.background.draws import Draws
from curve_rank.errors import UnavailableError
from curve_rank.practice.profile import usual_profile
from curve_rank.practice.units import masses_in
from curve_rank.rating.modelling import Modeller
from curve_rank.store import profiles
from curve_rank.store.database import DbSession, write_with
from curve_rank.store.house import access_tokens, accounts
from curve_rank.store.house.audit import SAW, note, others_reached
from curve_rank.store.people import has_new_size
from curve_rank.store.tables import now
from curve_rank.store.viewers import Viewer, local_educator
from curve_rank.web import auditing
from curve_rank.web.auditing import Looks
from curve_rank.web.door import Door, Turnstile

log = logging.getLogger(__name__)

Text = TypeVar("Text", bound=str)
EXTENSION = "curve_rank"
TOKEN, LEFT = "token", "left"
"""What the cookie holds: what somebody is signed in with, and that they have signed out."""


@dataclass(frozen=True)
class WebDesk(Desk):
    """What the application keeps between requests: and besides, what watches who comes in."""

    door: Door = field(kw_only=True)
    turnstile: Turnstile = field(kw_only=True)
    many: Turnstile = field(kw_only=True)
    """For the phones of a lecture's room: a whole hall comes from one address."""
    looks: Looks = field(default_factory=Looks)


def of(app: Flask) -> WebDesk:
    """An application's desk."""
    return cast(WebDesk, app.extensions[EXTENSION])


def desk() -> WebDesk:
    """The desk of the application that answers."""
    return of(current_app)


def modeller() -> Modeller:
    """The application's modeller and its cache."""
    return desk().modeller


def draws() -> Draws:
    """The application's draws and their runs."""
    return desk().draws


def session() -> DbSession:
    """The request's database session; opened when it is first asked for."""
    if "session" not in g:
        g.session = desk().store.make_session()
    return cast(DbSession, g.session)


@contextmanager
def writing() -> Iterator[DbSession]:
    """Write with the request's session: all of the block is kept, or nothing."""
    with write_with(session()) as one:
        yield one
        auditing.changed(one, viewer_or_none())
    if has_new_size(one):
        desk().known.look_again()
    g.pop("library", None)
    g.pop("units", None)


def write_down_look(response: Response) -> Response:
    """At the end of a request that was answered: whose data somebody else has been shown."""
    people = others_reached(g.session) if "session" in g else frozenset()
    here = viewer_or_none() if people else None
    if here is None or request.method != "GET" or response.status_code >= HTTPStatus.BAD_REQUEST:
        return response
    new = desk().looks.new(here.person, people, auditing.page_name())
    if new:
        try:
            with desk().store.writing() as one:
                note(one, here, new, SAW, auditing.page_name(), auditing.request_id())
        except UnavailableError as error:  # reading goes on where nothing can be written
            log.warning("a look could not be written down", extra={"needs": error.expected})
    return response


def close_session(_error: BaseException | None = None) -> None:
    """At the end of a request."""
    one = g.pop("session", None)
    if one is not None:
        one.close()


def viewer_or_none() -> Viewer | None:
    """Who is here: whoever has signed in; else this machine's educator, where the settings say so."""
    if "viewer" not in g:
        g.viewer = _arrived()
    return cast("Viewer | None", g.viewer)


def _arrived() -> Viewer | None:
    if bearer():
        return _with_token()
    if (found := accounts.viewer_by(session(), token())) is not None:
        viewer, is_time = found
        if is_time:
            with suppress(UnavailableError), writing() as one:  # that somebody was here can wait
                accounts.seen(one, token())
        return viewer
    at_home = desk().settings.local_viewer and not cookie.get(LEFT)
    return local_educator(session()) if at_home else None


def _with_token() -> Viewer | None:
    """Who comes with a script's token: whatever cookie comes along counts for nothing."""
    found = access_tokens.arrival(session(), bearer())
    if found is None:
        return None
    g.scope = found.scope
    if found.is_time:
        with suppress(UnavailableError), writing() as one:
            access_tokens.used(one, bearer())
    return found.viewer


def bearer() -> str:
    """The token that a script's request bears, empty for a browser's."""
    given = request.authorization
    return given.token or "" if given is not None and given.type == "bearer" else ""


def scope() -> str:
    """What the token of a script is good for, "read" or "write"; empty where a browser is signed in."""
    return cast(str, g.get("scope", "")) if viewer_or_none() is not None else ""


def token() -> str:
    """What this browser is signed in with, empty where nobody is."""
    return str(cookie.get(TOKEN, ""))


def signed_in_until() -> datetime:
    """Until when this browser is signed in at most, if nobody comes with it any more (UTC)."""
    found = accounts.ends_at(session(), token()) if token() else None
    return found or now() + accounts.SIGNED_IN_FOR


def sign_in(person: int, agent: str) -> None:
    """Sign a person in with this browser: under a new token, and with nothing of what the cookie held."""
    with writing() as one:
        accounts.end(one, token())
        made = accounts.begin(one, person, agent)
    _begin_cookie({TOKEN: made})
    cookie.permanent = True


def sign_out() -> None:
    """Nobody is signed in with this browser any more."""
    with writing() as one:
        accounts.end(one, token())
    _begin_cookie({LEFT: True})


def _begin_cookie(held: dict[str, object]) -> None:
    """The cookie holds this and nothing of before; and the forms' token is in it already.

    Two answers to requests without one (a page, and what the worker fetches) would each make their own, and
    the form of the first would be refused under the cookie of the second.
    """
    cookie.clear()
    g.pop("viewer", None)
    g.pop("csrf_token", None)
    cookie.update(held)
    generate_csrf()


def is_confirmed() -> bool:
    """Whether whoever is here has typed their password just now, or types it with this form.

    Raises
    ------
    WrongSecretError, BusyError
    """
    here, typed = viewer(), request.form.get("confirm", "")
    if not token() or accounts.is_confirmed(session(), here, token()):
        return True
    if not typed:
        return False
    with desk().door.trying(f"password {here.person}"), writing() as one:
        accounts.confirm(one, here, token(), typed)
    return True


def viewer() -> Viewer:
    """Who is here, on a route that is for someone."""
    found = viewer_or_none()
    if found is None:
        raise LookupError("a route that is for anyone asked who is here")
    return found


def unit() -> str:
    """In which masses are read here, "kg" or "lb": whoever is here has chosen it, else the installation."""
    return _units()[0]


def length_unit() -> str:
    """In which what a tape measures is read here, "cm" or "in": as whoever is here chose, else as usual."""
    return _units()[1]


def _units() -> tuple[str, str]:
    if "units" not in g:
        one, usual = viewer_or_none(), usual_profile(desk().settings.unit)
        usually = (usual.mass_unit, usual.length_unit)
        g.units = profiles.units_of(session(), one.person) if one else usually
    return cast("tuple[str, str]", g.units)


def masses(text: Text) -> Text:
    """A text of the model's own, its masses in the unit in which they are read here."""
    return type(text)(masses_in(text, unit())) if "kg" in text else text


def library() -> Library:
    """All that whoever is here has."""
    if "library" not in g:
        one = viewer_or_none()
        g.library = Library(session(), one) if one else Library()
    return cast(Library, g.library)


def library_of(viewer: Viewer) -> Library:
    """All that a viewer has, who need not be here: a calendar is read without a sign-in."""
    return library() if viewer == viewer_or_none() else Library(session(), viewer)
