"""A store in a fresh folder, and viewers of it."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from sqlalchemy import select
from sqlalchemy.orm import Session

from curve_rank.store.database import Store, open_store
from curve_rank.store.demo import fill_demo
from curve_rank.store.tables import Person
from curve_rank.store.viewers import Viewer, local_educator, viewer_of


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    opened = open_store(tmp_path)
    yield opened
    opened.engine.dispose()


@pytest.fixture
def session(store: Store) -> Iterator[Session]:
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
    fill_demo(store)
    return store


def somebody(session: Session, name: str) -> Viewer:
    found = viewer_of(session, session.scalars(select(Person.id).where(Person.name == name)).one())
    assert found
    return found
