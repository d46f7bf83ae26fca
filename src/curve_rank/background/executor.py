"""Where long work goes: processes on all cores, or a Dask cluster."""

from __future__ import annotations

import logging
import multiprocessing
import os
import signal
import socket
import threading
from collections.abc import Callable
from concurrent.futures import Executor, Future, ProcessPoolExecutor
from contextlib import suppress
from multiprocessing.process import BaseProcess
from typing import Any
from urllib.parse import urlsplit

from curve_rank.errors import BadInputError

log = logging.getLogger(__name__)

SCHEDULER = "CURVE_RANK_SCHEDULER"
CONNECT_SECONDS = 5


class SilenceError(Exception):
    """A cluster does not answer."""


class Cores(ProcessPoolExecutor):
    """Processes on all cores."""

    def __init__(self) -> None:
        # One thread of linear algebra in each worker: they already fill the cores.
        for name in ("OPENBLAS_NUM_THREADS", "OMP_NUM_THREADS"):
            os.environ.setdefault(name, "1")
        super().__init__(
            max_workers=os.cpu_count(),
            mp_context=multiprocessing.get_context("spawn"),
            initializer=_begin_worker,
        )

    def submit(self, fn: Callable[..., Any], /, *args: Any, **kwargs: Any) -> Future[Any]:
        """As `Executor.submit`; workers that start with it do not hear Ctrl-C, which is for their parent."""
        before = signal.pthread_sigmask(signal.SIG_BLOCK, {signal.SIGINT})
        try:
            return super().submit(fn, *args, **kwargs)
        finally:
            signal.pthread_sigmask(signal.SIG_SETMASK, before)


def make_executor(address: str = "") -> Executor:
    """Where the work goes: all cores, or a Dask cluster when an address names one.

    A scheduler that takes the connection and then says nothing is passed over for all cores.

    Raises
    ------
    BadInputError
        When the address is not one, nobody listens there, or the cluster extra is not installed.
    """
    if not address:
        return Cores()
    try:
        return _cluster(address)
    except SilenceError as error:
        log.warning("%s=%s does not answer; drawing on this machine instead (%s)", SCHEDULER, address, error)
        return Cores()


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
    answer: Future[Any] = Future()

    def connect() -> None:
        try:
            answer.set_result(Client(address, timeout=CONNECT_SECONDS, set_as_default=False))  # type: ignore[no-untyped-call]
        except BaseException as error:
            answer.set_exception(error)

    # A client waits for ever for a scheduler that says nothing, whatever time it is given: so it waits apart.
    threading.Thread(target=connect, daemon=True).start()
    try:
        client = answer.result(2 * CONNECT_SECONDS)
    except (OSError, TimeoutError) as error:
        raise SilenceError(str(error) or type(error).__name__) from error
    except ValueError as error:
        raise BadInputError(SCHEDULER, address, right) from error
    return Cluster(client)


class Cluster(Executor):
    """A Dask client as an executor that closes its client when it is let go."""

    def __init__(self, client: Any) -> None:
        self._client = client
        self._executor = client.get_executor()

    def submit(self, fn: Callable[..., Any], /, *args: Any, **kwargs: Any) -> Future[Any]:
        """As `Executor.submit`."""
        future: Future[Any] = self._executor.submit(fn, *args, **kwargs)
        return future

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:  # noqa: ARG002, FBT001, FBT002
        """As `Executor.shutdown`; work under way is dropped."""
        with suppress(Exception):  # a cluster that is gone cannot be told so
            self._executor.shutdown(wait=wait)
            self._client.close(timeout=CONNECT_SECONDS)


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
