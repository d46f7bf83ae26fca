"""Words of the variant that one's own was made from: which its set-up and curve still bear out."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fnmatch import fnmatchcase
from functools import cache
from typing import Any

from curve_rank.catalogue import words
from curve_rank.catalogue.controls import Control, controls
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target
from curve_rank.rating.words import in_a_row, lower_first, where_hard

USUAL_CUE = "Lower slowly, and keep still what the set-up holds still."
"""What is said where nothing that was said of the parent is true any more."""
NUMBER = re.compile(r"(\d+(?:\.\d+)?)\s?(°|m\b|%)")


@dataclass(frozen=True)
class Offered:
    """A sentence of the parent's, and what speaks against it; nothing where it still holds."""

    text: str
    why_not: str = ""


@dataclass(frozen=True)
class OfferedWords:
    """What the parent says of itself, each sentence with what speaks against it here.

    Attributes
    ----------
    parent : Variant
    moved : tuple of str
        What is set otherwise here, each as a clause.
    summary : Offered
    setup, cues : tuple of Offered
    """

    parent: Variant
    moved: tuple[str, ...]
    summary: Offered
    setup: tuple[Offered, ...]
    cues: tuple[Offered, ...]

    @property
    def struck(self) -> tuple[Offered, ...]:
        """What is not borne out."""
        return tuple(one for one in (self.summary, *self.setup, *self.cues) if one.why_not)

    def kept_in(self, own: Variant) -> Variant:
        """One's own with the sentences that hold, and a plain one where none does."""
        beside = f"As “{self.parent.name}”, but {in_a_row(list(self.moved))}." if self.moved else ""
        text = beside[:400] if len(beside) <= 400 else f"Made from “{self.parent.name}”."
        hold = [[one.text for one in some if not one.why_not] for some in (self.setup, self.cues)]
        return own.model_copy(
            update={
                "summary": text if self.summary.why_not else self.summary.text,
                "setup": tuple(hold[0]) or (text or self.summary.text,),
                "cues": tuple(hold[1]) or (USUAL_CUE,),
            }
        )


def offered(parent: VariantModel, own: VariantModel, target: Target) -> OfferedWords:
    """What the parent says of itself, and what speaks against it in a variant that was made from it.

    Parameters
    ----------
    parent, own : VariantModel
        Both modelled.
    target : Target
        Whose length at the hard spot is meant.
    """
    before, after = ({c.field: c for c in controls(m.variant)} for m in (parent, own))
    moved = {
        field: (was, after[field])
        for field, was in before.items()
        if field in after and abs(after[field].shown - was.shown) > 1e-6
    }
    curve = where_hard(own, target).beside(where_hard(parent, target))
    handle = _other_handle(parent.variant, own.variant)

    def judged(text: str) -> Offered:
        reasons = (
            _numbers(text, before, moved),
            _places(text, moved),
            _handle(text, handle),
            _curve(text, curve),
        )
        return Offered(text, next((why for why in reasons if why), ""))

    says = parent.variant
    clauses = tuple(_clause(now) for _, now in moved.values() if now.group != "path")
    return OfferedWords(
        says,
        (*clauses, *((f"with {handle[1]}",) if handle else ())),
        judged(says.summary),
        tuple(map(judged, says.setup)),
        tuple(map(judged, says.cues)),
    )


@cache
def _vocabulary() -> dict[str, Any]:
    return read_toml("curve_rank.study", "own_words.toml")


def _clause(control: Control) -> str:
    return f"{lower_first(control.name)} {control.words(control.shown)}"


def _here(was: Control, now: Control) -> str:
    here, there = now.words(now.shown), was.words(was.shown)
    return f"{lower_first(now.name)} is {here} here, {there} there"


def _numbers(text: str, before: dict[str, Control], moved: dict[str, tuple[Control, Control]]) -> str:
    """A number that the parent's control shows and one's own does not."""
    for number, unit in NUMBER.findall(text):
        same = [c.field for c in before.values() if c.unit == unit and abs(c.shown - float(number)) < 1e-6]
        if same and all(field in moved for field in same):
            return _here(*moved[same[0]])
    return ""


def _places(text: str, moved: dict[str, tuple[Control, Control]]) -> str:
    """A word for a place or direction whose control has been moved by more than a gym's step."""
    for pattern, spoken in _vocabulary()["fields"].items():
        if not re.search(spoken, text, re.IGNORECASE):
            continue
        for field, (was, now) in moved.items():
            is_of_it = fnmatchcase(field, pattern) or field.startswith(pattern)
            if is_of_it and abs(now.shown - was.shown) >= now.gym:
                return _here(was, now)
    return ""


def _other_handle(parent: Variant, own: Variant) -> tuple[str, str] | None:
    was, now = parent.equipment.handle, own.equipment.handle
    if was == now or was is None or now is None:
        return None
    return lower_first(words.handles()[was]), lower_first(words.handles()[now])


def _handle(text: str, other: tuple[str, str] | None) -> str:
    if other and re.search(rf"\b{re.escape(other[0].split()[-1])}", text, re.IGNORECASE):
        return f"held by {other[1]} here"
    return ""


def _curve(text: str, curve: tuple[str, ...]) -> str:
    if curve and re.search(_vocabulary()["curve"], text, re.IGNORECASE):
        return "; ".join(lower_first(one) for one in curve)
    return ""
