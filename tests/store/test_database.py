"""Migrations, pragmas, and data of older versions."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from importlib.resources import files
from pathlib import Path
from threading import Timer
from typing import Any

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from sqlalchemy import Connection, Engine, create_engine, select, text
from sqlalchemy.exc import IntegrityError

from curve_rank.catalogue import words
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.settings import DATABASE
from curve_rank.store import documents, people, questions, rooms
from curve_rank.store.database import Store, open_store
from curve_rank.store.database import _patient as patient
from curve_rank.store.tables import Base, BodyRow, Document
from curve_rank.store.viewers import local_educator

CURL = find_variant("standing-dumbbell-curl", built_in())
DAY = "2026-01-01 00:00:00.000000"
LENS = {"name": "Even", "school": "Even.", "weights": {"evenness": 1.0}}


def migrate(engine: Engine, revision: str, *, down: bool = False) -> None:
    config = Config()
    config.set_main_option("script_location", str(files("curve_rank.store").joinpath("migrations")))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        (command.downgrade if down else command.upgrade)(config, revision)


def insert(engine: Engine, table: str, **values: Any) -> None:
    names = ", ".join(values)
    with engine.begin() as connection:
        connection.execute(
            text(f"INSERT INTO {table} ({names}) VALUES ({', '.join(':' + n for n in values)})"), values
        )


def older(folder: Path, revision: str) -> Engine:
    """A database as an older version left it, with a person and a body."""
    engine = create_engine(f"sqlite:///{folder / DATABASE}")
    migrate(engine, revision)
    insert(engine, "people", id=1, name="Ada", role="educator", created_at=DAY)
    insert(engine, "people", id=2, owner_id=1, name="Bo", role="client", created_at=DAY)
    for person in (1, 2):
        insert(
            engine, "bodies", owner_id=1, person_id=person, height_m=1.7, mass_kg=64, strength=1.1,
            sore_joints='["elbow"]', created_at=DAY,
        )  # fmt: skip
    return engine


def own_document(
    engine: Engine, slug: str, versions: list[str], *, removed: bool = False, id_: int = 1
) -> None:
    insert(
        engine, "own_variants", id=id_, owner_id=1, slug=slug, made_from=CURL.id, created_at=DAY,
        removed_at=DAY if removed else None,
    )  # fmt: skip
    for number, document in enumerate(versions, start=1):
        insert(
            engine, "own_variant_versions", owner_id=1, variant_id=id_, number=number, document=document,
            created_at=DAY,
        )  # fmt: skip


def document(slug: str, **more: float) -> str:
    settings = tuple(parse_setting(f"{field.replace('__', '.')}={value}") for field, value in more.items())
    named = changed(CURL, settings).model_copy(update={"id": slug, "name": slug.title()})
    return named.model_dump_json()


def test_migrations_build_exactly_the_tables_in_use(store: Store) -> None:
    with store.engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, Base.metadata) == []
        pragmas = {p: connection.scalar(text(f"PRAGMA {p}")) for p in ("foreign_keys", "journal_mode")}
        assert pragmas == {"foreign_keys": 1, "journal_mode": "wal"}
        assert connection.scalar(text("PRAGMA busy_timeout")) >= 1000


def test_every_row_a_person_makes_carries_its_owner() -> None:
    nobodys = {"wrong_tries"}  # whoever is wrong at the door is nobody yet
    for table in Base.metadata.tables.values():
        assert "owner_id" in table.c or table.name in nobodys, table.name


def test_foreign_keys_hold(store: Store) -> None:
    with store.writing() as session:
        session.add(BodyRow(owner_id=1, person_id=999, height_m=1.7, mass_kg=70))
        with pytest.raises(IntegrityError):
            session.flush()
        session.rollback()


def test_a_database_of_the_first_version_is_brought_up_to_date(tmp_path: Path) -> None:
    older(tmp_path, "0001").dispose()
    with open_store(tmp_path).reading() as session:
        viewer = local_educator(session)
        assert viewer is not None
        assert viewer.name == "Ada"
        found = people.person(session, viewer, 2)
        assert (found.name, found.bodies[0].sore_joints) == ("Bo", ["elbow"])
        assert people.body_of(found).mass == 64
        assert found.bodies[0].upper_arm_m is None


def test_a_database_of_the_second_version_keeps_everything(tmp_path: Path) -> None:
    """Own variants and lenses with their versions, removed rows, questions; what is broken is told of."""
    engine = older(tmp_path, "0002")
    own_document(engine, "own-a", [document("own-a"), document("own-a", posture__wrist=-20)])
    own_document(engine, "own-gone", [document("own-gone")], removed=True, id_=2)
    own_document(engine, "own-broken", ["{not json", '{"schema_version": 0}'], id_=3)
    own_document(engine, "own-torn", ["{not json"], id_=4)
    insert(engine, "own_lenses", id=7, owner_id=1, slug="own-even", created_at=DAY)
    for number in (1, 2):
        weights = {"evenness": 1.0, "tension": number - 1.0}
        insert(
            engine, "own_lens_versions", owner_id=1, lens_id=7, number=number, created_at=DAY,
            document=json.dumps(LENS | {"weights": weights}),
        )  # fmt: skip
    insert(engine, "saved_questions", owner_id=1, name="Q", address="target=brachialis", created_at=DAY)
    insert(engine, "rooms", owner_id=1, name="Barn", equipment='["dumbbell"]', created_at=DAY)
    engine.dispose()
    store = open_store(tmp_path)
    with store.writing() as session:
        viewer = local_educator(session)
        assert viewer is not None
        (kept,) = documents.own_variants(session, viewer)
        assert (kept.id, kept.posture.wrist) == ("own-a", -20)
        assert [v.number for v in documents.versions(session, viewer, "variant", "own-a")] == [1, 2]
        first = documents.version(session, viewer, "variant", "own-a", 1)
        assert first.posture.wrist == CURL.posture.wrist  # type: ignore[attr-defined]
        told = documents.unreadable(session, viewer, "variant")
        assert [one.slug for one in told] == ["own-broken", "own-torn"]
        documents.set_removed(session, viewer, "variant", "own-gone", removed=False)
        assert {v.id for v in documents.own_variants(session, viewer)} == {"own-a", "own-gone"}
        assert dict(documents.own_lenses(session, viewer)["own-even"].weights) == {
            "evenness": 0.5,
            "tension": 0.5,
        }
        assert session.scalar(select(Document.made_from).where(Document.slug == "own-a")) == CURL.id
        assert [q.name for q in questions.saved_questions(session, viewer)] == ["Q"]
        assert [r.name for r in rooms.rooms(session, viewer)] == ["Barn"]
        assert {p.name for p in people.people_with_bodies(session, viewer)} == {"Ada", "Bo"}


def test_rooms_and_questions_of_before_keep_every_bench_they_brought(tmp_path: Path) -> None:
    engine = older(tmp_path, "0002")
    migrate(engine, "0017")
    for number, there in ((1, ["dumbbell"]), (2, ["dumbbell", "no_bench"]), (3, ["flat_bench"]), (4, [])):
        insert(
            engine, "rooms", id=number, owner_id=1, name=f"Room {number}", equipment=json.dumps(there),
            steps=json.dumps({"name": "x", "equipment": there, "stations": 2}), created_at=DAY,
        )  # fmt: skip
    address = "target=brachialis&with=dumbbell&spare=elbow"
    insert(engine, "saved_questions", owner_id=1, name="Q", address=address, created_at=DAY)
    engine.dispose()
    with open_store(tmp_path).reading() as session:
        viewer = local_educator(session)
        assert viewer is not None
        kept = {one.id: one.room for one in rooms.rooms(session, viewer)}
        assert set(kept[1].equipment) == {"dumbbell", *words.benches()} - {"no_bench"}
        assert set(kept[3].equipment) == {"flat_bench", *words.loads()}
        assert [set(kept[number].equipment) for number in (2, 4)] == [{"dumbbell", "no_bench"}, set()]
        assert {room.stations for room in kept.values()} == {2}
        (question,) = questions.saved_questions(session, viewer)
        assert question.address.startswith("target=brachialis&with=dumbbell&with=incline_bench&")
        assert question.address.endswith("&spare=elbow")


def test_downgrading_and_upgrading_again_keeps_tables_and_documents(store: Store) -> None:
    with store.writing() as session:
        viewer = local_educator(session)
        assert viewer is not None
        documents.save_new(session, viewer, "variant", CURL, name="Kept", made_from=CURL.id)
    for to in ("0002", "0001"):
        migrate(store.engine, to, down=True)
        if to == "0002":
            migrate(store.engine, "head")
            with store.reading() as session:
                assert [v.name for v in documents.own_variants(session, viewer)] == ["Kept"]
    migrate(store.engine, "head")
    with store.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_a_start_waits_for_another_that_makes_the_tables(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("curve_rank.store.database.BUSY_TIMEOUT_MS", 1)
    with closing(
        sqlite3.connect(tmp_path / DATABASE, isolation_level=None, check_same_thread=False)
    ) as other:
        other.execute("PRAGMA journal_mode = WAL")
        other.execute("BEGIN IMMEDIATE")
        late = Timer(0.1, other.rollback)  # a hundred times what everything but a start waits

        @contextmanager
        def come_to_the_lock(connection: Connection) -> Iterator[None]:
            with patient(connection):
                late.start()
                yield

        monkeypatch.setattr("curve_rank.store.database._patient", come_to_the_lock)
        open_store(tmp_path).engine.dispose()
        late.join()
