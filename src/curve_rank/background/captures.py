"""Captures: a device listened to in a thread, samples kept as they come, broken connections mended."""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from array import array
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.errors import BadInputError, BusyError, CurveRankError, UnavailableError
from curve_rank.exchange.device import Device, LostConnectionError, Sample, Stream, connect
from curve_rank.measure.profile import Profile
from curve_rank.measure.sweeps import Calibration, Swept, calibration, fold_sweeps

log = logging.getLogger(__name__)

Phase = Literal["empty", "weight", "sweep"]
PHASES: tuple[Phase, ...] = ("empty", "weight", "sweep")
TITLES = "phase,counter,ms,angle_deg,counts"
SETTLE_MS = 400
"""After a phase has begun its first samples are left out: a hand lets go, a weight swings [ms]."""
STILL_MS = 1500
"""How long a zero or a known weight is read [ms]."""
LONGEST = 200_000
"""Samples of one capture."""
KEEP_EVERY = 1.0
"""How often samples are handed on to be kept [s]."""
LISTEN = 0.1
TRY_AGAIN, GIVE_UP = 0.3, 30.0
"""After a broken connection it is tried again so often, and for so long [s]."""
POINTS = 400
"""Of a live plot at once, at most."""


@dataclass(frozen=True)
class Rows:
    """Samples as they were kept: what each was of, its number, time [ms], angle [degrees] and counts."""

    phase: Array
    counter: Array
    ms: Array
    angle: Array
    counts: Array

    def of(self, phase: Phase) -> Rows:
        """Those of one phase; of a zero or a known weight that was read again, the last alone."""
        at = np.flatnonzero(self.phase == PHASES.index(phase))
        if phase != "sweep" and at.size:
            again = (np.diff(at) > 1) | (np.diff(self.ms[at]) > SETTLE_MS / 2)
            at = at[at >= at[np.append(0, np.flatnonzero(again) + 1)[-1]]]
        return Rows(self.phase[at], self.counter[at], self.ms[at], self.angle[at], self.counts[at])

    @classmethod
    def read(cls, text: str) -> Rows:
        """From the text of kept parts, without titles."""
        places = {str(name): n for n, name in enumerate(PHASES)}
        split = [line.split(",") for line in text.splitlines() if line]
        return cls(
            np.array([float(places[row[0]]) for row in split]),
            *(np.array([float(row[n]) for row in split]) for n in range(1, 5)),
        )


def calibrated(rows: Rows, weight: float, lever: float) -> Calibration:
    """From the samples with nothing on the cell and with a known weight on it.

    Raises
    ------
    BadInputError
    """
    return calibration(rows.of("empty").counts, rows.of("weight").counts, weight, lever)


def folded(rows: Rows, known: Calibration) -> Swept:
    """The profile that was swept.

    Raises
    ------
    BadInputError
    """
    swept, empty = rows.of("sweep"), rows.of("empty").ms
    start = float(empty.mean()) if empty.size else 0.0
    return fold_sweeps((swept.ms - start) / 1000, swept.angle, swept.counts, known)


def profile_lists(profile: Profile) -> dict[str, list[float]]:
    """A profile as plain lists, by the names that documents give them."""
    names = ("angle", "torque", "low", "high", "friction")
    return {name: getattr(profile, name).round(4).tolist() for name in names}


Keep = Callable[[str], None]


