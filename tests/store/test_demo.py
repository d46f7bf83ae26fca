"""Demo data fills once."""

from __future__ import annotations

from pathlib import Path

from sqlalchemy import func, select

from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo
from curve_rank.store.documents import own_lenses, own_variants
from curve_rank.store.tables import Person
from curve_rank.store.viewers import local_educator


def test_data_outlives_closing_and_demo_fills_once(tmp_path: Path) -> None:
    for _ in range(2):
        fill_demo(open_store(tmp_path))
    with open_store(tmp_path).reading() as session:
        viewer = local_educator(session)
        assert viewer is not None
        assert session.scalar(select(func.count(Person.id))) == 8
        assert len(own_variants(session, viewer)) == 3
        assert list(own_lenses(session, viewer)) == ["own-lanternfield-house-blend"]
