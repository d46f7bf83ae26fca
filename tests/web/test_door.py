"""The door through a real socket, behind a proxy of one's own: who is wrong, right, and was here before."""

from __future__ import annotations

import re
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from benchmarks.soak.server import Server, Visitor
from flask import Flask

from curve_rank.settings import DATABASE
from curve_rank.store import calendars, plans, publications
from curve_rank.store.database import open_store
from curve_rank.store.house import accounts, endings
from curve_rank.store.viewers import local_educator, viewer_of
from curve_rank.web.door import FEW, PER_ADDRESS, PER_NAME, place_of
from tests.helpers import Resting

MAUDE, WORDS = "maude@lanternfield.example", "seven quiet owls"
PROXY = {
    "CURVE_RANK_PROXIES": "1",
    "CURVE_RANK_HTTPS": "1",
    "CURVE_RANK_HOSTS": "arm.example",
    "CURVE_RANK_LOCAL_VIEWER": "0",
}
HOME, STRANGER, GYM = "198.51.100.7", "203.0.113.9", "203.0.113.40"


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory, demo_folder: Path) -> Path:
    """The demo's data, with an account for its educator."""
    folder = tmp_path_factory.mktemp("door") / "data"
    shutil.copytree(demo_folder, folder)
    store = open_store(folder)
    with store.writing() as session:
        accounts.make_first(session, name="Maude Ellerby", email=MAUDE, password=WORDS)
    store.engine.dispose()
    return folder


@pytest.fixture(scope="module")
def server(folder: Path) -> Iterator[Server]:
    with Server(folder, command="serve", settings=PROXY) as one:
        yield one


def visitor(server: Server, address: str, *, forged: str = "") -> Visitor:
    """Somebody at an address, as a proxy passes them on; what they forge stands before what it adds."""
    came_from = ", ".join(filter(None, (forged, address)))
    return Visitor(
        server.port,
        always={
            "X-Forwarded-For": came_from,
            "X-Forwarded-Proto": "https",
            "X-Forwarded-Host": "arm.example",
            "Referer": "https://arm.example/sign-in",
        },
    )


def try_in(one: Visitor, email: str = MAUDE, password: str = WORDS) -> int:
    status = one.post("/sign-in", {"email": email, "password": password})[0]
    if status == 303:  # a sign-in begins anew
        one.token = ""
    return status


def test_a_busy_house_behind_one_address_does_not_lock_itself_out(folder: Path, server: Server) -> None:
    guests = visitor(server, GYM)
    for n in range(FEW):
        assert try_in(guests, email=f"guest{n}@lanternfield.example") == 400
    with sqlite3.connect(folder / DATABASE) as rows:  # sixty passwords take long to be found wrong
        by_whom = "SELECT tried_by FROM wrong_tries GROUP BY tried_by HAVING count(*) = ?"
        (gym,) = (one for (one,) in rows.execute(by_whom, (FEW,)))
        (last,) = rows.execute("SELECT max(at) FROM wrong_tries").fetchone()
        again = [(gym, last)] * (PER_ADDRESS - FEW)
        rows.executemany("INSERT INTO wrong_tries (tried_by, at) VALUES (?, ?)", again)
    assert try_in(visitor(server, GYM)) == 303
    name = "thirsty@lanternfield.example"
    assert [try_in(guests, email=name) for _ in range(FEW + 1)] == [400] * FEW + [429]


def test_links_are_those_of_the_proxys_name_over_https(server: Server) -> None:
    owner = visitor(server, HOME)
    assert try_in(owner) == 303
    owner.token = ""
    invited = owner.post("/people/invite", {"name": "Corin", "email": "c@x.example", "role": "coach"})[1]
    assert re.search(r"https://arm\.example/join/[a-z0-9]{28}", invited)
    assert "http://" not in invited.replace("http://www.w3.org", "")
    assert "Secure" in owner.headers["Set-Cookie"] if "Set-Cookie" in owner.headers else True


