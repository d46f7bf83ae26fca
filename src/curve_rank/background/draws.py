"""Draws in the background: shared out to an executor, and kept by content."""

from __future__ import annotations

import hashlib
import logging
import os
import threading
import time
from collections import deque
from collections.abc import Callable, Iterable, Sequence
from concurrent.futures import FIRST_COMPLETED, BrokenExecutor, Executor, Future, wait
from contextlib import suppress
from dataclasses import dataclass, field

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART, FIXED, draws_of
from curve_rank.arm.readings import Readings, one_after_another
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.executor import Cluster, SilenceError, make_executor
from curve_rank.background.runs import Line, Run, Runs
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.keeping import Keeping, size_of
from curve_rank.rating.draws import DrawTask, check_draws, fixed_keys, model_draws, undrawn
from curve_rank.rating.modelling import Modeller, content_keys
from curve_rank.study.draw_bank import draw_here
from curve_rank.study.evidence import compared

log = logging.getLogger(__name__)

ONESELF = 0
"""Whose the draws are that nobody has asked for."""
FIRST_DRAWS = 8
"""Draws of the first, quick part of the work."""
PART = 600
"""Draws times variants in every other part: so small that whoever ends a run waits for a moment only."""
KEPT_BYTES = 256 * 1024 * 1024
"""Memory for kept draws."""
CLUSTER_PATIENCE = 30.0
"""A cluster that brings nothing for so long is given up for the cores of this machine [s]."""
MOST_LOST = 3
"""Workers that may end during a run before it counts as failed."""
LOADS_PATIENCE = 120.0
"""How long the bank's draws are waited for [s]."""
LOOK = 0.25
"""How often a run looks whether it was cancelled [s]."""


def once_each(variants: Iterable[Variant]) -> tuple[Variant, ...]:
    """Variants without those of the same content."""
    return tuple({one.digest: one for one in variants}.values())


@dataclass(frozen=True)
class DrawQuestion:
    """What is drawn: some variants for a body at an effort, from so many draws of a seed."""

    variants: tuple[Variant, ...]
    body: Body
    effort: float
    seed: int
    draws: int

    @property
    def keys(self) -> dict[str, str]:
        """Per variant's id, a key that changes with anything that goes into its draws."""
        keys = content_keys(self.variants, self.body, self.effort)
        return {v.id: f"{key}|{self.seed}|{self.draws}" for v, key in zip(self.variants, keys, strict=True)}

    @property
    def key(self) -> str:
        """A key of the whole question."""
        keys = content_keys(self.variants, self.body, self.effort)
        return hashlib.sha256(f"{' '.join(keys)}|{self.seed}|{self.draws}".encode()).hexdigest()


@dataclass(eq=False)
class DrawRun(Run):
    """One run of draws; `variants` are those nobody had drawn yet, `question` what fixed draws answer."""

    variants: tuple[Variant, ...] = ()
    question: DrawQuestion | None = None
    _parts: list[tuple[int, Readings]] = field(default_factory=list)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def take(self, start: int, part: Readings) -> None:
        """Add the draws from `start` on."""
        with self._lock:
            self._parts.append((start, part))
            self.done += part.load.shape[0]

    def so_far(self) -> dict[str, Readings]:
        """Draws without a gap from the first on, by variant id; empty before the first are done."""
        return {v.id: drawn for v, drawn in zip(self.variants, self.in_turn(), strict=False)}

    def in_turn(self) -> tuple[Readings, ...]:
        """The same in the variants' order: two of them may be changes of one, with one id."""
        with self._lock:
            parts = sorted(self._parts, key=lambda part: part[0])
        joined, reached = [], 0
        for start, part in parts:
            if start != reached:
                break
            joined.append(part)
            reached = start + part.load.shape[0]
        if not joined:
            return ()
        whole = one_after_another(joined)
        return tuple(whole.of(i).in_single() for i in range(len(self.variants)))


