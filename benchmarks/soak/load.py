"""Visitors at once over board, bench changes and variants’ pages: answers a second, and waits."""

from __future__ import annotations

import json
import random
import threading
import time
from dataclasses import dataclass, field
from statistics import quantiles

from benchmarks.soak.server import Server, Visitor

TARGETS = ("biceps_long", "biceps_short", "brachialis", "triceps_long", "triceps_medial", "flexors")
LENSES = ("long_length", "even_tension", "all_round", "heavy_basics")


@dataclass
class Load:
    """What some visitors met."""

    seconds: float
    waits: list[float] = field(default_factory=list)
    failures: list[str] = field(default_factory=list)

    @property
    def rate(self) -> float:
        """Answers a second."""
        return len(self.waits) / self.seconds

    @property
    def slow(self) -> float:
        """95th percentile of the waits [s]."""
        return quantiles(self.waits, n=20)[-1] if len(self.waits) > 1 else float("inf")


def addresses(port: int) -> list[str]:
    """Boards, bench changes and pages of every variant, in equal parts."""
    ids = [one["id"] for one in json.loads(Visitor(port).get("/variants.json")[1])]
    chance = random.Random(7)
    boards = [f"/board?target={t}&lens={lens}" for t in TARGETS for lens in LENSES]
    curls = [name for name in ids if "dumbbell-curl" in name]
    found = []
    for name in ids:
        found.append(f"/variants/{name}")
        found.append(chance.choice(boards))
        wrist = chance.randint(-30, -5)
        found.append(f"/bench/{chance.choice(curls)}.json?part=bench&set=posture.wrist%3D{wrist}")
    return found


def visit(port: int, visitors: int, seconds: float) -> Load:
    """So many visitors ask without a pause for so long."""
    asked, load, lock = addresses(port), Load(seconds), threading.Lock()
    until = time.monotonic() + seconds

    def one(seed: int) -> None:
        visitor, chance = Visitor(port), random.Random(seed)
        while time.monotonic() < until:
            address, begun = chance.choice(asked), time.monotonic()
            try:
                status, _ = visitor.get(address)
            except OSError as error:
                status = str(error)
            waited = time.monotonic() - begun
            with lock:
                load.waits.append(waited)
                if status not in (200, 422):
                    load.failures.append(f"{status} {address}")

    threads = [threading.Thread(target=one, args=(n,)) for n in range(visitors)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return load


def one_by_one(server: Server, address: str, times: int = 30) -> float:
    """Processor time of the server for one address asked again and again, warm [ms]."""
    visitor = Visitor(server.port)
    for _ in range(3):
        visitor.get(address)
    begun = server.cpu
    for _ in range(times):
        visitor.get(address)
    return 1000 * (server.cpu - begun) / times
