"""Kills during saves, two servers on one folder, and people saving the same thing at once."""

from __future__ import annotations

import http.client
import json
import random
import threading
import time
from pathlib import Path

from benchmarks.soak.server import Server, Visitor

CURL = "standing-dumbbell-curl"


def saved_names(port: int) -> list[str]:
    """Names of all variants of one's own."""
    listed = json.loads(Visitor(port).get("/variants.json")[1])
    return [one["name"] for one in listed if one["id"].startswith("own-")]


def kill_during_saves(folder: Path, kills: int) -> tuple[int, int, int]:
    """Save until killed, again and again: saves acknowledged, of those lost, and those doubled."""
    acknowledged: list[str] = []
    chance = random.Random(3)
    for turn in range(kills):
        server = Server(folder)
        if not server.wait():
            raise RuntimeError(server.said)
        names = [f"Kill {turn} by {n}" for n in range(2)]
        savers = [threading.Thread(target=_save_on, args=(server.port, name, acknowledged)) for name in names]
        for saver in savers:
            saver.start()
        time.sleep(chance.uniform(0.3, 1.2))
        server.kill()
        for saver in savers:
            saver.join()
    with Server(folder) as server:
        there = saved_names(server.port)
    lost = sum(name not in there for name in acknowledged)
    return len(acknowledged), lost, len(there) - len(set(there))


def _save_on(port: int, name: str, acknowledged: list[str]) -> None:
    visitor = Visitor(port)
    try:
        for n in range(1000):
            form = {"name": f"{name} {n}", "set": "posture.wrist=-10"}
            status, _ = visitor.post(f"/bench/{CURL}/save", form)
            if status == 303:
                acknowledged.append(f"{name} {n}")
    except (OSError, http.client.HTTPException, IndexError):
        return


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
