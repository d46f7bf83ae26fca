"""The bench's state that a request asks for."""

from __future__ import annotations

from curve_rank.answers.bench_state import BenchRequest, BenchState, state_of
from curve_rank.answers.requests import Values
from curve_rank.web import arms
from curve_rank.web.question import client_for


def state_asked(variant_id: str, values: Values) -> BenchState:
    """As an address or a form has it.

    Raises
    ------
    CurveRankError
        For what is not there, or cannot be set.
    """
    query = BenchRequest.read(values)
    return state_of(arms.means(), variant_id, query, client_for(query.person))
