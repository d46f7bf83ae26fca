"""`make soak`: load, kills, clashes and hostile input, each figure beside its limit. Only on 127.0.0.1."""

from __future__ import annotations

import argparse
import sys
import tempfile
from pathlib import Path

from benchmarks.soak import fuzz, kills
from benchmarks.soak.load import one_by_one, visit
from benchmarks.soak.server import HOST, Server, Visitor

BENCH_CHANGE = "/bench/standing-dumbbell-curl.json?part=bench&set=posture.wrist%3D-17"
PAGES = {
    "/board": 80.0,
    "/board.json": 50.0,
    "/variants": 80.0,
    "/bench/standing-dumbbell-curl": 80.0,
    "/schools": 80.0,
    "/variants/chin-up": 120.0,
    "/loads": 120.0,
    BENCH_CHANGE: 30.0,
}
"""Addresses, and the processor time each may cost the server when warm [ms]."""
GROWTH = 150.0
"""How much memory may grow over the hostile requests [MB]."""
missed: list[str] = []


def tell(what: str, figure: float | int, limit: float | int, unit: str = "", *, least: bool = False) -> None:
    """One line; what is over its limit is remembered."""
    kept = figure >= limit if least else figure <= limit
    if not kept:
        missed.append(what)
    sign = "at least" if least else "at most"
    print(f"{what:58} {figure:9.3g} {unit:4} {sign} {limit:g}{'' if kept else '   MISSED'}", flush=True)


def loads(folder: Path, seconds: float) -> None:
    with Server(folder / "load") as server:
        for what in ("20 visitors, nothing seen before", "20 visitors", "20 visitors again"):
            load = visit(server.port, 20, seconds)
            tell(f"{what}: answers a second", load.rate, 25, least=True)
            tell(f"{what}: 95th percentile", load.slow, 1.5, "s")
            tell(f"{what}: errors", len(load.failures), 0)
        load = visit(server.port, 4, seconds)
        tell("4 visitors: 95th percentile", 1000 * load.slow, 250, "ms")
        for address, limit in PAGES.items():
            tell(f"server time {address[:45]}", one_by_one(server, address), limit, "ms")
        visitor = Visitor(server.port)
        visitor.get("/board")
        tell("the board on the wire", visitor.wire / 1024, 100, "KB")
        tell("SIGTERM to the end", server.kill(15), 5, "s")


def faults(folder: Path, quick: bool) -> None:
    acknowledged, lost, doubled = kills.kill_during_saves(folder / "kills", 5 if quick else 30)
    tell("saves acknowledged before kills", acknowledged, 1, least=True)
    tell("of those lost", lost, 0)
    tell("of those doubled", doubled, 0)
    times = 3 if quick else 20
    both, said = kills.start_two(folder / "two", times)
    tell("two servers at once: both answered", both, times, least=True)
    for one in said:
        print(one)
    with Server(folder / "clash") as server:
        statuses = kills.clash(server.port, 4, 20 if quick else 200)
        print(f"clashing saves by status: {statuses}")
        tell("clashing saves: server errors", sum(n for s, n in statuses.items() if s >= 500), 0)


def hostile(folder: Path, requests: int) -> None:
    with Server(folder / "fuzz") as server:
        fuzz.fuzz(server, 500, seed=2)
        for seconds_of in ("/board", "/schools", "/loads", "/variants"):
            Visitor(server.port).get(seconds_of)
        before = server.memory
        found = fuzz.fuzz(server, requests)
        print(f"hostile requests by status: {dict(sorted(found.statuses.items()))}")
        for fault in found.faults[:20]:
            print("  ", fault)
        tell("hostile requests: server errors", len(found.faults), 0)
        tell("hostile requests: the slowest", found.slowest, fuzz.SLOW, "s")
        print("  ", found.slowest_of)
        tell("memory grown by", server.memory - before, GROWTH, "MB")
        tell("traces in the log", server.said.count("Traceback"), 0)


def main() -> None:
    parser = argparse.ArgumentParser(prog="make soak", description=f"Everything runs against {HOST}.")
    parser.add_argument("--quick", action="store_true", help="A few of each, to see that it runs.")
    parser.add_argument("--only", choices=["load", "faults", "hostile"], action="append")
    parser.add_argument("--requests", type=int, default=10_000, help="Hostile requests, at most 50,000.")
    given = parser.parse_args()
    only = given.only or ["load", "faults", "hostile"]
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        if "load" in only:
            loads(folder, 5 if given.quick else 30)
        if "faults" in only:
            faults(folder, given.quick)
        if "hostile" in only:
            hostile(folder, 300 if given.quick else min(given.requests, 50_000))
    if missed:
        sys.exit(f"{len(missed)} over their limit: {'; '.join(missed)}")


if __name__ == "__main__":
    main()
