"""The pages, and the rooms they stand in."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module

from flask import Blueprint, Flask

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
    "sets",
    "loads",
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
    Room("Coach", (Place("Sets", "sets.show"), Place("Loads", "loads.show"))),
)
FOOTER = (
    Place("Sources", "sources.show"),
    Place("Guide", "guide.show"),
    Place("Safety and scope", "safety.show"),
)


def rooms() -> tuple[tuple[Room, ...], tuple[Place, ...]]:
    """The rooms, and what stands in the footer."""
    return ROOMS, FOOTER


def register(app: Flask, *, with_patterns: bool) -> None:
    """All pages; that of all components only where it is asked for."""
    for name in (*PAGES, *(("patterns",) if with_patterns else ())):
        blueprint: Blueprint = import_module(f"{__name__}.{name}").blueprint
        app.register_blueprint(blueprint)
