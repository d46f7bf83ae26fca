"""The line protocol: what is garbled is counted and never read, and a simulated device keeps to it."""

from __future__ import annotations

import socket
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.errors import BadInputError, UnavailableError
from curve_rank.exchange.device import GREETING, Sample, Stream, address_of, body_of, connect, line_of
from curve_rank.exchange.simulated_device import (
    FAULTS,
    DeviceServer,
    SimulatedDevice,
    built_in_profile,
    read_profile,
)

SAMPLES = [Sample(n, 10 * n, 5 + n / 4, 8000 + n) for n in range(60)]
LINES = "".join(map(line_of, SAMPLES)).encode()


@contextmanager
def device(**said: object) -> Iterator[str]:
    """The address of a simulated device."""
    with DeviceServer(0, SimulatedDevice(built_in_profile(), **said)) as server:  # type: ignore[arg-type]
        threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
        yield f"127.0.0.1:{server.port}"
        server.shutdown()


@given(st.lists(st.integers(1, 200)))
def test_however_bytes_come_the_samples_are_the_same(cuts: list[int]) -> None:
    stream, found, at = Stream(), [], 0
    for size in [*cuts, len(LINES)]:
        found += stream.feed(LINES[at : at + size])
        at += size
    assert found == SAMPLES
    assert (stream.samples, stream.lost, stream.garbled, stream.doubled) == (60, 0, 0, 0)


@given(st.integers(0, len(LINES) - 2), st.integers(0, 255))
def test_one_wrong_byte_is_never_read_as_data(place: int, wrong: int) -> None:
    damaged = LINES[:place] + bytes([wrong]) + LINES[place + 1 :]
    stream = Stream()
    found = stream.feed(damaged)
    assert set(found) <= set(SAMPLES)
    if damaged != LINES:
        assert len(found) < 60
        assert stream.garbled in (1, 2)


def test_gaps_are_lost_and_repeats_count_once() -> None:
    stream = Stream()
    lines = [line_of(one) for one in SAMPLES]
    found = stream.feed("".join([*lines[:10], lines[9], *lines[15:], "S,1,2,3,4*0000\n", "\n"]).encode())
    assert len(found) == 55
    assert (stream.lost, stream.doubled, stream.garbled) == (5, 1, 1)
    stream.feed(b"S,61,6")
    stream.cut()
    assert stream.garbled == 2


def test_endless_lines_and_a_device_that_began_anew_are_noticed() -> None:
    stream = Stream()
    stream.feed(LINES[len(LINES) // 2 :])
    assert stream.feed(b"9" * 5000) == []
    assert stream.garbled >= 1
    with pytest.raises(UnavailableError, match="anew"):
        stream.feed(b"\n" + LINES)


@pytest.mark.parametrize("text", ["", "host", "host:", ":1", "host:0", "host:70000", "host:x"])
def test_addresses_that_are_none_are_refused(text: str) -> None:
    with pytest.raises(BadInputError, match="HOST:PORT"):
        address_of(text)


@pytest.mark.parametrize("says", [b"", b"HTTP/1.1 400 Bad Request\r\n", b"#curve-rank-devic", b"\xff" * 500])
def test_what_does_not_greet_is_no_device(says: bytes, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("curve_rank.exchange.device.PATIENCE", 0.5)
    with socket.create_server(("127.0.0.1", 0)) as server:
        address = f"127.0.0.1:{server.getsockname()[1]}"
        threading.Thread(target=lambda: server.accept()[0].sendall(says), daemon=True).start()
        with pytest.raises(UnavailableError, match="greet"):
            connect(address)
    with pytest.raises(UnavailableError, match="answers"):
        connect(address)


def heard(address: str, count: int, pose: Callable[..., None] | None = None) -> tuple[list[Sample], Stream]:
    """So many samples, or those until the connection breaks."""
    found: list[Sample] = []
    one = connect(address)
    if pose is not None:
        pose(one)
    with suppress(UnavailableError):
        while len(found) < count:
            found += one.read(0.05)
    one.close()
    return found, one.stream


def test_a_device_without_faults_loses_nothing() -> None:
    with device(rate=200, noise=0) as address:
        found, stream = heard(address, 200)
    counters = [one.counter for one in found]
    assert counters == list(range(counters[0], counters[0] + len(counters)))
    assert found[-1].ms - found[0].ms == pytest.approx(5 * (len(found) - 1), abs=1)  # by its own clock
    assert (stream.lost, stream.garbled, stream.doubled) == (0, 0, 0)


def test_every_fault_shows_itself() -> None:
    with device(rate=100, hurry=30, faults=("drop", "double", "garble", "disconnect")) as address:
        found, stream = heard(address, 5000)
    assert 0 < len(found) < 1000  # the connection breaks within 900 samples
    assert stream.lost > 0
    assert stream.doubled > 0
    assert stream.garbled > 0


def test_the_connection_breaks_wherever_one_step_ends_and_the_next_begins() -> None:
    one = SimulatedDevice(built_in_profile(), faults=("disconnect",))
    for step in (1, 7, 60, 90, 450, 899):
        steps = pairwise(range(0, 2000 + step, step))
        assert [at for start, stop in steps if (at := one.breaks(start, stop))] == [900, 1800]


def test_poses_are_stood_for() -> None:
    means = {}
    with device(hurry=20, noise=0.1) as address:
        for pose, weight in (("empty", 0.0), ("weight", 10.0)):
            found, _ = heard(address, 900, lambda one, p=pose, w=weight: one.pose(p, w, 0.3))
            means[pose] = np.mean([one.counts for one in found[len(found) // 2 :]])
        swept, _ = heard(address, 1200, lambda one: one.pose("sweep"))
    assert means["weight"] - means["empty"] == pytest.approx(54 * 10 * 9.81 * 0.3, rel=0.01)
    angles = [one.angle for one in swept]
    assert max(angles) > 140
    assert min(angles[len(angles) // 2 :]) < 5


def test_a_profile_is_read_from_what_people_have() -> None:
    rows = "\n".join(f"{a},{20 + a / 10}" for a in range(0, 120, 10))
    for text in (
        '{"angle_deg": [0, 60, 120], "torque_nm": [20, 26, 32]}',
        '{"profile": {"angle_deg": [0, 120], "torque_nm": [20, 32]}}',
        '{"name": "kept", "angle": [0, 120], "torque": [20, 32]}',
        f"angle,torque\n{rows}",
    ):
        assert read_profile(text).at(60) == pytest.approx(26)
    for bad in ("{", "[]", '{"angle_deg": [1]}', '{"angle_deg": [5, 1], "torque_nm": [1, 2]}'):
        with pytest.raises(BadInputError, match="profile"):
            read_profile(bad)
    for wrong in ({"noise": -1}, {"noise": float("nan")}, {"faults": ("fire",)}):
        with pytest.raises(BadInputError):
            SimulatedDevice(built_in_profile(), **wrong)
    assert set(FAULTS) == {"drift", "lag", "drop", "double", "garble", "disconnect"}
    assert line_of(SAMPLES[3]).startswith("S,3,30,575,8003*")
    assert body_of("S,3,30,575,8003*0000") is None
    assert GREETING == "#curve-rank-device 1"
