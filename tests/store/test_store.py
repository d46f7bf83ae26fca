"""Migrations, pragmas, histories, and demo data that fills once."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from sqlalchemy import create_engine, func, select, text
from sqlalchemy.exc import IntegrityError

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError
from curve_rank.rating.transfer import KnownSet
from curve_rank.store.database import DATABASE, Store, local_educator, open_store
from curve_rank.store.demo import fill_demo
from curve_rank.store.lenses import own_lenses
from curve_rank.store.people import body_of, save_body
from curve_rank.store.tables import Base, BodyRow, OwnVariant, Person
from curve_rank.store.variants import (
    own_row,
    own_variants,
    restore_version,
    save_new,
    save_version,
    set_removed,
)

CURL = find_variant("standing-dumbbell-curl", built_in())


@pytest.fixture
def store(tmp_path: Path) -> Store:
    return open_store(tmp_path)


def test_migrations_build_exactly_the_tables_in_use(store: Store) -> None:
    with store.engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, Base.metadata) == []
        pragmas = {p: connection.scalar(text(f"PRAGMA {p}")) for p in ("foreign_keys", "journal_mode")}
        assert pragmas == {"foreign_keys": 1, "journal_mode": "wal"}
        assert connection.scalar(text("PRAGMA busy_timeout")) >= 1000


def test_every_row_a_person_makes_carries_its_owner() -> None:
    for table in Base.metadata.tables.values():
        assert "owner_id" in table.c, table.name


def test_foreign_keys_hold(store: Store) -> None:
    with pytest.raises(IntegrityError), store.session() as session:
        session.add(BodyRow(owner_id=1, person_id=999, height_m=1.7, mass_kg=70))


def test_data_outlives_closing_and_demo_fills_once(tmp_path: Path) -> None:
    for _ in range(2):
        fill_demo(open_store(tmp_path))
    with open_store(tmp_path).session() as session:
        assert session.scalar(select(func.count(Person.id))) == 8
        assert len(own_variants(session)) == 3


def test_a_variant_keeps_its_history_and_can_go_back(store: Store) -> None:
    with store.session() as session:
        educator = local_educator(session)
        kept = save_new(session, educator, CURL, name="  My   curl ")
        assert kept.name == "My curl"
        save_version(session, educator, changed(kept, (parse_setting("posture.wrist=-20"),)))
    with store.session() as session:
        assert own_variants(session)[0].posture.wrist == -20
        restore_version(session, local_educator(session), kept.id, 1)
        assert own_variants(session)[0].posture.wrist == CURL.posture.wrist
        assert [v.number for v in own_row(session, kept.id).versions] == [1, 2, 3]
        set_removed(session, kept.id, removed=True)
        assert own_variants(session) == ()
        set_removed(session, kept.id, removed=False)
        assert len(own_variants(session)) == 1


@pytest.mark.parametrize("name", ["", "   ", "x" * 81])
def test_a_bad_name_stores_nothing(store: Store, name: str) -> None:
    with pytest.raises(BadInputError, match="1 to 80"), store.session() as session:
        save_new(session, local_educator(session), CURL, name=name)
    with store.session() as session:
        assert session.scalar(select(func.count(OwnVariant.id))) == 0


def test_a_name_twice_is_refused(store: Store) -> None:
    with store.session() as session:
        save_new(session, local_educator(session), CURL, name="Same")
    with pytest.raises(BadInputError, match="name"), store.session() as session:
        save_new(session, local_educator(session), CURL, name="same!")


def test_an_older_database_is_brought_up_to_date_with_its_data(tmp_path: Path) -> None:
    """A store as the first version left it: people, bodies and own variants live on."""
    engine = create_engine(f"sqlite:///{tmp_path / DATABASE}")
    config = Config()
    config.set_main_option("script_location", str(files("curve_rank.store").joinpath("migrations")))
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0001")
        connection.execute(
            text(
                "INSERT INTO people (id, name, role, created_at) VALUES (1, 'Ada', 'educator', '2026-01-01')"
            )
        )
        connection.execute(
            text(
                "INSERT INTO bodies"
                " (owner_id, person_id, height_m, mass_kg, strength, sore_joints, created_at)"
                " VALUES (1, 1, 1.7, 64, 1.1, '[\"elbow\"]', '2026-01-01')"
            )
        )
    engine.dispose()
    store = open_store(tmp_path)
    with store.session() as session:
        person = session.scalars(select(Person)).one()
        assert (person.name, person.bodies[0].sore_joints) == ("Ada", ["elbow"])
        assert body_of(person).mass == 64
        assert person.bodies[0].upper_arm_m is None
        assert own_lenses(session) == {}


def test_downgrading_and_upgrading_again_ends_at_the_same_tables(tmp_path: Path) -> None:
    store = open_store(tmp_path)
    config = Config()
    config.set_main_option("script_location", str(files("curve_rank.store").joinpath("migrations")))
    for to in ("0001", "head"):
        with store.engine.begin() as connection:
            config.attributes["connection"] = connection
            (command.downgrade if to == "0001" else command.upgrade)(config, to)
    with store.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


def test_a_known_set_is_kept_with_the_body(store: Store) -> None:
    with store.session() as session:
        educator = local_educator(session)
        save_body(session, educator, educator, Body(1.72, 70, 1.3, forearm_m=0.26), KnownSet(CURL, 15.0, 9))
    with store.session() as session:
        row = local_educator(session).bodies[-1]
        assert (row.known_variant, row.known_load_kg, row.known_reps) == (CURL.id, 15.0, 9)
        assert body_of(local_educator(session)) == Body(1.72, 70, 1.3, forearm_m=0.26)
