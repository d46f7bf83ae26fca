"""A made-up house of forty: logs that the model wrote, with one capacity 30 % lower in everybody."""

from __future__ import annotations

import csv
import gzip
import io
from collections import defaultdict
from datetime import UTC, date, datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.data_files import read_bytes
from curve_rank.practice.consent import house_statement
from curve_rank.store.database import Store
from curve_rank.store.logs import add_sets
from curve_rank.store.tables import BodyRow, HouseConsent, Person, PersonRole
from curve_rank.store.viewers import EDUCATOR, Viewer, local_educator, viewer_of
from curve_rank.training.log import LoggedSet

SECOND_EDUCATOR = "Ottoline Marsh"
FIRST = (
    "Alba", "Bram", "Cato", "Dilys", "Ebbe", "Fenna", "Gethin", "Hesper", "Idris", "Juno", "Kester", "Lumi",
    "Marlo", "Nell", "Orson", "Pia", "Quill", "Runa", "Sorrel", "Tove",
)  # fmt: skip
LAST = ("Underhill-Sedge", "Millrace")


def fill_demo_house(store: Store) -> None:
    """Add the house to the demo's people; a second call changes nothing."""
    with store.writing() as session:
        owner = local_educator(session)
        there = select(Person.id).where(Person.name == SECOND_EDUCATOR)
        if owner is None or session.scalar(there) is not None:
            return
        teacher = Person(owner_id=owner.person, name=SECOND_EDUCATOR)
        session.add(teacher)
        session.flush()
        session.add(PersonRole(owner_id=owner.person, person_id=teacher.id, role=EDUCATOR))
        rows = defaultdict(list)
        text = gzip.decompress(read_bytes("curve_rank.store", "demo_house.csv.gz")).decode()
        for row in csv.reader(io.StringIO(text)):
            rows[int(row[0])].append(row)
        session.flush()
        viewer = viewer_of(session, teacher.id)
        assert viewer
        today = datetime.now(UTC).date()
        for number, some in rows.items():
            _add_lifter(session, viewer, number, some, today)


def _add_lifter(session: DbSession, viewer: Viewer, number: int, rows: list[list[str]], today: date) -> None:
    """One of them: size, consent, log."""
    name = f"{FIRST[number % len(FIRST)]} {LAST[number // len(FIRST)]}"
    person = Person(owner_id=viewer.person, name=name)
    session.add(person)
    session.flush()
    height, mass = (float(value) for value in rows[0][1:3])
    session.add(BodyRow(owner_id=viewer.person, person_id=person.id, height_m=height, mass_kg=mass))
    wording = house_statement()
    session.add(HouseConsent(owner_id=person.id, digest=wording.digest, wording=wording.text, agreed=True))
    session.flush()
    sets = [
        LoggedSet(
            key=f"house-{number}-{n}",
            day=today - timedelta(days=int(ago)),
            variant=variant,
            set=1,
            load_kg=float(load),
            reps=int(reps),
            reserve=int(left),
        )
        for n, (_, _, _, ago, variant, load, reps, left) in enumerate(rows)
    ]
    add_sets(session, viewer, person.id, sets, "demo")
