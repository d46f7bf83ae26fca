"""Shared by all tests: a modeller, the built-in variants, an application over a fresh folder."""

from __future__ import annotations

import os
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient
from hypothesis import settings

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.rating.modelling import Modelled, Modeller, model_variants
from curve_rank.rating.running import Draws
from curve_rank.store.demo import fill_demo
from curve_rank.web import create_app

# A machine's mood is no property of the physics: no deadlines, and in CI the same examples every time.
settings.register_profile("here", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "here")


def modelled(variant: Variant | str, body: Body | None = None, **settings: object) -> Modelled:
    """A variant (or a built-in one's id) modelled at effort 0.75, after settings ("posture__wrist"=…)."""
    document = find_variant(variant, built_in()) if isinstance(variant, str) else variant
    changes = tuple(
        Change(field=name.replace("__", ".").replace("last", "-1"), set=value)
        for name, value in settings.items()
    )
    return model_variants((changed(document, changes),), body or Body(), effort=0.75)[0]


@pytest.fixture(scope="session")
def modeller() -> Modeller:
    return Modeller()


@pytest.fixture
def app(tmp_path: Path) -> Iterator[Flask]:
    made = create_app(tmp_path)
    made.config["WTF_CSRF_ENABLED"] = False
    fill_demo(made.extensions["curve_rank_store"])
    made.extensions["curve_rank_draws"] = Draws(lambda: ThreadPoolExecutor(2))
    yield made
    made.extensions["curve_rank_draws"].close()


@pytest.fixture
def client(app: Flask) -> Iterator[FlaskClient]:
    with app.test_client() as one:
        yield one
