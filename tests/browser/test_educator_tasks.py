"""Ten things that an educator does in a week: by mouse, with so many clicks and no more, and by keys alone.

A click is a press of the button, a choice in a list, a field that is entered, or a file that is brought.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager

import numpy as np
import pypdfium2
import pytest
from playwright.sync_api import expect

from tests.browser.conftest import Visit, settle
from tests.browser.hands import Hand, Keys
from tests.browser.test_measure import machine
from tests.photographs import Scene, as_jpeg

__all__ = ["machine"]
FOURTH = "Wide-grip barbell curl"
Task = Callable[[Visit, str, int], AbstractContextManager[Hand]]


@pytest.fixture(params=[Hand, Keys])
def task(request: pytest.FixtureRequest) -> Task:
    """A task by mouse and by keys: it begins at a page of the navigation and takes at most so many clicks."""

    @contextmanager
    def begun(visit: Visit, start: str, at_most: int) -> Iterator[Hand]:
        visit.go(start)
        hand: Hand = request.param(visit)
        yield hand
        assert hand.clicks <= at_most

    return begun


def test_a_ranking_that_spares_sore_elbows_with_a_printed_reason(visit: Visit, task: Task) -> None:
    page = visit.page
    with task(visit, "/board", 6) as hand:
        hand.click(page.locator("summary", has=page.locator("[data-words=spare]")))
        hand.click(page.locator("label", has_text="elbows").first)
        expect(page).to_have_url(re.compile("spare=elbow"))
        settle(page)
        hand.click(page.locator(".row-entry > summary").first)
        expect(page.locator(".row-inside").first).to_contain_text("Is it really better than")
        hand.click(page.locator(".take > summary").first)
        made = hand.open(hand.link("PDF, to print or hand out"))
    assert made.startswith(b"%PDF")


def test_sitting_up_the_best_angle_and_a_picture_for_a_slide(visit: Visit, task: Task) -> None:
    page = visit.page
    with task(visit, "/compare/one-thing/reclined-60-dumbbell-curl", 7) as hand:
        hand.choose("#s-field", label="bench from the floor")
        expect(page.locator(".series-table")).to_contain_text("best")
        hand.click(page.locator(".take > summary").first)
        made = hand.take(hand.link("slide, light"))
    assert made.suggested_filename.endswith(".png")


def test_a_seated_cable_curl_from_scratch(visit: Visit, task: Task) -> None:
    page = visit.page
    with task(visit, "/variants", 12) as hand:
        hand.click(hand.link("New"))
        hand.enter("#n-name", hand.own("Seated cable curl"))
        hand.click(hand.button("Make it"))
        expect(page).to_have_url(re.compile("/bench/own-seated-cable-curl"))
        hand.enter(page.get_by_label("Pulley height, typed"), "0.4")
        page.keyboard.press("Tab")
        expect(page).to_have_url(re.compile(r"lines\.0\.up"))
        hand.click(page.get_by_role("button", name=re.compile("Save as version")))
        expect(page.locator(".notice")).to_contain_text("version 2")
        hand.click(page.locator(".change-words > summary"))
        hand.enter("#w-summary", "Seated, pulley low in front: nothing to swing.")
        hand.click(hand.button("Keep the words"))
        expect(page.locator(".summary")).to_contain_text("nothing to swing")


def test_an_argument_becomes_a_claim_that_is_published_and_withdrawn(visit: Visit, task: Task) -> None:
    page = visit.page
    with task(visit, "/compare?with=chin-up&with=pull-up-palms-away&target=biceps_long", 8) as hand:
        row = page.locator("tr", has_text="Share of the work")
        hand.click(row.get_by_role("link", name="claim it"))
        hand.enter(page.get_by_label("Its name in my ledger"), hand.own("Palms decide"))
        hand.click(hand.button("Keep and weigh it"))
        expect(page.locator(".verdict-line.large b")).to_have_text("Holds")
        hand.click(page.locator(".take > summary").first)
        hand.click(hand.button("A page behind a link"))
        expect(page.locator(".published")).to_contain_text("Palms decide")
        hand.click(page.get_by_role("button", name=re.compile("^[Ww]ithdraw")).first)
        expect(page.locator(".notice")).to_contain_text("withdrawn")


def test_a_school_of_ones_own_with_the_hard_spots_place_and_the_elbows(visit: Visit, task: Task) -> None:
    page = visit.page
    with task(visit, "/schools", 8) as hand:
        hand.click(hand.link("Make a lens of your own"))
        hand.click(page.locator(".more-criteria > summary").first)
        hand.enter(page.get_by_label("Hard spot’s place in the rep: weight", exact=True), "40")
        hand.enter(page.get_by_label("Lower biceps tendon, elbow straight: weight", exact=True), "20")
        expect(page.locator("#l-trial [data-row]").first).to_be_visible()
        hand.enter("#l-name", hand.own("Early and kind"))
        hand.click(hand.button("Keep"))
    expect(page.locator("#q-lens")).to_have_value(re.compile("^own-early-and-kind"))


def test_a_machine_from_a_file_with_bad_rows_and_from_the_device(
    visit: Visit, task: Task, machine: str
) -> None:
    page, here = visit.page, Visit(visit.page, machine, visit.complaints)
    rows = [f"{a:.1f};{20 + a / 10:.2f}".replace(".", ",") for a in np.linspace(5, 125, 40)]
    rows[6] = "kaputt;21,00"
    text = "\n".join(["Ellenbogenwinkel [Grad];Drehmoment [Nm]", *rows])
    with task(here, "/measure", 14) as hand:
        hand.click(hand.link("Read a file"))
        hand.bring("input[type=file]", ("halle.csv", "text/csv", text.encode()))
        hand.click(hand.button("Look at it"))
        expect(page.get_by_text("1 row cannot be read")).to_be_visible()
        hand.enter(page.get_by_label("Row 8, Ellenbogenwinkel [Grad]"), "23,5")
        expect(page.get_by_label("Name", exact=True)).to_have_value("halle")
        hand.enter(page.get_by_label("Stack it was measured with"), "20")
        hand.click(hand.button("Keep the profile"))
        expect(page.get_by_role("heading", name="halle")).to_be_visible()
        here.go("/measure")
        hand.click(hand.link("Capture live"))
        expect(page.get_by_label("What is measured")).to_be_focused()
        page.keyboard.type("Halle, mit dem Gerät")
        page.keyboard.press("Enter")
        steps = page.locator(".phase .done")
        for n, words in enumerate(("Read the zero", "Read the weight")):
            hand.click(hand.button(words))
            expect(steps.nth(n)).to_have_text("✓ read")
        hand.click(hand.button("Begin to sweep"))
        expect(steps.nth(2)).to_have_text(re.compile(r"\d{4} points"))  # what came before is not swept
        hand.click(hand.button("Stop, and fold it"))
        hand.enter(page.get_by_label("Stack it was swept with"), "25")
        hand.click(hand.button("Keep the profile"))
    expect(page.get_by_role("heading", name="Use it in a variant")).to_be_visible()


def test_three_photographs_one_of_them_tilted(visit: Visit, task: Task) -> None:
    page = visit.page
    scenes = [
        Scene(elbow=12, upper_arm=8),
        Scene(elbow=60, upper_arm=16, tilt=8),
        Scene(elbow=100, upper_arm=24),
    ]
    files = [(f"{n}.jpg", "image/jpeg", as_jpeg(one.image(noise=5))) for n, one in enumerate(scenes)]
    with task(visit, "/measure", 49) as hand:
        hand.click(hand.link("Mark pictures"))
        hand.enter(page.get_by_label("Who does what"), "Osric, curling")
        hand.bring(page.get_by_label("photographs of one rep"), *files)
        hand.click(hand.button("Bring them in"))
        for n, scene in enumerate(scenes):
            hand.click(hand.button(f"Picture {n + 1}"))
            first = ("scale_a", "scale_b", "level_a", "level_b") if not n else ()
            for name in ("shoulder", "elbow", "grip", "hip", *first):  # each mark leads to the next
                hand.mark(n, name, scene.marks[name])
            if n == 1:  # its camera is tilted otherwise
                for name in ("level_a", "level_b"):
                    hand.click(f'.mark-list [data-mark="{name}"]')
                    hand.mark(n, name, scene.marks[name])
        hand.choose(page.get_by_label("Variant that was meant"), label="Standing dumbbell curl")
        hand.click(hand.button("Lay it against"))
        expect(page.locator(".deviations")).to_contain_text("Picture 3")
    read = page.locator(".readings").inner_text()
    found = [float(degrees) for degrees in re.findall(r"Elbow\s+(−?[\d.]+)°", read)]
    assert found == pytest.approx([12, 60, 100], abs=2)


def test_a_lesson_and_a_two_page_handout_for_four(visit: Visit, task: Task) -> None:
    page = visit.page
    with task(visit, "/variants/booklet", 9) as hand:
        for name in ("Standing dumbbell curl", "Standing barbell curl", "Rope press-down", FOURTH):
            hand.click(page.get_by_role("checkbox", name=name, exact=True))
        hand.click(page.get_by_role("checkbox", name="two on a page"))
        hand.enter(page.get_by_label("Title"), "Thursday")
        hand.click(hand.button("Draw the booklet"))
        made = hand.take(hand.link("Download it"))
    assert len(pypdfium2.PdfDocument(made.path())) == 2


def test_two_questions_about_heads(visit: Visit, task: Task) -> None:
    page = visit.page
    with task(visit, "/heads", 3) as hand:
        hand.click(page.locator(".head-list").get_by_role("link", name="Brachialis", exact=True))
        expect(page.get_by_role("heading", name="Brachialis").first).to_be_visible()
        hand.click(page.locator(".head-list").get_by_role("link", name="Triceps long head"))
        expect(page.get_by_role("heading", name="Triceps long head").first).to_be_visible()


def test_a_bundle_with_a_conflict(visit: Visit, task: Task) -> None:
    page = visit.page
    bundle = page.request.get(f"{visit.address}/published/bundle.json").text()
    assert json.loads(bundle)["items"]
    visit.go("/bench/own-steep-pad-palms-in?set=posture.forearm=-35")
    page.get_by_role("button", name=re.compile("Save as version")).click()
    expect(page.locator(".notice")).to_contain_text("Saved as version")
    with task(visit, "/published", 4) as hand:
        hand.bring("#b-file", ("bundle.json", "application/json", bundle.encode()))
        hand.click(hand.button("Look at it"))
        expect(page.locator(".differences")).to_contain_text("−35°")
        hand.click(page.get_by_role("checkbox", name=re.compile("Steep pad, palms in")))
        hand.click(hand.button("Take in what is ticked"))
        expect(page.locator(".notice")).to_contain_text("1 taken in")
