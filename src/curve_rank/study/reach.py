"""How far a change goes: where a set-up cannot be, the nearest on the way there that can."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from curve_rank.catalogue.changes import changed, value_at
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import CurveRankError

HALVINGS = 6


Checked = TypeVar("Checked")


@dataclass(frozen=True)
class Reach(Generic[Checked]):
    """The changes that were made, what their check gave, and why not all the way where they were not."""

    changes: tuple[Change, ...]
    checked: Checked
    problem: str = ""


def as_far_as(
    variant: Variant,
    made: tuple[Change, ...],
    wanted: tuple[Change, ...],
    check: Callable[[Variant], Checked],
    pose: Callable[[Variant], object] = lambda variant: variant,
) -> Reach[Checked]:
    """Make changes, or go towards them until the set-up can no longer be.

    Parameters
    ----------
    variant : Variant
        As saved.
    made : tuple of Change
        Made before; with them the set-up can be.
    wanted : tuple of Change
        Made now, numbers all the same part of their way.
    check : callable
        What a set-up is checked by; raises where it cannot be.
    pose : callable, optional
        The same, quicker and less strict: it is asked first, on the way there.

    Raises
    ------
    CurveRankError
        When the set-up cannot be even before, or what is wanted is no number.
    """
    kept = tuple(change for change in made if change.field not in {w.field for w in wanted})
    try:
        return Reach(kept + wanted, check(changed(variant, kept + wanted)))
    except CurveRankError as error:
        before = changed(variant, made)
        ways = [(w, value_at(before, w.field)) for w in wanted]
        if not all(isinstance(w.set, float) and isinstance(start, int | float) for w, start in ways):
            raise

        def part_way(part: float) -> tuple[Change, ...]:
            return kept + tuple(
                Change(field=w.field, set=round(start + part * (float(w.set or 0.0) - start), 2))
                for w, start in ways
            )

        for tried in (pose, check):
            reached = _farthest(lambda part: changed(variant, part_way(part)), tried)
            changes = part_way(reached) if reached else made
            try:
                return Reach(changes, check(changed(variant, changes)), str(error))
            except CurveRankError:
                continue
        raise


def _farthest(part_way: Callable[[float], Variant], check: Callable[[Variant], object]) -> float:
    """The farthest part of the way, by halves, at which a check does not raise."""
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        part = (low + high) / 2
        try:
            check(part_way(part))
            low = part
        except CurveRankError:
            high = part
    return low
