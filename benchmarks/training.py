"""Training with 200 clients and two years of logs: Today, a set kept, records, overview, review, learning.

Prints medians [ms], what was asked for, and ratios to doing without what is kept.
"""

from __future__ import annotations

import random
import tempfile
import time
from collections.abc import Callable
from datetime import date, timedelta
from pathlib import Path

from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy import insert
from sqlalchemy.orm import Session as DbSession

from benchmarks.coach import timed, told
from curve_rank.answers.learning import lesson_of
from curve_rank.answers.means import Library, Means
from curve_rank.answers.standings import LOOKED_AT
from curve_rank.background.draws import Draws
from curve_rank.cli.options import drawing_with
from curve_rank.rating.modelling import Modeller
from curve_rank.settings import Settings
from curve_rank.store import logs
from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo
from curve_rank.store.house.accounts import consent
from curve_rank.store.plans import add_plan, hand_over, plan
from curve_rank.store.safe.shelf import Shelf
from curve_rank.store.tables import (
    BodyRow,
    CoachClient,
    Person,
    PersonRole,
    Plan,
    SetRow,
    TrainingState,
)
from curve_rank.store.viewers import viewer_of
from curve_rank.study.draw_bank import DrawBank
from curve_rank.training.attention import summary_of
from curve_rank.training.learning import learn
from curve_rank.web import create_app

CLIENTS, WEEKS, A_WEEK = 200, 104, 24
DONE = (
    ("seated-press-down", 15.0), ("reclined-60-dumbbell-curl", 8.0), ("overhead-dumbbell-one-arm", 6.0),
    ("standing-dumbbell-curl", 8.0), ("reclined-45-thumb-up-curl", 8.0), ("bent-over-pull-back", 4.0),
)  # fmt: skip
"""What everybody does, with the load they begin with [kg]."""


def fill(session: DbSession, coach: int, block: int) -> list[int]:
    """Clients of a coach with two years of sets, all with a block of their own under way."""
    rng = random.Random(1)
    owner = viewer_of(session, coach)
    assert owner
    document = plan(session, owner, block).block
    people = []
    for n in range(CLIENTS):
        person = Person(owner_id=coach, name=f"Client {n:03d}")
        session.add(person)
        session.flush()
        people.append(person.id)
        session.add(PersonRole(owner_id=coach, person_id=person.id, role="client"))
        session.add(CoachClient(owner_id=coach, coach_id=coach, client_id=person.id))
        # Few sizes, so that what is measured is not the physics of 200 bodies.
        session.add(BodyRow(owner_id=coach, person_id=person.id, height_m=1.6 + 0.1 * (n % 3), mass_kg=75.0))
        session.flush()
        number = add_plan(session, owner, document, (person.id,))
        hand_over(session, owner, number, person.id, handed=True)
        viewer = viewer_of(session, person.id)
        assert viewer
        consent(session, viewer, minor=False, injured=False, cleared_on=None)
        session.execute(insert(SetRow), list(two_years(rng, person.id, number)))
        session.add(
            TrainingState(
                owner_id=person.id,
                person_id=person.id,
                revision=1,
                summary_key="",
                learning=True,
                learned_key="",
            )
        )
    return people


