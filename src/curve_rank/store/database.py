"""Opens the database: pragmas, migrations up to the newest, sessions."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from importlib.resources import as_file, files
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event, select
from sqlalchemy.orm import Session, sessionmaker

from curve_rank.store.tables import Person

DATABASE = "curve-rank.sqlite3"
BUSY_TIMEOUT_MS = 5000


@dataclass(frozen=True)
class Store:
    """An open database."""

    folder: Path
    engine: Engine
    make_session: sessionmaker[Session]

    @contextmanager
    def session(self) -> Iterator[Session]:
        """A session that commits when the block ends well and rolls back when it does not."""
        with self.make_session.begin() as session:
            yield session


def data_folder(given: Path | None = None) -> Path:
    """Where data lives: as given, else CURVE_RANK_DATA, else the user's data folder."""
    if given is not None:
        return given
    if named := os.environ.get("CURVE_RANK_DATA"):
        return Path(named)
    base = os.environ.get("XDG_DATA_HOME") or Path.home() / ".local" / "share"
    return Path(base) / "curve-rank"


def open_store(folder: Path) -> Store:
    """Open the database in a folder, making it or bringing it up to date first."""
    folder.mkdir(parents=True, exist_ok=True)
    engine = create_engine(f"sqlite:///{folder / DATABASE}")
    event.listen(engine, "connect", _set_pragmas)
    _upgrade(engine)
    store = Store(folder, engine, sessionmaker(engine, expire_on_commit=False))
    with store.session() as session:
        if session.scalar(select(Person).where(Person.role == "educator")) is None:
            session.add(Person(name="Local educator", role="educator"))
    return store


def local_educator(session: Session) -> Person:
    """The one who owns what is made here."""
    return session.scalars(select(Person).where(Person.role == "educator").order_by(Person.id)).first()  # type: ignore[return-value]


def _set_pragmas(connection: Any, _record: Any) -> None:
    cursor = connection.cursor()
    cursor.execute("PRAGMA foreign_keys = ON")
    cursor.execute("PRAGMA journal_mode = WAL")
    cursor.execute(f"PRAGMA busy_timeout = {BUSY_TIMEOUT_MS}")
    cursor.close()


def _upgrade(engine: Engine) -> None:
    config = Config()
    with (
        as_file(files("curve_rank.store").joinpath("migrations")) as migrations,
        engine.begin() as connection,
    ):
        config.set_main_option("script_location", str(migrations))
        config.attributes["connection"] = connection
        command.upgrade(config, "head")
