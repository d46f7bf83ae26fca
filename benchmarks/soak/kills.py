"""Kills during saves, two servers on one folder, and people saving the same thing at once."""

from __future__ import annotations

import http.client
import io
import json
import random
import re
import sqlite3
import subprocess
import sys
import threading
import time
from collections import Counter
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, field
from datetime import date
from functools import cache
from pathlib import Path

from PIL import Image

from benchmarks.soak.server import Server, Visitor, alive
from curve_rank.settings import DATABASE

CURL = "standing-dumbbell-curl"
WREN, BLOCK = 4, 2
"""A client of the demo, and the block that is under way."""
KINDS = ("sets", "variants", "plans", "uploads", "rooms", "profiles", "settings")
PLAN_STATES = 300
"""So many of the last states of a block are looked for: older ones are let go."""


@dataclass
class Acknowledged:
    """What the server said that it has kept, and what became of it."""

    sets: list[str] = field(default_factory=list)
    variants: list[str] = field(default_factory=list)
    plans: list[str] = field(default_factory=list)
    uploads: list[str] = field(default_factory=list)
    rooms: list[str] = field(default_factory=list)
    profiles: list[str] = field(default_factory=list)
    settings: list[str] = field(default_factory=list)
    lost: list[str] = field(default_factory=list)
    doubled: list[str] = field(default_factory=list)
    troubles: list[str] = field(default_factory=list)

    @property
    def by_kind(self) -> dict[str, list[str]]:
        """All that was acknowledged."""
        return {one: getattr(self, one) for one in KINDS}

    @property
    def count(self) -> int:
        """Of all kinds."""
        return sum(len(one) for one in self.by_kind.values())


def kill_during_writes(folder: Path, kills: int) -> Acknowledged:
    """Everything that is kept, written at once until the server is killed, again and again."""
    kept, chance = Acknowledged(), random.Random(3)
    for turn in range(kills):
        server = Server(folder, settings={"CURVE_RANK_BACKUP_HOURS": "1"})
        if not server.wait():
            kept.troubles.append(server.said[-300:])
            break
        _seen(Visitor(server.port))  # from here on the block's page takes a moment
        writers = [
            threading.Thread(target=_write_on, args=(server.port, turn, write, into))
            for write, into in (
                (_save_set, kept.sets), (_save_variant, kept.variants), (_save_plan, kept.plans),
                (_save_upload, kept.uploads), (_save_room, kept.rooms), (_save_profile, kept.profiles),
                (_save_setting, kept.settings),
            )
        ]  # fmt: skip
        for writer in writers:
            writer.start()
        time.sleep(chance.uniform(0.5, 2.5))
        workers = server.children
        server.kill()
        for writer in writers:
            writer.join()
        kept.troubles += _left_behind(workers) + _unsound(folder)
    with Server(folder) as server:
        _count(server, folder, kept)
    return kept


def _left_behind(workers: list[int]) -> list[str]:
    """Workers that are still there a while after their server was killed."""
    until = time.monotonic() + 10
    while workers and time.monotonic() < until:
        workers = [one for one in workers if alive(one)]
        time.sleep(0.05)
    return [f"worker {one} outlives its server" for one in workers]


def _unsound(folder: Path) -> list[str]:
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        found = connection.execute("PRAGMA integrity_check(1)").fetchone()[0]
    return [] if found == "ok" else [str(found)]


def _count(server: Server, folder: Path, kept: Acknowledged) -> None:
    """What of all that was acknowledged is there, and how often."""
    with closing(sqlite3.connect(folder / DATABASE)) as connection:

        def column(query: str) -> list[str]:
            return [row[0] for row in connection.execute(query)]

        there = {
            "set": (kept.sets, column("SELECT key FROM logged_sets")),
            "variant": (kept.variants, column("SELECT name FROM documents")),
            "upload": (kept.uploads, column("SELECT name FROM picture_sets")),
            "room": (kept.rooms, column("SELECT name FROM rooms")),
        }
        # Of what is written over, the last that was acknowledged stands, or one that was under way after it.
        notes = column("SELECT json_extract(content, '$.notes') FROM client_profiles")
        parts = column("SELECT triceps_part FROM people WHERE triceps_part IS NOT NULL")
        states = column(f"SELECT json_extract(content, '$.name') FROM plan_states WHERE plan_id = {BLOCK}")
    written = [_at(one) for one in notes if one and one.startswith("Kill")]
    if kept.profiles and max(written, default=(-1, 0)) < _at(kept.profiles[-1]):
        kept.lost.append(f"profile {kept.profiles[-1]}")
    if kept.settings and not parts:
        kept.lost.append("setting")
    there["plan"] = (kept.plans[-PLAN_STATES:], states)
    for kind, (said, found) in there.items():
        counted = Counter(found)
        kept.lost += [f"{kind} {one}" for one in said if not counted[one]]
        kept.doubled += [f"{kind} {one}" for one in set(said) if counted[one] > 1]
    if server.said.count("Traceback"):
        kept.troubles.append("a trace in the log")


def _write_on(port: int, turn: int, write: Callable[[Visitor, str], bool], into: list[str]) -> None:
    visitor = Visitor(port)
    try:
        for n in range(1000):
            name = f"Kill {turn} by {write.__name__.removeprefix('_save_')} {n}"
            if write(visitor, name):
                into.append(f"kill-{turn:04}-{n:06}" if write is _save_set else name)
    except (OSError, http.client.HTTPException, IndexError, ValueError, RuntimeError):
        return


