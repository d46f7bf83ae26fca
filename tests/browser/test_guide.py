"""The guide's three journeys, step by step, as they are written."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Browser, expect

from curve_rank.data_files import read_bytes
from tests.browser.conftest import DESK, PHONE, House, Visit, come_in


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


def test_ten_minutes_for_an_educator(visit: Visit) -> None:
    page, guide = visit.page, Journey("educator")
    with guide.step("Ask the board"):
        visit.go("/board")
        page.select_option("#q-target", "triceps_long")
        expect(page).to_have_url(re.compile("target=triceps_long"))
    with guide.step("Open a row"):
        first = page.locator(".row-entry").first
        expect(first.locator(".why")).to_contain_text("Hardest at")
        first.locator("summary").click()
    with guide.step("Study it on the bench"):
        first.get_by_role("link", name="Open on the bench").click()
        page.locator("h1").wait_for()
        visit.go("/bench/rope-press-down")
        why = page.locator(".bench .why").inner_text()
        page.get_by_label("Upper arm from the trunk, typed").fill("40")
        expect(page.locator(".bench .why")).not_to_have_text(why)
    with guide.step("Keep it as your own"):
        page.get_by_label("Save as a variant").fill("High elbows by the guide")
        page.get_by_role("button", name="Save", exact=True).click()
        expect(page.locator(".notice")).to_contain_text("It stands on the board")
    with guide.step("Set it beside others"):
        visit.go("/compare?with=own-high-elbows-by-the-guide&with=rope-press-down")
        expect(page.locator(".readings th", has_text="High elbows by the guide")).to_be_visible()
        page.get_by_role("button", name="eight arms in ten").click()  # a word opens its line
        expect(page.locator(".term-slip:popover-open")).to_contain_text("eight draws in ten")
        page.keyboard.press("Escape")
    with guide.step("Tell what it costs to do it wrong"):
        visit.go("/faults")
        expect(page.locator(".prices li").first).to_be_visible()
    with guide.step("Settle an argument"):
        visit.go("/claims")
        page.locator("main a[href*='lower_bench_longer']").first.click()
        expect(page.get_by_role("heading", name="What would turn it")).to_be_visible()
    with guide.step("Hand it out"):
        visit.go("/variants/rope-press-down")
        sheet = page.get_by_role("link", name="One page as PDF").get_attribute("href")
        assert page.request.get(f"{visit.address}{sheet}").headers["content-type"] == "application/pdf"
        page.get_by_role("button", name="Publish this").click()
        expect(page.locator(".notice")).to_contain_text("Whoever has the link can read it", timeout=20_000)
    assert guide.left == []


def test_ten_minutes_for_a_coach(browser: Browser, house: House) -> None:
    context, page, complaints = come_in(browser, house, "Tamsin", DESK)
    guide = Journey("coach")

    def ready() -> None:
        page.locator("[data-drawing]").wait_for(state="detached", timeout=90_000)

    with guide.step("See who needs you"):
        page.goto(f"{house.address}/clients")
        expect(page.get_by_role("link", name="Wren Achterberg")).to_be_visible()
    with guide.step("Write a client down"):
        page.get_by_label("A new client's name").fill("Bryn Tolley")
        page.get_by_role("button", name="Write down", exact=True).click()
        page.get_by_label("Height [cm]").fill("178")
        page.get_by_label("Body mass [kg]").fill("80")
        page.get_by_role("button", name="Keep the size").click()
    with guide.step("Go through the check"):
        page.get_by_role("link", name="Go through the check").click()
        page.get_by_role("radio", name="45°").first.check()
        page.get_by_role("button", name="Take it down").click()
        expect(page.locator(".limits")).to_contain_text("Shoulder back: 45°")
    with guide.step("Choose a set"):
        page.get_by_role("link", name="Choose a set").click()
        ready()
        expect(page.locator(".picks > li").first).to_be_visible()
    with guide.step("Make a block of it"):
        page.get_by_role("link", name="Plan a block of these").click()
        page.get_by_label("Name of the block").fill("By the guide")
        page.get_by_role("button", name="Make it").click()
        ready()
    with guide.step("Read the staff and mend it"):
        expect(page.get_by_role("heading", name="By the guide")).to_be_visible()
        page.locator(".change summary").first.click()
        page.locator(".change[open]").get_by_label("Rest [s]").fill("100")
        page.locator(".change[open]").get_by_role("button", name="Keep").click()
        expect(page.locator("#block")).to_contain_text("undo:")
    with guide.step("Hand it over"):
        page.get_by_role("button", name="Hand over to Bryn Tolley").click()
        expect(page.get_by_text("Handed over: it stands under")).to_be_visible()
    with guide.step("Follow it"):
        page.goto(f"{house.address}/record/4")
        page.get_by_label("Write").fill("Well done.")
        page.get_by_role("button", name=re.compile("Send|Write|Say")).first.click()
        expect(page.get_by_text("Well done.")).to_be_visible()
    assert (guide.left, complaints) == ([], [])
    context.close()


def test_ten_minutes_for_a_client(browser: Browser, house: House) -> None:
    context, phone, complaints = come_in(browser, house, "Wren", PHONE)
    guide = Journey("client")
    with guide.step("Read what you agree to"):
        phone.goto(f"{house.address}/consent")
        expect(phone.get_by_text("licensed clinician").first).to_be_visible()
    with guide.step("Open today's session"):
        phone.goto(f"{house.address}/today")
        phone.locator("[data-stands-alone]").wait_for()
        expect(phone.locator(".set-sentence")).to_contain_text("Set 1 of")
    keep, kept = phone.get_by_role("button", name="Keep it"), phone.locator(".set-lines .kept")
    with guide.step("Keep a set"):
        keep.click()
        expect(kept).to_have_count(1)
    with guide.step("Change a word"):
        phone.locator('[data-word="reps"]').click()
        phone.get_by_role("button", name="one less", exact=True).click()
    with guide.step("Say what hurts"):
        phone.locator('[data-word="hurts"]').click()
        phone.get_by_role("button", name="elbows", exact=True).click()
        keep.click()
        expect(kept).to_have_count(2)
    with guide.step("Take something else"):
        before = phone.locator(".who-line").inner_text()
        phone.locator('[data-word="swap"]').click()
        phone.locator(".swap button").first.click()
        expect(phone.locator(".who-line")).not_to_have_text(before)
    with guide.step("See your record"):
        expect(phone.locator(".queue-line")).to_contain_text("Everything is sent")
        phone.goto(f"{house.address}/my-record")
        expect(phone.get_by_role("heading", level=1)).to_be_visible()
    with guide.step("Measure your arm"):
        phone.goto(f"{house.address}/tape")
        expect(phone.get_by_role("heading", name="Own photographs")).to_be_visible()
    with guide.step("See who has seen your data"):
        phone.goto(f"{house.address}/account")
        expect(phone.get_by_role("heading", name="Who has seen your data")).to_be_visible()
        packed = phone.request.get(f"{house.address}/account/data.zip")
        assert packed.headers["content-type"] == "application/zip"
    assert (guide.left, complaints) == ([], [])
    context.close()
