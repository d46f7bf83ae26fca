"""What an application owns while it runs: its settings, database, modeller, and all long work."""

from __future__ import annotations

import threading
from dataclasses import dataclass, field
from typing import Any

from curve_rank.background.audiences import Audiences
from curve_rank.background.booklets import Booklets
from curve_rank.background.captures import Captures
from curve_rank.background.claims import ClaimRuns
from curve_rank.background.draws import Draws
from curve_rank.background.executor import make_executor
from curve_rank.background.house import HouseWork
from curve_rank.background.imports import Imports
from curve_rank.background.known_people import KnownPeople
from curve_rank.background.learning import Learning
from curve_rank.background.runs import Runs
from curve_rank.background.schedule import BackupRuns, Schedule
from curve_rank.background.searches import Searches
from curve_rank.house.effects import EffectTable
from curve_rank.rating.modelling import Modeller
from curve_rank.settings import Settings
from curve_rank.store.database import Store, open_store
from curve_rank.store.safe.shelf import Shelf
from curve_rank.study.draw_bank import DrawBank

FORGOTTEN_AFTER = 10.0
"""A run that no page asks about for so long ends [s]."""


@dataclass(frozen=True)
class Desk:
    """What is kept between requests."""

    settings: Settings
    store: Store
    modeller: Modeller
    draws: Draws
    searches: Searches
    claims: ClaimRuns
    booklets: Booklets
    imports: Imports
    captures: Captures
    learning: Learning
    house: HouseWork
    backups: BackupRuns
    schedule: Schedule
    known: KnownPeople
    audiences: Audiences = field(default_factory=Audiences)
    stopping: threading.Event = field(default_factory=threading.Event)
    demo: bool = False

    @staticmethod
    def over(
        settings: Settings,
        *,
        draws: Draws | None = None,
        modeller: Modeller | None = None,
        demo: bool = False,
    ) -> Desk:
        """Over the data in a folder, which is made, with its database, when it is not there yet.

        Parameters
        ----------
        settings : Settings
            With the folder.
        draws : Draws, optional
            What models draws in the background, where it is not all cores or the settings' cluster.
        modeller : Modeller, optional
            What models variants, where it is shared with another application.
        demo : bool
            Everything in it is made up.
        """
        draws = draws or Draws(lambda: make_executor(settings.scheduler), patience=FORGOTTEN_AFTER)
        shelf = Shelf(settings.shelf)
        modeller = modeller or Modeller(shelf=shelf)
        store, line = open_store(settings.data, settings.unit), draws.line
        bank = DrawBank(modeller, draws.loads, shelf)
        return Desk(
            settings=settings,
            store=store,
            modeller=modeller,
            draws=draws,
            searches=Searches(FORGOTTEN_AFTER, line),
            claims=ClaimRuns(draws, FORGOTTEN_AFTER, line),
            booklets=Booklets(FORGOTTEN_AFTER, line),
            imports=Imports(line),
            captures=Captures(),
            learning=Learning(bank, line),
            house=HouseWork(bank, EffectTable(shelf), modeller, line),
            backups=BackupRuns(settings, line),
            schedule=Schedule(settings, store),
            known=KnownPeople(store, draws, modeller, shelf),
            demo=demo,
        )

    @property
    def work(self) -> dict[str, Runs[Any]]:
        """All long work, by what people call it."""
        return {
            "draws": self.draws.runs,
            "searches": self.searches.runs,
            "claims weighed": self.claims.runs,
            "booklets": self.booklets.runs,
            "files brought": self.imports.runs,
            "learning": self.learning.runs,
            "house": self.house.runs,
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
            self.imports,
            self.learning,
            self.house,
            self.captures,
            self.draws,
        ):
            one.close()
        self.store.engine.dispose()
