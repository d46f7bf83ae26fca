"""How many arms are drawn, and where."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.answers.certainty import waited_for
from curve_rank.background.draws import LOOK, DrawRun, Draws
from curve_rank.background.executor import make_executor
from curve_rank.rating.certainty import Certainty
from curve_rank.rating.draws import check_draws
from curve_rank.rating.ranking import Ranking

CORES = "cores"


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
        desk = Draws(lambda: make_executor("" if self.on == CORES else self.on))
        try:
            return waited_for(desk, ranking, self.count, self.seed, _wait_for)
        finally:
            desk.close()


def _wait_for(run: DrawRun) -> None:
    while not run.wait(LOOK):  # in turns, so that Ctrl-C is heard
        pass


def draws(count: int = 500, *, on: str = CORES, seed: int = 1) -> DrawPlan:
    """Plan draws, to be handed to `rank`.

    Parameters
    ----------
    count : int
        20 to 5,000; 500 is usual.
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
        For fewer than 20 or more than 5,000, and a seed that is no whole number from 0 to 4294967295.

    Examples
    --------
    >>> draws(500).count
    500
    """
    check_draws(count, seed)
    return DrawPlan(count, on, seed)
