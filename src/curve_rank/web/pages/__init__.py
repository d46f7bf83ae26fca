"""The pages, and the rooms they stand in."""

from __future__ import annotations

from dataclasses import dataclass
from importlib import import_module

from flask import Blueprint, Flask, request

from curve_rank.errors import UnavailableError
from curve_rank.store.house import pooling
from curve_rank.store.viewers import Viewer
from curve_rank.web import current
from curve_rank.web.access import may_enter

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
    "doubt",
    "evidence",
    "published",
    "taking",
    "lectures",
    "sketch",
    "clients",
    "sets",
    "blocks",
    "mine",
    "today",
    "record",
    "stretches",
    "tape",
    "reviews",
    "trials",
    "loads",
    "people",
    "house",
    "house_trials",
    "administration",
    "account",
    "sign_in",
    "sources",
    "guide",
    "api",
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
class PageGroup:
    """Pages that belong together."""

    name: str
    places: tuple[Place, ...]


ROOMS = (
    PageGroup(
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
    PageGroup(
        "Teach",
        (
            Place("Lectures", "lectures.show"),
            Place("Schools", "schools.show"),
            Place("Claims", "claims.show"),
            Place("Faults", "faults.show"),
            Place("Evidence", "evidence.show"),
            Place("Sketch", "sketch.show"),
            Place("Published", "published.show"),
        ),
    ),
    PageGroup(
        "Coach",
        (
            Place("Clients", "clients.index"),
            Place("Sets", "sets.show"),
            Place("Blocks", "blocks.index"),
            Place("Loads", "loads.show"),
            Place("People", "people.show"),
            Place("House", "house.show"),
        ),
    ),
    PageGroup(
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
WITHIN = {
    "tape": "record",
    "stretches": "today",
    "reviews": "record",
    "trials": "blocks",
    "house_trials": "house",
    "documents": "variants",
    "administration": "people",
}
"""Pages without a place of their own, and the page in whose place they stand, as blueprints."""
ONES_OWN = ("record", "today")
"""Places of one's own; the same pages of somebody else stand with the clients."""


def who() -> Viewer | None:
    """Whoever is here; nobody where that cannot be asked."""
    try:
        return current.viewer_or_none()
    except UnavailableError:
        return None


def spoken() -> str:
    """The name of the edition in which loads speak, for whoever is here; empty for the published model."""
    viewer = who()
    if viewer is None:
        return ""
    edition = pooling.speaking(current.session(), viewer.person)
    return edition.name if edition else ""


def rooms() -> tuple[tuple[PageGroup, ...], tuple[Place, ...]]:
    """The rooms that whoever is here may enter, and what stands in the footer."""
    viewer = who()
    if viewer is None or not viewer.may_begin:
        return (), FOOTER
    mine = (PageGroup(room.name, tuple(p for p in room.places if may_enter(p.endpoint))) for room in ROOMS)
    return tuple(room for room in mine if room.places), FOOTER


def place_here() -> str:
    """The blueprint in whose place the page that is asked for stands; empty where there is no such page."""
    name = WITHIN.get(request.blueprint or "", request.blueprint or "")
    whose = (request.view_args or {}).get("person") or request.args.get("for")
    viewer = who()
    of_another = whose is not None and viewer is not None and str(whose) != str(viewer.person)
    return "clients" if of_another and name in ONES_OWN else name


def register(app: Flask, *, with_patterns: bool) -> None:
    """All pages; that of all components only where it is asked for."""
    for name in (*PAGES, *(("patterns",) if with_patterns else ())):
        blueprint: Blueprint = import_module(f"{__name__}.{name}").blueprint
        app.register_blueprint(blueprint)
