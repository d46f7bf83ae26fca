"""Captures: a known profile comes back through every fault; what was captured stays whatever breaks."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

import numpy as np
import pytest

from curve_rank.background.captures import Capture, Captures, Rows, calibrated, folded
from curve_rank.errors import BadInputError, BusyError, UnavailableError
from curve_rank.exchange.device import Device, Sample
from curve_rank.exchange.simulated_device import (
    COUNTS_PER_NM,
    FAULTS,
    DeviceServer,
    SimulatedDevice,
    built_in_profile,
)
from tests.helpers import LIMIT

WEIGHT, LEVER, HURRY = 10.0, 0.3, 10.0


@contextmanager
def served(**said: object) -> Iterator[DeviceServer]:
    with DeviceServer(0, SimulatedDevice(built_in_profile(), hurry=HURRY, **said)) as server:  # type: ignore[arg-type]
        threading.Thread(target=server.serve_forever, args=(0.02,), daemon=True).start()
        yield server
        server.shutdown()


ENOUGH = 3600
"""Samples of a capture: four breaks of the connection, and as many sweeps as an interval needs."""


def captured(server: DeviceServer, keep: Callable[[str], None], enough: int = ENOUGH) -> Capture:
    """Zero, weight and sweeps, ended."""
    capture = Capture(f"127.0.0.1:{server.port}", keep)
    for phase in ("empty", "weight"):
        capture.begin(phase, WEIGHT, LEVER)
        assert capture.wait(LIMIT, lambda one: one.phase is None)
    capture.begin("sweep")
    assert capture.wait(LIMIT, lambda one: one.state == "ended" or len(one.rows().ms) >= enough)
    capture.stop()
    return capture


def test_a_known_profile_lies_within_its_interval_through_every_fault() -> None:
    parts: list[str] = []
    with served(noise=1.0, faults=FAULTS) as server:
        capture = captured(server, parts.append)
    rows = Rows.read("".join(parts))
    np.testing.assert_array_equal(rows.counts, capture.rows().counts)  # what is kept is what was read
    assert capture.reconnected >= 2
    assert capture.stream.garbled > 0
    assert capture.stream.lost > capture.stream.garbled
    found = folded(rows, calibrated(rows, WEIGHT, LEVER))
    true = np.array([built_in_profile().at(a) for a in found.profile.angle])
    within = (found.profile.low <= true) & (true <= found.profile.high)
    assert within.mean() >= 0.9
    assert (found.profile.high - found.profile.low).max() < 4
    assert found.lag == pytest.approx(0.06, abs=0.02)


def test_what_is_still_under_way_when_a_weight_is_hung_on_is_not_read_as_the_weight(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    read = Device.read

    def late(device: Device, wait: float) -> list[Sample]:
        time.sleep(0.3)  # three seconds of samples wait each time
        return read(device, wait)

    monkeypatch.setattr(Device, "read", late)
    with served(noise=0.1) as server:
        capture = Capture(f"127.0.0.1:{server.port}", lambda _: None)
        for phase in ("empty", "weight"):
            time.sleep(0.25)  # so that the readings of before wait when it begins
            capture.begin(phase, WEIGHT, LEVER)
            assert capture.wait(LIMIT, lambda one: one.phase is None)
        capture.stop()
    found = calibrated(capture.rows(), WEIGHT, LEVER)
    assert found.torque_per_count == pytest.approx(1 / COUNTS_PER_NM, rel=0.01)


def test_nothing_captured_is_lost_when_a_device_goes_for_good(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("curve_rank.background.captures.GIVE_UP", 0.5)
    parts: list[str] = []
    with served(noise=0.1) as server:
        capture = Capture(f"127.0.0.1:{server.port}", parts.append)
        capture.begin("sweep")
        assert capture.wait(LIMIT, lambda one: len(one.rows().ms) > 300)
    assert capture.wait(LIMIT, lambda one: one.state == "ended")
    assert "answers" in capture.problem
    rows = Rows.read("".join(parts))
    assert rows.ms.size == capture.rows().ms.size >= 300
    with pytest.raises(BadInputError, match="ended"):
        capture.begin("empty")


def test_a_zero_that_is_read_again_takes_the_place_of_the_first() -> None:
    lines = [f"empty,{n},{10 * n},70,{100 + n % 2}" for n in range(150)]
    lines += [f"empty,{n},{10 * n},70,{900 + n % 2}" for n in range(250, 400)]
    lines += [f"weight,{n},{10 * n},70,{1900 + n % 2}" for n in range(500, 650)]
    rows = Rows.read("\n".join(lines))
    assert rows.of("empty").counts.mean() == pytest.approx(900.5)
    assert calibrated(rows, 10, 1).torque_per_count == pytest.approx(98.1 / 1000, rel=0.001)


def test_steps_that_cannot_be_are_refused() -> None:
    with served() as server:
        capture = Capture(f"127.0.0.1:{server.port}", lambda _rows: None)
        for weight, lever in ((0, 1), (10, 0), (-5, 1), (float("nan"), 1), (10, 90)):
            with pytest.raises(BadInputError, match="known weight"):
                capture.begin("weight", weight, lever)
        capture.stop()
        with pytest.raises(BadInputError, match="at least"):
            calibrated(capture.rows(), 10, 1)


def test_a_capture_that_nobody_looks_at_ends_and_keeps_what_it_has() -> None:
    parts: list[str] = []
    with served() as server:
        capture = Capture(f"127.0.0.1:{server.port}", parts.append, forgotten_after=0.3)
        capture.begin("sweep")
        assert capture.wait(LIMIT, lambda one: one.state == "ended")
    assert "nobody looked" in capture.problem
    assert parts


def test_samples_that_could_not_be_kept_are_kept_the_next_time() -> None:
    parts: list[str] = []
    refused = iter([True, True])

    def keep(rows: str) -> None:
        if next(refused, False):
            raise UnavailableError("database", "busy", "a moment of patience")
        parts.append(rows)

    with served() as server:
        capture = Capture(f"127.0.0.1:{server.port}", keep)
        capture.begin("sweep")
        capture.wait(3.5, lambda one: one.state == "ended")
        assert capture.state == "listening"
        capture.stop()
    np.testing.assert_array_equal(Rows.read("".join(parts)).counter, capture.rows().counter)


def test_one_person_has_one_capture_and_all_have_a_bound() -> None:
    with served() as server:

        def make() -> Capture:
            return Capture(f"127.0.0.1:{server.port}", lambda _rows: None)

        captures = Captures(most=2)
        first = captures.start(1, 10, make)
        second = captures.start(1, 11, make)
        assert first.state == "ended"
        assert captures.find(1, 10) is None
        assert captures.find(1, 11) is second
        captures.start(2, 12, make)
        with pytest.raises(BusyError):
            captures.start(3, 13, make)
        captures.close()
        assert second.state == "ended"
    with pytest.raises(UnavailableError):
        captures.start(1, 14, make)