def test_a_strangers_tries_lock_out_the_stranger_alone_and_outlive_a_restart(
    folder: Path, server: Server
) -> None:
    at_home = visitor(server, HOME)
    assert [try_in(at_home) for _ in range(PER_NAME + 2)] == [303] * (PER_NAME + 2)  # right ones do not count
    stranger = visitor(server, STRANGER)
    tries = [try_in(stranger, password=f"no owls {n}") for n in range(PER_NAME + 2)]
    assert tries == [400] * PER_NAME + [429] * 2
    assert int(stranger.headers["Retry-After"]) > 0
    assert try_in(visitor(server, STRANGER, forged=HOME)) == 429  # only the proxy's own word counts
    assert try_in(visitor(server, HOME)) == 303
    taken_along = at_home  # a browser that was signed in before passes, wherever it is
    taken_along._always["X-Forwarded-For"] = STRANGER
    assert try_in(taken_along) == 303
    assert [try_in(taken_along, password="not mine") for _ in range(PER_NAME + 1)][-1] == 429
    server.kill()  # the last test that this server serves
    with Server(folder, command="serve", settings=PROXY) as again:
        assert try_in(visitor(again, STRANGER)) == 429
        assert try_in(visitor(again, HOME)) == 303


def test_without_a_proxy_nobody_says_where_they_come_from(folder: Path) -> None:
    with Server(folder, command="serve", settings={"CURVE_RANK_LOCAL_VIEWER": "0"}) as alone:
        tries = [
            try_in(Visitor(alone.port, always={"X-Forwarded-For": f"192.0.2.{n}"}), "w@x.example", "no")
            for n in range(PER_NAME + 1)
        ]
        assert tries == [400] * PER_NAME + [429]


@pytest.mark.parametrize(
    ("address", "place"),
    [
        ("192.0.2.1", "192.0.2.1"),
        ("2001:db8:1:2:3:4:5:6", "2001:db8:1:2::"),
        ("::ffff:192.0.2.1", "192.0.2.1"),
        ("fe80::1%eth0", "fe80::"),
        (None, ""),
    ],
)
def test_a_house_has_one_address_of_the_newer_kind(address: str | None, place: str) -> None:
    assert place_of(address) == place


def test_what_is_read_without_a_sign_in_is_there_cold_after_a_restart(
    tmp_path: Path, make_app: Callable[..., Flask]
) -> None:
    form = {"title": "For all", "query": "target=brachialis"}
    made = make_app(Resting).test_client().post("/board/publish?target=brachialis", data=form)
    assert made.status_code in (200, 303)
    folder = tmp_path / "data"
    store = open_store(folder)
    with store.writing() as session:
        accounts.make_first(session, name="Maude Ellerby", email=MAUDE, password=WORDS)
        educator, wren = local_educator(session), viewer_of(session, 4)
        assert educator
        assert wren
        plan = plans.handed_to(session, wren)[0].id
        token = calendars.set_feed(session, wren, plan, on=True)
        links = [one.token for one in publications.published(session, educator)]
    assert links
    addresses = [
        f"/calendar/{token}.ics", "/guide", "/guide/coach", "/guide/client", "/guide/educator", "/glossary",
        "/safety", "/sources", "/sources.json", "/lenses", "/healthz", "/readyz", "/palette.css",
        "/today/worker.js", "/sign-in", "/reset",
        *(f"/p/{link}{ending}" for link in links for ending in ("", ".json", ".pdf")),
    ]  # fmt: skip
    settings = PROXY | {"CURVE_RANK_DRAWS": str(tmp_path / "no-draws-yet")}
    with Server(folder, command="serve", settings=settings) as cold:
        answers = {address: visitor(cold, STRANGER).get(address)[0] for address in addresses}
        assert {address for address, status in answers.items() if status not in (200, 302, 308)} == set()
        assert "Traceback" not in cold.said
        with store.writing() as session:  # an account that is locked shows no calendar either
            accounts.add_account(session, 4, name="Wren", email="wren@lanternfield.example", password=WORDS)
            endings.set_locked(session, educator, 4, locked=True)
        assert visitor(cold, STRANGER).get(f"/calendar/{token}.ics")[0] == 404
    store.engine.dispose()