def _save_set(visitor: Visitor, name: str) -> bool:
    if name.endswith(" 0"):
        visitor.sign_in(WREN)
    _, turn, _, _, n = name.split()
    one = {"key": f"kill-{int(turn):04}-{int(n):06}", "day": date.today().isoformat(), "variant": "chin-up"}
    message = {"device": "soak", "written": int(n), "seen": 0, "set": one | {"load_kg": 0, "reps": 8}}
    status, text = visitor.send("/today/log", {"person": WREN, "messages": [message]})
    return status == 200 and json.loads(text)["receipts"][0]["state"] == "kept"


def _save_variant(visitor: Visitor, name: str) -> bool:
    return visitor.post(f"/bench/{CURL}/save", {"name": name, "set": "posture.wrist=-10"})[0] == 303


def _save_plan(visitor: Visitor, name: str) -> bool:
    form = {"seen": _seen(visitor), "edit": json.dumps({"do": "set_block", "name": name})}
    return visitor.post(f"/blocks/{BLOCK}/edit", form)[0] == 303


def _seen(visitor: Visitor) -> str:
    """Which state of the block its page shows, once it is drawn for."""
    while not (found := re.findall(r'name="seen" value="(\d+)"', visitor.get(f"/blocks/{BLOCK}")[1])):
        time.sleep(0.3)
    return str(found[0])


def _save_upload(visitor: Visitor, name: str) -> bool:
    if not name.endswith(" 0"):  # one a turn: there may be sixty of one person
        raise ValueError(name)
    return visitor.upload("/measure/pictures", name, {"one.jpg": jpeg()})[0] == 303


def _save_room(visitor: Visitor, name: str) -> bool:
    return visitor.post("/rooms", {"name": name, "with": ["dumbbell", "cable"]})[0] == 303


def _save_profile(visitor: Visitor, name: str) -> bool:
    page = visitor.get(f"/clients/{WREN}")[1]
    version = re.findall(r'name="version" value="(\d+)"', page)[0]
    form = {"version": version, "notes": name, "day": ["0", "3"], "target": "biceps_long"}
    return visitor.post(f"/clients/{WREN}/profile", form)[0] == 303


def _save_setting(visitor: Visitor, name: str) -> bool:
    part = 55 + int(name.rpartition(" ")[2]) % 10
    return visitor.post("/heads/triceps_long/part", {"part": str(part)})[0] == 303


def _at(name: str) -> tuple[int, int]:
    """Of which turn, and the how manieth in it."""
    words = name.split()
    return int(words[1]), int(words[-1])


def kill_restores(folder: Path, kills: int) -> tuple[int, list[str]]:
    """Restores that are killed at any moment: how many, and where a start then needed hands or found less."""
    chance, wrong, shell = random.Random(5), [], [sys.executable, "-m", "curve_rank.cli.entry"]
    with Server(folder):
        pass
    backup = folder.parent / f"{folder.name}.zip"
    subprocess.run(
        [*shell, "backup", "--data", str(folder), "--out", str(backup)], check=True, capture_output=True
    )
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        people = connection.execute("SELECT count(*) FROM people").fetchone()
    for turn in range(kills):
        restore = subprocess.Popen(
            [*shell, "restore", str(backup), "--data", str(folder)],
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        time.sleep(chance.uniform(0.8, 2.4))
        restore.kill()
        restore.wait()
        with Server(folder) as server:
            if Visitor(server.port).get("/board")[0] != 200:
                wrong.append(f"restore {turn}: the board does not answer")
        with closing(sqlite3.connect(folder / DATABASE)) as connection:
            if connection.execute("SELECT count(*) FROM people").fetchone() != people:
                wrong.append(f"restore {turn}: people are missing")
        wrong += _unsound(folder)
    return kills, wrong


@cache
def jpeg() -> bytes:
    """A picture."""
    out = io.BytesIO()
    Image.effect_noise((640, 480), 60).save(out, "JPEG")
    return out.getvalue()


def start_two(folder: Path, times: int) -> tuple[int, list[str]]:
    """Two servers on one new folder at once: how often both answered, and what was said where not."""
    both, said = 0, []
    for turn in range(times):
        servers = [Server(folder / str(turn)) for _ in range(2)]
        answered = [server.wait() for server in servers]
        both += all(answered)
        for server, answers in zip(servers, answered, strict=True):
            if not answers or "Traceback" in server.said:
                said.append(server.said[-300:])
            if server.process.poll() is None:
                server.kill()
    return both, said


def clash(port: int, people: int, saves: int) -> dict[int, int]:
    """People saving the same new names and next versions at once: answers by status."""
    statuses: dict[int, int] = {}
    lock = threading.Lock()
    Visitor(port).post(f"/bench/{CURL}/save", {"name": "Shared", "set": "posture.wrist=-10"})

    def one() -> None:
        visitor = Visitor(port)
        for n in range(saves):
            form = {"name": f"Clash {n // 2}", "set": "posture.wrist=-10"}
            address = f"/bench/{CURL}/save"
            if n % 2:
                form, address = {"as": "version", "set": f"posture.wrist=-{n % 30}"}, "/bench/own-shared/save"
            status, _ = visitor.post(address, form)
            with lock:
                statuses[status] = statuses.get(status, 0) + 1

    threads = [threading.Thread(target=one) for _ in range(people)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return statuses
