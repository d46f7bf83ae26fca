"""Runs the draws in the background: shared out to processes or a cluster, with progress and cancel."""

from __future__ import annotations

import hashlib
import logging
import multiprocessing
import os
import socket
import threading
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import FIRST_COMPLETED, Executor, Future, ProcessPoolExecutor, wait
from dataclasses import dataclass, field
from multiprocessing.process import BaseProcess
from typing import Any
from urllib.parse import urlsplit

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.rating.drawing import Task, model_draws, of_variant, one_after_another
from curve_rank.rating.modelling import content_key
from curve_rank.rating.scoring import Ingredients

log = logging.getLogger(__name__)

SCHEDULER = "CURVE_RANK_SCHEDULER"
FIRST_DRAWS, CHUNK = 8, 25
"""Draws of the first, quick share of the work, and of every other."""
MOST_DRAWS, QUICK_DRAWS = 5000, 40
KEPT_VARIANTS, ENDED_KEPT = 1200, 8
CONNECT_SECONDS = 5
PATIENCE = 0.25
"""How often a run looks whether it was cancelled [s]."""


def check_draws(draws: int, seed: int) -> None:
    """Refuse numbers of draws and seeds that make no sense.

    Raises
    ------
    BadInputError
    """
    if not 20 <= draws <= MOST_DRAWS:
        raise BadInputError("draws", draws, f"20 to {MOST_DRAWS} draws")
    if not 0 <= seed < 2**32:
        raise BadInputError("seed", seed, "a whole number from 0 to 4294967295")


def make_executor(address: str | None = None) -> Executor:
    """Where the work goes: all cores, or a Dask cluster when an address or CURVE_RANK_SCHEDULER names one.

    Raises
    ------
    BadInputError
        When the address is not one, no scheduler answers there, or the cluster extra is not installed.
    """
    address = address if address is not None else os.environ.get(SCHEDULER, "")
    if not address:
        # One thread of linear algebra in each worker: they already fill the cores.
        for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):
            os.environ.setdefault(name, "1")
        return ProcessPoolExecutor(
            max_workers=os.cpu_count(),
            mp_context=multiprocessing.get_context("spawn"),
            initializer=_begin_worker,
        )
    return _cluster(address)


def _cluster(address: str) -> Executor:
    """The work on a Dask cluster.

    Raises
    ------
    BadInputError
    """
    right = "tcp://host:port of a running Dask scheduler"
    place = urlsplit(address)
    try:
        host, port = place.hostname, place.port
    except ValueError as error:
        raise BadInputError(SCHEDULER, address, right) from error
    if place.scheme not in ("tcp", "tls") or not host or not port:
        raise BadInputError(SCHEDULER, address, right)
    try:
        # A client that cannot connect leaves threads behind, so first see whether anyone listens.
        socket.create_connection((host, port), timeout=CONNECT_SECONDS).close()
    except OSError as error:
        raise BadInputError(SCHEDULER, address, right) from error
    try:
        from distributed import Client
    except ImportError as error:
        raise BadInputError(SCHEDULER, address, "the extra curve-rank[cluster] installed first") from error
    try:
        client = Client(address, timeout=CONNECT_SECONDS, set_as_default=False)  # type: ignore[no-untyped-call]
    except (OSError, TimeoutError, ValueError) as error:
        raise BadInputError(SCHEDULER, address, right) from error
    return _Cluster(client)


class _Cluster(Executor):
    """A Dask client as an executor that closes its client when it is let go."""

    def __init__(self, client: Any) -> None:
        self._client = client
        self._executor = client.get_executor()

    def submit(self, fn: Callable[..., Any], /, *args: Any, **kwargs: Any) -> Future[Any]:
        """As `Executor.submit`."""
        future: Future[Any] = self._executor.submit(fn, *args, **kwargs)
        return future

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:  # noqa: ARG002
        """As `Executor.shutdown`; work under way is dropped."""
        self._executor.shutdown(wait=wait)
        self._client.close()


