"""`make soak`: load, kills, hostile input, a full house, each figure beside its limit; on 127.0.0.1."""

from __future__ import annotations

import argparse
import json
import subprocess
import sys
import tempfile
from pathlib import Path

from benchmarks.soak import fuzz, house, kills
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
PAGE = 150.0
"""Server time of any page at the median, with 500,000 sets [ms]."""
MEMORY = 1200.0
"""Of the server where everything asked is something new, so that every cache fills to its bound [MB]."""
missed: list[str] = []


def tell(what: str, figure: float | int, limit: float | int, unit: str = "", *, least: bool = False) -> None:
    """One line; what is over its limit is remembered."""
    kept = figure >= limit if least else figure <= limit
    if not kept:
        missed.append(what)
    sign = "at least" if least else "at most"
    print(f"{what:58} {figure:9.3g} {unit:4} {sign} {limit:g}{'' if kept else '   MISSED'}", flush=True)


def loads(folder: Path, seconds: float) -> None:
    with Server(folder / "load") as server:  # which draws for its default body meanwhile
        load = visit(server.port, 20, seconds)
        tell("20 visitors of a new folder: answers a second", load.rate, 10, least=True)
        tell("20 visitors of a new folder: errors", len(load.failures), 0)
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
    kept = kills.kill_during_writes(folder / "kills", 5 if quick else 50)
    tell("kills: writes acknowledged", kept.count, 1, least=True)
    print("  ", ", ".join(f"{len(one)} {name}" for name, one in kept.by_kind.items()))
    tell("of those lost", len(kept.lost), 0)
    tell("of those doubled", len(kept.doubled), 0)
    tell("orphans, damage, starts that needed hands", len(kept.troubles), 0)
    for one in [*kept.lost[:5], *kept.doubled[:5], *kept.troubles[:5]]:
        print("  ", one)
    killed, wrong = kills.kill_restores(folder / "restores", 2 if quick else 20)
    tell(f"{killed} restores killed: wrong", len(wrong), 0)
    for one in wrong[:5]:
        print("  ", one)
    start = folder / "statements"
    start.mkdir()
    step = 40 if quick else 1
    command = [sys.executable, "-m", "tests.store.killing", str(start), str(step), "0"]
    found = json.loads(subprocess.run(command, capture_output=True, text=True, check=True).stdout)
    tell("killed at every statement of all upgrades: wrong", len(found["wrong"]), 0)
    times = 3 if quick else 20
    both, said = kills.start_two(folder / "two", times)
    tell("two servers at once: both answered", both, times, least=True)
    for one in said:
        print(one)
    with Server(folder / "clash") as server:
        statuses = kills.clash(server.port, 4, 20 if quick else 200)
        print(f"clashing saves by status: {statuses}")
        tell("clashing saves: server errors", sum(n for s, n in statuses.items() if s >= 500), 0)


def house_of_many(folder: Path, quick: bool, minutes: float) -> None:
    full = house.build(folder / "house")
    print(f"{full.sets} sets of {len(full.clients)} clients")
    with Server(full.folder) as server:
        found = house.pages(full, server, 3 if quick else 7)
        for kind, took in sorted(found.items(), key=lambda one: -one[1]):
            tell(f"page {kind}", took, PAGE, "ms")
        house.crowd(full, server, 50, 10)  # what nobody has asked for yet is drawn first
        met = house.crowd(full, server, 50, 15 if quick else 60)
        failures = met.logging.failures + met.boards.failures
        tell("50 people: errors", len(failures), 0)
        for failure in failures[:5]:
            print("  ", failure)
        tell(f"50 people: {len(met.logging.waits)} sets, 95th percentile", 1000 * met.logging.slow, 250, "ms")
        tell(f"50 people: {len(met.boards.waits)} boards, 95th percentile", met.boards.slow, 1, "s")
        lost, doubled = house.missing(full, met.kept)
        tell("50 people: sets lost", lost, 0)
        tell("50 people: sets doubled", doubled, 0)
        took, gone, differ = house.backup_under_load(full, server, folder)
        tell("a backup under load", took, 60, "s")
        tell("a backup under load: sets missing", gone, 0)
        tell("a backup under load: pages that differ when restored", differ, 0)
        read = house.memory_over(full, server, minutes)
        print("   memory [MB]: " + " ".join(f"{one:.0f}" for one in read))
        growth = 100 * (read[-1] / read[len(read) // 6] - 1)
        tell(f"memory over {minutes:g} minutes, growth after warm-up", growth, 10, "%")


def hostile(folder: Path, requests: int) -> None:
    with Server(folder / "fuzz") as server:
        fuzz.fuzz(server, 500, seed=2)
        for seconds_of in ("/board", "/schools", "/loads", "/variants"):
            Visitor(server.port).get(seconds_of)
        last = requests // 4
        found = fuzz.Fuzzed()
        for n, who in enumerate(fuzz.ROLES):
            fuzz.fuzz(server, (requests - last) // len(fuzz.ROLES), 10 + n, found, who)
        before = server.memory
        fuzz.fuzz(server, last, 3, found)
        print(f"hostile requests by status: {dict(sorted(found.statuses.items()))}")
        for fault in found.faults[:20]:
            print("  ", fault)
        tell("hostile requests: server errors", len(found.faults), 0)
        tell("hostile requests: the slowest", found.slowest, fuzz.SLOW, "s")
        print("  ", found.slowest_of)
        tell("memory, every cache full", server.memory, MEMORY, "MB")
        tell("memory, growth over the last quarter", 100 * (server.memory / before - 1), 10, "%")
        tell("traces in the log", server.said.count("Traceback"), 0)


def main() -> None:
    parser = argparse.ArgumentParser(prog="make soak", description=f"Everything runs against {HOST}.")
    parser.add_argument("--quick", action="store_true", help="A few of each, to see that it runs.")
    parser.add_argument("--only", choices=["load", "faults", "hostile", "house"], action="append")
    parser.add_argument("--requests", type=int, default=20_000, help="Hostile requests, at most 50,000.")
    parser.add_argument("--minutes", type=float, default=30, help="How long memory is watched, at most 60.")
    given = parser.parse_args()
    only = given.only or ["load", "faults", "hostile", "house"]
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        if "load" in only:
            loads(folder, 5 if given.quick else 30)
        if "faults" in only:
            faults(folder, given.quick)
        if "hostile" in only:
            hostile(folder, 300 if given.quick else min(given.requests, 50_000))
        if "house" in only:
            house_of_many(folder, given.quick, 2 if given.quick else min(given.minutes, 60))
    if missed:
        sys.exit(f"{len(missed)} over their limit: {'; '.join(missed)}")


if __name__ == "__main__":
    main()
