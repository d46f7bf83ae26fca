"""For whom a request plans: what `answers.people` knows of them, with the draws that a request waits for."""

from __future__ import annotations

from collections.abc import Mapping

from flask import request

from curve_rank.answers import people
from curve_rank.answers.people import Means, Trainee
from curve_rank.store.plans import KeptPlan
from curve_rank.store.viewers import Viewer
from curve_rank.training.planning import Planner
from curve_rank.web import arms, current


def planner_for(
    person: int | None,
    viewer: Viewer,
    loads: Mapping[str, float] | None = None,
    owner: int | None = None,
    *,
    learned: bool = True,
) -> Planner:
    """As `people.planner_for`, for a request."""
    return people.planner_for(
        current.session(), viewer, person, _means(viewer), loads, owner, learned=learned
    )


def trainee(person: int, viewer: Viewer, plan: KeptPlan | None = None) -> Trainee:
    """As `people.trainee`, for a request."""
    return people.trainee(current.session(), viewer, person, _means(viewer), plan)


def _means(viewer: Viewer) -> Means:
    # Who reads a page is told how far the arms are, as for a file; what was sent, and data, waits for them.
    is_page = request.method == "GET" and "." not in request.path.rpartition("/")[2]
    draw = arms.drawn_soon if is_page else arms.drawn
    return Means(current.variants_of(viewer), current.modeller(), draw)
