"""Every page in Chromium: nothing serious by axe, nothing off a phone, pictures alone as in their pages."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from curve_rank.figures.palette import palette
from tests.browser.conftest import Visit

PAGES = (
    "/board", "/bench/cable-curl-arm-behind", "/variants", "/variants/chin-up", "/schools", "/schools/new",
    "/evidence", "/loads?for=4", "/sources", "/guide", "/safety",
    "/compare", "/compare/one-thing/reclined-60-dumbbell-curl", "/heads/biceps_long",
    "/heads/supinator?map=arm&across=forearm",
    "/faults?family=standing", "/bench/bench-press-narrow?tempo=3-1-1-0&ghost=bench-press-wide",
    "/documents/variant/own-steep-pad-palms-in", "/board?target=calf",
    "/claims", "/claims/lower_bench_longer", "/claims/narrow_press",
    "/claims/new?more=chin-up&less=pull-up-palms-away",
    "/doubt?number=heads.brachialis.elbow_arm&target=brachialis&with=dumbbell",
    "/published", "/variants/booklet?with=chin-up", "/variants/new", "/variants/own-steep-pad-palms-in/words",
    "/lectures", "/lectures/own-thursday-at-the-barn-long-or-short",
    "/lectures/own-thursday-at-the-barn-long-or-short/show",
    "/sets?target=flexors&with=dumbbell&with=cable&brachialis=yes",
    "/measure", "/measure/file", "/measure/device", "/measure/pictures",
    "/measure/profile/own-pad-machine-by-the-hayloft-stairs",
    "/administration", "/administration/people", "/administration/trail", "/guide/client",
    "/guide/validation", "/guide/accessibility", "/api", "/glossary",
    "/people", "/account", "/consent", "/sign-in", "/reset", "/outbox", "/clients", "/clients/4",
    "/clients/4/check", "/clients/6/fitted/reclined-30-dumbbell-curl", "/rooms/1", "/blocks",
    "/blocks/new?for=4", "/blocks/2", "/my-block",
    "/today", "/stretches?head=biceps_long&head=triceps_long", "/today?sore=elbow&side=left",
    "/record/4", "/record/4/import", "/tape/4", "/reviews/1?for=4", "/trials", "/house", "/house/trials",
    "/account/house",
    "/sketch?item=chin-up", "/sketch/ask?deck=3", "/sketch/room?deck=3",
)  # fmt: skip


LEAVE_OUT_REPEATS = """() => {
  const seen = new Set();
  const look = (part) => [part.tagName, part.getAttribute("class"), part.getAttribute("aria-current")].join();
  for (const row of document.querySelectorAll("main :is(tr, li, dt, dd, p)")) {
    const around = [];
    for (let part = row.parentElement; part; part = part.parentElement) around.push(look(part));
    const inside = [...new Set([row, ...row.querySelectorAll("*")].map(look))].sort();
    const looks = [...inside, "in", ...around].join();
    if (seen.has(looks)) row.remove(); else seen.add(looks);
  }
}"""
"""What looks like something before it, by the classes in and around it, is left out."""
CONTRAST = "color-contrast"
TARGETS = {"rules": {"target-size": {"enabled": True}}}
"""All of axe's rules, and targets of 24 px, which it leaves out unless it is asked."""


TWICE = """() => {
  const ids = [...document.querySelectorAll("[id]")].map((one) => one.id);
  return ids.filter((id, n) => ids.indexOf(id) !== n);
}"""


CUT_SHORT = """() => [...document.querySelectorAll("p:empty")].filter((one) => !one.attributes.length)
  .map((one) => one.parentElement.outerHTML.slice(0, 200))"""
"""Paragraphs that hold what no paragraph may: a browser ends them early, and their end makes an empty one."""


TOO_SMALL = """() => [...document.querySelectorAll("body *")].filter((one) => {
  const words = [...one.childNodes].some((node) => node.nodeType === 3 && node.data.trim());
  if (!words || one.closest(".visually-hidden, script, style, option, noscript")) return false;
  if (!one.checkVisibility() || one.getBoundingClientRect().width < 2) return false;
  const drawn = one.getScreenCTM ? Math.hypot(one.getScreenCTM().a, one.getScreenCTM().b) : 1;
  return parseFloat(getComputedStyle(one).fontSize) * drawn < 10.9;
}).map((one) => `${one.tagName}.${one.getAttribute("class")}: ${one.textContent.trim().slice(0, 40)}`)"""
"""Words that stand smaller than 11 px, in a picture too."""


