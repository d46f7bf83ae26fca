"""What is taken along from a page, by its address."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from curve_rank.answers.bench import BenchView
from curve_rank.answers.bench_state import BenchRequest, state_of
from curve_rank.answers.board import BoardRequest, board
from curve_rank.answers.claims import claim_answer, weighed
from curve_rank.answers.client import Client
from curve_rank.answers.compare import CompareRequest, side_by_side
from curve_rank.answers.faults import FaultsRequest, faults_priced
from curve_rank.answers.heads import HeadRequest, head_map_of
from curve_rank.answers.leaflets.claimed import a_claim
from curve_rank.answers.leaflets.ranked import a_set, priced_faults, ranking
from curve_rank.answers.leaflets.studied import a_plate, a_study, a_variant, comparison, steps
from curve_rank.answers.means import Means
from curve_rank.answers.people import client_for, whose
from curve_rank.answers.requests import Address
from curve_rank.answers.series import SeriesRequest, stepped
from curve_rank.answers.sets import SetRequest, chosen_set
from curve_rank.answers.variants import VariantRequest, about_a_variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.exchange.leaflet import Leaflet, read_in
from curve_rank.rating.targets import known
from curve_rank.store.database import DbSession
from curve_rank.store.profiles import unit_of
from curve_rank.store.viewers import Viewer

CAN_BE = "a page with “Take with you”, as in /board?target=biceps_long or /variants/chin-up"


def leaflet_from(db: DbSession, viewer: Viewer, means: Means, page: str, unit: str = "") -> Leaflet:
    """What is taken along from a page, by its address; its masses in the viewer's unit, or in another.

    Raises
    ------
    BadInputError
        For a page from which nothing can be taken, and what stands in its way.
    """
    path, _, query = page.partition("?")
    try:
        unit = unit or unit_of(db, viewer.person)
        found = _from(unit, db, viewer, means, tuple(path.strip("/").split("/")), Address(query))
    except CurveRankError as error:
        raise BadInputError("PAGE", page, f"{CAN_BE} ({error})") from error
    return read_in(found, unit)


def _from(
    unit: str, db: DbSession, viewer: Viewer, means: Means, path: tuple[str, ...], values: Address
) -> Leaflet:
    room, name = "/".join(path[: max(1, len(path) - 1)]), path[-1]
    reader = READERS.get(path[0] if len(path) == 1 else f"{room}/*")
    if reader is None:
        raise BadInputError("path", "/" + "/".join(path), "one of those")
    return reader(_Asked(unit, db, viewer, means, name, values))


@dataclass(frozen=True)
class _Asked:
    """The last name of an address and its query, and who asks with what, in which unit."""

    unit: str
    db: DbSession
    viewer: Viewer
    means: Means
    name: str
    values: Address

    def client(self, person: int | None) -> Client:
        return client_for(self.db, self.viewer, person)


def _board(page: _Asked) -> Leaflet:
    asked = BoardRequest.read(page.values)
    question = asked.of(page.client(asked.person), page.means.library)
    return ranking(question, board(page.means, question.question))


def _bench(page: _Asked) -> Leaflet:
    asked = BenchRequest.read(page.values)
    state = state_of(page.means, page.name, asked, page.client(asked.person))
    return a_study(BenchView(state, state.model()))


def _compare(page: _Asked) -> Leaflet:
    asked = CompareRequest.read(page.values)
    return comparison(side_by_side(page.means, asked.of(page.client(asked.person), page.means.library)))


def _series(page: _Asked) -> Leaflet:
    asked = SeriesRequest.read(page.values)
    series = asked.of(page.means.library.variant(page.name), page.client(asked.person))
    return steps(stepped(page.means, series.question, page.unit))


def _head(page: _Asked) -> Leaflet:
    asked = HeadRequest.read(page.values).of(page.name, page.means.library)
    return a_plate(head_map_of(page.means, asked))


def _claim(page: _Asked) -> Leaflet:
    library = page.means.library
    claims = {page.name: known("claim", page.name, library.claims)}
    (entry,) = weighed(library, claims, page.means.modeller)
    return a_claim(claim_answer(page.means, entry))


def _variant(page: _Asked) -> Leaflet:
    asked = VariantRequest.read(page.values)
    return a_variant(about_a_variant(page.means, asked.of(page.name, page.client(asked.person), page.means)))


def _faults(page: _Asked) -> Leaflet:
    asked = FaultsRequest.read(page.values)
    return priced_faults(faults_priced(page.means, asked.of(page.client(asked.person), page.means.library)))


def _set(page: _Asked) -> Leaflet:
    asked = SetRequest.read(page.values)
    profile, _, room = whose(page.db, page.viewer, asked.person)
    return a_set(chosen_set(page.means, asked, page.client(asked.person), profile, room))


READERS: dict[str, Callable[[_Asked], Leaflet]] = {
    "board": _board,
    "bench/*": _bench,
    "compare": _compare,
    "compare/one-thing/*": _series,
    "heads/*": _head,
    "claims/*": _claim,
    "variants/*": _variant,
    "faults": _faults,
    "sets": _set,
}
"""Pages from which something is taken along; * stands for the name of what is on it."""
