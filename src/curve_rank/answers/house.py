"""The house and the model: what was lifted, what the model would have to be for it, editions of the loads."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import TYPE_CHECKING

from curve_rank.answers.claims import UnderWay
from curve_rank.answers.house_growth import dose_seen
from curve_rank.answers.house_seen import (
    HouseAnswer,
    HouseEditionSeen,
    exercise_seen,
    number_seen,
    offsets_seen,
    scales_seen,
)
from curve_rank.answers.means import Means
from curve_rank.answers.spoken import is_current
from curve_rank.background.house import HouseLog, HouseWork, Tables
from curve_rank.background.runs import Run
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, BusyError
from curve_rank.house.fit import HouseFit, fit
from curve_rank.house.forecasts import Calibration, Forecast, calibrated, drift
from curve_rank.house.shares import Share, said_by_all
from curve_rank.house.shift import shift_of
from curve_rank.house.surprise import pairs, surprises
from curve_rank.practice.rules import rule
from curve_rank.store import logs, people
from curve_rank.store.house import forecasts, pooling
from curve_rank.store.house.pooling import Edition
from curve_rank.store.viewers import viewer_of

if TYPE_CHECKING:
    from curve_rank.store.database import DbSession, Store
    from curve_rank.store.viewers import Viewer

MOST_PAIRS = 12
LOOKED_BACK = 84
"""So far back logs are read [days]."""


@dataclass(frozen=True)
class HouseBook:
    """Where a house is looked at.

    Attributes
    ----------
    store : Store
        Where runs keep what they made.
    work : HouseWork
    db : DbSession
    viewer : Viewer
    means : Means
    """

    store: Store
    work: HouseWork
    db: DbSession
    viewer: Viewer
    means: Means

    @property
    def this_month(self) -> str:
        """The month it is."""
        return f"{datetime.now(UTC):%Y-%m}"

    def answer(self, month: str = "", patience: float = 0.0) -> HouseAnswer:
        """What stands in a month, the newest unless it is named; tables that are not at hand are made.

        Parameters
        ----------
        month : str
            As in "2026-11".
        patience : float
            So long tables are waited for [s].

        Raises
        ------
        UnknownNameError
        """
        there = pooling.months(self.db, self.viewer)
        if month and month not in there:
            raise BadInputError("month", month, "one of: " + (", ".join(there) or "none is frozen yet"))
        month = month or (there[0] if there else "")
        shares = tuple(map(Share.read, pooling.shares(self.db, self.viewer, month)))
        variants = self._variants(shares)
        tables = self.work.found(variants)
        if shares and tables is None:
            run = self._making(variants)
            if run is not None and run.wait(patience):
                tables, run = self.work.tables(variants), None
        else:
            run = self.under_way()
        return self._answer(month, there, shares, variants, tables, run)

    def freeze(self) -> Run | None:
        """Make and freeze this month's shares; None where others are served first.

        Raises
        ------
        BadInputError
            Where this month stands already.
        """
        month = self._open_month()
        try:
            return self.work.freeze(
                self.viewer.person, self.logs(), self.means.variants, self.today, self._keeper(month)
            )
        except BusyError:
            return None

    def freeze_now(self, step: Callable[[], None]) -> None:
        """The same in this thread; `step` is called after each part.

        Raises
        ------
        BadInputError
        """
        month = self._open_month()
        self.work.make(self.logs(), self.means.variants, self.today, self._keeper(month), step)

    def _open_month(self) -> str:
        month = self.this_month
        if pooling.is_frozen(self.db, month):
            raise BadInputError("month", month, "one that is not frozen yet; the next begins on the first")
        return month

    def _keeper(self, month: str) -> Callable[[int, Share], None]:
        """Keeps shares when they are made, in sessions of their own."""
        store = self.store

        def keep(person: int, share: Share) -> None:
            with store.writing() as db:
                pooling.keep_share(db, person, month, share.text())

        return keep

    def logs(self) -> tuple[HouseLog, ...]:
        """Logs of everybody who agreed and whose size is known, each read as their own.

        Whoever asks for a month only sets it going: they see of it those whom they may see.
        """
        found = []
        since = date.fromordinal(self.today.toordinal() - LOOKED_BACK)
        for person in pooling.everyone_agreed(self.db):
            own = viewer_of(self.db, person)
            if own is None:
                continue
            row = people.known_person(self.db, own, person)
            if row.bodies:
                log = logs.log_of(self.db, own, person, since=since)
                found.append(HouseLog(person, people.body_of(row), log))
        return tuple(found)

    def refresh(self, edition: Edition) -> bool:
        """Work an edition out anew, where whoever agrees has changed; whether it is current then."""
        if is_current(self.db, edition):
            return True
        shares = tuple(map(Share.read, pooling.shares(self.db, self.viewer, edition.month)))
        if edition.author != self.viewer.person or len(shares) < rule("house.least_people"):
            return False
        variants = self._variants(shares)
        fitted = self._fitted(shares, self.work.tables(variants))
        mark = pooling.mark_of(self.db, self.viewer, edition.month)
        with self.store.writing() as db:
            pooling.keep_offsets(db, edition.id, shift_of(fitted).text(), mark)
        return True

    def make_edition(self, name: str, note: str, month: str) -> int:
        """Make an edition of what stands in a month; its number.

        Raises
        ------
        BadInputError, UnknownNameError
        """
        shares = pooling.shares(self.db, self.viewer, month)
        least = int(rule("house.least_people"))
        if len(shares) < least:
            right = f"a month with {least} people or more"
            raise BadInputError("month", f"{month or 'none'} with {len(shares)}", right)
        with self.store.writing() as db:
            number = pooling.make_edition(db, self.viewer, name=name, note=note, month=month)
        self.db.rollback()
        self.refresh(pooling.edition(self.db, self.viewer, number))
        return number

    def let_speak(self, number: int | None) -> str:
        """Let an edition speak, worked out anew where somebody has left it; its name.

        Raises
        ------
        UnknownNameError, BadInputError
        """
        name = "The model as it is published"
        if number is not None:
            edition = pooling.edition(self.db, self.viewer, number)
            name = f"“{edition.name}”"
            if not self.refresh(edition):
                raise BadInputError("edition", edition.name, f"one that {edition.author_name} works out anew")
        with self.store.writing() as db:
            pooling.turn_to(db, self.viewer, number)
        return name

    def under_way(self) -> Run | None:
        """What is being worked out for the viewer."""
        mine = (run for run in self.work.runs.under_way() if run.person == self.viewer.person)
        return next(mine, None)

    @property
    def today(self) -> date:
        """The day it is."""
        return datetime.now(UTC).date()

    def _making(self, variants: Sequence[Variant]) -> Run | None:
        try:
            return self.work.make_tables(self.viewer.person, variants)
        except BusyError:
            return None

    def _variants(self, shares: Sequence[Share]) -> tuple[Variant, ...]:
        done = {key for one in shares for key in one.lifted}
        return tuple(v for v in sorted(self.means.variants, key=lambda v: v.id) if v.id in done)

    def _fitted(self, shares: Sequence[Share], tables: Tables) -> HouseFit:
        text = "|".join(one.text() for one in shares)
        key = ("house", tables.effects.variants, hashlib.sha256(text.encode()).hexdigest())
        known = set(tables.effects.variants)

        def make() -> HouseFit:
            said = said_by_all([one for one in shares if known.issuperset(one.said.variants)])
            return fit(said, tables.effects)

        return self.means.modeller.once(key, make)

    def _answer(
        self,
        month: str,
        there: tuple[str, ...],
        shares: tuple[Share, ...],
        variants: tuple[Variant, ...],
        tables: Tables | None,
        run: Run | None,
    ) -> HouseAnswer:
        names = {one.id: one.name for one in self.means.variants}
        foretold = forecasts.scored(self.db, self.viewer)
        fitted = None
        if tables is not None and len(shares) >= rule("house.least_people"):
            fitted = self._fitted(shares, tables)
        seen = [surprises(shares, tables.strays), pairs(shares, tables.strays)] if tables else [(), ()]
        return HouseAnswer(
            month=month,
            months=there,
            agreed=len(pooling.agreed(self.db, self.viewer)),
            logging=pooling.who_log(self.db, self.viewer),
            people=len(shares),
            may_freeze=not pooling.is_frozen(self.db, self.this_month) and run is None,
            fitted=fitted is not None,
            own_error=fitted.own_error if fitted else None,
            scales=scales_seen(fitted) if fitted else "",
            exercises=tuple(exercise_seen(one, names) for one in seen[0]),
            pairs=tuple(exercise_seen(one, names) for one in seen[1][:MOST_PAIRS]),
            offsets=offsets_seen(fitted, variants, self.means.modeller) if fitted else (),
            numbers=tuple(number_seen(one) for one in fitted.numbers) if fitted else (),
            editions=self._editions(),
            doses=dose_seen(self.db, self.viewer),
            calibration=self._calibration(foretold, names),
            drift=drift(foretold),
            turns=pooling.turns(self.db, self.viewer),
            under_way=UnderWay(run.done, run.total) if run else None,
        )

    def _calibration(
        self, foretold: Sequence[Forecast], names: dict[str, str]
    ) -> dict[str, tuple[Calibration, ...]]:
        """How forecasts did: all together, and by exercise, room, person and edition."""
        if not foretold:
            return {}
        called = pooling.names(self.db, self.viewer)
        editions = {str(one.id): one.name for one in pooling.editions(self.db, self.viewer)}
        return {
            "all": calibrated(foretold, lambda _: "all"),
            "exercise": calibrated(foretold, lambda one: names.get(one.variant, one.variant)),
            "room": calibrated(foretold, lambda one: one.room),
            "person": calibrated(foretold, lambda one: called[one.person]),
            "edition": calibrated(
                foretold, lambda one: editions.get(one.edition.partition(" ")[0], "as published")
            ),
        }

    def _editions(self) -> tuple[HouseEditionSeen, ...]:
        speaking = pooling.speaking(self.db, self.viewer.person)
        return tuple(
            HouseEditionSeen(
                one.id, one.name, one.note, one.month, one.author_name, f"{one.made_at:%Y-%m-%d}",
                speaking is not None and speaking.id == one.id, is_current(self.db, one),
            )
            for one in pooling.editions(self.db, self.viewer)
        )  # fmt: skip
