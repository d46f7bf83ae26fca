"""Where work goes: a cluster that is not there is a clear failure."""

from __future__ import annotations

import socket

import pytest

from curve_rank.arm.body import Body
from curve_rank.background.draws import DrawQuestion, Draws
from curve_rank.background.executor import Cores, make_executor
from curve_rank.catalogue.library import built_in
from curve_rank.errors import BadInputError
from tests.helpers import LIMIT


@pytest.mark.parametrize(
    "address", ["localhost:8786", "http://x", "tcp://127.0.0.1:1", "tcp://nonsense:port"]
)
def test_a_cluster_address_that_leads_nowhere_is_a_clear_failure(address: str) -> None:
    with pytest.raises(BadInputError, match="tcp://host:port"):
        make_executor(address)
    run = Draws(lambda: make_executor(address)).start(1, DrawQuestion(built_in()[:1], Body(), 0.75, 1, 40))
    assert run.wait(LIMIT)
    assert run.state == "failed"
    assert "CURVE_RANK_SCHEDULER" in run.problem


def test_a_scheduler_that_takes_the_call_and_says_nothing_is_passed_over(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr("curve_rank.background.executor.CONNECT_SECONDS", 1)
    with socket.create_server(("127.0.0.1", 0)) as silent:
        executor = make_executor(f"tcp://127.0.0.1:{silent.getsockname()[1]}")
        assert isinstance(executor, Cores)
        executor.shutdown()