class Capture:
    """One capture under way.

    Parameters
    ----------
    address : str
        Of the device.
    keep : callable
        Is given the samples since the last time, as rows of text; and once more when it ends.
    forgotten_after : float, optional
        It ends when nobody has asked about it for so long [s].
    """

    def __init__(self, address: str, keep: Keep, forgotten_after: float | None = None) -> None:
        self.address, self.stream = address, Stream()
        self.state: Literal["listening", "reconnecting", "ended"] = "listening"
        self.problem, self.reconnected = "", 0
        self.weight, self.lever = 0.0, 0.0
        self._keep, self._forgotten_after = keep, forgotten_after
        self._device: Device | None = connect(address, self.stream)
        self._phase: Phase | None = None
        self._calibration: Calibration | None = None
        self._begun_ms: int | None = None
        self._columns: tuple[array[Any], ...] = tuple(map(array, "bqqdq"))
        self._handed, self._newest = 0, Sample(0, 0, 0.0, 0)
        self._asked_at = time.monotonic()
        self._lock = threading.Lock()
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._listen, daemon=True)
        self._thread.start()

    @property
    def simulated(self) -> bool:
        """Whether the device is a stand-in."""
        device = self._device
        return device is not None and device.simulated

    @property
    def counts(self) -> dict[str, int]:
        """Samples, what was lost, garbled and doubled on the way, and connections that were mended."""
        counted = {name: getattr(self.stream, name) for name in ("samples", "lost", "garbled", "doubled")}
        return counted | {"reconnected": self.reconnected}

    @property
    def phase(self) -> Phase | None:
        """What is read now; None while nothing is kept."""
        return self._phase

    def begin(self, phase: Phase, weight: float = 0.0, lever: float = 0.0) -> None:
        """Read something else from now on.

        Raises
        ------
        BadInputError
            For a known weight that is none.
        UnavailableError
            When the device is gone.
        """
        if phase == "weight":
            if not (0 < weight <= 500 and 0 < lever <= 3):
                right = "a weight up to 500 kg on a lever up to 3 m"
                raise BadInputError("known weight", f"{weight:g} kg at {lever:g} m", right)
            self.weight, self.lever = weight, lever
        if self.state == "ended":
            raise BadInputError("capture", "ended", "one that is under way; begin another")
        with self._lock:
            if self._device is not None:
                self._device.pose(phase, weight, lever)
            self._phase, self._begun_ms = phase, None
            self._calibration = None if phase != "sweep" else self._calibration

    def wait(self, seconds: float, until: Callable[[Capture], bool]) -> bool:
        """Wait for something, at most some seconds; whether it came."""
        limit = time.monotonic() + seconds
        while time.monotonic() < limit and self.state != "ended":
            if until(self):
                return True
            time.sleep(LISTEN / 2)
        return until(self)

    def stop(self) -> None:
        """End it; what was captured stays."""
        self._stop.set()
        self._thread.join()

    def rows(self) -> Rows:
        """What was kept so far."""
        with self._lock:
            return Rows(*(np.array(column, dtype=float) for column in self._columns))

    def live(self, since: int) -> dict[str, Any]:
        """What a page shows while it goes on: state, counts, and the points since one of them."""
        self._asked_at = time.monotonic()
        with self._lock:
            total = len(self._columns[0])
            first = max(0, min(since, total))
            kept = [np.array(column[first:], dtype=float) for column in self._columns]
            newest, phase = self._newest, self._phase
        swept = kept[0] == PHASES.index("sweep")
        angle, counts = kept[3][swept], kept[4][swept]
        thin = max(1, angle.size // POINTS)
        with contextlib.suppress(BadInputError):
            known = self._known()
            counts = (counts - known.zero) * known.torque_per_count
        return {
            "state": self.state,
            "phase": phase,
            "problem": self.problem,
            **self.counts,
            "angle": round(newest.angle, 1),
            "counts": newest.counts,
            "zeroed": self._has("empty"),
            "calibrated": self._has("weight"),
            "total": total,
            "points": np.stack((angle, counts))[:, ::thin].T.round(2).tolist(),
        }

    def _known(self) -> Calibration:
        known = self._calibration
        if known is None:
            if not self._has("weight"):
                raise BadInputError("calibration", "none yet", "a known weight that was read")
            known = self._calibration = calibrated(self.rows(), self.weight, self.lever)
        return known

    def _has(self, phase: Phase) -> bool:
        """Whether a phase was read to its end, or is not under way any more."""
        return self._phase != phase and PHASES.index(phase) in self._columns[0]

    def _listen(self) -> None:
        kept_at = time.monotonic()
        try:
            while not self._stop.is_set():
                self._take(self._heard())
                if time.monotonic() - kept_at > KEEP_EVERY:
                    kept_at = time.monotonic()
                    with contextlib.suppress(UnavailableError):  # what is busy is tried again next time
                        self._hand_on()
                if len(self._columns[0]) >= LONGEST:
                    self.problem = f"it ended by itself after {LONGEST} samples"
                    break
                asked = time.monotonic() - self._asked_at
                if self._forgotten_after is not None and asked > self._forgotten_after:
                    self.problem = "nobody looked any more, and it ended by itself"
                    break
        except CurveRankError as error:
            self.problem = str(error)
        except Exception:
            log.exception("a capture failed")
            self.problem = "it could not go on; the log says why"
        finally:
            if self._device is not None:
                self._device.close()
            with contextlib.suppress(Exception):
                self._hand_on()
            self.state = "ended"

    def _heard(self) -> list[Sample]:
        """What comes; a broken connection is mended.

        Raises
        ------
        UnavailableError
            When it cannot be mended.
        """
        assert self._device is not None
        try:
            return self._device.read(LISTEN)
        except LostConnectionError:
            self._device.close()
            self.state = "reconnecting"
        until = time.monotonic() + GIVE_UP
        while True:
            try:
                self._device = connect(self.address, self.stream)
                if self.stream.awaited and self._phase is not None:
                    self._device.pose(self._phase, self.weight, self.lever)
                break
            except UnavailableError:
                if time.monotonic() > until or self._stop.wait(TRY_AGAIN):
                    raise
        self.state, self.reconnected = "listening", self.reconnected + 1
        return []

    def _take(self, samples: list[Sample]) -> None:
        with self._lock:
            for sample in samples:
                self._newest = sample
                if self._phase is None or self.stream.awaited:
                    continue
                if self._begun_ms is None:
                    self._begun_ms = sample.ms
                since = sample.ms - self._begun_ms
                if since < SETTLE_MS:
                    continue
                if self._phase != "sweep" and since > SETTLE_MS + STILL_MS:
                    self._phase = None
                    continue
                read = (PHASES.index(self._phase), sample.counter, sample.ms, sample.angle, sample.counts)
                for column, value in zip(self._columns, read, strict=True):
                    column.append(value)

    def _hand_on(self) -> None:
        """Give what is new to whoever keeps it."""
        new = [column[self._handed :] for column in self._columns]
        if len(new[0]):
            self._keep(
                "".join(f"{PHASES[p]},{n},{ms},{a:g},{c}\n" for p, n, ms, a, c in zip(*new, strict=True))
            )
            self._handed += len(new[0])


class Captures:
    """The captures of everyone: one a person at a time. Safe to share between threads."""

    def __init__(self, most: int = 8) -> None:
        self._under_way: dict[int, tuple[int, Capture]] = {}
        self._most = most
        self._lock = threading.Lock()

    def start(self, person: int, number: int, make: Callable[[], Capture]) -> Capture:
        """Begin one; a person's own that is under way ends.

        Raises
        ------
        BusyError, UnavailableError, BadInputError
        """
        with self._lock:
            before = self._under_way.pop(person, None)
            if before is not None:
                before[1].stop()
            self._under_way = {p: one for p, one in self._under_way.items() if one[1].state != "ended"}
            if len(self._under_way) >= self._most:
                raise BusyError("captures", f"{self._most} under way", "a little patience")
            made = make()
            self._under_way[person] = (number, made)
            return made

    def find(self, person: int, number: int) -> Capture | None:
        """A person's capture, if it is under way or has just ended."""
        found = self._under_way.get(person)
        return found[1] if found is not None and found[0] == number else None

    def close(self) -> None:
        """End whatever is under way."""
        for _, one in list(self._under_way.values()):
            one.stop()
