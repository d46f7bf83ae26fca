"""The house of forty, as an application with its educator signed in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.store.demo_house import SECOND_EDUCATOR, fill_demo_house
from curve_rank.store.house import pooling
from curve_rank.store.tables import Person
from curve_rank.store.viewers import viewer_of
from tests.helpers import LIMIT, desk_of
from tests.web.pages.test_sign_in import as_anybody


@dataclass
class Mill:
    """An application with the house of forty, its educator signed in."""

    app: Flask
    page: FlaskClient

    def person(self, name: str) -> int:
        with desk_of(self.app).store.reading() as db:
            return int(db.query(Person).filter_by(name=name).one().id)

    def says(self, name: str, *, agreed: bool) -> None:
        with desk_of(self.app).store.writing() as db:
            viewer = viewer_of(db, self.person(name))
            assert viewer
            pooling.say(db, viewer, agreed=agreed)

    def freeze(self) -> None:
        assert self.page.post("/house/freeze").status_code == 303
        for run in desk_of(self.app).house.runs.under_way():
            assert run.wait(LIMIT)
            assert run.state == "finished", run.problem

    def data(self) -> dict[str, Any]:
        answer = self.page.get("/house.json")
        assert answer.status_code == 200, answer.text
        return dict(answer.get_json())


@pytest.fixture
def mill(make_app: Callable[..., Flask]) -> Mill:
    app = make_app(demo=True)
    fill_demo_house(desk_of(app).store)
    return Mill(app, as_anybody(app, SECOND_EDUCATOR))
