"""Pictures as PNG at the size of a slide, on light or dark paper."""

from __future__ import annotations

import io
import re

import pypdfium2

from curve_rank.exchange.pdf import pdf

WIDTH, HEIGHT, MARGIN = 1920, 1080, 80
"""A slide, and the paper around the picture on it [px]."""
POINTS_PER_PX = 72 / 96


def slide_png(svg: str, *, paper: str) -> bytes:
    """A picture that stands alone, as large as a slide allows, as PNG.

    Parameters
    ----------
    svg : str
        Painted in colours of its own, with a viewBox.
    paper : str
        The colour behind it.

    Raises
    ------
    BadInputError
        When the libraries that draw are not on this machine.
    """
    width, height = _size(svg)
    scale = min((WIDTH - 2 * MARGIN) / width, (HEIGHT - 2 * MARGIN) / height)
    across, down = width * scale, height * scale
    sized = re.sub(r"<svg\b[^>]*?>", lambda tag: _sized(tag[0], across, down), svg, count=1)
    left, top = (WIDTH - across) / 2, (HEIGHT - down) / 2
    html = (
        "<!doctype html><html lang='en'><title>Curve Rank</title><style>"
        f"@page {{ size: {WIDTH}px {HEIGHT}px; margin: 0; background: {paper} }} "
        f"body {{ margin: {top:.1f}px 0 0 {left:.1f}px; font-family: Atkinson }}"
        f"</style><body>{sized}</body></html>"
    )
    return as_png(html)


def as_png(html: str, *, clear: bool = False) -> bytes:
    """The first page of HTML as PNG, a CSS pixel a pixel; `clear` leaves its ground open.

    Raises
    ------
    BadInputError
        When the libraries that draw are not on this machine.
    """
    ground = (0, 0, 0, 0) if clear else (255, 255, 255, 255)
    document = pypdfium2.PdfDocument(pdf(html))
    try:
        drawn = document[0].render(scale=1 / POINTS_PER_PX, fill_color=ground, maybe_alpha=True)
        out = io.BytesIO()
        drawn.to_pil().save(out, format="PNG", optimize=True)
        return out.getvalue()
    finally:
        document.close()


def _size(svg: str) -> tuple[float, float]:
    """Width and height of a picture's own paper."""
    box = re.search(r'viewBox="[-\d.]+ [-\d.]+ ([\d.]+) ([\d.]+)"', svg)
    if box is None:
        raise ValueError("a picture without a viewBox")
    return float(box[1]), float(box[2])


def _sized(tag: str, width: float, height: float) -> str:
    bare = re.sub(r'\s(width|height)="[^"]*"', "", tag)
    return f'{bare[:-1]} width="{width:.0f}" height="{height:.0f}">'
