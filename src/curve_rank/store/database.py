"""Opens the database: pragmas, migrations up to the newest, sessions for reading and for writing."""

from __future__ import annotations

import sqlite3
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from alembic import command
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Connection, Engine, create_engine, event, func, select
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import sessionmaker

from curve_rank import __version__
from curve_rank.errors import UnavailableError
from curve_rank.keeping import Keeping
from curve_rank.settings import DATABASE
from curve_rank.store.revisions import migrations
from curve_rank.store.safe.backup import copy_before_upgrade
from curve_rank.store.safe.private import private_file, private_folder
from curve_rank.store.safe.restore import finish
from curve_rank.store.safe.troubles import tell
from curve_rank.store.tables import Person, PersonRole
from curve_rank.store.viewers import EDUCATOR

__all__ = ["DATABASE", "DbSession", "Store", "open_store", "write_with"]

BUSY_TIMEOUT_MS = 5000
STARTING_MS = 60_000
"""How long a start waits for another that makes the tables or brings them up to date, on a busy machine."""
VALIDATED = "validated"
"""Where a session finds the documents that have been validated, so that each version is validated once."""
VALIDATED_BYTES = 32 * 1024 * 1024
UNIT = "unit"
"""Where a session finds in which unit masses are read by whoever has not chosen one."""
IMMEDIATE = "immediate"
TURN = "turn"
"""Where a session finds whose turn it is to write: SQLite lets who waits sleep ever longer, in no order."""


@dataclass(frozen=True)
class Store:
    """An open database."""

    folder: Path
    engine: Engine
    make_session: sessionmaker[DbSession]

    @contextmanager
    def reading(self) -> Iterator[DbSession]:
        """A session that keeps nothing."""
        with self.make_session() as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[DbSession]:
        """A session that has the database to itself for writing; see `write_with`."""
        with self.make_session() as session, write_with(session):
            yield session

    def truncate_log(self) -> None:
        """Write the log into the database and empty it, so that what was deleted stands in neither."""
        with self.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
            connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")


@contextmanager
def write_with(session: DbSession) -> Iterator[DbSession]:
    """Write with an open session: begins at once, commits when the block ends well, else undoes all of it.

    Whoever else wants to write waits: here in turn, in other processes by looking again and again. What the
    session has read before is read anew.
    """
    session.rollback()
    with session.info[TURN]:
        session.connection(execution_options={IMMEDIATE: True})
        try:
            yield session
            session.commit()
        except BaseException:
            session.rollback()
            raise


def open_store(folder: Path, unit: str = "kg") -> Store:
    """Open the database in a folder, making it or bringing it up to date first.

    Parameters
    ----------
    folder : Path
        Made where it is not there yet.
    unit : str
        In which masses are read by whoever has not chosen one: "kg" or "lb".

    Raises
    ------
    UnavailableError
        Where folder or database cannot be used, and what would help.
    """
    finish(private_folder(folder))  # a restore that was killed
    file = private_file(folder / DATABASE)
    engine = create_engine(f"sqlite:///{file}")
    event.listen(engine, "connect", _set_pragmas)
    event.listen(engine, "begin", _begin)
    event.listen(engine, "handle_error", tell)
    try:
        _upgrade(engine, file)
    except BaseException:
        engine.dispose()
        raise
    validated = Keeping(VALIDATED_BYTES, lambda found: found.size)
    shared = {VALIDATED: validated, TURN: threading.RLock(), UNIT: unit}
    make_session = sessionmaker(engine, expire_on_commit=False, info=shared)
    store = Store(folder, engine, make_session)
    with store.reading() as session:
        without = _first_educator(session) is None
    if without:
        with store.writing() as session:
            if _first_educator(session) is None:
                _add_local_educator(session)
    return store


def check(session: DbSession) -> bool:
    """Whether the database answers.

    Raises
    ------
    UnavailableError
    """
    return session.scalar(select(func.count(Person.id))) is not None


