"""For whom a request plans: what `answers.people` knows of them, with the draws that a request waits for."""

from __future__ import annotations

from collections.abc import Mapping

from curve_rank.answers import learning, people
from curve_rank.answers.people import Trainee
from curve_rank.background.learning import LearnRun
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
        current.session(), viewer, person, arms.means(viewer), loads, owner, learned=learned
    )


def trainee(person: int, viewer: Viewer, plan: KeptPlan | None = None) -> Trainee:
    """As `people.trainee`, for a request."""
    return people.trainee(current.session(), viewer, person, arms.means(viewer), plan)


def learn_soon(person: int, viewer: Viewer) -> LearnRun | None:
    """As `learning.learn_soon`, for a request."""
    return learning.learn_soon(current.desk(), current.session(), viewer, arms.means(viewer), person)
