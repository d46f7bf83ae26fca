"""The rep strip: the product's signature drawing, made here and nowhere else.

Left is where the muscle is stretched, right where it is short. Height is effort, up to the most the
muscles could do; a notch marks the hard spot, hatching the slack, and the ribbon below is the target
head's length.
"""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

import numpy as np
from markupsafe import Markup, escape
from numpy.typing import NDArray

from curve_rank.rating.modelling import Modelled
from curve_rank.rating.vocabulary import Aim
from curve_rank.rating.why import why

Array = NDArray[np.float64]

SIZES = {"row": (240, 60), "large": (560, 132)}
HATCH = 5.0


@lru_cache(maxsize=2048)
def strip_svg(modelled: Modelled, aim: Aim, size: str = "row") -> Markup:
    """The strip of one modelled rep.

    Parameters
    ----------
    modelled : Modelled
    aim : Aim
        Whose first head gives the ribbon.
    size : str
        "row" or "large"; the large one names its ends and scale.
    """
    width, height = SIZES[size]
    labelled = size == "large"
    left, right = (34.0, width - 6.0) if labelled else (6.0, width - 6.0)
    ribbon = 0.17 * height
    base = height - ribbon - (22.0 if labelled else 4.0)
    top = 12.0 if labelled else 7.0
    effort = np.clip(np.where(modelled.along("demand") > 0, modelled.along("effort"), 0.0), 0, 1)
    x = np.linspace(left, right, effort.size)
    y = base - effort * (base - top)
    hard = int(modelled.along("demand").argmax())
    parts = [
        f'<svg class="strip strip-{size}" viewBox="0 0 {width} {height}" width="{width}" height="{height}" '
        f'role="img" aria-label="{escape("Rep strip. " + why(modelled, aim))}" focusable="false">',
        f'<path class="strip-full" d="M{left:.1f} {top:.1f}H{right:.1f}"/>',
        f'<path class="strip-area" d="M{left:.1f} {base:.1f}L{_points(x, y)}L{right:.1f} {base:.1f}Z"/>',
        f'<path class="strip-hatch" d="{"".join(_hatching(modelled, left, right, top, base))}"/>',
        f'<path class="strip-line" d="M{_points(x, y)}"/>',
        f'<path class="strip-base" d="M{left:.1f} {base:.1f}H{right:.1f}"/>',
        f'<path class="strip-notch" d="M{x[hard]:.1f} {y[hard]:.1f}l-4.5 -7h9Z"/>',
        _ribbon(modelled, aim.heads[0], x, base + 3, ribbon),
    ]
    if labelled:
        parts += _labels(modelled, left, right, top, base, height, float(x[hard]))
    return Markup("".join(parts) + "</svg>")


def _ribbon(modelled: Modelled, head: str, x: Array, top: float, height: float) -> str:
    percent = modelled.batch.geometry.percent[modelled.batch.anatomy.index(head), modelled.place]
    half = 0.5 * height * np.clip(percent, 4, 100) / 100
    middle = top + height / 2
    upper, lower = _points(x, middle - half), _points(x[::-1], (middle + half)[::-1])
    return f'<path class="strip-ribbon head-{head}" d="M{upper}L{lower}Z"/>'


def _hatching(modelled: Modelled, left: float, right: float, top: float, base: float) -> Iterator[str]:
    """Slanted strokes over the slack stretches, clipped to them."""
    for start, end in modelled.readings.slack:
        x0, x1 = left + start * (right - left), left + end * (right - left)
        rise = base - top
        foot = x0 - rise
        while foot < x1:
            low, high = max(foot, x0), min(foot + rise, x1)
            if high > low:
                yield f"M{low:.1f} {base - (low - foot):.1f}L{high:.1f} {base - (high - foot):.1f}"
            foot += HATCH


def _labels(
    modelled: Modelled, left: float, right: float, top: float, base: float, height: float, hard: float
) -> list[str]:
    word = f"hard spot {modelled.readings.hard_spot:.0f}°"
    anchor = "start" if hard < (left + right) / 2 else "end"
    nudge = 8 if anchor == "start" else -8
    return [
        f'<text class="strip-text" x="{left - 5:.0f}" y="{top + 4:.0f}" text-anchor="end">100%</text>',
        f'<text class="strip-text" x="{left - 5:.0f}" y="{base:.0f}" text-anchor="end">0</text>',
        f'<text class="strip-text" x="{left:.0f}" y="{height - 3:.0f}">long</text>',
        f'<text class="strip-text" x="{right:.0f}" y="{height - 3:.0f}" text-anchor="end">short</text>',
        f'<text class="strip-text" x="{(left + right) / 2:.0f}" y="{height - 3:.0f}" text-anchor="middle">'
        f"height: effort · ribbon: length</text>",
        f'<text class="strip-text strip-strong" x="{hard + nudge:.0f}" y="{top - 2:.0f}" '
        f'text-anchor="{anchor}">{word}</text>',
    ]


def _points(x: Array, y: Array) -> str:
    form = "L".join(["%.1f %.1f"] * x.size)
    return form % tuple(np.stack((x, y), axis=1).ravel().tolist())
