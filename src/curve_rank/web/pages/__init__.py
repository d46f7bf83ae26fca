"""The pages, and the rooms they stand in."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module

from flask import Blueprint, Flask, current_app

from curve_rank.errors import UnavailableError
from curve_rank.store.viewers import Viewer
from curve_rank.web import current
from curve_rank.web.access import rule_of

PAGES = (
    "home",
    "board",
    "bench",
    "compare",
    "faults",
    "heads",
    "measure",
    "variants",
    "documents",
    "schools",
    "claims",
    "evidence",
    "published",
    "sketch",
    "clients",
    "sets",
    "blocks",
    "mine",
    "today",
    "record",
    "tape",
    "reviews",
    "trials",
    "loads",
    "people",
    "administration",
    "account",
    "sign_in",
    "sources",
    "guide",
    "safety",
    "palette",
)


@dataclass(frozen=True)
class Place:
    """A page as it stands in the navigation: its name, its first address, and the blueprint it is of."""

    name: str
    endpoint: str

    @property
    def blueprint(self) -> str:
        """The blueprint's name."""
        return self.endpoint.partition(".")[0]


@dataclass(frozen=True)
class Room:
    """Pages that belong together."""

    name: str
    places: tuple[Place, ...]


ROOMS = (
    Room(
        "Study",
        (
            Place("Board", "board.show"),
            Place("Bench", "bench.index"),
            Place("Compare", "compare.show"),
            Place("Variants", "variants.index"),
            Place("Heads", "heads.index"),
            Place("Measure", "measure.show"),
        ),
    ),
    Room(
        "Teach",
        (
            Place("Schools", "schools.show"),
            Place("Claims", "claims.show"),
            Place("Faults", "faults.show"),
            Place("Evidence", "evidence.show"),
            Place("Sketch", "sketch.show"),
            Place("Published", "published.show"),
        ),
    ),
    Room(
        "Coach",
        (
            Place("Clients", "clients.index"),
            Place("Sets", "sets.show"),
            Place("Blocks", "blocks.index"),
            Place("Loads", "loads.show"),
            Place("People", "people.show"),
        ),
    ),
    Room(
        "Today",
        (
            Place("Today", "today.show"),
            Place("My block", "mine.show"),
            Place("My record", "record.mine"),
        ),
    ),
)
FOOTER = (
    Place("Sources", "sources.show"),
    Place("Guide", "guide.show"),
    Place("Safety and scope", "safety.show"),
)


def who() -> Viewer | None:
    """Whoever is here; nobody where that cannot be asked."""
    try:
        return current.viewer_or_none()
    except UnavailableError:
        return None


def rooms() -> tuple[tuple[Room, ...], tuple[Place, ...]]:
    """The rooms that whoever is here may enter, and what stands in the footer."""
    viewer = who()
    if viewer is None or not viewer.may_begin:
        return (), FOOTER
    mine = (Room(room.name, tuple(p for p in room.places if _may(viewer, p))) for room in ROOMS)
    return tuple(room for room in mine if room.places), FOOTER


def _may(viewer: Viewer, place: Place) -> bool:
    rule = rule_of(current_app, place.endpoint)
    return rule is not None and (rule.public or bool(rule.roles & viewer.roles))


def register(app: Flask, *, with_patterns: bool) -> None:
    """All pages; that of all components only where it is asked for."""
    for name in (*PAGES, *(("patterns",) if with_patterns else ())):
        blueprint: Blueprint = import_module(f"{__name__}.{name}").blueprint
        app.register_blueprint(blueprint)
