"""What the model cannot tell by construction, and where that is to be said."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.targets import Target


@dataclass(frozen=True)
class CannotTell:
    """A question the model has no answer to, and why."""

    key: str
    question: str
    why: str
    targets: tuple[str, ...] = ()
    groups: tuple[str, ...] = ()
    turned: bool = False


@cache
def questions() -> tuple[CannotTell, ...]:
    """All of them."""
    table = read_toml("curve_rank.rating", "cannot_tell.toml")
    return tuple(
        CannotTell(
            key,
            entry["question"],
            entry["why"],
            tuple(entry.get("targets", ())),
            tuple(entry.get("groups", ())),
            entry.get("turned", False),
        )
        for key, entry in table.items()
    )


def about_target(target: Target) -> tuple[CannotTell, ...]:
    """Those that a question about a target comes upon."""
    return tuple(one for one in questions() if target.key in one.targets)


def about_variant(variant: Variant) -> tuple[CannotTell, ...]:
    """Those that a set-up brings up."""
    turned = variant.hand_path is not None or any(
        variant.posture.rotation if key.rotation is None else key.rotation for key in variant.path
    )
    return tuple(one for one in questions() if variant.group in one.groups or (one.turned and turned))
