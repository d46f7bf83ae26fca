"""Documents of every kind with their versions: variants, lenses, and whatever comes later; a viewer's own.

What is stored may be older than what is valid today, or damaged: such a document is told of with its reason.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import datetime
from typing import Any, cast

from pydantic import BaseModel
from sqlalchemy import Row, Select, select
from sqlalchemy.orm import Session as DbSession

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import validate_fault, validate_variant
from curve_rank.catalogue.profiles import MachineProfile, validate_profile
from curve_rank.catalogue.schema import OwnFault, Variant
from curve_rank.errors import BadInputError, CurveRankError, UnknownNameError
from curve_rank.keeping import Keeping
from curve_rank.practice.pick_list import PickList, Template, validate_set, validate_template
from curve_rank.rating.lenses import Lens, LensDocument, validate_lens
from curve_rank.store.database import VALIDATED
from curve_rank.store.names import plain_name, slug_of
from curve_rank.store.tables import Document, DocumentVersion, Person, now
from curve_rank.store.viewers import Viewer
from curve_rank.study.claims import Claim, validate_claim
from curve_rank.study.lecture import Lecture, validate_lecture
from curve_rank.study.trying import try_out
from curve_rank.validation import read_json

OBJECTS_PER_TEXT = 20
"""A validated document's memory over its text's, near enough."""
READERS: dict[str, Callable[..., BaseModel]] = {
    "variant": validate_variant,
    "lens": validate_lens,
    "fault": validate_fault,
    "claim": validate_claim,
    "profile": validate_profile,
    "set": validate_set,
    "template": validate_template,
    "lecture": validate_lecture,
}
"""Per kind of document, what turns plain data into it."""


@dataclass(frozen=True)
class Unreadable:
    """A stored document that cannot be read, and why."""

    kind: str
    slug: str
    name: str
    reason: str


@dataclass(frozen=True)
class VersionLine:
    """One line of a document's history."""

    number: int
    created_at: datetime
    author: str


@dataclass(frozen=True)
class StoredText:
    """The newest state of a document as it is stored."""

    kind: str
    slug: str
    name: str
    newest: int
    text: str


@dataclass(frozen=True)
class _Validated:
    """A document that has been validated, and its memory near enough [bytes]."""

    document: BaseModel
    size: int


def own_variants(session: DbSession, viewer: Viewer) -> tuple[Variant, ...]:
    """The viewer's own variants that can be read and have not been removed, then those shared."""
    return tuple(cast(Variant, c) for _, c in _readable(session, viewer, "variant", shared=True))


def own_lenses(session: DbSession, viewer: Viewer) -> dict[str, Lens]:
    """The viewer's own lenses that can be read and have not been removed, by key; then those shared."""
    found = _readable(session, viewer, "lens", shared=True)
    return {row.slug: cast(LensDocument, content).lens(row.slug) for row, content in found}


def own_faults(session: DbSession, viewer: Viewer) -> dict[str, OwnFault]:
    """The viewer's own faults that can be read and have not been removed, by slug, oldest first."""
    return {r.slug: cast(OwnFault, c) for r, c in _readable(session, viewer, "fault")}


def own_claims(session: DbSession, viewer: Viewer) -> dict[str, Claim]:
    """The viewer's own claims that can be read and have not been removed, then those shared."""
    return {r.slug: cast(Claim, c) for r, c in _readable(session, viewer, "claim", shared=True)}


def own_profiles(session: DbSession, viewer: Viewer) -> dict[str, MachineProfile]:
    """The viewer's machine profiles that can be read and have not been removed, by slug, oldest first."""
    return {r.slug: cast(MachineProfile, c) for r, c in _readable(session, viewer, "profile")}


def kept_sets(session: DbSession, viewer: Viewer) -> dict[str, PickList]:
    """The viewer's sets, then those shared, by slug."""
    return {r.slug: cast(PickList, c) for r, c in _readable(session, viewer, "set", shared=True)}


def templates(session: DbSession, viewer: Viewer) -> dict[str, Template]:
    """The viewer's templates of blocks, then those shared, by slug."""
    return {r.slug: cast(Template, c) for r, c in _readable(session, viewer, "template", shared=True)}


def lectures(session: DbSession, viewer: Viewer) -> dict[str, Lecture]:
    """The viewer's lectures, by slug, oldest first."""
    return {r.slug: cast(Lecture, c) for r, c in _readable(session, viewer, "lecture")}


