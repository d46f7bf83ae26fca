"""Arms of people who are known are drawn before anybody asks: one body at a time, behind whoever waits.

Known is who has an account, or is somebody's client, and has a size. They are looked at after a start (so
after an upgrade, too), whenever a size, limits or a room change, and from time to time. What was drawn stands
on the shelf, with a mark that says so; the next start finds it there.
"""

from __future__ import annotations

import hashlib
import logging
import threading
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.background.draws import ONESELF, Draws, once_each
from curve_rank.background.runs import StoppedError
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller
from curve_rank.store import people, profiles, rooms
from curve_rank.store.database import DbSession, Store
from curve_rank.store.documents import own_variants
from curve_rank.store.safe.shelf import Shelf
from curve_rank.store.viewers import viewer_of
from curve_rank.training.planning import Planner

log = logging.getLogger(__name__)

FIRST_LOOK = 30.0
"""How long after a start: whoever comes at once is served first [s]."""
LOOK = 60.0
"""How often it is looked whether somebody has changed unnoticed [s]."""
SETTLE = 0.5
"""Several changes at once are looked at together [s]."""


@dataclass(frozen=True)
class KnownBody:
    """Somebody whose arms are drawn, and a mark that changes with anything that goes into them."""

    person: int
    planner: Planner
    mark: str


class KnownPeople:
    """A thread that draws the arms of everyone who is known.

    Parameters
    ----------
    store : Store
    draws : Draws
    modeller : Modeller
    shelf : Shelf
    """

    def __init__(self, store: Store, draws: Draws, modeller: Modeller, shelf: Shelf) -> None:
        self._store, self._draws, self._modeller, self._shelf = store, draws, modeller, shelf
        self._again, self._ended = threading.Event(), threading.Event()
        self._bodies: frozenset[str] = frozenset()
        self._drawn: set[str] = set()

    def start(self) -> None:
        """Begin."""
        threading.Thread(target=self._go_on, name="known people", daemon=True).start()

    def look_again(self) -> None:
        """Somebody's size, limits or room has changed."""
        self._again.set()

    def knows(self, body: Body) -> bool:
        """Whether it is the body of somebody who is known: its draws are not given up."""
        return repr(body) in self._bodies

    def close(self) -> None:
        """Look no more."""
        self._ended.set()
        self._again.set()

    def look(self) -> int:
        """Draw what is missing of everyone; how many people were drawn for."""
        drawn = 0
        with self._store.reading() as session:
            known = [one for person in people.known_people(session) if (one := self._known(session, person))]
        self._bodies = frozenset(repr(one.planner.body) for one in known)
        for one in known:
            if self._ended.is_set():
                break
            if one.mark not in self._drawn and not self._shelf.take_rows([one.mark]):
                try:
                    one.planner.context()
                except CurveRankError as error:  # stopped, or its draws failed: it is looked at again
                    log.info("arms of somebody known are left for later", extra={"problem": error.expected})
                    continue
                self._shelf.put_rows({one.mark: np.ones(1)})
                drawn += 1
            self._drawn.add(one.mark)
        return drawn

    def _go_on(self) -> None:
        self._ended.wait(FIRST_LOOK)
        while not self._ended.is_set():
            self._again.clear()
            try:
                if drawn := self.look():
                    log.info("arms of known people drawn", extra={"people": drawn})
            except CurveRankError as error:  # the database is busy, or full: later
                log.warning("known people could not be looked at", extra={"problem": error.expected})
            except Exception:
                if not self._ended.is_set():
                    log.exception("known people could not be looked at")
            self._again.wait(LOOK)
            self._ended.wait(SETTLE)

    def _known(self, session: DbSession, person: int) -> KnownBody | None:
        viewer = viewer_of(session, person)
        if viewer is None:
            return None
        body = people.body_of(people.person(session, viewer, person))
        profile, _ = profiles.profile_of(session, viewer, person)
        room = rooms.any_room(session, profile.room)
        owners = [one for number in people.owners_for(session, person) if (one := viewer_of(session, number))]
        own = {v.digest: v for owner in (viewer, *owners) for v in own_variants(session, owner)}
        variants = built_in() + tuple(own.values())
        fitted = (profile.limits.model_dump_json(), room.model_dump_json())
        parts = (repr(body), *fitted, *(variant.digest for variant in variants))
        mark = f"known person drawn {hashlib.sha256('|'.join(parts).encode()).hexdigest()}"
        return KnownBody(person, Planner(profile, body, room, variants, self._modeller, self._draw), mark)

    def _draw(self, variants: tuple[Variant, ...], body: Body, effort: float) -> tuple[Readings, ...]:
        """The fixed draws, however long they take.

        Raises
        ------
        StoppedError
        """
        missing = once_each(variants)
        while (
            run := self._draws.fixed(ONESELF, missing, body, effort, self._modeller, aside=True)
        ) is not None:
            run.wait()
            if run.state != "finished":
                raise StoppedError("draws", run.state, run.problem or "another look")
        return fixed_draws(variants, body, effort, self._modeller)
