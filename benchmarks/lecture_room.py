"""A lecture with phones: how soon a raised hand is on the screen, beside how long a plain answer takes.

Runs against an application that is being served, as `make demo` does: `python -m benchmarks.lecture_room`.
"""

from __future__ import annotations

import argparse
import http.client
import json
import re
import statistics
import threading
import time
from dataclasses import dataclass, field
from typing import Any
from urllib.parse import urlencode

LECTURE = "/lectures/own-thursday-at-the-barn-long-or-short"
HANDS, LOOK = 2, 1.0


@dataclass
class Browser:
    """One connection with its cookies."""

    host: str
    port: int
    cookies: dict[str, str] = field(default_factory=dict)
    token: str = ""

    def __post_init__(self) -> None:
        self._line = http.client.HTTPConnection(self.host, self.port, timeout=20)

    def ask(self, method: str, path: str, form: dict[str, Any] | None = None) -> tuple[int, str]:
        """Status and text."""
        headers = {
            "Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()),
            "X-CSRFToken": self.token,
            "Accept": "application/json" if ".json" in path or form is not None else "text/html",
            "Content-Type": "application/x-www-form-urlencoded",
        }
        self._line.request(method, path, urlencode(form or {}, doseq=True), headers)
        answer = self._line.getresponse()
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.partition(";")[0]
        text = answer.read().decode()
        found = re.search(r'name="csrf" content="([^"]+)"', text)
        self.token = found[1] if found else self.token
        return answer.status, text


@dataclass
class Hall:
    """What the phones of one run share and write down."""

    code: str
    port: int
    phones: int
    wrong: list[str] = field(default_factory=list)
    polls: list[float] = field(default_factory=list)
    raised: list[float] = field(default_factory=list)
    stop: threading.Event = field(default_factory=threading.Event)
    go: threading.Event = field(default_factory=threading.Event)

    def listen(self, n: int) -> None:
        """One phone: it asks once a second, and raises its hand when all may."""
        phone, name = Browser("127.0.0.1", self.port), f"bench-phone-{n:03}"
        phone.ask("GET", f"/r/{self.code}")
        time.sleep(n / self.phones)  # nobody begins at the same moment
        sent = False
        while not self.stop.is_set():
            began = time.perf_counter()
            status, text = phone.ask("GET", f"/r/{self.code}.json?phone={name}")
            self.polls.append(time.perf_counter() - began)
            self.heed(status, text)
            if status == 200 and self.go.is_set() and not sent:
                sent = True
                form = {"phone": name, "turn": json.loads(text)["turn"], "hand": n % 2}
                self.heed(*phone.ask("POST", f"/r/{self.code}", form))
                self.raised.append(time.perf_counter())
            time.sleep(LOOK)

    def heed(self, status: int, text: str) -> None:
        """Write down what went wrong."""
        if status != 200:
            self.wrong.append(f"{status} {text[:80]}")


def sign_in(screen: Browser) -> None:
    """Come in as the demo's educator."""
    _, page = screen.ask("GET", "/sign-in")
    educator = re.search(r'<form[^>]*action="([^"]+)"(?:(?!</form>).)*Maude Ellerby', page, re.S)
    if educator is None:
        raise SystemExit("no demo is served there")
    fields = dict(re.findall(r'name="([^"]+)"[^>]*value="([^"]*)"', educator[0]))
    screen.ask("POST", educator[1], fields)
    screen.ask("GET", "/lectures")


def count(screen: Browser, seconds: float) -> tuple[dict[int, float], int]:
    """When so many hands were first on the screen, and how many phones were there."""
    until, counted, here = time.monotonic() + seconds, {}, 0
    while time.monotonic() < until:
        told = json.loads(screen.ask("GET", f"{LECTURE}/room.json")[1])
        here = told["here"]
        counted.setdefault(sum(told["hands"]), time.perf_counter())
        time.sleep(0.1)
    return counted, here


def plain(screen: Browser) -> float:
    """The median of a plain answer [s]."""
    times = []
    for _ in range(30):
        began = time.perf_counter()
        screen.ask("GET", "/healthz")
        times.append(time.perf_counter() - began)
    return statistics.median(times)


def main() -> None:
    """Open a room, raise hands, and print how soon they were counted."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--phones", type=int, default=40)
    parser.add_argument("--seconds", type=float, default=15)
    asked = parser.parse_args()
    screen = Browser("127.0.0.1", asked.port)
    sign_in(screen)
    code = json.loads(screen.ask("POST", f"{LECTURE}/room", {})[1])["code"]
    screen.ask("POST", f"{LECTURE}/room/lead", {"slide": HANDS})
    hall = Hall(code, asked.port, asked.phones)
    threads = [threading.Thread(target=hall.listen, args=(n,)) for n in range(asked.phones)]
    for one in threads:
        one.start()
    time.sleep(asked.seconds / 2)
    hall.go.set()
    counted, here = count(screen, asked.seconds / 2)
    hall.stop.set()
    for one in threads:
        one.join()
    late = [
        min(at for hands, at in counted.items() if hands >= n) - when
        for n, when in enumerate(sorted(hall.raised), 1)
        if max(counted) >= n
    ]
    times = sorted(hall.polls)
    middle, most = 1000 * statistics.median(times), 1000 * times[int(0.99 * len(times))]
    print(
        f"{asked.phones} phones, {here} here, {max(counted)} hands, {len(hall.wrong)} wrong {hall.wrong[:3]}"
    )
    print(f"a poll: median {middle:.1f} ms, 99 % {most:.1f} ms")
    print(f"beside a plain answer: {middle / (1000 * plain(screen)):.1f} times as long")
    if late:
        print(f"a hand was counted {1000 * max(late):.0f} ms after it was raised at most")
    screen.ask("POST", f"{LECTURE}/room/close", {})


if __name__ == "__main__":
    main()
