"""Targets: the heads, and groups of heads, that a question can name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from typing import TypeVar

from curve_rank.arm.parameters import parameter_set
from curve_rank.errors import UnknownNameError
from curve_rank.validation import near

Entry = TypeVar("Entry")


@dataclass(frozen=True)
class Target:
    """What a ranking is for: one head, or several weighted by their peak force."""

    key: str
    name: str
    group: str
    heads: tuple[str, ...]

    @property
    def judged(self) -> Target:
        """What is judged in its place: the model cannot tell the medial head from the lateral."""
        return targets()["triceps_lateral"] if self.key == "triceps_medial" else self


@cache
def targets() -> dict[str, Target]:
    """Every head that can be a target, and the groups, in reading order."""
    counted = [h for h in parameter_set().heads if h.counted]
    heads = [Target(h.key, h.name, h.group, (h.key,)) for h in counted]
    flexors = tuple(h.key for h in counted if h.group == "flexors")
    extensors = tuple(h.key for h in counted if h.group == "extensors")
    groups = [
        Target("biceps", "Biceps, both heads", "flexors", ("biceps_long", "biceps_short")),
        Target("flexors", "Elbow flexors", "flexors", flexors),
        Target("extensors", "Triceps, all heads", "extensors", extensors),
    ]
    ordered = heads[:2] + groups[:1] + heads[2:4] + groups[1:2] + heads[4:] + groups[2:]
    return {target.key: target for target in ordered}


def long_head(group: str) -> Target:
    """The long head of a group: what is looked at where nobody asks for another."""
    return targets()["biceps_long" if group == "flexors" else "triceps_long"]


LISTED = 40
"""So many names are listed where one is unknown."""


def known(kind: str, key: str, table: Mapping[str, Entry]) -> Entry:
    """The table's entry, or an error that lists what there is; of very many only what comes nearest.

    Raises
    ------
    UnknownNameError
    """
    if key not in table:
        few = len(table) <= LISTED
        raise UnknownNameError(
            kind, key, "one of: " + ", ".join(table) if few else near(key, list(table), f"a {kind}")
        )
    return table[key]
