"""Somebody at a page: with a mouse, or with keys alone."""

from __future__ import annotations

import re
from dataclasses import dataclass

from playwright.sync_api import Download, ElementHandle, Locator

from tests.browser.conftest import Visit, settle
from tests.browser.test_measure import press


@dataclass
class Hand:
    """A hand on the mouse, whose clicks are counted."""

    visit: Visit
    clicks: int = 0

    def click(self, where: str | Locator) -> None:
        self._at(where).click()
        self.clicks += 1
        settle(self.visit.page)

    def choose(self, where: str | Locator, **what: str) -> None:
        self._at(where).select_option(**what)
        self.clicks += 1
        settle(self.visit.page)

    def enter(self, where: str | Locator, text: str) -> None:
        self._at(where).fill(text)
        self.clicks += 1

    def bring(self, where: str | Locator, *files: tuple[str, str, bytes]) -> None:
        self._at(where).set_input_files(
            [{"name": name, "mimeType": kind, "buffer": data} for name, kind, data in files]  # type: ignore[arg-type]
        )
        self.clicks += 1

    def take(self, where: str | Locator) -> Download:
        with self.visit.page.expect_download() as found:
            self._at(where).click()
        self.clicks += 1
        return found.value

    def open(self, where: Locator) -> bytes:
        """What a link leads to that the browser shows itself."""
        self.clicks += 1
        answer = self.visit.page.request.get(f"{self.visit.address}{where.get_attribute('href')}")
        assert answer.ok
        return answer.body()

    def mark(self, picture: int, _name: str, at: tuple[float, float]) -> None:
        """Mark a place of a picture; each mark leads to the next."""
        press(self.visit.page, picture, at)
        self.clicks += 1

    def own(self, name: str) -> str:
        """What something of one's own is called: each hand keeps its own things."""
        return name

    def link(self, name: str | re.Pattern[str]) -> Locator:
        return self.visit.page.get_by_role("link", name=name).first

    def button(self, name: str) -> Locator:
        return self.visit.page.get_by_role("button", name=name, exact=True)

    def _at(self, where: str | Locator) -> Locator:
        return self.visit.page.locator(where) if isinstance(where, str) else where


CONTROL = "(one) => (one.tagName === 'LABEL' && one.control) || one"
IS_FOCUSED = "(one) => document.activeElement === one"
IS_BESIDE = "(one) => one.type === 'radio' && document.activeElement.name === one.name"
MOST_STOPS = 400


class Keys(Hand):
    """Ten fingers on the keys: whatever is used is reached by Tab, and arrows within a choice."""

    def click(self, where: str | Locator) -> None:
        control = self._reach(where)
        if not control.evaluate("(one) => one.type === 'radio' && one.checked"):
            is_box = control.evaluate("(one) => ['checkbox', 'radio'].includes(one.type)")
            control.press("Space" if is_box else "Enter")  # `keyboard` waits for no page
        settle(self.visit.page)

    def choose(self, where: str | Locator, **what: str) -> None:
        self._reach(where)
        self.visit.page.keyboard.type(what["label"])
        self.visit.page.keyboard.press("Tab")
        settle(self.visit.page)

    def enter(self, where: str | Locator, text: str) -> None:
        self._reach(where)
        self.visit.page.keyboard.press("Control+A")
        self.visit.page.keyboard.type(text)

    def bring(self, where: str | Locator, *files: tuple[str, str, bytes]) -> None:
        self._reach(where)
        super().bring(where, *files)

    def take(self, where: str | Locator) -> Download:
        self._reach(where)
        with self.visit.page.expect_download() as found:
            self.visit.page.keyboard.press("Enter")
        return found.value

    def open(self, where: Locator) -> bytes:
        self._reach(where)
        return super().open(where)

    def mark(self, picture: int, name: str, at: tuple[float, float]) -> None:
        if not self.visit.page.locator(f'[name="{picture}-{name}-x"]').is_visible():
            self.click(self.visit.page.locator("summary", has_text="Places, typed"))
        for axis, value in zip("xy", at, strict=True):
            self.enter(f'[name="{picture}-{name}-{axis}"]', f"{value:.1f}")
        with self.visit.page.expect_response(re.compile("/marks$")):
            self.visit.page.keyboard.press("Tab")

    def own(self, name: str) -> str:
        return f"{name} by keys"

    def _reach(self, where: str | Locator) -> ElementHandle:
        """Where Tab leads at last; among radio buttons, where the arrows do."""
        found = self._at(where).first
        found.wait_for(state="attached")
        control = found.evaluate_handle(CONTROL).as_element()
        assert control
        for _ in range(MOST_STOPS):
            if control.evaluate(IS_FOCUSED):
                return control
            self.visit.page.keyboard.press("ArrowDown" if control.evaluate(IS_BESIDE) else "Tab")
        raise AssertionError(f"{where} is not reached by Tab")