class Draws:
    """Runs of draws and their results, kept by content: what is asked again is found again.

    A run belongs to a person and a question; kept draws are reached only through a question, never through
    a name. Safe to share between threads. The executor is made when the first run needs it.
    """

    def __init__(
        self,
        make: Callable[[], Executor] = make_executor,
        most_bytes: int = KEPT_BYTES,
        patience: float | None = None,
    ) -> None:
        self._make, self._patience = make, patience
        self.line = Line()
        """Where other long work stands, too."""
        self._executor: Executor | None = None
        self._kept = Keeping(most_bytes, size_of)
        self.runs: Runs[DrawRun] = Runs("draws", self.line)
        self._fixed_by_key: dict[str, DrawRun] = {}
        self._making = threading.Lock()

    def found(self, question: DrawQuestion) -> dict[str, Readings] | None:
        """Kept draws of all the variants by id, or None when some are missing."""
        kept = self.kept_among(question)
        return kept if len(kept) == len(question.variants) else None

    def kept_among(self, question: DrawQuestion) -> dict[str, Readings]:
        """Kept draws of those of the variants that have them, by id."""
        keys = question.keys
        found = self._kept.found(keys.values())
        return {name: found[key] for name, key in keys.items() if key in found}

    def fixed(
        self,
        person: int,
        variants: tuple[Variant, ...],
        body: Body,
        effort: float,
        modeller: Modeller,
        seed: int = FIXED,
        *,
        aside: bool = False,
    ) -> DrawRun | None:
        """A run that makes fixed draws which a modeller lacks; None where it lacks none.

        Where somebody's run makes some of them already, it is that one: ask again when it has ended. One that
        stands `aside` has nobody waiting; once somebody asks for the same, it works as others do.

        Raises
        ------
        BusyError
        """
        missing = undrawn(variants, body, effort, modeller, seed)
        if not missing:
            return None
        keys = fixed_keys(missing, body, effort, seed)
        with self._making:
            running = {key: run for key, run in self._fixed_by_key.items() if run.state == "running"}
            self._fixed_by_key = running
            under_way = next((running[key] for key in keys if key in running), None)
        if under_way is not None:
            under_way.ask()
            under_way.aside &= aside
            return under_way
        question = DrawQuestion(missing, body, effort, seed, draws_of(seed))
        run = DrawRun(
            person, question.key, question.draws, patience=None if aside else self._patience,
            aside=aside, variants=missing, question=question,
        )  # fmt: skip

        def work(started: DrawRun) -> None:
            self._draw_all(started, question)
            if started.done == started.total:
                modeller.keep_draws(dict(zip(keys, started.in_turn(), strict=True)))

        started = self.runs.start(run, work)
        with self._making:
            self._fixed_by_key |= dict.fromkeys(keys, started)
        return started

    def unfinished(self) -> tuple[DrawQuestion, ...]:
        """Which fixed draws are being made: they are worth going on with, whoever has asked."""
        runs = self.runs.under_way()
        return tuple(run.question for run in runs if run.question is not None and not run.aside)

    def warm(self, modeller: Modeller) -> list[DrawRun]:
        """The runs that make the fixed draws of the default body, so that the first page finds them."""
        effort = usual_effort()
        able, runs = modeller.able(built_in() + compared(), Body(), effort=effort), []
        for group in ("flexors", "extensors"):
            variants = tuple(m.variant for m in able if m.variant.group == group)
            run = self.fixed(ONESELF, variants, Body(), effort, modeller)
            if run is not None:
                run.patience = None
                runs.append(run)
        return runs

    def start(self, person: int, question: DrawQuestion) -> DrawRun:
        """A person's run for those of the variants whose draws are missing; one under way is joined.

        Raises
        ------
        BadInputError
        """
        check_draws(question.draws, question.seed)
        kept = self.kept_among(question)
        missing = tuple(v for v in question.variants if v.id not in kept)
        run = DrawRun(person, question.key, question.draws, patience=self._patience, variants=missing)
        return self.runs.start(run, lambda started: self._work(started, question))

    def run(self, person: int, question: DrawQuestion, name: str) -> DrawRun | None:
        """A person's run for a question, under way or just ended, if that is its name."""
        return self.runs.find(person, question.key, name)

    def executor(self) -> Executor:
        """The executor, made on first use.

        Raises
        ------
        BadInputError
        """
        with self._making:
            if self._executor is None:
                self._executor = self._make()
            return self._executor

    def instead_of(self, lost: Executor, *, here: bool) -> None:
        """Let an executor go that does not answer; its place takes a new one, or one `here` on all cores."""
        with self._making:
            if self._executor is not lost:
                return
            self._executor = make_executor() if here else None
        threading.Thread(target=lost.shutdown, kwargs={"wait": False}, daemon=True).start()

    def loads(self, variants: tuple[Variant, ...], numbers: Sequence[int]) -> Array:
        """Loads of the bank's draws, shared out, (numbers, variants) [kg].

        Raises
        ------
        UnavailableError
            Where they are not made in time.
        """
        if len(variants) * len(numbers) < PART:
            return draw_here(variants, numbers)
        cores = os.cpu_count() or 1
        parts = [variants[n::cores] for n in range(min(cores, len(variants)))]
        with suppress(BrokenExecutor, SilenceError):
            futures = [self.executor().submit(draw_here, part, numbers) for part in parts]
            _, late = wait(futures, timeout=LOADS_PATIENCE)
            if not late:
                found = np.empty((len(numbers), len(variants)))
                for n, future in enumerate(futures):
                    found[:, n :: len(parts)] = future.result()
                return found
            for future in late:
                future.cancel()
        raise UnavailableError("draws", "not made in time", "workers that answer; it is tried again")

    def close(self) -> None:
        """Cancel what runs and let the executor go; what it works on ends in a moment."""
        self.runs.close()
        if self._executor is not None:
            self._executor.shutdown(wait=False, cancel_futures=True)

    def _work(self, run: DrawRun, question: DrawQuestion) -> None:
        if not run.variants:
            run.done = run.total
            return
        self._draw_all(run, question)
        if run.done == run.total:
            keys = question.keys
            self._kept.keep({keys[name]: readings for name, readings in run.so_far().items()})

    def _draw_all(self, run: DrawRun, question: DrawQuestion) -> None:
        """Do a run: the first draws here, so that something is told at once; the others shared out.

        Nobody is told a part of the fixed draws: they are all shared out.
        """
        fixed = question.seed in (FIXED, APART)
        first = 0 if fixed else min(FIRST_DRAWS, run.total)
        whole = DrawTask(run.variants, question.body, question.effort, question.seed, 0, run.total).prepared()
        if first:
            run.take(0, model_draws(whole.part(0, first)))
        size = max(1, min(PART // len(run.variants), -(-(run.total - first) // (os.cpu_count() or 1))))
        parts = [whole.part(n, min(n + size, run.total)) for n in range(first, run.total, size)]
        self._share_out(run, parts)

    def _share_out(self, run: DrawRun, tasks: list[DrawTask]) -> None:
        """Draw all tasks; what was lost with a worker is drawn again, and a silent cluster is given up."""
        left, lost = deque(tasks), 0
        while left and not run.cancelled:
            executor = self.executor()
            try:
                _draw(run, executor, left, lambda: self.runs.others_first(run))
            except SilenceError as error:
                log.warning("the cluster does not answer; drawing on this machine instead: %s", error)
                self.instead_of(executor, here=True)
            except BrokenExecutor:
                lost += 1
                if lost > MOST_LOST:
                    raise
                log.warning("a worker has ended; it is replaced and its draws are made again")
                self.instead_of(executor, here=False)


def _draw(run: DrawRun, executor: Executor, tasks: deque[DrawTask], others_first: Callable[[], bool]) -> None:  # noqa: C901 — one loop: what is open, finished, lost
    """Share tasks out and take what comes back; what has not come back when this ends is a task again."""
    # Kept short, so that two runs at once take turns and a cancelled one leaves little behind.
    open_: dict[Future[Readings], DrawTask] = {}
    ahead, heard, broken = 2 * (os.cpu_count() or 1), time.monotonic(), False
    try:
        while (tasks or open_) and not run.cancelled:
            while tasks and len(open_) < (1 if run.aside else ahead) and not others_first():
                future = executor.submit(model_draws, tasks[0])
                open_[future] = tasks.popleft()
            if not open_:  # others are let through
                time.sleep(LOOK)
                continue
            finished, _ = wait(open_, timeout=LOOK, return_when=FIRST_COMPLETED)
            for future in finished:
                readings = future.result()
                run.take(open_.pop(future).start, readings)
                heard = time.monotonic()
            run.end_if_forgotten()
            if isinstance(executor, Cluster) and time.monotonic() - heard > CLUSTER_PATIENCE:
                raise SilenceError(f"nothing for {CLUSTER_PATIENCE:.0f} s")
    except (CurveRankError, SilenceError):
        raise
    except BrokenExecutor:
        broken = True
        raise
    except Exception as error:
        if isinstance(executor, Cluster):  # it was lost, in one of its library's many ways
            raise SilenceError(f"its work was lost ({type(error).__name__})") from error
        raise
    finally:
        for future, task in open_.items():
            if not broken:  # a broken pool lets go of them itself
                future.cancel()
            tasks.append(task)