def _begin_worker() -> None:
    """Workers give way to whoever serves pages, and end when their parent does, however it ended."""
    if hasattr(os, "nice"):
        os.nice(5)
    parent = multiprocessing.parent_process()
    if parent is not None:
        threading.Thread(target=_end_with, args=(parent,), daemon=True).start()


def _end_with(parent: BaseProcess) -> None:
    parent.join()
    os._exit(0)


@dataclass
class DrawRun:
    """One run in the background.

    Attributes
    ----------
    done, total : int
        Draws finished and wanted.
    state : str
        "running", "finished", "cancelled" or "failed".
    """

    variants: tuple[Variant, ...]
    body: Body
    effort: float
    seed: int
    total: int
    name: str = ""
    done: int = 0
    state: str = "running"
    problem: str = ""
    _parts: list[tuple[int, Ingredients]] = field(default_factory=list)
    _lock: threading.Lock = field(default_factory=threading.Lock)
    _cancelled: threading.Event = field(default_factory=threading.Event)
    _ended: threading.Event = field(default_factory=threading.Event)

    def cancel(self) -> None:
        """Stop as soon as may be; what is done so far stays."""
        self._cancelled.set()

    def wait(self, seconds: float | None = None) -> bool:
        """Wait until the run has ended, at most some seconds; whether it has."""
        return self._ended.wait(seconds)

    def so_far(self) -> dict[str, Ingredients]:
        """Draws without a gap from the first on, by variant id; empty before the first are done."""
        with self._lock:
            parts = sorted(self._parts, key=lambda part: part[0])
        joined, reached = [], 0
        for start, part in parts:
            if start != reached:
                break
            joined.append(part)
            reached = start + next(iter(part.whole.values())).shape[0]
        if not joined:
            return {}
        whole = one_after_another(joined)
        return {variant.id: of_variant(whole, i) for i, variant in enumerate(self.variants)}

    def run(self, executor: Callable[[], Executor], keep: Callable[[DrawRun], None]) -> None:
        """Do the work, in a thread of its own; `executor` is asked for once the first draws are done."""
        try:
            first = min(FIRST_DRAWS, self.total)
            self._take(0, model_draws(self._task(0, first)))
            self._share_out(executor(), first)
            if self._cancelled.is_set() and self.done < self.total:
                self.state = "cancelled"
            else:
                keep(self)
                self.state = "finished"
        except BadInputError as error:
            self.state, self.problem = "failed", str(error)
        except Exception:
            if self._cancelled.is_set():  # the executor went away under a run that was to end anyway
                self.state = "cancelled"
            else:
                log.exception("a run of draws failed")
                self.state, self.problem = "failed", "the draws could not be finished; the log says why"
        finally:
            self._ended.set()

    def _share_out(self, executor: Executor, first: int) -> None:
        starts = range(first, self.total, CHUNK)
        tasks = [self._task(start, min(start + CHUNK, self.total)) for start in starts]
        # Kept short, so that two runs at once take turns and a cancelled one leaves little behind.
        open_: dict[Future[Ingredients], Task] = {}
        ahead = 2 * (os.cpu_count() or 1)
        while (tasks or open_) and not self._cancelled.is_set():
            while tasks and len(open_) < ahead:
                task = tasks.pop(0)
                open_[executor.submit(model_draws, task)] = task
            finished, _ = wait(open_, timeout=PATIENCE, return_when=FIRST_COMPLETED)
            for future in finished:
                self._take(open_.pop(future).start, future.result())
        for future in open_:
            future.cancel()

    def _task(self, start: int, stop: int) -> Task:
        return Task(self.variants, self.body, self.effort, self.seed, start, stop)

    def _take(self, start: int, part: Ingredients) -> None:
        with self._lock:
            self._parts.append((start, part))
            self.done += next(iter(part.whole.values())).shape[0]


