"""A device that is not there: a machine with a known profile, swept to and fro, and whatever can go wrong."""

from __future__ import annotations

import json
import select
import socketserver
import threading
import time
from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any, Literal, get_args

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.parameters import parameter_set
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.line_kinds import MachineLine
from curve_rank.errors import BadInputError, CurveRankError, UnavailableError
from curve_rank.exchange.device import GREETING, LONGEST_LINE, Sample, body_of, line_of
from curve_rank.measure.columns import guess, read_sheet, samples

Fault = Literal["drift", "lag", "drop", "double", "garble", "disconnect"]
FAULTS: tuple[Fault, ...] = get_args(Fault)
MACHINE, STACK = "machine-pad-curl", 25.0
"""Whose profile it has unless another is given, and with how much on the stack [kg]."""
PERIOD = 4.0
"""Of one sweep to and fro [s]."""
OFFSET, COUNTS_PER_NM = 8130, 54.0
FRICTION, SLOW = 1.2, 4.0
"""Of the machine [N·m]; below such a speed it fades [degrees/s]."""
ANGLE_NOISE = 0.1
"""Of the angle's sensor [degrees]."""
DRIFT, LAG = 0.02, 0.06
"""Of the cell's zero [N·m/s]; of the cell behind the angle [s]."""
CHANCES = {"drop": 0.02, "double": 0.01, "garble": 0.01}
DISCONNECT_EVERY = 900
"""Samples from one broken connection to the next."""
TICK = 0.02
KEPT = 20_000
"""Samples that are kept for listeners that are behind."""


@dataclass(frozen=True)
class Known:
    """The true profile: angles [degrees] and torques [N·m]."""

    angle: Array
    torque: Array

    def at(self, angle: float) -> float:
        """The torque at an angle [N·m]."""
        return float(np.interp(angle, self.angle, self.torque))


def built_in_profile() -> Known:
    """The profile of a machine of the catalogue."""
    line = find_variant(MACHINE, built_in()).lines[0]
    assert isinstance(line, MachineLine)
    angle, per_kg = np.array(line.profile).T
    return Known(angle, np.abs(per_kg) * STACK)


def read_profile(text: str) -> Known:
    """A profile from JSON (`angle_deg` and `torque_nm`, or a kept profile's `angle` and `torque`) or CSV.

    Raises
    ------
    BadInputError
    """
    if text.lstrip()[:1] not in ("{", "["):
        sheet = read_sheet(text)
        found = samples(sheet, guess(sheet))
        return _checked(found.angle, found.torque)
    right = "a JSON document with the lists angle_deg and torque_nm, or a CSV file"
    try:
        data: Any = json.loads(text)
        data = data.get("profile", data)
        angle = np.array(data.get("angle_deg", data.get("angle")), dtype=float)
        torque = np.array(data.get("torque_nm", data.get("torque")), dtype=float)
    except (ValueError, TypeError, AttributeError, RecursionError) as error:
        raise BadInputError("profile", "unreadable", f"{right} ({error})") from error
    return _checked(angle, torque)


def _checked(angle: Array, torque: Array) -> Known:
    low, high = parameter_set().row_of("ranges.elbow")
    whole = angle.ndim == 1 and angle.shape == torque.shape and angle.size >= 2
    if not whole or not (np.isfinite(angle).all() and np.isfinite(torque).all()):
        raise BadInputError("profile", "no two lists of numbers", "angles and torques, as many of each")
    if (np.diff(angle) <= 0).any() or angle[0] < low or angle[-1] > high:
        raise BadInputError("profile", "angles", f"rising from at least {low:g} to at most {high:g}°")
    return Known(angle, torque)


