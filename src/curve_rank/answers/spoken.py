"""Which edition of the loads speaks for somebody: one that a house made, or the model as it is published."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from functools import partial

from curve_rank.house.shift import HouseShift, as_the_house_lifts
from curve_rank.practice.facts import Facts
from curve_rank.store import people
from curve_rank.store.database import DbSession
from curve_rank.store.house import pooling
from curve_rank.store.house.pooling import Edition
from curve_rank.store.viewers import viewer_of


def speaking_for(db: DbSession, person: int | None, today: date) -> tuple[str, HouseShift | None]:
    """A mark of the edition that speaks for somebody, and what it carries; nothing for the published model.

    A block under way keeps what spoke when it was handed over. Where somebody has left what an edition was
    worked out from, it says nothing until it is worked out anew.
    """
    if person is None or not pooling.any_turned(db):
        return "", None
    edition = pooling.speaking(db, person, pooling.begun_at(db, person, today))
    if edition is None or not is_current(db, edition):
        return "", None
    return f"{edition.id} {edition.mark}", HouseShift.read(edition.offsets)


def is_current(db: DbSession, edition: Edition) -> bool:
    """Whether what an edition says is of just those who agree still."""
    author = viewer_of(db, edition.author)
    return author is not None and edition.mark == pooling.mark_of(db, author, edition.month)


def as_spoken(
    db: DbSession, person: int | None, today: date
) -> Callable[[Mapping[str, Facts]], Mapping[str, Facts]] | None:
    """What makes facts as the edition has them that speaks for somebody; None for the published model."""
    _, shift = speaking_for(db, person, today)
    if shift is None or person is None:
        return None
    return partial(as_the_house_lifts, shift=shift, known=people.known_variant(db, person))
