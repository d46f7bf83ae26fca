"""Hostile and half-sensible requests over every route, field and document."""

from __future__ import annotations

import json
import random
import re
import tempfile
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import quote, urlencode

from benchmarks.soak.server import Server, Visitor
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.words import equipment
from curve_rank.rating.joints import joints
from curve_rank.rating.lenses import lenses
from curve_rank.rating.targets import targets
from curve_rank.settings import Settings
from curve_rank.web import create_app
from curve_rank.web.forms import RequestForm

SLOW = 15.0
"""How long a request may take that waits for draws of a body nobody has asked about, as a file does, which
cannot tell how far they are [s]."""
NASTY = (
    "", " ", "0", "-1", "1e309", "-1e309", "nan", "inf", "5e-324", "9" * 5000, str(2**63), str(2**64),
    "1" * 19, "null", "true", "[]", "{}", "../../etc/passwd", "%00", "\x00", "\u202eabc", "\ufeff", "\ud7ff",
    "a" * 4000, "'; DROP TABLE people; --", "<script>alert(1)</script>", "{{ 7 * 7 }}", "a.b" * 30, "É" * 90,
    "\n\r\t", "1,5", "own-", "own-hayloft-deep-recline", "1.0", "12", "10", "20", "posture.wrist=-10",
    "posture.wrist=nan", "path.0.elbow=144", "lines.0.up=2", "path.99999999999999999999.elbow=3", "=", "=1",
    "path.-1.elbow=90", "x=", "equipment.handle=rope", "id=x", "arm", "whole", "light", "side", "top",
    "version", "bench", "2", "8137", "²", "--5", "٣", "½", "9" * 20, "१२", "-0", "𝟙", "a\u0300" * 400,
    "[" * 50_000, '{"a":' * 9000, "4", "5",
)  # fmt: skip


@dataclass
class Fuzzed:
    """What hostile requests met."""

    asked: int = 0
    faults: list[str] = field(default_factory=list)
    slowest: float = 0.0
    slowest_of: str = ""
    statuses: dict[int, int] = field(default_factory=dict)


ROLES = {"educator": 1, "coach": 2, "client": 4, "nobody": 0}
"""As whom it is asked: people of the demo; nobody is turned away at the door."""


def fields() -> list[str]:
    """Every field that any form or address is read for."""
    names, waiting = {"part", "ghost", "csrf_token"}, [RequestForm]
    while waiting:
        form = waiting.pop()
        waiting += form.__subclasses__()
        names |= {one.alias or name for name, one in form.model_fields.items()}
    return sorted(names)


def routes() -> list[tuple[str, str]]:
    """Every route with every method, but for those that would make the visitor somebody else."""
    with tempfile.TemporaryDirectory() as folder:
        rules = list(create_app(Settings(data=Path(folder))).url_map.iter_rules())
    return [
        (rule.rule, method)
        for rule in rules
        for method in sorted(rule.methods or ())
        if method != "OPTIONS" and rule.rule not in ("/sign-out", "/sign-in/as")
    ]


def values(chance: random.Random) -> Callable[[], str]:
    """Makes values, from sensible to hostile."""
    ids = [v.id for v in built_in()]
    sensible = [*targets(), *lenses(), *equipment(), *joints()]

    def one() -> str:
        kind = chance.random()
        if kind < 0.25:
            return chance.choice(ids)
        if kind < 0.5:
            return chance.choice(sensible)
        if kind < 0.9:
            return chance.choice(NASTY)
        return "".join(
            chr(chance.choice((chance.randrange(1, 128), chance.randrange(160, 9000)))) for _ in range(12)
        )

    return one


def documents(chance: random.Random, made: Callable[[], str]) -> Iterator[str]:
    """Variant documents with something else in one place, as JSON."""
    plain = [v.model_dump(mode="json") for v in built_in()]
    while True:
        document = json.loads(json.dumps(chance.choice(plain)))
        document["id"] = "own-hayloft-deep-recline"
        place: Any = document
        while isinstance(place, dict | list) and place:
            key = chance.choice(list(place) if isinstance(place, dict) else range(len(place)))
            if not isinstance(place[key], dict | list) or chance.random() < 0.2:
                place[key] = chance.choice(
                    [made(), chance.uniform(-200, 200), None, [], {}, 10**400, 1e-300, -1]
                )
                break
            place = place[key]
        yield json.dumps(document)


def fuzz(
    server: Server, requests: int, seed: int = 1, found: Fuzzed | None = None, who: str = "educator"
) -> Fuzzed:
    """So many requests of somebody's, one after another, counted in with what was found before."""
    chance = random.Random(seed)
    made, every, known = values(chance), routes(), fields()
    docs, found, visitor = documents(chance, made), found or Fuzzed(), Visitor(server.port)
    visitor.post("/schools/new", {})
    if ROLES[who]:
        visitor.sign_in(ROLES[who])
    else:
        visitor.post("/sign-out", {})
    visitor.token = ""
    visitor.post("/schools/new", {})
    for _ in range(requests):
        rule, method = chance.choice(every)
        address = re.sub(r"<[^>]+>", lambda _: quote(made()[:600], safe="/") or "x", rule)
        pairs = [(chance.choice(known), made()) for _ in range(chance.randrange(5))]
        pairs += [(name, next(docs)) for name in ("text",) if method == "POST" and chance.random() < 0.2]
        if "repair" in rule and chance.random() < 0.7:
            address, pairs = "/documents/variant/own-hayloft-deep-recline/repair", [("text", next(docs))]
        query = urlencode(pairs, errors="replace")
        begun = time.monotonic()
        try:
            if method == "POST":
                token = [("csrf_token", visitor.token)] if chance.random() < 0.95 else []
                told = {"Content-Type": "application/x-www-form-urlencoded"}
                status, text = visitor.ask(
                    method, address, urlencode([*pairs, *token], errors="replace"), told
                )
            else:
                status, text = visitor.ask(method, f"{address}?{query}"[:30_000], None, {})
        except OSError as error:
            status, text = 599, str(error)
        took = time.monotonic() - begun
        found.asked += 1
        found.statuses[status] = found.statuses.get(status, 0) + 1
        if took > found.slowest:
            found.slowest, found.slowest_of = took, f"{method} {address}?{query}"[:200]
        if status >= 500 or "Traceback" in text:
            found.faults.append(f"{status} {method} {address}?{query}"[:500])
    return found
