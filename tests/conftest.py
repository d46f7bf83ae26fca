"""Shared by all tests: a modeller, one demo folder that is copied for each test, an application over it."""

from __future__ import annotations

import gc
import os
import shutil
from collections.abc import Callable, Iterator
from concurrent.futures import Executor, ThreadPoolExecutor
from pathlib import Path

import pytest
from argon2 import PasswordHasher
from flask import Flask
from flask.testing import FlaskClient
from hypothesis import settings
from jinja2.bccache import Bucket, BytecodeCache
from sqlalchemy import Engine, event
from werkzeug.routing import Rule

from curve_rank.background.draws import Draws
from curve_rank.rating.modelling import Modeller
from curve_rank.settings import Settings
from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo
from curve_rank.store.house import passwords
from curve_rank.store.safe.shelf import Shelf
from curve_rank.web import arms, create_app
from tests.helpers import LIMIT, desk_of

# Servers and commands that tests start read compiled code in, wherever that is turned off.
os.environ["PYTHONDONTWRITEBYTECODE"] = ""
# Looking through all that is kept for what is not needed any more took a twelfth of the time.
gc.set_threshold(50_000, 20, 50)
# What tests keep need not outlive a power cut, and their passwords are nobody’s.
event.listen(Engine, "connect", lambda connection, _: connection.execute("PRAGMA synchronous = OFF"))
CHEAP = PasswordHasher(time_cost=1, memory_cost=64, parallelism=1)
passwords._hasher = lambda: CHEAP  # type: ignore[assignment]
# Pages wait for their arms here, however slow the machine: what they say meanwhile has tests of its own.
arms.AT_ONCE = LIMIT
# A machine's mood is no property of the physics: no deadlines, and in CI the same examples every time.
settings.register_profile("here", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True)
settings.load_profile("ci" if os.environ.get("CI") else "here")


SLOWEST = (
    "test_documents.py", "test_surfaces.py", "test_nested.py", "test_fields.py", "test_door.py",
    "test_endings.py", "test_every_page.py", "test_bench.py", "test_serving.py", "test_learning.py",
    "test_access.py", "test_guide.py", "test_faults.py", "test_measure.py", "test_coaching.py",
    "test_training.py", "test_planning.py", "test_compare.py", "test_draws.py", "test_published.py",
)  # fmt: skip
"""Files that take longest come first: begun last, one core would wait for the other."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    if "PYTEST_XDIST_WORKER" not in os.environ:
        return
    places = {name: n for n, name in enumerate(SLOWEST)}
    items.sort(key=lambda item: places.get(item.path.name, len(places)))


@pytest.fixture(scope="session")
def modeller() -> Modeller:
    return KEPT


@pytest.fixture(scope="session")
def threads() -> Iterator[ThreadPoolExecutor]:
    """The one executor of tests in which processes are not the point."""
    pool = ThreadPoolExecutor(2)
    yield pool
    pool.shutdown(cancel_futures=True)


@pytest.fixture
def shell_draws_in_threads(monkeypatch: pytest.MonkeyPatch) -> None:
    """Commands draw in threads, which end with the command."""
    monkeypatch.setattr("curve_rank.cli.draws.make_executor", lambda _address: ThreadPoolExecutor(2))


@pytest.fixture(scope="session")
def demo_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder with the demo data, made once; tests take copies."""
    folder = tmp_path_factory.mktemp("demo")
    store = open_store(folder)
    fill_demo(store)
    store.engine.dispose()
    return folder


@pytest.fixture(scope="session")
def empty_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A data folder without anything of anybody's, made once; tests take copies."""
    folder = tmp_path_factory.mktemp("empty")
    open_store(folder).engine.dispose()
    return folder


SHELF = Path(__file__).parents[1] / ".pytest_cache" / "draws"
os.environ["CURVE_RANK_DRAWS"] = str(SHELF)
os.environ["CURVE_RANK_LOCAL_VIEWER"] = "true"  # most tests are about what is inside; the door has its own
KEPT = Modeller(shelf=Shelf(SHELF))
"""What one test has modelled, the next need not: results are found by content, draws in the next run too."""


class KeptTemplates(BytecodeCache):
    """Compiled templates, so that each test's application need not compile them again."""

    def __init__(self) -> None:
        self._code: dict[str, bytes] = {}

    def load_bytecode(self, bucket: Bucket) -> None:
        if bucket.key in self._code:
            bucket.bytecode_from_string(self._code[bucket.key])

    def dump_bytecode(self, bucket: Bucket) -> None:
        self._code[bucket.key] = bucket.bytecode_to_string()


TEMPLATES = KeptTemplates()
BUILDERS: dict[object, Callable[..., object]] = {}
BUILD = Rule._compile_builder


def kept_builder(rule: Rule, append_unknown: bool = True) -> Callable[..., object]:
    """What builds addresses of a rule, compiled once for all applications: it depends on the rule alone."""
    key = (rule.rule, rule.subdomain, rule.host, str(rule.defaults), append_unknown)
    if key not in BUILDERS:
        BUILDERS[key] = BUILD(rule, append_unknown)
    return BUILDERS[key]


Rule._compile_builder = kept_builder  # type: ignore[method-assign]


@pytest.fixture
def make_app(tmp_path: Path, demo_folder: Path) -> Iterator[Callable[..., Flask]]:
    """Makes applications over a copy of the demo data, with other settings where they are named.

    They ask for no form tokens, and their draws are in threads that end with the test, or rest.
    """
    folder, made = tmp_path / "data", []
    shutil.copytree(demo_folder, folder)

    def make(
        executor: Callable[[], Executor] = lambda: ThreadPoolExecutor(2),
        *,
        demo: bool = False,
        modeller: Modeller = KEPT,
        **named: object,
    ) -> Flask:
        app = create_app(Settings(data=folder, **named), draws=Draws(executor), modeller=modeller, demo=demo)
        app.config["WTF_CSRF_ENABLED"] = False
        app.jinja_env.bytecode_cache = TEMPLATES
        made.append(desk_of(app))
        return app

    yield make
    for desk in made:
        desk.claims.close()
        desk.draws.close()
        desk.store.engine.dispose()


@pytest.fixture
def app(make_app: Callable[..., Flask]) -> Flask:
    return make_app()


@pytest.fixture
def client(app: Flask) -> Iterator[FlaskClient]:
    with app.test_client() as one:
        yield one
