"""Small edits of a variant document by dotted path: `--set` on the command line, sliders, faults."""

from __future__ import annotations

import re
from typing import Any

from curve_rank.catalogue.library import validate_variant
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import BadInputError
from curve_rank.validation import near

PROTECTED = ("schema_version", "id", "target")


def changed(variant: Variant, changes: tuple[Change, ...]) -> Variant:
    """The variant with changes applied and checked again as a whole.

    Raises
    ------
    BadInputError
        When a path does not exist or the result is not a valid variant.
    """
    data = variant.model_dump(mode="json")
    for change in changes:
        _apply(data, change)
    return validate_variant(data, name="set")


def value_at(variant: Variant, field: str) -> Any:
    """What stands at a dotted path of the document.

    Raises
    ------
    BadInputError
        When there is no such field.
    """
    place: Any = variant.model_dump(mode="json")
    for step in field.split("."):
        place = _step(place, step, field)
    return place


def parse_setting(text: str) -> Change:
    """A change from "path=value" as typed on the command line or in an address.

    Raises
    ------
    BadInputError
    """
    field, equals, raw = text.partition("=")
    if not equals or not field or not raw.strip():
        raise BadInputError("--set", text, "path=value, as in posture.trunk_pitch=-30")
    try:
        return Change(field=field.strip(), set=_typed(raw.strip()))
    except ValueError as error:
        raise BadInputError(
            "--set", text, "a dotted path of the document, as in posture.trunk_pitch=-30"
        ) from error


def _typed(raw: str) -> float | str | bool:
    if raw in ("true", "false"):
        return raw == "true"
    try:
        return float(raw)
    except ValueError:
        return raw


def _apply(data: dict[str, Any], change: Change) -> None:
    *parents, last = change.field.split(".")
    if change.field.split(".")[0] in PROTECTED:
        raise BadInputError(change.field, change.set, "this field cannot be changed")
    place: Any = data
    for step in parents:
        place = _step(place, step, change.field)
    current = _step(place, last, change.field)
    if change.add is not None:
        if current is None:
            current = data["posture"].get(last, (data.get("hand_path") or {}).get(last))
        if not isinstance(current, int | float):
            raise BadInputError(change.field, current, "a number, to add to")
        value: Any = current + change.add
    else:
        value = change.set
    place[int(last) if isinstance(place, list) else last] = value


def _step(place: Any, step: str, field: str) -> Any:
    if isinstance(place, dict) and step in place:
        return place[step]
    if (
        isinstance(place, list)
        and re.fullmatch("-?[0-9]{1,3}", step)
        and -len(place) <= int(step) < len(place)
    ):
        return place[int(step)]
    if isinstance(place, dict):
        raise BadInputError(field, step, near(step, sorted(place)))
    raise BadInputError(
        field, step, f"a place in a list of {len(place)}" if isinstance(place, list) else "no more steps"
    )
