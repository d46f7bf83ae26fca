"""200 clients with 500,000 sets: every page, 50 people at once, memory over time, a backup under load."""

from __future__ import annotations

import json
import random
import re
import sqlite3
import statistics
import threading
import time
from contextlib import closing
from dataclasses import dataclass, field
from datetime import date
from pathlib import Path

from benchmarks.soak.load import Load
from benchmarks.soak.server import Server, Visitor
from benchmarks.training import fill
from curve_rank.settings import DATABASE
from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo
from curve_rank.store.safe.backup import back_up
from curve_rank.store.safe.restore import restore
from curve_rank.store.tables import Person, Plan

OWNER, COACH = "Maude Ellerby", "Tamsin Brackwater"
BOARDS = tuple(
    f"/board?target={target}&lens={lens}"
    for target in ("biceps_long", "brachialis", "triceps_long", "triceps_medial")
    for lens in ("long_length", "all_round", "heavy_basics")
)
ELSEWHERE = ("/static", "/palette", "/p/", "/sign-")
BOARD = "/board.json?target=triceps_long&lens=long_length"
EXPORTS = (".pdf", ".png", ".svg", ".csv", ".md", ".json", ".ics", ".zip", ".jpg", ".js", ".css")


@dataclass(frozen=True)
class House:
    """A filled folder: whose numbers are whose."""

    folder: Path
    owner: int
    coach: int
    clients: tuple[int, ...]
    block: int
    sets: int


def build(folder: Path) -> House:
    """Fill a folder."""
    store = open_store(folder)
    fill_demo(store)
    with store.writing() as session:
        owner, coach = (session.query(Person).filter_by(name=name).one().id for name in (OWNER, COACH))
        block = session.query(Plan).filter_by(name="Lantern weeks").one().id
        clients = fill(session, coach, block)
    store.engine.dispose()
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        sets = connection.execute("SELECT count(*) FROM logged_sets").fetchone()[0]
        block = connection.execute("SELECT max(id) FROM plans").fetchone()[0]
    return House(folder, owner, coach, tuple(clients), block, sets)


def pages(house: House, server: Server, times: int = 7) -> dict[str, float]:
    """Median server time of every page that a link leads to, as whoever it is for, warm [ms]."""
    found: dict[str, float] = {}
    for person, begin in (
        (house.owner, ("/board", "/administration", "/sources")),
        (house.coach, ("/clients", f"/record/{house.clients[0]}", f"/blocks/{house.block}")),
        (house.clients[0], ("/today", "/my-record", "/my-block", "/account")),
    ):
        visitor = Visitor(server.port)
        visitor.sign_in(person)
        seen: dict[str, str] = {}
        waiting = list(begin)
        while waiting:
            address = waiting.pop(0)
            kind = _kind(address)
            if kind in seen or kind in found or address.split("?")[0].endswith(EXPORTS):
                continue
            seen[kind] = address
            text = visitor.get(address)[1]
            waiting += [one for one in _links(text) if _kind(one) not in seen]
        for kind, address in seen.items():
            found[kind] = median_of(visitor, address, times)
    return found


def median_of(visitor: Visitor, address: str, times: int) -> float:
    """How long a page takes once it is drawn for, median [ms]."""
    until = time.monotonic() + 60
    while "data-drawing" in visitor.get(address)[1] and time.monotonic() < until:
        time.sleep(0.3)
    took = []
    for _ in range(times):
        begun = time.perf_counter()
        visitor.get(address)
        took.append(1000 * (time.perf_counter() - begun))
    return statistics.median(took)


def _links(text: str) -> list[str]:
    """Pages here that a page leads to."""
    found = re.findall(r'href="(/[^"#]*)', text)
    return [
        one.replace("&amp;", "&")
        for one in found
        if not one.startswith(("/static", "/palette", "/p/", "/sign-"))
    ]


def _kind(address: str) -> str:
    """Addresses that are one page: numbers, names of variants and what is asked are left out."""
    path = address.partition("?")[0]
    return re.sub(r"/(?:\d+|[a-z]+(?:-[a-z0-9]+)+|own-[\w-]+)(?=/|$)", "/*", path)


@dataclass
class Crowd:
    """What people met who log sets and look at boards."""

    logging: Load
    boards: Load
    kept: list[str] = field(default_factory=list)
    lock: threading.Lock = field(default_factory=threading.Lock)