WORDS_LOST = """() => [...document.querySelectorAll(".term")]
  .filter((one) => one.parentElement.checkVisibility() && !one.checkVisibility())
  .map((one) => one.textContent)"""
"""Words of a sentence that are not printed, though the sentence is."""


@pytest.mark.parametrize("path", PAGES)
def test_nothing_is_serious_by_axe_and_nothing_runs_off_a_phone(visit: Visit, path: str) -> None:
    visit.go(path)
    if path == "/board":
        visit.page.locator(".row-entry summary").first.click()
        visit.page.get_by_text("What makes the score").wait_for()
    assert visit.page.evaluate(TWICE) == []
    assert visit.page.evaluate(CUT_SHORT) == []
    assert visit.page.evaluate(TOO_SMALL) == []
    visit.page.set_viewport_size({"width": 390, "height": 844})
    assert visit.page.evaluate("document.documentElement.scrollWidth") <= 390
    assert visit.page.evaluate(TOO_SMALL) == []
    visit.page.set_viewport_size({"width": 320, "height": 640})  # as 400 % of a desk's
    assert visit.page.evaluate("document.documentElement.scrollWidth") <= 320
    visit.page.set_viewport_size({"width": 1280, "height": 800})
    visit.page.emulate_media(media="print")
    assert visit.page.evaluate(WORDS_LOST) == []
    visit.page.emulate_media(media="screen")
    visit.page.evaluate(LEAVE_OUT_REPEATS)
    assert visit.serious_faults(TARGETS) == []
    visit.page.emulate_media(color_scheme="dark")
    assert visit.serious_faults({"runOnly": [CONTRAST]}) == [], "dark"
    if "calf" in path:
        visit.complaints.clear()


LAY_ALONE = """([text, width, height]) => {
  document.body.innerHTML = text;
  document.body.setAttribute("bgcolor", "#f7f2e6");
  const picture = document.querySelector("svg");
  picture.setAttribute("width", width);
  picture.setAttribute("height", height);
}"""


def pixels(shot: bytes) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(shot)).convert("RGB")).astype(int)


PLACES = {"strip": ".bench-strip svg", "figure": ".paper svg", "curves": ".curves svg"}


def test_pictures_alone_look_as_they_do_in_their_page(visit: Visit) -> None:
    """Stand-alone files beside the page's own pictures: the same colours in the same places."""
    page = visit.page
    visit.go("/bench/pad-45-dumbbell-curl?frame=whole")
    page.evaluate("document.fonts.ready")
    in_page = {name: page.locator(place) for name, place in PLACES.items()}
    boxes = {name: found.bounding_box() for name, found in in_page.items()}
    shots = {name: pixels(found.screenshot()) for name, found in in_page.items()}
    blank = "<!doctype html><html><body></body></html>"
    page.route("**/blank", lambda route: route.fulfill(body=blank, content_type="text/html"))
    visit.go("/blank")
    for name, box in boxes.items():
        assert box
        text = page.request.get(f"{visit.address}/variants/pad-45-dumbbell-curl/{name}.svg").text()
        page.evaluate(LAY_ALONE, [text, box["width"], box["height"]])
        alike(name, shots[name], pixels(page.locator("svg").first.screenshot()))
    page.unroute("**/blank")


def alike(name: str, shown: np.ndarray, there: np.ndarray) -> None:
    heads = [palette().heads[h].light for h in ("biceps_long", "biceps_short", "brachialis")]
    wanted = heads[:1] if name == "strip" else heads
    for hue in wanted:
        target = np.array([int(hue[n : n + 2], 16) for n in (1, 3, 5)])
        counts = [(np.abs(p - target).max(axis=2) < 60).mean() for p in (shown, there)]
        assert min(counts) > 0
        assert counts[0] == pytest.approx(counts[1], rel=0.35), hue
    rows, columns = (min(a, b) for a, b in zip(shown.shape[:2], there.shape[:2], strict=True))
    apart = np.abs(shown[:rows, :columns] - there[:rows, :columns]).max(axis=2) > 60
    assert apart.mean() < 0.06
