"""Writes the JSON Schema of a variant document to docs/variant-1.schema.json."""

from __future__ import annotations

import json
from pathlib import Path

from curve_rank.catalogue.schema import Variant

TARGET = Path(__file__).parent.parent / "docs" / "variant-1.schema.json"


def schema_text() -> str:
    """The schema as it should stand in docs/."""
    schema = Variant.model_json_schema() | {"$schema": "https://json-schema.org/draft/2020-12/schema"}
    return json.dumps(schema, indent=2, ensure_ascii=False) + "\n"


if __name__ == "__main__":
    TARGET.write_text(schema_text(), encoding="utf-8")
