"""What pydantic refuses, as an error of our own: the field, what stood there, and what would be right."""

from __future__ import annotations

import json
import unicodedata
from collections.abc import Collection, Iterator
from difflib import get_close_matches
from typing import Any, TypeVar

from pydantic import BaseModel, ValidationError

from curve_rank.errors import BadInputError

Model = TypeVar("Model", bound=BaseModel)
LISTED = 12
"""So many names are listed; of more only the nearest is told."""
RIGHT = {
    "missing": "a value; it cannot be left out",
    "string_type": "text",
    "string_unicode": "text without halves of characters",
    "string_too_short": "at least {min_length} character",
    "string_too_long": "at most {max_length} characters",
    "string_pattern_mismatch": "text of the form {pattern}",
    "int_type": "a whole number",
    "int_parsing": "a whole number",
    "int_parsing_size": "a whole number with fewer digits",
    "int_from_float": "a whole number",
    "float_type": "a number",
    "float_parsing": "a number",
    "finite_number": "a number that is not infinite",
    "bool_type": "true or false",
    "bool_parsing": "true or false",
    "greater_than": "more than {gt:g}",
    "greater_than_equal": "at least {ge:g}",
    "less_than": "less than {lt:g}",
    "less_than_equal": "at most {le:g}",
    "literal_error": "{expected}",
    "union_tag_invalid": "one of {expected_tags}",
    "union_tag_not_found": "a field “kind” that says what it is",
    "too_short": "at least {min_length} entries",
    "too_long": "at most {max_length} entries",
    "tuple_type": "a list",
    "list_type": "a list",
    "dict_type": "a table of fields",
    "model_type": "a table of fields",
    "model_attributes_type": "a table of fields",
}
UNSEEN = {"Cc": "control characters", "Cs": "halves of characters", "Cn": "characters that do not exist"}
TURNING = frozenset("\u061c\u200e\u200f\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069\ufeff")


def from_validation(
    error: ValidationError, name: str, model: type[BaseModel], *, passed_over: Collection[str] = ()
) -> BadInputError:
    """The first complaint of a pydantic model, as an error of our own.

    Parameters
    ----------
    error : ValidationError
        What pydantic says.
    name : str
        What was read ("variant", "lens"); empty to name the field alone.
    model : type
        The model that refused.
    passed_over : collection of str
        Steps of the path that a person did not write, as the tags of a union.
    """
    first = error.errors(include_url=False)[0]
    steps = [step for step in first["loc"] if step not in passed_over]
    field = ": ".join(part for part in (name, ".".join(map(str, steps))) if part)
    more = f" (and {error.error_count() - 1} more)" if error.error_count() > 1 else ""
    value = None if first["type"] == "missing" else _plain(first["input"])
    return BadInputError(field, value, _right(first, steps, model) + more)


def seen(text: str) -> str:
    """Text without anything in it that cannot be seen.

    Raises
    ------
    ValueError
        For control characters but line ends and tabs, and for marks that turn the direction of writing.
    """
    if text.isprintable():  # nearly always, and then nothing unseen is among it
        return text
    for character in text:
        what = UNSEEN.get(unicodedata.category(character)) if character not in "\n\t\r" else None
        if what or character in TURNING:
            told = what or "marks that turn the direction of writing"
            raise ValueError(f"text without {told} (here U+{ord(character):04X})")
    return text


def _right(first: Any, steps: list[Any], model: type[BaseModel]) -> str:
    kind, context = first["type"], first.get("ctx", {})
    if kind == "extra_forbidden":
        return near(str(steps[-1]), sorted(_fields(model.model_json_schema(), steps[:-1])))
    if kind in RIGHT:
        return RIGHT[kind].format(**context)
    return str(first["msg"]).removeprefix("Value error, ").removeprefix("Input should be ")


def validated(model: type[Model], data: Any, name: str, passed_over: Collection[str] = ()) -> Model:
    """A document of a model from plain data; `passed_over` as in `from_validation`.

    Raises
    ------
    BadInputError
    """
    try:
        return model.model_validate(data)
    except ValidationError as error:
        raise from_validation(error, name, model, passed_over=passed_over) from error


def read_json(text: str, name: str, right: str) -> Any:
    """What a JSON text holds.

    Raises
    ------
    BadInputError
        Also for brackets within brackets that go too deep, and for numbers of thousands of digits.
    """
    try:
        return json.loads(text.removeprefix("\ufeff"))
    except (ValueError, RecursionError) as error:
        raise BadInputError(name, "unreadable", f"{right} ({error})") from error


def near(name: str, fields: list[str], what: str = "a field") -> str:
    """What a name that is none may have meant."""
    near = get_close_matches(name, fields, n=1, cutoff=0.6)
    if near:
        return f"{what} that there is; “{near[0]}” comes nearest"
    return f"one of: {', '.join(fields)}" if len(fields) <= LISTED else f"{what} that there is"


def _fields(schema: dict[str, Any], steps: list[Any]) -> set[str]:
    """Names of the fields at a place in a document, in every form that may stand there."""
    places = [schema]
    for step in steps:
        places = [inner for place in places for inner in _inside(schema, place, step)]
    return {name for place in places for one in _forms(schema, place) for name in one.get("properties", {})}


def _inside(whole: dict[str, Any], place: dict[str, Any], step: Any) -> Iterator[dict[str, Any]]:
    for form in _forms(whole, place):
        if isinstance(step, int):
            yield from (form["items"],) if "items" in form else ()
        elif step in form.get("properties", {}):
            yield form["properties"][step]


def _forms(whole: dict[str, Any], place: dict[str, Any]) -> Iterator[dict[str, Any]]:
    if "$ref" in place:
        yield from _forms(whole, whole["$defs"][place["$ref"].rpartition("/")[2]])
    elif "anyOf" in place or "oneOf" in place:
        for one in place.get("anyOf", place.get("oneOf", ())):
            yield from _forms(whole, one)
    else:
        yield place


def _plain(value: Any) -> Any:
    """A value as it can be shown in a sentence."""
    if isinstance(value, dict):
        return f"a table of {len(value)} fields"
    if isinstance(value, list | tuple):
        return f"a list of {len(value)}"
    if isinstance(value, int) and not isinstance(value, bool) and abs(value) >= 10**40:
        return "a number of more than 40 digits"
    return value if isinstance(value, str | int | float | bool | None) else type(value).__name__
