"""Writes the JSON Schemas of what is handed out, and the glossary, to docs/."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, create_model

from curve_rank.catalogue.glossary import glossary_text
from curve_rank.catalogue.profiles import MachineProfile
from curve_rank.catalogue.schema import OwnFault, Variant
from curve_rank.exchange.bundles import Bundle, Item
from curve_rank.house.release import ReleaseDocument
from curve_rank.rating.lenses import LensDocument
from curve_rank.study.claims import Claim
from curve_rank.study.lecture import Lecture

DOCS = Path(__file__).parent.parent / "docs"
DRAFT = {"$schema": "https://json-schema.org/draft/2020-12/schema"}
CONTENTS: dict[str, type[BaseModel]] = {
    "variant": Variant,
    "lens": LensDocument,
    "fault": OwnFault,
    "claim": Claim,
    "profile": MachineProfile,
    "lecture": Lecture,
}


def variant_schema() -> dict[str, Any]:
    """The schema of a variant's document."""
    return Variant.model_json_schema() | DRAFT


def bundle_schema() -> dict[str, Any]:
    """The schema of a bundle: each item's content by its kind."""
    kinds: list[Any] = [
        create_model(
            f"{kind.title()}Item",
            __config__=ConfigDict(extra="forbid"),
            kind=(Literal[kind], ...),
            id=(Item.model_fields["id"].rebuild_annotation(), ...),
            content=(content, ...),
        )
        for kind, content in CONTENTS.items()
    ]
    item: Any = kinds[0]
    for one in kinds[1:]:
        item = item | one
    most = next(
        part.max_length for part in Bundle.model_fields["items"].metadata if hasattr(part, "max_length")
    )
    documented = create_model(
        "Bundle",
        __config__=ConfigDict(extra="forbid"),
        format=(Literal["curve-rank-bundle"], ...),
        schema_version=(Literal[1], ...),
        items=(
            Annotated[tuple[Annotated[item, Field(discriminator="kind")], ...], Field(max_length=most)],
            ...,
        ),
        mark=(Annotated[str, Field(description="SHA-256 of the items as JSON, keys sorted, no spaces")], ...),
    )
    return documented.model_json_schema() | DRAFT


def release_schema() -> dict[str, Any]:
    """The schema of what a house tells others."""
    return ReleaseDocument.model_json_schema() | DRAFT


SCHEMAS = {
    "variant-1.schema.json": variant_schema,
    "bundle-1.schema.json": bundle_schema,
    "house-release-1.schema.json": release_schema,
}


def schema_text(name: str = "variant-1.schema.json") -> str:
    """A schema as it should stand in docs/."""
    return json.dumps(SCHEMAS[name](), indent=2, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    for name in SCHEMAS:
        (DOCS / name).write_text(schema_text(name), encoding="utf-8")
    (DOCS / "glossary.md").write_text(glossary_text(), encoding="utf-8")