def crowd(house: House, server: Server, people: int, seconds: float) -> Crowd:
    """So many people for so long: each logs a set, or looks at a board, with a breath between."""
    met = Crowd(Load(seconds), Load(seconds))
    gate = threading.Barrier(people)
    run = f"{time.time_ns()}"

    def one(n: int) -> None:
        visitor, chance, person = Visitor(server.port), random.Random(n), house.clients[n]
        visitor.sign_in(person if n % 3 else house.coach)
        visitor.get("/guide")
        gate.wait()
        until, count = time.monotonic() + seconds, 0
        while time.monotonic() < until:
            time.sleep(chance.uniform(0.3, 2.5))
            begun = time.monotonic()
            try:
                if n % 3:
                    count += 1
                    _log(visitor, person, f"crowd-{run}-{n}-{count}", count, met)
                else:
                    status, _ = visitor.get(chance.choice(BOARDS))
                    _note(met, met.boards, begun, "" if status == 200 else f"{status}")
            except OSError as error:
                _note(met, met.logging if n % 3 else met.boards, begun, str(error))

    threads = [threading.Thread(target=one, args=(n,)) for n in range(people)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return met


def _log(visitor: Visitor, person: int, key: str, written: int, met: Crowd) -> None:
    begun = time.monotonic()
    one = {"key": key, "day": date.today().isoformat(), "variant": "chin-up", "load_kg": 0, "reps": 8}
    message = {"device": "soak", "written": written, "seen": 0, "set": one}
    status, text = visitor.send("/today/log", {"person": person, "messages": [message]})
    kept = status == 200 and json.loads(text)["receipts"][0]["state"] == "kept"
    _note(met, met.logging, begun, "" if kept else f"{status} {text[:100]}")
    if kept:
        with met.lock:
            met.kept.append(key)


def _note(met: Crowd, load: Load, begun: float, failure: str) -> None:
    with met.lock:
        load.waits.append(time.monotonic() - begun)
        if failure:
            load.failures.append(failure)


def missing(house: House, keys: list[str]) -> tuple[int, int]:
    """Of acknowledged sets, how many are lost and how many are there twice."""
    with closing(sqlite3.connect(house.folder / DATABASE)) as connection:
        there = [row[0] for row in connection.execute("SELECT key FROM logged_sets WHERE key LIKE 'crowd-%'")]
    return len(set(keys) - set(there)), len(there) - len(set(there))


def memory_over(house: House, server: Server, minutes: float) -> list[float]:
    """The server's memory while people come and go, a reading every half minute [MB]."""
    read: list[float] = []
    until = time.monotonic() + 60 * minutes
    while time.monotonic() < until:
        crowd(house, server, 12, 25)
        visitor = Visitor(server.port)
        visitor.sign_in(random.choice(house.clients))
        for address in ("/today", "/my-record", "/my-block"):
            visitor.get(address)
        read.append(server.memory)
    return read


def backup_under_load(house: House, server: Server, out: Path) -> tuple[float, int, int]:
    """A backup while people write: how long it takes [s], rows lost against before, pages that differ."""
    before = Visitor(server.port)
    before.sign_in(house.coach)
    record = f"/record/{house.clients[-1]}/log"  # of somebody who is not in the crowd
    looked = (
        f"{record}.csv",
        f"{record}.json",
        f"/blocks/{house.block}.json",
        "/variants.json",
        "/variants/pad-45-dumbbell-curl/figure.svg",
        f"{BOARDS[0].replace('?', '.json?')}",
    )
    writing = threading.Thread(target=crowd, args=(house, server, 12, 20))
    pages_before = [before.get(address)[1] for address in looked]
    with closing(sqlite3.connect(house.folder / DATABASE)) as connection:
        least = connection.execute("SELECT count(*) FROM logged_sets").fetchone()[0]
    writing.start()
    time.sleep(5)
    begun = time.monotonic()
    manifest = back_up(house.folder, out / "under-load.zip")
    took = time.monotonic() - begun
    writing.join()
    restore(out / "under-load.zip", out / "restored")
    with Server(out / "restored") as other:
        after = Visitor(other.port)
        after.sign_in(house.coach)
        differ = sum(after.get(a)[1] != was for a, was in zip(looked, pages_before, strict=True))
    return took, max(0, least - manifest.counts["logged_sets"]), differ
