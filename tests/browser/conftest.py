"""A real server and a real browser for whole journeys."""

from __future__ import annotations

import shutil
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, BrowserContext, Page, ViewportSize, sync_playwright
from waitress.server import create_server

from curve_rank.background.draws import Draws
from curve_rank.settings import Settings
from curve_rank.web import create_app
from tests.conftest import KEPT
from tests.helpers import Resting


@contextmanager
def served(folder: Path, draws: Draws) -> Iterator[str]:
    """The address of an application over a folder."""
    app = create_app(Settings(data=folder), modeller=KEPT, draws=draws)
    server = create_server(app, host="127.0.0.1", port=0, threads=4)
    threading.Thread(target=server.run, daemon=True).start()
    yield f"http://127.0.0.1:{server.effective_port}"
    server.close()
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
    flags = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--no-first-run"]
    with sync_playwright() as playwright:
        launched = playwright.chromium.launch(executable_path=path, args=flags)
        yield launched
        launched.close()


@dataclass
class Visit:
    """A page, and everything its console complained about."""

    page: Page
    address: str
    complaints: list[str] = field(default_factory=list)

    def go(self, path: str) -> None:
        self.page.goto(self.address + path)

    def serious_faults(self, rules: dict[str, Any]) -> list[str]:
        """What axe finds serious or critical by some of its rules."""
        options = {"resultTypes": ["violations"]} | rules
        found = Axe().run(self.page, options=options).response["violations"]
        return [
            f"{fault['id']}: {[node['target'] for node in fault['nodes']][:4]}"
            for fault in found
            if fault["impact"] in ("serious", "critical")
        ]


@pytest.fixture(scope="session")
def context(browser: Browser) -> Iterator[BrowserContext]:
    desk: ViewportSize = {"width": 1280, "height": 800}
    with browser.new_context(viewport=desk, color_scheme="light", reduced_motion="reduce") as made:
        made.set_default_timeout(15_000)
        yield made


@pytest.fixture
def visit(context: BrowserContext, address: str) -> Iterator[Visit]:
    page = context.new_page()
    visit = Visit(page, address)
    page.on(
        "console",
        lambda message: (
            visit.complaints.append(message.text) if message.type in ("error", "warning") else None
        ),
    )
    page.on("pageerror", lambda error: visit.complaints.append(str(error)))
    yield visit
    page.close()
    assert visit.complaints == []


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Everything here is a browser's."""
    for item in items:
        if item.path.parent == Path(__file__).parent:
            item.add_marker(pytest.mark.browser)
