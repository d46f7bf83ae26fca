"""Shared by all tests: a modeller, one demo folder that is copied for each test, an application over it."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient
from hypothesis import settings

from curve_rank.background.draws import Draws
from curve_rank.rating.modelling import Modeller
from curve_rank.settings import Settings
from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo
from curve_rank.web import create_app
from tests.helpers import desk_of

# A machine's mood is no property of the physics: no deadlines, and in CI the same examples every time.
settings.register_profile("here", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "here")


@pytest.fixture(scope="session")
def modeller() -> Modeller:
    return KEPT


@pytest.fixture(scope="session")
def threads() -> Iterator[ThreadPoolExecutor]:
    """The one executor of tests in which processes are not the point."""
    with ThreadPoolExecutor(2) as pool:
        yield pool


@pytest.fixture(scope="session")
def demo_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo data, made once; tests take copies."""
    folder = tmp_path_factory.mktemp("demo")
    store = open_store(folder)
    fill_demo(store)
    store.engine.dispose()
    return folder


KEPT = Modeller()
"""What one test has modelled, the next need not: results are found by content."""


def make_app(folder: Path, threads: ThreadPoolExecutor, **named: object) -> Flask:
    """An application without form tokens, its draws in threads."""
    app = create_app(Settings(data=folder, **named), draws=Draws(lambda: threads), modeller=KEPT)
    app.config["WTF_CSRF_ENABLED"] = False
    return app


@pytest.fixture
def app(tmp_path: Path, demo_folder: Path, threads: ThreadPoolExecutor) -> Iterator[Flask]:
    folder = tmp_path / "data"
    shutil.copytree(demo_folder, folder)
    made = make_app(folder, threads)
    yield made
    desk_of(made).store.engine.dispose()


@pytest.fixture
def client(app: Flask) -> Iterator[FlaskClient]:
    with app.test_client() as one:
        yield one
