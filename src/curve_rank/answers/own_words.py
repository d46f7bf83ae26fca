"""The words of a variant of one's own, and what is offered of those of the one it was made from."""

from __future__ import annotations

from curve_rank.answers.means import Means
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.targets import long_head
from curve_rank.study.own_words import OfferedWords, offered


def words_offered(means: Means, parent: str | None, own: Variant) -> OfferedWords | None:
    """What the parent says of itself, for the default body; None where it is no longer to be had.

    Parameters
    ----------
    means : Means
        With what it is worked out.
    parent : str or None
        The id of what it was made from.
    own : Variant
        One's own.
    """
    if not parent:
        return None
    try:
        first, second = (
            means.modeller.one(one, Body(), effort=usual_effort())
            for one in (means.library.variant(parent), own)
        )
    except CurveRankError:
        return None
    if first.variant.group != own.group:
        return None
    return offered(first, second, long_head(own.group))
