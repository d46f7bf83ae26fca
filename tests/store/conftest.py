"""A store in a fresh folder, and viewers of it."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.exchange import outbox
from curve_rank.store.database import Store, open_store
from curve_rank.store.safe.private import whole_file
from curve_rank.store.tables import Person
from curve_rank.store.viewers import Viewer, local_educator, viewer_of


@pytest.fixture
def store(
    tmp_path: Path, empty_folder: Path, demo_folder: Path, request: pytest.FixtureRequest
) -> Iterator[Store]:
    """A new store; with the demo's data where the test asks for `demo`."""
    made = demo_folder if "demo" in request.fixturenames else empty_folder
    shutil.copytree(made, tmp_path, dirs_exist_ok=True)
    opened = open_store(tmp_path)
    yield opened
    opened.engine.dispose()


@pytest.fixture
def folder(tmp_path: Path, demo_folder: Path) -> Path:
    """A data folder with the demo, a key and a letter."""
    made = tmp_path / "data"
    shutil.copytree(demo_folder, made)
    whole_file(made / "secret-key", b"k" * 32)
    outbox.send(made, to="wren@lanternfield.example", subject="Hello", text="Come in.")
    return made


@pytest.fixture
def session(store: Store) -> Iterator[DbSession]:
    """A session that writes; what the test leaves is kept."""
    with store.writing() as one:
        yield one


@pytest.fixture
def viewer(store: Store) -> Viewer:
    with store.reading() as one:
        found = local_educator(one)
    assert found is not None
    return found


@pytest.fixture
def demo(store: Store) -> Store:
    return store


def somebody(session: DbSession, name: str) -> Viewer:
    found = viewer_of(session, session.scalars(select(Person.id).where(Person.name == name)).one())
    assert found
    return found
