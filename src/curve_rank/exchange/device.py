"""A load cell and an angle sensor over TCP: lines of text, each with a counter and a checksum.

The device greets with `#curve-rank-device 1 rate=100`, then sends a sample a line:

    S,<counter>,<milliseconds>,<angle in hundredths of a degree>,<counts of the cell>*<CRC-16>

The CRC-16 (CCITT, from FFFF) is of what stands before the star, as four hexadecimal digits. A simulated
device says `simulated` in its greeting and is told what to stand for by lines of the same form: `P,empty`,
`P,weight,<kg>,<m>`, `P,sweep`. Before the first sample of a pose it says it again, as `# P,weight,<kg>,<m>`:
what was under way before that is not read as the new pose. A real one is told nothing.
"""

from __future__ import annotations

import binascii
import re
import select
import socket
import time
from dataclasses import dataclass, field
from typing import Literal

from curve_rank.errors import BadInputError, UnavailableError

GREETING = "#curve-rank-device 1"
LONGEST_LINE = 120
"""What is longer without an end is no line [bytes]."""
PATIENCE = 3.0
"""How long a device may take to answer and to greet [s]."""
AT_ONCE = 64 * 1024
SAMPLE = re.compile(r"S,(\d{1,10}),(\d{1,12}),(-?\d{1,6}),(-?\d{1,9})")
Pose = Literal["empty", "weight", "sweep"]


@dataclass(frozen=True)
class Sample:
    """One reading: its number, its time [ms], the elbow's angle [degrees] and the cell's counts."""

    counter: int
    ms: int
    angle: float
    counts: int


class LostConnectionError(UnavailableError):
    """The device is gone; it may come back."""

    def __init__(self) -> None:
        super().__init__("device", "gone", "one that stays connected")


def checksummed(body: str) -> str:
    """A line of the protocol."""
    return f"{body}*{binascii.crc_hqx(body.encode('ascii', 'replace'), 0xFFFF):04X}\n"


def line_of(sample: Sample) -> str:
    """A sample as a line."""
    return checksummed(f"S,{sample.counter},{sample.ms},{round(100 * sample.angle)},{sample.counts}")


def body_of(line: str) -> str | None:
    """What stands in a line; None where its checksum does not fit."""
    body, star, _ = line.rpartition("*")
    return body if star and checksummed(body) == line + "\n" else None


@dataclass
class Stream:
    """Samples out of bytes as they come; what is no sample is counted, never read as one.

    Attributes
    ----------
    samples, garbled, doubled : int
        Lines that were taken, that did not fit their checksum, and that came again.
    awaited : str
        The pose that a simulated device has not taken yet; samples until then are counted and left out.
    """

    samples: int = 0
    garbled: int = 0
    doubled: int = 0
    awaited: str = ""
    _first: int | None = None
    _last: int = -1
    _rest: bytes = b""

    @property
    def lost(self) -> int:
        """Samples that were numbered but never came whole, those that came garbled among them."""
        return 0 if self._first is None else self._last - self._first + 1 - self.samples

    def feed(self, data: bytes) -> list[Sample]:
        """The samples that are whole by now.

        Raises
        ------
        UnavailableError
            When the device counts from the beginning again: its time is another.
        """
        *lines, rest = (self._rest + data).split(b"\n")
        if len(rest) > LONGEST_LINE:
            self.garbled += 1
            rest = b""
        self._rest = rest
        found: list[Sample] = []
        for raw in lines:
            body = body_of(raw.decode("ascii", "replace").rstrip("\r"))
            match = SAMPLE.fullmatch(body) if body is not None else None
            if match is None:
                if self.awaited and raw == f"# {self.awaited}".encode():
                    self.awaited, found = "", []
                self.garbled += not (raw.startswith(b"#") or not raw.strip())
                continue
            counter, ms, angle, counts = map(int, match.groups())
            if self._first is not None and counter <= self._last:
                if counter < self._first:
                    raise UnavailableError("device", "began to count anew", "one that was not started again")
                self.doubled += 1
                continue
            self._first = counter if self._first is None else self._first
            self._last = counter
            self.samples += 1
            found.append(Sample(counter, ms, angle / 100, counts))
        return [] if self.awaited else found

    def cut(self) -> None:
        """The connection broke; half a line is no line."""
        self.garbled += bool(self._rest)
        self._rest = b""


@dataclass
class Device:
    """A connection to a device."""

    connection: socket.socket
    simulated: bool
    stream: Stream = field(default_factory=Stream)

    def pose(self, pose: Pose, weight: float = 0.0, lever: float = 0.0) -> None:
        """Tell a simulated device what to stand for; a real one has hands of its own.

        Raises
        ------
        LostConnectionError
        """
        if self.simulated:
            body = f"P,weight,{weight:g},{lever:g}" if pose == "weight" else f"P,{pose}"
            self.stream.awaited = body
            try:
                self.connection.sendall(checksummed(body).encode())
            except OSError as error:
                self.stream.awaited = ""
                raise LostConnectionError from error

    def read(self, wait: float) -> list[Sample]:
        """What comes within a time [s].

        Raises
        ------
        LostConnectionError
            When the connection broke.
        """
        try:
            if not select.select([self.connection], [], [], wait)[0]:
                return []
            data = self.connection.recv(AT_ONCE)
        except (OSError, ValueError) as error:
            raise LostConnectionError from error
        if not data:
            raise LostConnectionError
        return self.stream.feed(data)

    def close(self) -> None:
        """Leave it."""
        self.stream.cut()
        self.connection.close()


def address_of(text: str) -> tuple[str, int]:
    """Host and port.

    Raises
    ------
    BadInputError
    """
    host, colon, port = text.strip().rpartition(":")
    if not (colon and host and port.isascii() and port.isdigit() and 0 < int(port) < 65536):
        raise BadInputError("device", text, "HOST:PORT, as in 127.0.0.1:8310")
    return host.strip("[]"), int(port)


def connect(address: str, stream: Stream | None = None) -> Device:
    """Connect, and hear the greeting; what was counted before goes on in the same stream.

    Raises
    ------
    BadInputError, UnavailableError
        When nothing answers there, or what answers is no such device.
    """
    host, port = address_of(address)
    right = "a device that answers; `curve-rank device` starts a simulated one"
    try:
        connection = socket.create_connection((host, port), timeout=PATIENCE)
    except OSError as error:
        raise UnavailableError("device", f"{address} ({error})", right) from error
    greeting, until = b"", time.monotonic() + PATIENCE
    try:
        while not greeting.endswith(b"\n") and len(greeting) < LONGEST_LINE and time.monotonic() < until:
            byte = connection.recv(1)
            if not byte:
                break
            greeting += byte
    except OSError:
        greeting = b""
    words = greeting.decode("ascii", "replace").split()
    if not greeting.startswith(GREETING.encode()) or not greeting.endswith(b"\n"):
        connection.close()
        raise UnavailableError("device", f"{address}, which does not greet", f"one that says {GREETING!r}")
    return Device(connection, "simulated" in words, stream or Stream())
