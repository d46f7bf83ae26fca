"""Equipment to hand: what a set-up needs of it, and what of that is not there.

Equipment is named by the keys of `words.equipment()`, and a machine of one's own by its variant's id. Nothing
named stands for everything; once something is named, nothing else is there.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable

from curve_rank.catalogue import words
from curve_rank.catalogue.profiles import has_machine
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import UnknownNameError

OWN = "own-"
"""How ids of variants of one's own begin."""
NO_BENCH = "no_bench"
"""Stands for nothing: so addresses of before say that there is no bench."""


def is_own_machine(variant: Variant) -> bool:
    """Whether it is done on one machine alone, which somebody measured or wrote down."""
    return variant.id.startswith(OWN) and has_machine(variant)


def kinds_of_equipment(variants: Iterable[Variant]) -> tuple[dict[str, str], ...]:
    """All that can stand in a room, names by key: loads, benches, machines of one's own among variants."""
    return words.loads(), words.benches(), {one.id: one.name for one in variants if is_own_machine(one)}


def benches_of(variant: Variant) -> tuple[str, ...]:
    """What it is done on that must stand there beside its load: a machine's own pads come with it."""
    bench = variant.equipment.bench
    return (bench,) if bench and not has_machine(variant) else ()


def check_equipment(named: Iterable[str]) -> None:
    """Refuse what is no equipment.

    Raises
    ------
    UnknownNameError
        For a key that is neither a kind nor the id of a variant of one's own.
    """
    for item in named:
        if item not in words.equipment() and not item.startswith(OWN):
            right = f"one of: {', '.join(words.equipment())}, or the id of a machine of your own"
            raise UnknownNameError("equipment", item, right)


def missing(needed: Iterable[str], there: Collection[str]) -> list[str]:
    """What of the equipment that is needed is not there; nothing named is everything."""
    return [item for item in needed if item not in there] if there else []


def lacking(variant: Variant, there: Collection[str]) -> str:
    """What a variant needs that is not there, in words; nothing where it can be done.

    Parameters
    ----------
    variant : Variant
        The set-up.
    there : collection of str
        Equipment to hand. Empty: everything. Machines of one's own are there by id, or all of them where
        only "machine" is named.
    """
    loads: tuple[str, ...] = variant.equipment.loads
    if is_own_machine(variant):
        by_id = any(item.startswith(OWN) for item in there)
        if variant.id in there or ("machine" in there and not by_id):
            loads = tuple(load for load in loads if load != "machine")
        elif by_id:
            return "needs a machine that does not stand here"
    named = [words.equipment()[item] for item in missing((*loads, *benches_of(variant)), there)]
    return "needs " + " and ".join(named) if named else ""


def is_done_with(variant: Variant, wanted: Collection[str]) -> bool:
    """Whether a variant is done with all of the equipment that is wanted."""
    bench = variant.equipment.bench
    has = {*variant.equipment.loads, bench or NO_BENCH, *([variant.id] if is_own_machine(variant) else [])}
    return has.issuperset(wanted)
