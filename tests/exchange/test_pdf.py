"""A printed page: one page, its pictures in their own colours where they stand."""

from __future__ import annotations

import io
import re

import numpy as np
import pypdfium2
import pytest
from flask.testing import FlaskClient
from PIL import Image, ImageDraw

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.exchange.pdf import pdf, with_plain_digits
from curve_rank.figures.bellies import EXTENSORS, FLEXORS, heads_of
from curve_rank.figures.figure import figure
from curve_rank.figures.palette import palette
from curve_rank.figures.svg import ByColour, svg
from curve_rank.rating.targets import targets
from tests.helpers import corners, modelled

SCALE = 2.0


def raster(pdf: bytes) -> np.ndarray:
    """The first page as (rows, columns, 3)."""
    document = pypdfium2.PdfDocument(io.BytesIO(pdf))
    assert len(document) == 1
    return np.asarray(document[0].render(scale=SCALE).to_pil().convert("RGB")).astype(np.float32)


def colour(text: str) -> np.ndarray:
    return np.array([int(text[n : n + 2], 16) for n in (1, 3, 5)], dtype=np.float32)


def near(page: np.ndarray, hue: str, within: int = 14) -> np.ndarray:
    """Where the page has a colour, (rows, columns)."""
    return np.asarray(np.abs(page - colour(hue)).max(axis=2) <= within)


def laid_over(page: np.ndarray, hue: str, ground: str, within: float = 9.0) -> np.ndarray:
    """Where the page has a colour laid over a ground, at least a third dense: as the heads lie on a limb."""
    along = colour(hue) - colour(ground)
    dense = ((page - colour(ground)) @ along) / (along @ along)
    nearest = colour(ground) + np.clip(dense, 0, 1)[..., None] * along
    return np.asarray((np.abs(page - nearest).max(axis=2) <= within) & (dense >= 1 / 3))


def head_keys(name: str) -> tuple[str, ...]:
    return targets()[find_variant(name, built_in()).group].heads


def under(head: str, light: dict[str, str]) -> list[str]:
    """On what a belly may lie: skin, trunk, and deeper bellies."""
    deeper = [key for some in (FLEXORS, EXTENSORS) if head in some for key in some if key != head]
    return [light["skin"], light["trunk"], *(palette().heads[key].light for key in deeper)]


def laid_over_any(page: np.ndarray, hue: str, unders: list[str], within: float = 9.0) -> np.ndarray:
    return np.asarray(np.any([laid_over(page, hue, one, within) for one in unders], axis=0))


@pytest.mark.parametrize("name", ["chin-up", "lying-bar-to-forehead"])
def test_a_variants_page_has_each_working_heads_hue_where_it_should_be(
    client: FlaskClient, name: str
) -> None:
    response = client.get(f"/variants/{name}.pdf")
    assert response.mimetype == "application/pdf"
    page, light = raster(response.data), palette().light
    rows, columns = page.shape[:2]
    # Down the page: the strip with the first head's ribbon, three figures, then the curves on the left.
    figures, curves = page[int(0.2 * rows) : int(0.5 * rows)], page[int(0.45 * rows) :, : columns // 2]
    for head in head_keys(name):
        hue = palette().heads[head].light
        on_limb = laid_over_any(figures, hue, under(head, light))
        assert on_limb.sum() > 60, f"{head}: not on the limb"  # a deep head shows only beside those over it
        assert near(curves, hue).sum() > 100, f"{head}: no curve"
    ribbon = near(page[: int(0.3 * rows)], palette().heads[head_keys(name)[0]].light)
    assert ribbon.any(axis=0).mean() > 0.55, "the ribbon does not run along the strip"
    others = set(palette().heads) - set(head_keys(name)) - {"others"}
    assert all(near(curves, palette().heads[head].light, 6).sum() < 40 for head in others)
    assert near(page, light["force"]).sum() > 200, "no line of force"
    assert near(page, "#000000", 20).mean() < 0.01, "black silhouettes"
    assert not re.search(rb"/URI \(http", response.data), "a link to elsewhere"


@pytest.mark.parametrize("name", ["reclined-60-dumbbell-curl", "lying-bar-to-forehead"])
def test_a_head_is_printed_where_the_figure_has_it(name: str) -> None:
    """One figure on a page of its own proportions: inside each head's outline its own hue, nowhere else."""
    drawn = figure(modelled(name))
    left, top, width, height = drawn.near
    picture = svg(drawn.at(drawn_at := 20), ByColour())
    size = f"{width / 5}mm {height / 5}mm"
    style = f"@page {{ size: {size}; margin: 0 }} body {{ margin: 0 }} svg {{ display: block; width: 100% }}"
    page = raster(pdf(f"<style>{style}</style>{picture}"))
    scale = page.shape[1] / width
    covered = np.zeros(page.shape[:2], dtype=bool)
    for head in reversed(heads_of(find_variant(name, built_in()))):  # the nearest first: it covers others
        shape = next(s for s in drawn.shapes if s.key == f"head-{head}")
        outline = corners(shape.at(drawn_at))
        mask = Image.new("L", (page.shape[1], page.shape[0]))
        ImageDraw.Draw(mask).polygon(
            [((x - left) * scale, (y - top) * scale) for x, y in outline.tolist()], fill=1
        )
        inside = np.asarray(mask, dtype=bool)
        hue, light = palette().heads[head].light, palette().light
        found = laid_over_any(page, hue, under(head, light), 14)
        assert found[inside & ~covered].mean() > 0.3, head
        assert found[~inside].mean() < 0.03, head
        covered |= inside


def test_a_page_that_is_printed_fetches_nothing() -> None:
    plain = pdf("<p>x</p>")
    wanting = '<img src="http://127.0.0.1:9/x.png"><link rel="stylesheet" href="file:///etc/passwd"><p>x</p>'
    assert len(pdf(wanting)) < 2 * len(plain)


def test_digits_are_set_apart_in_text_and_pictures_and_nowhere_else() -> None:
    html = (
        "<style>p { margin: 10mm }</style><title>At 60°</title><p class='h2'>Load 10 kg &#39;x&#39;</p>"
        "<svg width='20'><text x='3'>hard spot 89°</text><path d='M1 2'/></svg><b>7</b>"
    )
    found = with_plain_digits(html)
    assert found == (
        "<style>p { margin: 10mm }</style><title>At 60°</title>"
        "<p class='h2'>Load <span class=\"digits\">10</span> kg &#39;x&#39;</p>"
        "<svg width='20'><text x='3'>hard spot <tspan font-family=\"Brygada\">89</tspan>°</text>"
        "<path d='M1 2'/></svg><b><span class=\"digits\">7</span></b>"
    )
