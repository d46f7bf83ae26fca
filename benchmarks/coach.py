"""Coaching: choosing a set, making a block, editing it; against trying every set, and making it anew.

Prints medians [ms], what was asked for, and ratios.
"""

from __future__ import annotations

import itertools
import statistics
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.practice.block import Block
from curve_rank.practice.choose_set import Candidates, Wishes, choose
from curve_rank.practice.edit_kinds import read_edit
from curve_rank.practice.edits import edited
from curve_rank.practice.make_block import BlockWish
from curve_rank.practice.plan_warnings import warnings
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.lenses import Lens, lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.store.safe.shelf import Shelf
from curve_rank.training.planning import Planner, session_plan

AGAIN = 7
FEW, CELLS, LARGEST = 40, 6, 3
EDIT = {
    "do": "set_exercise",
    "week": 0,
    "session": 0,
    "exercise": 0,
    "values": {"sets": 4},
    "everywhere": True,
}


def timed(make: Callable[[], object], times: int = AGAIN) -> float:
    """The median time of something [ms]."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        make()
        found.append(1000 * (time.perf_counter() - start))
    return statistics.median(found)


def told(name: str, milliseconds: float, asked: float | None = None) -> None:
    print(f"{name:44}{milliseconds:8.0f} ms" + (f", asked {asked:.0f}" if asked else ""))


def by_trying(few: Candidates) -> float:
    """The best sum of scores of those smallest sets that cover most, by trying every set."""
    best = (-1, 0, 0.0)
    for size in range(1, LARGEST + 1):
        for some in itertools.combinations(range(FEW), size):
            rows = list(some)
            if few.alike[np.ix_(rows, rows)].any():
                continue
            covered = int(few.covers[rows].any(axis=0).sum())
            best = max(best, (covered, -size, float(few.scores[rows].sum())))
    return best[2]


def everyones(planner: Planner, block: Block, people: int) -> None:
    """Every set of a block for some people."""
    for n in range(people):
        one = replace(planner, loads={"none": float(n)})
        context = one.context()
        for w, _, session in block.sessions:
            session_plan(block, w, session, context, one.loads)


def main(_arguments: list[str] | None = None) -> None:
    with tempfile.TemporaryDirectory() as folder:
        modeller = Modeller(shelf=Shelf(Path(folder)))
        planner = Planner(
            ClientProfile(minutes=60),
            Body(),
            Room(),
            built_in(),
            modeller,
            lambda some, body, effort: fixed_draws(some, body, effort, modeller),
        )
        lens = lenses()["long_length"]
        first = timed(lambda: planner.choose(lens), 1)
        told("a set, arms of this body not drawn yet", first)
        told("a set from the whole catalogue", timed(lambda: planner.choose(lens)), 1000)
        picks = [pick.variant.id for pick in planner.choose(lens).picks]
        planner.context()
        anew = timed(lambda: planner.make(picks, BlockWish(weeks=6), "long_length"))
        told("a block of six weeks", anew, 1500)
        block = planner.make(picks, BlockWish(weeks=6), "long_length")

        def edit() -> None:
            context = planner.context()
            warnings(edited(block, read_edit(EDIT), context.facts), context)

        one = timed(edit)
        told("an edit with all it warns of", one, 150)
        whole = timed(lambda: planner.make(planner_picks(planner, lens), BlockWish(weeks=6), "long_length"))
        print(f"{'an edit, to choosing and making it anew':44}    1/{whole / one:.0f}")
        for weeks in (3, 6):
            some = block.model_copy(update={"weeks": block.weeks[:weeks]})
            for people in (1, 20):
                told(
                    f"all sets, {weeks} weeks, {people} people",
                    timed(partial(everyones, planner, some, people)),
                )
    rng = np.random.default_rng(1)
    few = Candidates(
        ids=tuple(f"n{n}" for n in range(FEW)),
        covers=rng.random((FEW, CELLS)) < 0.3,
        scores=rng.uniform(0, 100, FEW),
        minutes=np.full(FEW, 8.0),
        heavy=np.zeros(FEW, bool),
        brachialis=np.zeros(FEW, bool),
        alike=np.zeros((FEW, FEW), bool),
    )
    exact, tried = timed(lambda: choose(few, Wishes(at_most=LARGEST))), timed(lambda: by_trying(few), 3)
    told(f"at most {LARGEST} of {FEW}, by integer programme", exact)
    told("the same by trying every set", tried)
    print(f"{'ratio':44}    1/{tried / exact:.1f}")


def planner_picks(planner: Planner, lens: Lens) -> list[str]:
    """What a set would have."""
    return [pick.variant.id for pick in planner.choose(lens).picks]


if __name__ == "__main__":
    main()
