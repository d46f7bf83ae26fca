"""Bundles: variants, lenses, faults, claims, machine profiles and lectures of one's own in one JSON file.

A bundle bears a mark of its content: one that was damaged on the way is refused whole.
"""

from __future__ import annotations

import hashlib
import json
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError
from sqlalchemy.orm import Session as DbSession

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.exchange.differences import FieldDifference, differences
from curve_rank.rating.modelling import Modeller
from curve_rank.store.documents import READERS, StoredText, all_documents, put, state_of
from curve_rank.store.viewers import Viewer
from curve_rank.study.lecture import validate_lecture
from curve_rank.validation import from_validation, read_json

LARGEST = 4 * 1024 * 1024
"""The largest bundle [bytes]."""
MOST_ITEMS = 2000
KINDS = ("variant", "lens", "fault", "claim", "profile", "lecture")
Status = Literal["new", "same", "older", "differs"]


class Item(BaseModel):
    """One document: its kind, its id, and what stands in it."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    kind: Literal["variant", "lens", "fault", "claim", "profile", "lecture"]
    id: Annotated[str, Field(pattern=r"^own-[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]
    content: dict[str, Any]

    @property
    def name(self) -> str:
        """What it is called."""
        return str(self.content.get("name", self.id))


class Bundle(BaseModel):
    """A bundle as it is written."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    format: Literal["curve-rank-bundle"] = "curve-rank-bundle"
    schema_version: Literal[1] = 1
    items: Annotated[tuple[Item, ...], Field(max_length=MOST_ITEMS)]
    mark: str


@dataclass(frozen=True)
class BundlePreview:
    """What taking an item in would do: it is new, the same as here, older, or differs, and where."""

    item: Item
    status: Status
    problem: str = ""
    differs: tuple[FieldDifference, ...] = ()

    @property
    def can_be_taken(self) -> bool:
        """Whether there is anything to take in."""
        return self.status != "same" and not self.problem


def mark_of(items: Sequence[Item]) -> str:
    """A mark that changes with any item."""
    plain = [item.model_dump(mode="json") for item in items]
    text = json.dumps(plain, ensure_ascii=False, sort_keys=True, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


def bundle_text(session: DbSession, viewer: Viewer) -> str:
    """Everything of the viewer's as a bundle; what cannot be read is left out."""
    stored = [one for kind in KINDS for one in all_documents(session, viewer, kind)]
    items = tuple(_item(one) for one in stored)
    bundle = Bundle(items=items, mark=mark_of(items))
    return bundle.model_dump_json(indent=1)


def read_bundle(text: str) -> Bundle:
    """A bundle from its text, every document in it checked.

    Raises
    ------
    BadInputError
        Naming what is wrong; nothing of a bundle that is damaged is good.
    """
    if len(text.encode("utf-8", "surrogatepass")) > LARGEST:
        raise BadInputError("bundle", f"{len(text)} characters", f"at most {LARGEST // 2**20} MB")
    data = read_json(text, "bundle", "a bundle as it was exported, in JSON")
    try:
        bundle = Bundle.model_validate(data)
    except ValidationError as error:
        raise from_validation(error, "bundle", Bundle) from error
    twice = [key for key, n in Counter((i.kind, i.id) for i in bundle.items).items() if n > 1]
    if twice:
        raise BadInputError("bundle", f"{twice[0][1]} twice", "each document once")
    if mark_of(bundle.items) != bundle.mark:
        raise BadInputError(
            "bundle", "not what its mark says", "a bundle that nothing has changed since its export"
        )
    for item in bundle.items:
        found = READERS[item.kind](item.content, name=item.id)
        if isinstance(found, Variant) and found.id != item.id:
            raise BadInputError(f"{item.id}: id", found.id, item.id)
    return bundle


def preview(
    session: DbSession, viewer: Viewer, bundle: Bundle, modeller: Modeller
) -> tuple[BundlePreview, ...]:
    """What taking each item in would do; variants that cannot be modelled say why."""
    variants = tuple(
        found
        for item in bundle.items
        if item.kind == "variant" and isinstance(found := READERS["variant"](item.content), Variant)
    )
    modelled = modeller.model(variants, Body(), effort=usual_effort())
    problems = {
        v.id: str(m) for v, m in zip(variants, modelled, strict=True) if isinstance(m, CurveRankError)
    }
    there = {kind: state_of(session, viewer, kind) for kind in KINDS}
    return tuple(
        _previewed(item, there[item.kind].get(item.id, []), problems.get(item.id, ""))
        for item in bundle.items
    )


def _previewed(item: Item, versions: list[Any], problem: str) -> BundlePreview:
    status, here = _status(item, versions), versions[-1] if versions else None
    if here is None or status == "same":
        return BundlePreview(item, status, problem)
    mine = READERS[item.kind](here, name=item.id)
    shown = differences(here, item.content, mine if isinstance(mine, Variant) else None)
    return BundlePreview(item, status, problem, shown)


def _status(item: Item, versions: list[Any]) -> Status:
    """How an item stands to the versions there are here, oldest first."""
    if not versions:
        return "new"
    if versions[-1] == item.content:
        return "same"
    return "older" if item.content in versions else "differs"


def take_in(session: DbSession, viewer: Viewer, items: Iterable[Item]) -> int:
    """Keep items: new documents, or next versions of those that differ; how many."""
    taken = 0
    for item in items:
        put(session, viewer, item.kind, item.id, READERS[item.kind](item.content, name=item.id))
        taken += 1
    return taken


def _item(stored: StoredText) -> Item:
    content = json.loads(stored.text)
    if stored.kind == "lecture":
        content = validate_lecture(content).of_nobody().model_dump(mode="json")
    return Item.model_validate({"kind": stored.kind, "id": stored.slug, "content": content})
