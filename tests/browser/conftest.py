"""A real server and a real browser for whole journeys."""

from __future__ import annotations

import re
import shutil
import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from pathlib import Path
from typing import Any

import pytest
from axe_playwright_python.base import AXE_SCRIPT
from flask import Flask, request
from playwright.sync_api import (
    Browser,
    BrowserContext,
    ConsoleMessage,
    Error,
    Page,
    ViewportSize,
    expect,
    sync_playwright,
)
from waitress.server import create_server

from curve_rank.background.draws import Draws
from curve_rank.data_files import read_bytes
from curve_rank.practice.profile import ClientProfile
from curve_rank.settings import Settings
from curve_rank.store.database import open_store
from curve_rank.store.tables import SetRow
from curve_rank.web import create_app
from tests.conftest import KEPT
from tests.helpers import LIMIT, Resting
from tests.pounds import in_pounds

expect.set_options(timeout=1000 * LIMIT)


class Serving:
    """An application served by a thread, that ends as a process does: with every connection it has."""

    def __init__(self, app: Flask, port: int = 0) -> None:
        self.server: Any = create_server(app, host="127.0.0.1", port=port, threads=4)
        self.over = threading.Event()
        self.thread = threading.Thread(target=self._run, daemon=True)
        self.thread.start()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.server.effective_port}"

    def _run(self) -> None:
        while not self.over.is_set():
            self.server.asyncore.loop(timeout=0.2, map=self.server._map, count=1)

    def close(self) -> None:
        self.over.set()
        self.thread.join()
        self.server.task_dispatcher.shutdown()
        self.server.asyncore.close_all(self.server._map)


@contextmanager
def served(folder: Path, draws: Draws, unit: str = "kg", *, demo: bool = False) -> Iterator[str]:
    """The address of an application over a folder."""
    app = create_app(Settings(data=folder, unit=unit), modeller=KEPT, draws=draws, demo=demo)
    if unit == "lb":
        in_pounds(app)
    serving = Serving(app)
    yield serving.address
    serving.close()
    draws.close()


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory, demo_folder: Path) -> Iterator[str]:
    """Demo data, served; draws are not the point."""
    folder = tmp_path_factory.mktemp("served") / "data"
    shutil.copytree(demo_folder, folder)
    with served(folder, Draws(Resting, patience=1.5)) as found:
        yield found


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    path = shutil.which("chromium") or shutil.which("chromium-browser")
    assert path, "Chromium is needed: `make test` installs it"
    flags = [
        "--no-sandbox", "--disable-gpu", "--disable-software-rasterizer", "--renderer-process-limit=1",
        "--disable-site-isolation-trials", "--disable-background-networking", "--no-first-run",
        "--disable-features=site-per-process,Translate,OptimizationHints,MediaRouter,PaintHolding",
    ]  # fmt: skip
    with sync_playwright() as playwright:
        launched = playwright.chromium.launch(executable_path=path, args=flags)
        yield launched
        launched.close()


WAITING = "[data-drawing], [data-working]"


def settle(page: Page) -> None:
    """Wait until a page is there whole: one that draws first looks again by itself."""
    while page.locator(WAITING).count():
        page.locator(WAITING).wait_for(state="detached")
        page.wait_for_load_state()  # it is gone as soon as the page that comes instead begins


def come_true(page: Page, script: str) -> None:
    """Wait until what a script promises is so; `wait_for_function` takes the promise itself for a yes."""
    until = time.monotonic() + LIMIT
    while not page.evaluate(script):
        assert time.monotonic() < until, script
        page.wait_for_timeout(50)


SERIOUS = """async (options) => (await axe.run(document, options)).violations
  .filter((fault) => ["serious", "critical"].includes(fault.impact))
  .map((fault) => `${fault.id}: ${fault.nodes.slice(0, 4).map((node) => node.target).join(", ")}`)"""


@dataclass
class Visit:
    """A page, and everything its console complained about."""

    page: Page
    address: str
    complaints: list[str] = field(default_factory=list)

    def hear(self, message: ConsoleMessage) -> None:
        if message.type in ("error", "warning"):
            self.complaints.append(message.text)

    def catch(self, error: Error) -> None:
        self.complaints.append(str(error))

    def go(self, path: str) -> None:
        """A page, once it has what it waits for."""
        self.page.goto(self.address + path)
        settle(self.page)

    def serious_faults(self, rules: dict[str, Any]) -> list[str]:
        """What axe finds serious or critical by some of its rules."""
        if not self.page.evaluate("Boolean(window.axe)"):
            self.page.evaluate(AXE_SCRIPT)
        found: list[str] = self.page.evaluate(SERIOUS, {"resultTypes": ["violations"]} | rules)
        return found


