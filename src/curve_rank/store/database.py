"""Opens the database: pragmas, migrations up to the newest, sessions for reading and for writing."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from importlib.resources import as_file, files
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Connection, Engine, create_engine, event, select
from sqlalchemy.orm import Session, sessionmaker

from curve_rank.rating.keeping import Kept
from curve_rank.store.tables import Person, PersonRole

__all__ = ["Session", "Store", "open_store", "write_with"]

DATABASE = "curve-rank.sqlite3"
BUSY_TIMEOUT_MS = 5000
VALIDATED = "validated"
"""Where a session finds the documents that have been validated, so that each version is validated once."""
VALIDATED_BYTES = 32 * 1024 * 1024
IMMEDIATE = "immediate"


@dataclass(frozen=True)
class Store:
    """An open database."""

    folder: Path
    engine: Engine
    make_session: sessionmaker[Session]

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """A session that keeps nothing."""
        with self.make_session() as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """A session that has the database to itself for writing; see `write_with`."""
        with self.make_session() as session, write_with(session):
            yield session


@contextmanager
def write_with(session: Session) -> Iterator[Session]:
    """Write with an open session: begins at once, commits when the block ends well, else undoes all of it.

    Whoever else wants to write waits. What the session has read before is read anew.
    """
    session.rollback()
    session.connection(execution_options={IMMEDIATE: True})
    try:
        yield session
        session.commit()
    except BaseException:
        session.rollback()
        raise


def open_store(folder: Path) -> Store:
    """Open the database in a folder, making it or bringing it up to date first."""
    folder.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{folder / DATABASE}")
    event.listen(engine, "connect", _set_pragmas)
    event.listen(engine, "begin", _begin)
    _upgrade(engine)
    make_session = sessionmaker(
        engine, expire_on_commit=False, info={VALIDATED: Kept(VALIDATED_BYTES, lambda found: found.size)}
    )
    store = Store(folder, engine, make_session)
    with store.writing() as session:
        if session.scalar(select(PersonRole.id).where(PersonRole.role == "educator")) is None:
            _add_local_educator(session)
    return store


def _add_local_educator(session: Session) -> None:
    person = Person(name="Local educator")
    session.add(person)
    session.flush()
    session.add(PersonRole(owner_id=person.id, person_id=person.id, role="educator"))


def _set_pragmas(connection: Any, _record: Any) -> None:
    # The driver begins no transactions of its own: it would leave table changes out of them.
    connection.isolation_level = None
    cursor = connection.cursor()
    cursor.execute(f"PRAGMA busy_timeout = {BUSY_TIMEOUT_MS}")
    cursor.execute("PRAGMA foreign_keys = ON")
    cursor.execute("PRAGMA journal_mode = WAL")
    cursor.close()


def _begin(connection: Connection) -> None:
    immediate = connection.get_execution_options().get(IMMEDIATE, False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if immediate else "BEGIN")


def _upgrade(engine: Engine) -> None:
    """All migrations in one transaction: they are all done or none is."""
    config = Config()
    with (
        as_file(files("curve_rank.store").joinpath("migrations")) as migrations,
        engine.connect().execution_options(**{IMMEDIATE: True}) as connection,
        connection.begin(),
    ):
        config.set_main_option("script_location", str(migrations))
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
