"""How many arms are drawn, and where."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.background.draws import DrawQuestion, Draws
from curve_rank.background.executor import make_executor
from curve_rank.errors import BadInputError
from curve_rank.rating.certainty import Certainty, certainty
from curve_rank.rating.ranking import Ranking

CORES = "cores"
FEWEST = 10


@dataclass(frozen=True)
class DrawPlan:
    """So many draws of arm and set-up, from one seed, on this machine's cores or a cluster.

    Made by `draws`.
    """

    count: int
    on: str = CORES
    seed: int = 1

    def of(self, ranking: Ranking) -> Certainty:
        """How sure a ranking is by these draws; Ctrl-C cancels them.

        Raises
        ------
        BadInputError
            For a run that failed, and an address at which nobody answers.
        """
        asked, variants = ranking.question, tuple(row.variant for row in ranking.rows)
        desk = Draws(lambda: make_executor("" if self.on == CORES else self.on))
        try:
            run = desk.start(0, DrawQuestion(variants, asked.body, asked.effort, self.seed, self.count))
            while not run.wait(0.5):
                pass
            if run.state != "finished":
                raise BadInputError("draws", self.count, run.problem or "a run that ends")
            return certainty(ranking, run.so_far(), seed=self.seed)
        finally:
            desk.close()


def draws(count: int = 500, *, on: str = CORES, seed: int = 1) -> DrawPlan:
    """Plan draws, to be handed to `rank`.

    Parameters
    ----------
    count : int
        At least 10; 500 is usual.
    on : str
        ``"cores"``: processes on this machine, so a script needs its ``if __name__ == "__main__":``; or the
        address of a Dask scheduler, as ``"tcp://10.0.0.5:8786"`` (needs the extra `cluster`).
    seed : int
        The same seed gives the same draws, wherever they are made.

    Returns
    -------
    DrawPlan

    Raises
    ------
    BadInputError
        For fewer than 10.

    Examples
    --------
    >>> draws(500).count
    500
    """
    if count < FEWEST:
        raise BadInputError("count", count, f"at least {FEWEST} draws")
    return DrawPlan(count, on, seed)
