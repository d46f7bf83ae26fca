"""What differs between two states of one document, field by field, in words."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import zip_longest
from typing import Any

from curve_rank.catalogue.controls import Control, controls
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.criteria import criteria

NOTHING = "–"
MISSING = object()


@dataclass(frozen=True)
class FieldDifference:
    """One field that is not the same: what it is called, what stands here and what comes."""

    field: str
    here: str
    there: str


def differences(
    here: dict[str, Any], there: dict[str, Any], variant: Variant | None = None
) -> tuple[FieldDifference, ...]:
    """Every field that differs, in the document's order.

    Parameters
    ----------
    here, there : dict
        Both states as plain data.
    variant : Variant, optional
        What stands here, where it is a variant: what the bench can move is named as it is there.
    """
    named = {control.field: control for control in controls(variant)} if variant else {}
    return tuple(_said(path, one, other, named) for path, one, other in _leaves((), here, there))


def _leaves(path: tuple[str, ...], here: Any, there: Any) -> Iterator[tuple[tuple[str, ...], Any, Any]]:
    if here == there:
        return
    if isinstance(here, dict) and isinstance(there, dict):
        for key in dict.fromkeys((*here, *there)):
            yield from _leaves((*path, str(key)), here.get(key, MISSING), there.get(key, MISSING))
    elif not (isinstance(here, list) and isinstance(there, list)):
        yield path, here, there
    elif any(isinstance(value, dict) for value in here + there):
        for n, (one, other) in enumerate(zip_longest(here, there, fillvalue=MISSING)):
            yield from _leaves((*path, str(n)), one, other)
    else:
        gone, come = [v for v in here if v not in there], [v for v in there if v not in here]
        yield (path, gone, come) if gone or come else (path, here, there)  # only the order differs


def _said(path: tuple[str, ...], here: Any, there: Any, named: dict[str, Control]) -> FieldDifference:
    control = named.get(".".join(path))
    if control is None:
        return FieldDifference(_name(path), _plain(here), _plain(there))
    return FieldDifference(control.name, _shown(control, here), _shown(control, there))


def _shown(control: Control, value: Any) -> str:
    if not isinstance(value, int | float):
        return _plain(value)
    return control.words(control.offset + control.sign * control.scale * value)


def _name(path: tuple[str, ...]) -> str:
    words = [str(int(part) + 1) if part.isdigit() else _word(part) for part in path]
    return ", ".join(words).capitalize() if words else "All of it"


def _word(part: str) -> str:
    known = criteria().get(part)
    return known.name.lower() if known else part.replace("_", " ")


def _plain(value: Any) -> str:
    if value is MISSING or value in (None, "", [], {}):
        return NOTHING
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return " · ".join(map(_plain, value))
    if isinstance(value, dict):
        return ", ".join(f"{_word(str(key))}: {_plain(one)}" for key, one in value.items() if one is not None)
    return f"{value:g}".replace("-", "−") if isinstance(value, float) else str(value)
