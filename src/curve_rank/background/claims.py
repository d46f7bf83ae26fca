"""Verdicts worked out in the background: all claims that lack one together, with progress."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART, FIXED
from curve_rank.arm.readings import Readings
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.draws import DrawRun, Draws
from curve_rank.background.runs import Line, Run, Runs, StoppedError
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BusyError, UnknownNameError
from curve_rank.rating.draws import Draw, fixed_draws
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller
from curve_rank.study.claims import Claim
from curve_rank.study.verdicts import Verdict, verdicts

PART = 45
"""Of a hundred parts, what each of the two sets of draws counts."""
LOOK = 0.3
"""How often it looks how far the draws are, and whether it was cancelled [s]."""
STALLED = 30.0
"""Draws that bring nothing for so long are made in the run's own thread [s]."""
KEY = "claims"


@dataclass(frozen=True)
class ClaimsQuestion:
    """What is worked out: claims by key, the set-ups that their lines name, and the lenses."""

    claims: dict[str, Claim]
    setups: dict[str, Variant]
    lenses: dict[str, Lens]

    def resolve(self, line: str) -> Variant:
        """The set-up that a line names.

        Raises
        ------
        UnknownNameError
        """
        if line not in self.setups:
            raise UnknownNameError("set-up", line, "one that there is")
        return self.setups[line]


class ClaimRuns:
    """The runs of everyone. Safe to share between threads.

    Parameters
    ----------
    draws : Draws
        Makes the draws, on all cores.
    patience : float, optional
        As a run's.
    line : Line, optional
        As for `Runs`.
    """

    def __init__(self, draws: Draws, patience: float | None = None, line: Line | None = None) -> None:
        self.runs: Runs[Run] = Runs("claims", line)
        self._draws, self._patience = draws, patience

    def start(
        self,
        person: int,
        question: ClaimsQuestion,
        modeller: Modeller,
        keep: Callable[[dict[str, Verdict]], None],
    ) -> Run:
        """Work out claims for the default body, or join the person's run that is under way.

        `keep` takes all verdicts when they are made.

        Raises
        ------
        BusyError
        """
        run = Run(person, KEY, 100, patience=self._patience)

        def work(started: Run) -> None:
            body, effort = Body(), usual_effort()

            def draw(seed: int) -> Draw:
                def drawn(variants: tuple[Variant, ...]) -> tuple[Readings, ...]:
                    self._watch(
                        started, lambda: self._draws.fixed(person, variants, body, effort, modeller, seed)
                    )
                    started.stop_if_cancelled()
                    return fixed_draws(variants, body, effort, modeller, seed)

                return drawn

            made = verdicts(
                question.claims, question.resolve, question.lenses,
                draw=draw(FIXED), draw_apart=draw(APART), modeller=modeller, body=body, effort=effort,
            )  # fmt: skip
            with suppress(StoppedError):
                found = {}
                for key, verdict in made:
                    started.stop_if_cancelled()
                    found[key] = verdict
                keep(found)
                started.done = started.total

        return self.runs.start(run, work)

    def _watch(self, run: Run, begin: Callable[[], DrawRun | None]) -> None:
        """Wait until draws are made, telling how far they are; where others are served first, not at all."""
        before = run.done
        with suppress(BusyError):
            while (drawing := begin()) is not None and not run.cancelled:
                made, idle = 0, 0.0
                while not drawing.wait(LOOK):
                    idle = 0.0 if drawing.done > made else idle + LOOK
                    if not idle:
                        drawing.ask()
                    if idle > STALLED:  # nothing is made there: the draws are made here
                        return
                    made = drawing.done
                    run.done = before + (PART * drawing.done) // max(1, drawing.total)
                    run.end_if_forgotten()
                    if run.cancelled:
                        drawing.cancel()
                        return
                if drawing.state != "finished":
                    return
        run.done = before + PART

    def close(self) -> None:
        """Cancel whatever runs."""
        self.runs.close()