def unreadable(session: DbSession, viewer: Viewer, kind: str) -> tuple[Unreadable, ...]:
    """Those of the viewer's documents of a kind that cannot be read, oldest first."""
    return tuple(
        Unreadable(kind, row.slug, row.name, str(content))
        for row, content in _newest(session, viewer, kind)
        if isinstance(content, CurveRankError)
    )


def unreadable_variants(session: DbSession, viewer: Viewer) -> tuple[Unreadable, ...]:
    """Variants of the viewer's that are stored and cannot be read."""
    return unreadable(session, viewer, "variant")


def versions(session: DbSession, viewer: Viewer, kind: str, slug: str) -> tuple[VersionLine, ...]:
    """The history of a document, oldest first.

    Raises
    ------
    UnknownNameError
    """
    document = document_of(session, viewer, kind, slug)
    rows = session.execute(
        select(DocumentVersion.number, DocumentVersion.created_at, Person.name)
        .join(Person, Person.id == DocumentVersion.author_id)
        .where(DocumentVersion.document_id == document.id)
        .order_by(DocumentVersion.number)
    )
    return tuple(VersionLine(*row) for row in rows)


def version(session: DbSession, viewer: Viewer, kind: str, slug: str, number: int | None = None) -> BaseModel:
    """A document as of one of its versions, the newest unless a number is given.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    text = stored_text(session, viewer, kind, slug, number).text
    return _read(session, kind, slug, text)


def stored_text(
    session: DbSession, viewer: Viewer, kind: str, slug: str, number: int | None = None
) -> StoredText:
    """A document as it is stored, readable or not.

    Raises
    ------
    UnknownNameError
    """
    document = document_of(session, viewer, kind, slug)
    wanted = document.newest if number is None else number
    text = session.scalar(
        select(DocumentVersion.content).where(
            DocumentVersion.document_id == document.id, DocumentVersion.number == wanted
        )
    )
    if text is None:
        raise UnknownNameError("version", wanted, f"1 to {document.newest}")
    return StoredText(kind, slug, document.name, document.newest, text)


def save_new(
    session: DbSession,
    viewer: Viewer,
    kind: str,
    content: BaseModel,
    *,
    name: str,
    made_from: str | None = None,
) -> str:
    """Keep a document as a new one of the viewer's, under a name of its own; its slug.

    Raises
    ------
    BadInputError
        When the name is empty, too long, or taken by another document of the kind.
    """
    name = plain_name(name)
    slug = slug_of(name)
    if session.scalar(_own(viewer, kind).where(Document.slug == slug)) is not None:
        raise BadInputError("name", name, f"a name that no {kind} of yours, kept or removed, has")
    data = content.model_dump(mode="json")
    if kind == "variant":
        data |= {"id": slug}
    _validated(kind, slug, data | {"name": name})
    document = Document(
        owner_id=viewer.person, kind=kind, slug=slug, name=name, made_from=made_from, newest=0
    )
    session.add(document)
    session.flush()
    _add_version(session, viewer, document, data | {"name": name})
    return slug


def save_version(session: DbSession, viewer: Viewer, kind: str, slug: str, content: BaseModel) -> int:
    """Keep a changed document as its next version; the version's number.

    Raises
    ------
    UnknownNameError
    """
    document = document_of(session, viewer, kind, slug)
    return _add_version(session, viewer, document, content.model_dump(mode="json"))


def restore_version(session: DbSession, viewer: Viewer, kind: str, slug: str, number: int) -> int:
    """Make an earlier version the newest again; the new number.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    return save_version(session, viewer, kind, slug, version(session, viewer, kind, slug, number))


