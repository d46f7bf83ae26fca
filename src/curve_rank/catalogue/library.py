"""Reads variant documents: the built-in ones, and any text a person hands in."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import cache
from importlib.resources import files
from typing import Any, Protocol, TypeVar

import tomli

from curve_rank.catalogue.schema import OwnFault, Variant
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.validation import near, validated


class _WithId(Protocol):
    @property
    def id(self) -> str: ...


Document = TypeVar("Document", bound=_WithId)
LARGEST_DOCUMENT = 64 * 1024
MOST_DOTS = 100
LINE_KINDS = ("weight", "cable", "band", "machine", "body_weight")


@cache
def built_in() -> tuple[Variant, ...]:
    """The built-in variants, by family then name.

    Raises
    ------
    BadInputError
        When a shipped document is not a valid variant, naming file and field.
    """
    found = shipped("variants", lambda text, name: parse_variant(text, name=name))
    return tuple(sorted(found, key=lambda v: (v.group != "flexors", v.family, v.name)))


def shipped(folder: str, read: Callable[[str, str], Document]) -> list[Document]:
    """All documents of one of the catalogue's folders, each under its id.

    Parameters
    ----------
    folder : str
        Its name.
    read : callable
        Makes a document of a file's text and name.

    Raises
    ------
    BadInputError
        Where one is not valid, or its id is not the file's name.
    """
    found = []
    for entry in files("curve_rank.catalogue").joinpath(folder).iterdir():
        if entry.name.endswith(".toml"):
            one = read(entry.read_text(encoding="utf-8"), entry.name)
            if f"{one.id}.toml" != entry.name:
                raise BadInputError(f"{entry.name}: id", one.id, "the file's name without .toml")
            found.append(one)
    return found


def variant_line(variant: Variant) -> dict[str, Any]:
    """A variant in a list."""
    return {
        "id": variant.id,
        "name": variant.name,
        "target": variant.group,
        "family": variant.family,
        "loads": list(variant.equipment.loads),
        "bench": variant.equipment.bench,
        "summary": variant.summary,
    }


def find_variant(variant_id: str, variants: tuple[Variant, ...]) -> Variant:
    """The variant with that id, or that what had the id was merged into.

    Raises
    ------
    UnknownNameError
    """
    for variant in variants:
        if variant.id == variant_id or variant_id in variant.aliases:
            return variant
    what = "the id of a variant, as `curve-rank variants` and the board list them,"
    raise UnknownNameError("variant", variant_id, near(variant_id, [one.id for one in variants], what))


def parse_variant(text: str, *, name: str) -> Variant:
    """A variant from the text of a TOML or JSON document.

    Parameters
    ----------
    text : str
        At most 64 KiB; JSON when it starts with a brace.
    name : str
        What to call the document in messages.

    Raises
    ------
    BadInputError
        Naming the field, its value and what would be right.
    """
    if len(text.encode()) > LARGEST_DOCUMENT:
        raise BadInputError(name, f"{len(text.encode())} bytes", f"at most {LARGEST_DOCUMENT} bytes")
    return validate_variant(plain_data(text, name=name), name=name)


def plain_data(text: str, *, name: str) -> Any:
    """What a TOML or JSON text holds.

    Raises
    ------
    BadInputError
    """
    text = text.removeprefix("\ufeff")
    is_json = text.lstrip().startswith("{")
    if not is_json and any(line.count(".") > MOST_DOTS for line in text.splitlines()):
        # Time to read a TOML key grows with the square of its parts.
        raise BadInputError(name, "unreadable", f"at most {MOST_DOTS} dots in a line")
    try:
        return json.loads(text) if is_json else tomli.loads(text)
    except (ValueError, RecursionError) as error:  # numbers of thousands of digits are a plain ValueError
        raise BadInputError(name, "unreadable", f"a TOML or JSON document ({error})") from error


def validate_fault(data: Any, *, name: str = "fault") -> OwnFault:
    """A fault of one's own from plain data; errors as in `parse_variant`."""
    return validated(OwnFault, data, name)


def validate_variant(data: Any, *, name: str = "variant") -> Variant:
    """A variant from plain data; errors as in `parse_variant`."""
    return validated(Variant, data, name, passed_over=LINE_KINDS)


def is_called(variant: Variant, words: str) -> bool:
    """Whether every word stands somewhere in a variant's names, summary, set-up or cues."""
    text = " ".join(
        (variant.id, variant.name, *variant.also_called, variant.summary, *variant.setup, *variant.cues)
    ).casefold()
    return all(word in text for word in words.casefold().split())