def two_years(rng: random.Random, person: int, number: int):  # type: ignore[no-untyped-def]
    """Sets of one person, three sessions a week; those of the last two weeks are of the block."""
    today = date.today()
    monday = today - timedelta(days=today.weekday())
    for week in range(WEEKS, 0, -1):
        for n in range(A_WEEK):
            variant, begun = DONE[n // 4 % len(DONE)]
            day = monday - timedelta(days=7 * week) + timedelta(days=(0, 3, 5)[n // 8])
            newest = week <= 2
            yield {
                "owner_id": person, "person_id": person, "key": f"bench-{person}-{week}-{n}", "day": day,
                "variant": variant, "side": "", "number": n % 4 + 1,
                "load_kg": begun + round((WEEKS - week) / 30), "reps": rng.randint(8, 13),
                "reserve": rng.randint(0, 3), "kind": "working", "gave_out": "", "soreness": 0,
                "pain_joint": "elbow" if rng.random() < 0.003 else "", "pain": 0, "sharp": False,
                "guessed": False, "note": "", "plan_id": number if newest else None,
                "week": 2 - week if newest else None, "session": n // 8 if newest else None,
                "place": n // 4 if newest else None, "instead_of": "", "version": 1, "device": "bench",
                "written": 0, "removed": False,
            }  # fmt: skip


def signed_in(app: Flask, person: int) -> FlaskClient:
    client = app.test_client()
    assert client.post("/sign-in/as", data={"person": person}).status_code == 303
    return client


def settled(ask: Callable[[], str]) -> None:
    """Ask until the draws that a page stands on are made."""
    for _ in range(600):
        if "data-drawing" not in ask():
            return
        time.sleep(0.2)


def main(_arguments: list[str] | None = None) -> None:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        store = open_store(folder)
        fill_demo(store)
        with store.writing() as session:
            coach = session.query(Person).filter_by(name="Tamsin Brackwater").one().id
            block = session.query(Plan).filter_by(name="Lantern weeks").one().id
            started = time.perf_counter()
            people = fill(session, coach, block)
            rows = session.query(SetRow).count()
        print(f"{rows} sets of {CLIENTS} clients, made in {time.perf_counter() - started:.0f} s")
        draws, modeller = Draws(), Modeller(shelf=Shelf(folder))
        app = create_app(Settings(data=folder), draws=draws, modeller=modeller, demo=True)
        app.config["WTF_CSRF_ENABLED"] = False
        client, desk = signed_in(app, people[0]), signed_in(app, coach)
        settled(lambda: client.get("/today").text)
        told("Today", timed(lambda: client.get("/today")), 80)
        count = iter(range(10**6))

        def keep() -> None:
            one = {"key": f"bench-new-{next(count):06d}", "day": date.today().isoformat()}
            one |= {"variant": "chin-up", "load_kg": 0, "reps": 8}
            message = {"device": "bench", "written": next(count), "seen": 0, "set": one}
            answer = client.post("/today/log", json={"person": people[0], "messages": [message]})
            assert answer.status_code == 200

        told("a set kept", timed(keep, 30), 40)
        settled(lambda: desk.get(f"/record/{people[0]}").text)
        told("a client's page", timed(lambda: desk.get(f"/record/{people[0]}")), 150)
        first = timed(lambda: desk.get("/clients"), 1)
        told("overview, every log changed since", first)
        kept = timed(lambda: desk.get("/clients"))
        told("overview", kept, 150)

        def anew() -> None:
            with store.reading() as session:
                some = logs.logs_since(session, people, date.today() - LOOKED_AT)
                for log in some.values():
                    summary_of(log, 75.0, frozenset())

        whole = timed(anew, 3)
        told("what all logs say, worked out anew", whole)
        print(f"{'overview, to working it out anew':44}    1/{whole / kept:.1f}")
        with store.reading() as session:
            number = session.query(Plan).filter_by(owner_id=coach).order_by(Plan.id.desc()).first().id  # type: ignore[union-attr]
        settled(lambda: desk.get(f"/reviews/{number}?for={people[-1]}").text)
        told("a review", timed(lambda: desk.get(f"/reviews/{number}?for={people[-1]}")), 500)
        with store.reading() as session:
            viewer = viewer_of(session, people[0])
            assert viewer
            means = Means(Library(session, viewer), modeller, drawing_with(modeller))
            lesson = lesson_of(session, viewer, means, people[0], logs.training_state(session, people[0]))
        assert lesson
        bank = DrawBank(modeller, draws.loads, Shelf(folder))
        facts = lesson.planner.context().facts
        started = time.perf_counter()
        learn(lesson.log, facts, lesson.today, bank.strays)
        told("learned, nothing drawn yet", 1000 * (time.perf_counter() - started))
        again = timed(lambda: learn(lesson.log, facts, lesson.today, bank.strays), 3)
        told("learned again", again, 2000)
        more = lesson.log[-1]
        new = [*lesson.log, more.model_copy(update={"key": "bench-one-more", "reps": more.reps + 1})]
        told(
            "learned with one more set", timed(lambda: learn(new, facts, lesson.today, bank.strays), 1), 2000
        )
        draws.close()


if __name__ == "__main__":
    main()