def repair(session: DbSession, viewer: Viewer, kind: str, slug: str, text: str) -> int:
    """Keep a document's text, mended by hand, as its next version; the version's number.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    document = document_of(session, viewer, kind, slug)
    content = _validated(kind, slug, _data(slug, text))
    if isinstance(content, Variant):
        if content.id != slug:
            raise BadInputError("id", content.id, f"{slug}, as before")
        try_out(content, Body())
    return _add_version(session, viewer, document, content.model_dump(mode="json"))


def all_documents(session: DbSession, viewer: Viewer, kind: str) -> tuple[StoredText, ...]:
    """The newest state of every document of a kind that can be read and has not been removed."""
    return tuple(
        StoredText(
            kind, row.slug, row.name, 0, json.dumps(content.model_dump(mode="json"), ensure_ascii=False)
        )
        for row, content in _readable(session, viewer, kind)
    )


def state_of(session: DbSession, viewer: Viewer, kind: str) -> dict[str, list[Any]]:
    """What stands in every version of every document of a kind that has not been removed, oldest first.

    A version that cannot be read is None.
    """
    rows = session.execute(
        select(Document.slug, DocumentVersion.content)
        .join(DocumentVersion, DocumentVersion.document_id == Document.id)
        .where(Document.owner_id == viewer.person, Document.kind == kind, Document.removed_at.is_(None))
        .order_by(Document.id, DocumentVersion.number)
    )
    found: dict[str, list[Any]] = {}
    for slug, text in rows:
        try:
            content = _read(session, kind, slug, text).model_dump(mode="json")
        except CurveRankError:
            content = None
        found.setdefault(slug, []).append(content)
    return found


def put(session: DbSession, viewer: Viewer, kind: str, slug: str, content: BaseModel) -> None:
    """Keep a document under its slug: as a new one, or as the next version; one that was removed is back."""
    data = content.model_dump(mode="json")
    document = session.scalar(_own(viewer, kind).where(Document.slug == slug))
    if document is None:
        document = Document(owner_id=viewer.person, kind=kind, slug=slug, name=str(data["name"]), newest=0)
        session.add(document)
        session.flush()
    document.removed_at = None
    _add_version(session, viewer, document, data)


def set_removed(session: DbSession, viewer: Viewer, kind: str, slug: str, *, removed: bool) -> str:
    """Take a document off every list, or put it back; its name.

    Raises
    ------
    UnknownNameError
    """
    document = document_of(session, viewer, kind, slug)
    document.removed_at = now() if removed else None
    return document.name


def _own(viewer: Viewer, kind: str) -> Select[Document]:
    return select(Document).where(Document.owner_id == viewer.person, Document.kind == kind)


def document_of(session: DbSession, viewer: Viewer, kind: str, slug: str) -> Document:
    """A document of the viewer's, removed or not: the one door to a row."""
    found = session.scalar(_own(viewer, kind).where(Document.slug == slug))
    if found is None:
        raise UnknownNameError(kind, slug, f"a {kind} of one's own")
    return found


def _newest(
    session: DbSession, viewer: Viewer, kind: str, *, shared: bool = False
) -> Iterator[tuple[Row[str, str, str], BaseModel | CurveRankError]]:
    """Every document of a kind that has not been removed, as of its newest version, in one query.

    With `shared` also what educators share; one's own goes before another's of the same slug.
    """
    mine = Document.owner_id == viewer.person
    seen = mine | Document.shared_at.is_not(None) if shared and viewer.teaches else mine
    rows = session.execute(
        select(Document.slug, Document.name, DocumentVersion.content)
        .outerjoin(
            DocumentVersion,
            (DocumentVersion.document_id == Document.id) & (DocumentVersion.number == Document.newest),
        )
        .where(seen, Document.kind == kind, Document.removed_at.is_(None))
        .order_by(mine.desc(), Document.id)
    )
    slugs: set[str] = set()
    for row in rows:
        if row.slug in slugs:
            continue
        slugs.add(row.slug)
        try:
            yield row, _read(session, kind, row.slug, row.content or "")
        except CurveRankError as error:
            yield row, error


def _readable(
    session: DbSession, viewer: Viewer, kind: str, *, shared: bool = False
) -> Iterator[tuple[Row[str, str, str], BaseModel]]:
    for row, content in _newest(session, viewer, kind, shared=shared):
        if not isinstance(content, CurveRankError):
            yield row, content


def _read(session: DbSession, kind: str, slug: str, text: str) -> BaseModel:
    """A document from its text, validated once and then kept as long as there is room."""

    def read() -> _Validated:
        return _Validated(_validated(kind, slug, _data(slug, text)), OBJECTS_PER_TEXT * len(text))

    kept: Keeping = session.info[VALIDATED]
    return kept.once((kind, slug, text), read).document


def _data(slug: str, text: str) -> Any:
    return read_json(text, slug, "a JSON document")


def _validated(kind: str, slug: str, data: Any) -> BaseModel:
    return READERS[kind](data, name=slug)


def _add_version(session: DbSession, viewer: Viewer, document: Document, data: dict[str, Any]) -> int:
    document.newest += 1
    document.name = str(data.get("name", document.name))
    session.add(
        DocumentVersion(
            owner_id=document.owner_id,
            author_id=viewer.person,
            document_id=document.id,
            number=document.newest,
            content=json.dumps(data, ensure_ascii=False),
        )
    )
    session.flush()
    return document.newest
