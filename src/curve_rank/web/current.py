"""What a request works with: its one database session, its viewer, modeller, draws, and all variants."""

from __future__ import annotations

import logging
import threading
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from datetime import datetime
from http import HTTPStatus
from typing import Any, cast

from flask import Flask, Response, current_app, g, request
from flask import session as cookie

from curve_rank.arm.body import Body
from curve_rank.background.booklets import Booklets
from curve_rank.background.captures import Captures
from curve_rank.background.claims import ClaimRuns
from curve_rank.background.draws import Draws
from curve_rank.background.known_people import KnownPeople
from curve_rank.background.learning import Learning
from curve_rank.background.runs import Runs
from curve_rank.background.schedule import BackupRuns, Schedule
from curve_rank.background.searches import Searches
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Fault, OwnFault, Variant
from curve_rank.catalogue.setups import SetupAddress
from curve_rank.errors import UnavailableError, UnknownNameError
from curve_rank.rating.cautions import CautionReason, cautions_for
from curve_rank.rating.lenses import Lens, lenses
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.settings import Settings
from curve_rank.store.database import Session, Store, write_with
from curve_rank.store.documents import is_own, own_faults, own_lenses, own_variants, unreadable
from curve_rank.store.house import accounts
from curve_rank.store.house.audit import SAW, note, others_reached
from curve_rank.store.people import has_new_size
from curve_rank.store.tables import now
from curve_rank.store.viewers import Viewer, local_educator
from curve_rank.web import auditing
from curve_rank.web.auditing import Looks
from curve_rank.web.door import Door, Turnstile

log = logging.getLogger(__name__)

EXTENSION = "curve_rank"
TOKEN, LEFT = "token", "left"
"""What the cookie holds: what somebody is signed in with, and that they have signed out."""
MENDED = "one that can be read; Variants lists this one under “Cannot be read”, to be mended or removed"


@dataclass(frozen=True)
class Desk:
    """What the application keeps between requests."""

    settings: Settings
    store: Store
    modeller: Modeller
    draws: Draws
    searches: Searches
    claims: ClaimRuns
    booklets: Booklets
    captures: Captures
    door: Door
    learning: Learning
    backups: BackupRuns
    schedule: Schedule
    turnstile: Turnstile
    known: KnownPeople
    looks: Looks = field(default_factory=Looks)
    stopping: threading.Event = field(default_factory=threading.Event)
    demo: bool = False

    @property
    def work(self) -> dict[str, Runs[Any]]:
        """All long work, by what people call it."""
        return {
            "draws": self.draws.runs,
            "searches": self.searches.runs,
            "claims weighed": self.claims.runs,
            "booklets": self.booklets.runs,
            "learning": self.learning.runs,
            "backups": self.backups.runs,
        }

    def close(self) -> None:
        """End all that goes on beside requests, and let the database go."""
        for one in (
            self.schedule,
            self.known,
            self.backups,
            self.searches,
            self.claims,
            self.booklets,
            self.learning,
            self.captures,
            self.draws,
        ):
            one.close()
        self.store.engine.dispose()


def of(app: Flask) -> Desk:
    """An application's desk."""
    return cast(Desk, app.extensions[EXTENSION])


def desk() -> Desk:
    """The desk of the application that answers."""
    return of(current_app)


def modeller() -> Modeller:
    """The application's modeller and its cache."""
    return desk().modeller


def draws() -> Draws:
    """The application's draws and their runs."""
    return desk().draws


def session() -> Session:
    """The request's database session; opened when it is first asked for."""
    if "session" not in g:
        g.session = desk().store.make_session()
    return cast(Session, g.session)


@contextmanager
def writing() -> Iterator[Session]:
    """Write with the request's session: all of the block is kept, or nothing."""
    with write_with(session()) as one:
        yield one
        auditing.changed(one, viewer_or_none())
    if has_new_size(one):
        desk().known.look_again()
    for read_before in ("variants", "lenses", "faults"):
        g.pop(read_before, None)


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
    if (found := accounts.viewer_by(session(), token())) is not None:
        viewer, is_time = found
        if is_time:
            with suppress(UnavailableError), writing() as one:  # that somebody was here can wait
                accounts.seen(one, token())
        return viewer
    at_home = desk().settings.local_viewer and not cookie.get(LEFT)
    return local_educator(session()) if at_home else None


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
    cookie.clear()
    cookie[TOKEN] = made
    cookie.permanent = True
    g.pop("viewer", None)


def sign_out() -> None:
    """Nobody is signed in with this browser any more."""
    with writing() as one:
        accounts.end(one, token())
    cookie.clear()
    cookie[LEFT] = True
    g.pop("viewer", None)


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


def variants_of(viewer: Viewer) -> tuple[Variant, ...]:
    """Built-in variants and a viewer's own, who need not be here: a calendar is read without a sign-in."""
    if viewer == viewer_or_none():
        return all_variants()
    return built_in() + own_variants(session(), viewer)


def all_variants() -> tuple[Variant, ...]:
    """Built-in variants and those of whoever is here."""
    if "variants" not in g:
        one = viewer_or_none()
        g.variants = built_in() + (own_variants(session(), one) if one else ())
    return cast(tuple[Variant, ...], g.variants)


def all_lenses() -> dict[str, Lens]:
    """Built-in lenses and those of whoever is here, by key."""
    if "lenses" not in g:
        one = viewer_or_none()
        g.lenses = lenses() | (own_lenses(session(), one) if one else {})
    return cast(dict[str, Lens], g.lenses)


def faults_of(variant: Variant) -> tuple[Fault, ...]:
    """A variant's faults, and those that whoever is here has kept beside it."""
    one = viewer_or_none()
    if "faults" not in g:
        g.faults = own_faults(session(), one) if one else {}
    own = cast(dict[str, OwnFault], g.faults).values()
    return variant.faults + tuple(fault.plain for fault in own if fault.variant == variant.id)


def setup_of(setup: SetupAddress) -> Variant:
    """The set-up that an address names.

    Raises
    ------
    CurveRankError
    """
    variant = variant_named(setup.variant)
    return setup.of(variant, faults_of(variant) if setup.faults else None)


def lenses_for(key: str) -> dict[str, Lens]:
    """Enough lenses to find one by its key: the database is asked only for one's own."""
    return all_lenses() if is_own(key) or key not in lenses() else lenses()


def variant_named(variant_id: str) -> Variant:
    """One variant; the database is asked only for one's own.

    Raises
    ------
    UnknownNameError
    """
    if not is_own(variant_id):
        return find_variant(variant_id, built_in())
    try:
        return find_variant(variant_id, all_variants())
    except UnknownNameError as error:
        if any(one.slug == variant_id for one in unreadable(session(), viewer(), "variant")):
            raise UnknownNameError("variant", variant_id, MENDED) from error
        raise


def cautions(modelled: VariantModel) -> tuple[CautionReason, ...]:
    """The cautions of a variant, kept beside its model."""
    return modeller().derived(modelled, "cautions", lambda: cautions_for(modelled))


def group_modelled(group: str, body: Body, *, effort: float) -> tuple[VariantModel, ...]:
    """All variants of a group that can be modelled, modelled."""
    return modeller().able(tuple(v for v in all_variants() if v.group == group), body, effort=effort)
