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


def main() -> None:
    """Open a room, raise hands, and print how soon they were counted."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--phones", type=int, default=40)
    parser.add_argument("--seconds", type=float, default=15)
    asked = parser.parse_args()
    screen = Browser("127.0.0.1", asked.port)
    _, page = screen.ask("GET", "/sign-in")
    educator = re.search(r'<form[^>]*action="([^"]+)"(?:(?!</form>).)*Maude Ellerby', page, re.S)
    if educator is None:
        raise SystemExit("no demo is served there")
    fields = dict(re.findall(r'name="([^"]+)"[^>]*value="([^"]*)"', educator[0]))
    screen.ask("POST", educator[1], fields)
    screen.ask("GET", "/lectures")
    code = json.loads(screen.ask("POST", f"{LECTURE}/room", {})[1])["code"]
    screen.ask("POST", f"{LECTURE}/room/lead", {"slide": HANDS})
    wrong: list[str] = []
    polls: list[float] = []
    raised: list[float] = []
    stop, go = threading.Event(), threading.Event()

    def listen(n: int) -> None:
        phone, name = Browser("127.0.0.1", asked.port), f"bench-phone-{n:03}"
        phone.ask("GET", f"/r/{code}")
        time.sleep(n / asked.phones)  # nobody begins at the same moment
        sent = False
        while not stop.is_set():
            began = time.perf_counter()
            status, text = phone.ask("GET", f"/r/{code}.json?phone={name}")
            polls.append(time.perf_counter() - began)
            if status != 200:
                wrong.append(f"{status} {text[:80]}")
            elif go.is_set() and not sent:
                sent = True
                form = {"phone": name, "turn": json.loads(text)["turn"], "hand": n % 2}
                status, text = phone.ask("POST", f"/r/{code}", form)
                raised.append(time.perf_counter())
                if status != 200:
                    wrong.append(f"{status} {text[:80]}")
            time.sleep(LOOK)

    threads = [threading.Thread(target=listen, args=(n,)) for n in range(asked.phones)]
    for one in threads:
        one.start()
    time.sleep(asked.seconds / 2)
    go.set()
    until = time.monotonic() + asked.seconds / 2
    counted: dict[int, float] = {}
    while time.monotonic() < until:
        told = json.loads(screen.ask("GET", f"{LECTURE}/room.json")[1])
        counted.setdefault(sum(told["hands"]), time.perf_counter())
        time.sleep(0.1)
    stop.set()
    for one in threads:
        one.join()
    late = [
        min(at for hands, at in counted.items() if hands >= n) - when
        for n, when in enumerate(sorted(raised), 1)
        if max(counted) >= n
    ]
    plain = []
    for _ in range(30):
        began = time.perf_counter()
        screen.ask("GET", "/healthz")
        plain.append(time.perf_counter() - began)
    here = told["here"]
    print(f"{asked.phones} phones, {here} here, {sum(told['hands'])} hands, {len(wrong)} wrong {wrong[:3]}")
    times = sorted(polls)
    middle, most = 1000 * statistics.median(times), 1000 * times[int(0.99 * len(times))]
    print(f"a poll: median {middle:.1f} ms, 99 % {most:.1f} ms")
    print(f"beside a plain answer: {middle / (1000 * statistics.median(plain)):.1f} times as long")
    if late:
        print(f"a hand was counted {1000 * max(late):.0f} ms after it was raised at most")
    screen.ask("POST", f"{LECTURE}/room/close", {})


if __name__ == "__main__":
    main()