def _first_educator(session: DbSession) -> int | None:
    return session.scalar(select(PersonRole.id).where(PersonRole.role == EDUCATOR).limit(1))


def _add_local_educator(session: DbSession) -> None:
    person = Person(name="Local educator")
    session.add(person)
    session.flush()
    session.add(PersonRole(owner_id=person.id, person_id=person.id, role=EDUCATOR))


def _set_pragmas(connection: Any, _record: Any) -> None:
    # The driver begins no transactions of its own: it would leave table changes out of them.
    connection.isolation_level = None
    cursor = connection.cursor()
    cursor.execute(f"PRAGMA busy_timeout = {BUSY_TIMEOUT_MS}")
    cursor.execute("PRAGMA foreign_keys = ON")
    cursor.execute("PRAGMA secure_delete = ON")  # deleted is deleted, however SQLite was built
    if cursor.execute("PRAGMA journal_mode").fetchone()[0] != "wal":
        _keep_a_log(cursor)
    cursor.close()


def _keep_a_log(cursor: Any) -> None:
    """Switch to a write-ahead log. SQLite does not wait for others with this, so wait here."""
    until = time.monotonic() + STARTING_MS / 1000
    while True:
        try:
            cursor.execute("PRAGMA journal_mode = WAL")
        except sqlite3.OperationalError:
            if time.monotonic() > until:
                raise
            time.sleep(0.05)
        else:
            return


def _begin(connection: Connection) -> None:
    immediate = connection.get_execution_options().get(IMMEDIATE, False)
    connection.exec_driver_sql("BEGIN IMMEDIATE" if immediate else "BEGIN")


def _upgrade(engine: Engine, file: Path) -> None:
    """All migrations in one transaction: they are all done or none is. Before a change, a copy is kept.

    Raises
    ------
    UnavailableError
        When a newer version has changed the database, or an upgrade fails: then all is as it was.
    """
    with migrations() as (config, script):
        with engine.connect() as connection:
            if _revision(connection, script, file) == script.get_current_head():
                return
        with (
            engine.connect().execution_options(**{IMMEDIATE: True}) as connection,
            _patient(connection),
            connection.begin(),
        ):
            # Whoever had the database before may have brought it up to date meanwhile.
            revision = _revision(connection, script, file)
            if revision == script.get_current_head():
                return
            kept = copy_before_upgrade(file, revision) if revision is not None else None
            config.attributes["connection"] = connection
            try:
                command.upgrade(config, "head")
            except UnavailableError:
                raise  # a full disk, and the like: it says itself what helps
            except Exception as error:
                raise UnavailableError("database", str(file), _as_it_was(kept, revision)) from error


@contextmanager
def _patient(connection: Connection) -> Iterator[None]:
    """While a connection waits for others as long as a start does."""
    cursor = connection.connection.cursor()
    cursor.execute(f"PRAGMA busy_timeout = {STARTING_MS}")
    try:
        yield
    finally:
        cursor.execute(f"PRAGMA busy_timeout = {BUSY_TIMEOUT_MS}")
        cursor.close()


def _as_it_was(kept: Path | None, revision: str | None) -> str:
    """What to do after an upgrade that failed."""
    if kept is None:
        return "a folder that new tables can be made in; nothing was kept"
    return (
        f"an upgrade that ends well. It is as it was, at “{revision}”; a copy is {kept.name}."
        " Go on with the version of Curve Rank that served it before, and tell its makers what the log says"
    )


def _revision(connection: Connection, script: ScriptDirectory, file: Path) -> str | None:
    revision = MigrationContext.configure(connection).get_current_revision()
    if revision is not None and revision not in {one.revision for one in script.walk_revisions()}:
        right = (
            f"the version of Curve Rank that last changed it (at “{revision}”), or a newer one; this is "
            f"{__version__} (at “{script.get_current_head()}”). Install that, or restore a backup of this"
        )
        raise UnavailableError("database", str(file), right)
    return revision