class Draws:
    """Runs and their results, kept by content: every variant's draws for a body, effort, seed and number.

    Safe to share between threads. The executor is made when the first run needs it.
    """

    def __init__(self, make: Callable[[], Executor] = make_executor) -> None:
        self._make = make
        self._executor: Executor | None = None
        self._kept: OrderedDict[str, Ingredients] = OrderedDict()
        self._running: dict[str, DrawRun] = {}
        self._lock = threading.Lock()

    def found(
        self, variants: tuple[Variant, ...], body: Body, effort: float, *, seed: int, draws: int
    ) -> dict[str, Ingredients] | None:
        """Kept draws of all the variants by id, or None when some are missing."""
        kept = self.kept_among(variants, body, effort, seed=seed, draws=draws)
        return kept if len(kept) == len(variants) else None

    def start(
        self, variants: tuple[Variant, ...], body: Body, effort: float, *, seed: int, draws: int
    ) -> DrawRun:
        """A run for those of the variants whose draws are missing; one that is under way is joined."""
        check_draws(draws, seed)
        keys = [self._key(v, body, effort, seed, draws) for v in variants]
        with self._lock:
            missing = {key: v for key, v in zip(keys, variants, strict=True) if key not in self._kept}
            name = hashlib.sha256("".join(missing).encode()).hexdigest()
            under_way = self._running.get(name)
            if under_way is not None and under_way.state == "running":
                return under_way
            run = DrawRun(tuple(missing.values()), body, effort, seed, draws, name)
            ended = [n for n, r in self._running.items() if r.state != "running"]
            for old in ended[:-ENDED_KEPT]:
                del self._running[old]
            self._running[name] = run
        threading.Thread(target=run.run, args=(self.executor, self._keep), daemon=True).start()
        return run

    def quick(self, variant: Variant, body: Body, effort: float, *, seed: int = 1) -> Ingredients:
        """A few draws of one variant at once, in this thread: enough for an interval on its readings."""
        key = self._key(variant, body, effort, seed, QUICK_DRAWS)
        with self._lock:
            if key in self._kept:
                return self._kept[key]
        found = of_variant(model_draws(Task((variant,), body, effort, seed, 0, QUICK_DRAWS)), 0)
        self._remember({key: found})
        return found

    def run_named(self, name: str) -> DrawRun | None:
        """A run by its name, under way or just ended."""
        with self._lock:
            return self._running.get(name)

    def kept_among(
        self, variants: tuple[Variant, ...], body: Body, effort: float, *, seed: int, draws: int
    ) -> dict[str, Ingredients]:
        """Kept draws of those of the variants that have them, by id."""
        keys = {v.id: self._key(v, body, effort, seed, draws) for v in variants}
        with self._lock:
            kept = {name: key for name, key in keys.items() if key in self._kept}
            for key in kept.values():
                self._kept.move_to_end(key)
            return {name: self._kept[key] for name, key in kept.items()}

    def executor(self) -> Executor:
        """The executor, made on first use.

        Raises
        ------
        BadInputError
        """
        with self._lock:
            if self._executor is None:
                self._executor = self._make()
            return self._executor

    def close(self) -> None:
        """Cancel what runs and let the executor go."""
        for run in list(self._running.values()):
            run.cancel()
        if self._executor is not None:
            self._executor.shutdown(wait=False, cancel_futures=True)

    def _keep(self, run: DrawRun) -> None:
        results = run.so_far()
        self._remember(
            {self._key(v, run.body, run.effort, run.seed, run.total): results[v.id] for v in run.variants}
        )

    def _remember(self, found: dict[str, Ingredients]) -> None:
        with self._lock:
            self._kept.update(found)
            while len(self._kept) > KEPT_VARIANTS:
                self._kept.popitem(last=False)

    @staticmethod
    def _key(variant: Variant, body: Body, effort: float, seed: int, draws: int) -> str:
        return f"{content_key(variant, body, effort)}|{seed}|{draws}"