DESK: ViewportSize = {"width": 1280, "height": 800}


@pytest.fixture(scope="session")
def page(browser: Browser) -> Iterator[Page]:
    """The one page that all visits use in turn."""
    with browser.new_context(color_scheme="light", reduced_motion="reduce") as context:
        context.set_default_timeout(1000 * LIMIT)
        yield context.new_page()


@pytest.fixture
def visit(page: Page, address: str) -> Iterator[Visit]:
    visit = Visit(page, address)
    page.set_viewport_size(DESK)
    page.emulate_media(color_scheme="light")
    page.on("console", visit.hear)
    page.on("pageerror", visit.catch)
    yield visit
    page.remove_listener("console", visit.hear)
    page.remove_listener("pageerror", visit.catch)
    page.goto("about:blank")
    assert visit.complaints == []


PHONE: ViewportSize = {"width": 390, "height": 844}


@dataclass
class House:
    """A server over a folder, that can be stopped and started again at its address."""

    folder: Path
    port: int
    draws: Draws = field(default_factory=lambda: Draws(Resting, patience=1.5))
    gate: threading.Event = field(default_factory=threading.Event)
    """While it is not set, pages of Today are not answered: a server that is very slow."""
    serving: Serving | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self, *, at_home: bool = True) -> None:
        settings = Settings(data=self.folder, local_viewer=at_home)
        app = create_app(settings, modeller=KEPT, draws=self.draws, demo=True)
        self.gate.set()
        app.before_request(self._wait)
        self.serving = Serving(app, self.port)

    def _wait(self) -> None:
        if request.path == "/today":
            self.gate.wait(LIMIT)

    def stop(self) -> None:
        assert self.serving
        self.serving.close()


@pytest.fixture
def house(tmp_path: Path, demo_folder: Path) -> Iterator[House]:
    folder = tmp_path / "data"
    shutil.copytree(demo_folder, folder)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    made = House(folder, port)
    made.start()
    yield made
    made.stop()
    made.draws.close()


def sign_in(page: Page, house: House | Visit, name: str) -> None:
    """Come in as somebody, by the door's list of demo people."""
    page.goto(f"{house.address}/sign-in")
    page.get_by_role("button", name=re.compile(name)).click()
    page.wait_for_url(re.compile("/my-block|/board|/today|/clients|/$"))


def today() -> date:
    """The day of training it is in London, where all demo clients live."""
    return ClientProfile().day_at(datetime.now(UTC))


def rows_since(house: House, day: date) -> list[SetRow]:
    """What phones have written of a day and later, as it is kept."""
    store = open_store(house.folder)
    with store.reading() as session:
        written = session.query(SetRow).filter(SetRow.device.startswith("b-"), SetRow.day >= day)
        rows = written.order_by(SetRow.day, SetRow.place, SetRow.number, SetRow.side).all()
        session.expunge_all()
    store.engine.dispose()
    return rows


def come_in(
    browser: Browser, house: House, name: str, size: ViewportSize
) -> tuple[BrowserContext, Page, list[str]]:
    context = browser.new_context(viewport=size, reduced_motion="reduce", color_scheme="light")
    context.set_default_timeout(1000 * LIMIT)
    page, complaints = context.new_page(), []
    page.on("console", lambda m: complaints.append(m.text) if m.type == "error" else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    sign_in(page, house, name)
    settle(page)  # one that still waits for arms loads itself anew, and would break off the next address
    return context, page, complaints


class Journey:
    """A part of the guide whose steps are taken in turn; at its end none is left."""

    def __init__(self, part: str) -> None:
        text = read_bytes("curve_rank.web", f"guide/{part}.md").decode()
        self.left = re.findall(r"^### \d+\. (.+)$", text, re.M)

    @contextmanager
    def step(self, heading: str) -> Iterator[None]:
        assert self.left[0] == heading
        yield
        del self.left[0]


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Everything here is a browser's."""
    for item in items:
        if item.path.parent == Path(__file__).parent:
            item.add_marker(pytest.mark.browser)
