"""Own lenses and their history."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.rating.lens import LensDocument, validate_lens
from curve_rank.rating.vocabulary import Lens, lenses
from curve_rank.store.tables import OwnLens, OwnLensVersion, Person, now
from curve_rank.store.variants import PREFIX, slug_of


def own_lenses(session: Session) -> dict[str, Lens]:
    """The newest version of every own lens that has not been removed, by key, oldest first."""
    rows = session.scalars(select(OwnLens).where(OwnLens.removed_at.is_(None)).order_by(OwnLens.id))
    return {row.slug: validate_lens(row.versions[-1].document).lens(row.slug) for row in rows}


def own_lens(session: Session, key: str) -> OwnLens:
    """The row of an own lens, removed or not.

    Raises
    ------
    UnknownNameError
    """
    row = session.scalar(select(OwnLens).where(OwnLens.slug == key))
    if row is None:
        raise UnknownNameError("lens", key, "one of: " + ", ".join((*lenses(), *own_lenses(session))))
    return row


def save_lens(session: Session, owner: Person, document: LensDocument) -> str:
    """Keep a new lens; its key.

    Raises
    ------
    BadInputError
        When the name is taken.
    """
    key = slug_of(document.name)
    if session.scalar(select(OwnLens.id).where(OwnLens.slug == key)) is not None:
        raise BadInputError("lens name", document.name, "a name that no lens of yours, kept or removed, has")
    row = OwnLens(owner_id=owner.id, slug=key)
    row.versions.append(
        OwnLensVersion(owner_id=owner.id, number=1, document=document.model_dump(mode="json"))
    )
    session.add(row)
    session.flush()
    return key


def save_lens_version(session: Session, owner: Person, key: str, document: LensDocument) -> int:
    """Keep a changed lens as its next version; the version's number."""
    row = own_lens(session, key)
    number = row.versions[-1].number + 1
    row.versions.append(
        OwnLensVersion(owner_id=owner.id, number=number, document=document.model_dump(mode="json"))
    )
    session.flush()
    return number


def set_lens_removed(session: Session, key: str, *, removed: bool) -> None:
    """Take an own lens off every list, or put it back."""
    own_lens(session, key).removed_at = now() if removed else None


def is_own(key: str) -> bool:
    """Whether a lens's key is that of an own one."""
    return key.startswith(PREFIX)