class SimulatedDevice:
    """The device itself; it goes on counting whether or not anybody listens.

    Parameters
    ----------
    known : Known
    noise : float
        Standard deviation of the cell [N·m].
    faults : sequence of str
    rate : float
        Samples a second.
    seed : int
    hurry : float
        How many times faster than the clock its time runs.
    """

    def __init__(
        self,
        known: Known,
        *,
        noise: float = 0.5,
        faults: Sequence[str] = (),
        rate: float = 100.0,
        seed: int = 1,
        hurry: float = 1.0,
    ) -> None:
        unknown = set(faults) - set(FAULTS)
        if unknown:
            raise BadInputError("faults", ", ".join(sorted(unknown)), "of " + ", ".join(FAULTS))
        if not (np.isfinite(noise) and noise >= 0):
            raise BadInputError("noise", noise, "a number of N·m, 0 or more")
        self._known, self._noise, self._faults = known, noise, frozenset(faults)
        self.rate, self._hurry = rate, hurry
        self._started = time.monotonic()
        self._chance = np.random.default_rng(seed)
        self._made = 0
        self._lines: deque[tuple[str, ...]] = deque(maxlen=KEPT)  # what a sample is sent as: up to two lines
        self._pose: tuple[str, float, float] = ("empty", 0.0, 0.0)  # pose, moment, and since when
        self._lock = threading.Lock()

    def due(self) -> int:
        """Samples that have been made by now."""
        return int((time.monotonic() - self._started) * self._hurry * self.rate)

    def lines(self, start: int, stop: int) -> list[str]:
        """What is sent for some samples."""
        with self._lock:
            if start > self._made:  # nobody listened to what lies between
                self._lines.clear()
                self._made = start
            while self._made < stop:
                self._lines.append(self._sent(self._made))
                self._made += 1
            first = max(0, start - (self._made - len(self._lines)))
            last = max(0, stop - (self._made - len(self._lines)))
            return [line for one in islice(self._lines, first, last) for line in one]

    def breaks(self, start: int, stop: int) -> int | None:
        """The sample at which the connection breaks, if there is one among some."""
        at = (start // DISCONNECT_EVERY + 1) * DISCONNECT_EVERY
        return at if "disconnect" in self._faults and at <= stop else None

    def told(self, body: str) -> int | None:
        """Take a pose: from which sample on it is stood for, or None where it is none."""
        word, *values = body.removeprefix("P,").split(",")
        moment = 0.0
        if word == "weight" and len(values) == 2:
            try:
                moment = float(values[0]) * parameter_set().number("body.gravity") * float(values[1])
            except ValueError:
                return None
        elif word not in ("empty", "sweep"):
            return None
        with self._lock:
            self._pose = (word, moment, self._made / self.rate)
            return self._made

    def _sent(self, counter: int) -> tuple[str, ...]:
        now = counter / self.rate
        lag = LAG if "lag" in self._faults else 0.0
        angle, _ = self._swept(now)
        before, speed = self._swept(now - lag)
        pose, moment, _ = self._pose
        if pose == "sweep":
            moment = self._known.at(before) + FRICTION * float(np.tanh(speed / SLOW))
        if "drift" in self._faults:
            moment += DRIFT * now
        scatter, jitter = self._chance.normal(size=2).tolist()
        counts = OFFSET + COUNTS_PER_NM * (moment + self._noise * scatter)
        line = line_of(Sample(counter, round(1000 * now), angle + ANGLE_NOISE * jitter, round(counts)))
        dice = dict(zip(CHANCES, self._chance.random(len(CHANCES)).tolist(), strict=True))
        happens = {fault for fault in self._faults & CHANCES.keys() if dice[fault] < CHANCES[fault]}
        if "drop" in happens:
            return ()
        if "garble" in happens:
            place = counter % (len(line) - 2)
            wrong = "7" if line[place] != "7" else "3"
            return (line[:place] + wrong + line[place + 1 :],)
        return (line, line) if "double" in happens else (line,)

    def _swept(self, now: float) -> tuple[float, float]:
        """Angle [degrees] and its speed [degrees/s]; at rest in the middle until it is swept."""
        first, last = float(self._known.angle[0]), float(self._known.angle[-1])
        pose, _, since = self._pose
        if pose != "sweep":
            return (first + last) / 2, 0.0
        turn = 2 * np.pi / PERIOD
        along, half = turn * max(0.0, now - since), (last - first) / 2
        return (first + half * (1 - float(np.cos(along))), turn * half * float(np.sin(along)))


class DeviceServer(socketserver.ThreadingTCPServer):
    """A device at an address of this machine."""

    allow_reuse_address, daemon_threads = True, True

    def __init__(self, port: int, device: SimulatedDevice, host: str = "127.0.0.1") -> None:
        self.device, self.closing = device, threading.Event()
        try:
            super().__init__((host, port), _Listener)
        except OSError as error:
            raise UnavailableError(
                "--port", port, f"a port of this machine that is free ({error})"
            ) from error

    def server_close(self) -> None:
        """Let go of the address, and of everyone who listens."""
        self.closing.set()
        super().server_close()

    @property
    def port(self) -> int:
        """Where it listens."""
        return int(self.server_address[1])


class _Listener(socketserver.BaseRequestHandler):
    """Whoever listens is sent every sample from now on."""

    server: DeviceServer

    def handle(self) -> None:
        device, heard = self.server.device, b""
        try:
            self.request.sendall(f"{GREETING} rate={device.rate:g} simulated\n".encode())
            sent = device.due()
            while not self.server.closing.is_set():
                if select.select([self.request], [], [], TICK)[0]:
                    data = self.request.recv(1024)
                    if not data:
                        return
                    *lines, heard = (heard + data)[-LONGEST_LINE * 8 :].split(b"\n")
                    for line in lines:
                        body = body_of(line.decode("ascii", "replace"))
                        taken = None if body is None else device.told(body)
                        if taken is not None:
                            sent, before = max(sent, taken), device.lines(sent, taken)
                            self.request.sendall("".join([*before, f"# {body}\n"]).encode())
                due = device.due()
                at = device.breaks(sent, due)
                self.request.sendall("".join(device.lines(sent, at or due)).encode())
                if at:
                    return
                sent = due
        except (OSError, CurveRankError):
            return  # whoever listened has gone
