"""The rep strip: the product's signature picture, made here and nowhere else.

Left is where the muscle is stretched, right where it is short. Height is effort, up to the most the
muscles could do; a notch marks the hard spot, hatching the slack, and the ribbon below is the target
head's length.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.figures.shapes import Label, Path, Picture, Shape, line
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target
from curve_rank.rating.words import why

SIZES = {"row": (240, 60), "large": (560, 132)}
HATCH = 5.0


@dataclass(frozen=True)
class _Paper:
    """Where the strip's parts stand on its paper."""

    width: float
    height: float
    labelled: bool

    @property
    def left(self) -> float:
        return 34.0 if self.labelled else 6.0

    @property
    def right(self) -> float:
        return self.width - 6.0

    @property
    def ribbon(self) -> float:
        return 0.17 * self.height

    @property
    def base(self) -> float:
        return self.height - self.ribbon - (22.0 if self.labelled else 4.0)

    @property
    def top(self) -> float:
        return 12.0 if self.labelled else 7.0


def strip(modelled: VariantModel, target: Target, size: str = "row") -> Picture:
    """The strip of one modelled rep.

    Parameters
    ----------
    modelled : VariantModel
    target : Target
        Whose first head gives the ribbon.
    size : str
        "row" or "large"; the large one names its ends and scale.
    """
    width, height = SIZES[size]
    paper = _Paper(width, height, size == "large")
    left, right, top, base = paper.left, paper.right, paper.top, paper.base
    effort = np.clip(np.where(modelled.along("demand") > 0, modelled.along("effort"), 0.0), 0, 1)
    x = np.linspace(left, right, effort.size)
    y = base - effort * (base - top)
    outline = _points(x, y)
    hard = modelled.hard
    shapes: list[Shape] = [
        line("strip-full", left, top, right, top),
        Path("strip-area", f"M{left:.1f} {base:.1f}L{outline}L{right:.1f} {base:.1f}Z"),
        Path("strip-hatch", "".join(_hatching(modelled, paper))),
        Path("strip-line", f"M{outline}"),
        line("strip-base", left, base, right, base),
        Path("strip-notch", f"M{x[hard]:.1f} {y[hard]:.1f}l-4.5 -7h9Z"),
        _ribbon(modelled, target.heads[0], x, base + 3, paper.ribbon),
    ]
    if paper.labelled:
        shapes += _labels(modelled, paper, float(x[hard]))
    return Picture(
        role=f"strip strip-{size}",
        width=width,
        height=height,
        shapes=tuple(shapes),
        label="Rep strip. " + why(modelled, target),
    )


def _ribbon(modelled: VariantModel, head: str, x: Array, top: float, height: float) -> Path:
    half = 0.5 * height * np.clip(modelled.length_along(head), 4, 100) / 100
    middle = top + height / 2
    upper, lower = _points(x, middle - half), _points(x[::-1], (middle + half)[::-1])
    return Path(f"strip-ribbon head-{head}", f"M{upper}L{lower}Z")


def _hatching(modelled: VariantModel, paper: _Paper) -> Iterator[str]:
    """Slanted strokes over the slack stretches, clipped to them."""
    left, base, rise = paper.left, paper.base, paper.base - paper.top
    for start, end in modelled.told_slack:
        x0, x1 = (left + part * (paper.right - left) for part in (start, end))
        foot = x0 - rise
        while foot < x1:
            low, high = max(foot, x0), min(foot + rise, x1)
            if high > low:
                yield f"M{low:.1f} {base - (low - foot):.1f}L{high:.1f} {base - (high - foot):.1f}"
            foot += HATCH


def _labels(modelled: VariantModel, paper: _Paper, hard: float) -> list[Label]:
    left, right, top, foot = paper.left, paper.right, paper.top, paper.height - 3
    anchor, nudge = ("start", 8) if hard < (left + right) / 2 else ("end", -8)
    word = f"hard spot {modelled.readings.hard_spot:.0f}°"
    return [
        Label("strip-text", left - 5, top + 4, "100%", "end"),
        Label("strip-text", left - 5, paper.base, "0", "end"),
        Label("strip-text", left, foot, "stretched"),
        Label("strip-text", right, foot, "short", "end"),
        Label("strip-text", (left + right) / 2, foot, "height: effort · ribbon: length", "middle"),
        Label("strip-text strip-strong", hard + nudge, top - 2, word, anchor),
    ]


def _points(x: Array, y: Array) -> str:
    """Path data through points, without its first letter: "0 1L2 3L4 5"."""
    return "L".join(["%.1f %.1f"] * x.size) % tuple(np.stack((x, y), axis=1).ravel().tolist())
