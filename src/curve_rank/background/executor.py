"""Where long work goes: processes on all cores, or a Dask cluster."""

from __future__ import annotations

import multiprocessing
import os
import socket
import threading
from collections.abc import Callable
from concurrent.futures import Executor, Future, ProcessPoolExecutor
from multiprocessing.process import BaseProcess
from typing import Any
from urllib.parse import urlsplit

from curve_rank.errors import BadInputError

SCHEDULER = "CURVE_RANK_SCHEDULER"
CONNECT_SECONDS = 5


def make_executor(address: str = "") -> Executor:
    """Where the work goes: all cores, or a Dask cluster when an address names one.

    Raises
    ------
    BadInputError
        When the address is not one, no scheduler answers there, or the cluster extra is not installed.
    """
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
