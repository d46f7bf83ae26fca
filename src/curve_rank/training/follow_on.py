"""The block after a block: what climbs is kept, what is to rotate is swapped; it starts where that ends."""

from __future__ import annotations

from datetime import date, timedelta

from curve_rank.practice.block import Block
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.training.circumference import ends_of
from curve_rank.training.review import Advice


def next_block(block: Block, advice: tuple[Advice, ...], context: PlanContext, today: date) -> Block:
    """The next block of somebody.

    Parameters
    ----------
    block : Block
        The one that ended.
    advice : tuple of Advice
        What to keep and what to rotate.
    context : PlanContext
        Of what may stand instead.
    today : date
        The day it is where the person is.
    """
    rotated = [one.variant for one in advice if not one.keep]
    stays = {one.variant for one in advice if one.keep}
    taken, swaps = set(stays) | set(rotated), dict[str, str]()
    for variant in rotated:
        other = context.instead(variant, taken)
        if other:
            swaps[variant] = other
            taken.add(other)
    weeks = tuple(
        week.model_copy(
            update={
                "sessions": tuple(
                    session.model_copy(
                        update={
                            "exercises": tuple(
                                one.model_copy(update={"variant": swaps.get(one.variant, one.variant)})
                                for one in session.exercises
                            )
                        }
                    )
                    for session in week.sessions
                )
            }
        )
        for week in block.weeks
    )
    return block.model_copy(
        update={"name": following_name(block.name), "weeks": weeks, "start": following_start(block, today)}
    )


def following_start(block: Block, today: date) -> date:
    """The Monday after a block ends, or the next one where that is past."""
    ends = ends_of(block)
    after = ends[1] + timedelta(days=1) if ends else today
    first = max(after, today)
    return first + timedelta(days=-first.weekday() % 7)


def following_name(name: str) -> str:
    """ "Harvest" is followed by "Harvest, 2", and that by "Harvest, 3"."""
    stem, _, last = name.rpartition(", ")
    if stem and last.isdigit():
        return f"{stem}, {int(last) + 1}"
    return f"{name[:74]}, 2"
