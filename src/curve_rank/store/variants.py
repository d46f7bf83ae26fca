"""Own variants and their history."""

from __future__ import annotations

import re
import unicodedata

from sqlalchemy import select
from sqlalchemy.orm import Session

from curve_rank.catalogue.library import validate_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store.tables import OwnVariant, OwnVariantVersion, Person, now

PREFIX = "own-"


def own_variants(session: Session) -> tuple[Variant, ...]:
    """The newest version of every own variant that has not been removed, oldest first."""
    rows = session.scalars(select(OwnVariant).where(OwnVariant.removed_at.is_(None)).order_by(OwnVariant.id))
    return tuple(validate_variant(row.versions[-1].document, name=row.slug) for row in rows)


def own_row(session: Session, slug: str) -> OwnVariant:
    """The row of an own variant, removed or not.

    Raises
    ------
    UnknownNameError
    """
    row = session.scalar(select(OwnVariant).where(OwnVariant.slug == slug))
    if row is None:
        raise UnknownNameError("variant", slug, "the id of a variant of one's own")
    return row


def save_new(session: Session, owner: Person, variant: Variant, *, name: str) -> Variant:
    """Keep a variant as a new one of the owner's, under a name of its own.

    Raises
    ------
    BadInputError
        When the name is empty, too long, or taken by another own variant.
    """
    name = " ".join(name.split())
    if not 1 <= len(name) <= 80:
        raise BadInputError("name", name, "1 to 80 characters")
    slug = slug_of(name)
    if session.scalar(select(OwnVariant.id).where(OwnVariant.slug == slug)) is not None:
        raise BadInputError("name", name, "a name that no variant of yours, kept or removed, has yet")
    data = variant.model_dump(mode="json") | {"id": slug, "name": name}
    kept = validate_variant(data)
    row = OwnVariant(owner_id=owner.id, slug=slug, made_from=variant.id)
    row.versions.append(OwnVariantVersion(owner_id=owner.id, number=1, document=kept.model_dump(mode="json")))
    session.add(row)
    session.flush()
    return kept


def save_version(session: Session, owner: Person, variant: Variant) -> int:
    """Keep a changed own variant as its next version; the version's number."""
    row = own_row(session, variant.id)
    number = row.versions[-1].number + 1
    row.versions.append(
        OwnVariantVersion(owner_id=owner.id, number=number, document=variant.model_dump(mode="json"))
    )
    session.flush()
    return number


def restore_version(session: Session, owner: Person, slug: str, number: int) -> int:
    """Make an earlier version the newest again; the new number.

    Raises
    ------
    UnknownNameError
    """
    row = own_row(session, slug)
    for version in row.versions:
        if version.number == number:
            return save_version(session, owner, validate_variant(version.document, name=slug))
    raise UnknownNameError("version", number, f"1 to {row.versions[-1].number}")


def set_removed(session: Session, slug: str, *, removed: bool) -> None:
    """Take an own variant off every list, or put it back."""
    own_row(session, slug).removed_at = now() if removed else None


def slug_of(name: str) -> str:
    """The key of something of one's own, from its name."""
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode().lower()
    return PREFIX + (re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[: 60 - len(PREFIX)].strip("-") or "unnamed")
