"""The rep strip: the product's signature picture, made here and nowhere else.

Left is where the muscle is stretched, right where it is short. The filled shape is the resistance curve:
the moment the load asks, in per cent of its own peak, so that its top is the hard spot and bears the notch.
A fine line over it is what the muscles can give, scaled to touch the shape where effort peaks. Hatching is
slack, and the ribbon below is the target head's length.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.figures.shapes import Label, Path, Picture, Rect, Shape, line
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import Target
from curve_rank.rating.words import why

SIZES = {"row": (240, 60), "large": (560, 132)}
HATCH = 5.0
TALLEST = 1.25
"""What the muscles can give is drawn up to this height, over the shape's own peak."""
TOUCH = 2.2
"""Half the size of the mark where the set ends."""

SAYS = "shape: the load asks · line: muscles can give"
SAYS_SHARED = "shape: the load asks [N·m] · line: muscles can give"
HALF_WORD = 42.0
"""Half the width of the words over the notch; they stand above whatever the lines do."""


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
        return 14.0 if self.labelled else 6.0

    def down(self, part: Array) -> Array:
        """Places down the paper of parts of the shape's peak."""
        return self.base - part / TALLEST * (self.base - self.top)


def strip(
    modelled: VariantModel, target: Target, size: str = "row", peak: float | None = None, says: str = ""
) -> Picture:
    """The strip of one modelled rep.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    target : Target
        Whose first head gives the ribbon.
    size : str
        "row" or "large"; the large one names its ends and scale.
    peak : float, optional
        The moment that is drawn at full height where strips share one scale [N·m]; else its own peak.
    says : str
        What is said beside it of where it is hard; the same is read out in its place.
    """
    width, height = SIZES[size]
    paper = _Paper(width, height, size == "large")
    left, right, base = paper.left, paper.right, paper.base
    asked, given, touch = shape_and_line(modelled, peak)
    x = np.linspace(left, right, asked.size)
    y, over = paper.down(asked), paper.down(given)
    outline, hard = _points(x, y), modelled.hard
    shapes: list[Shape] = [
        Path("strip-area", f"M{left:.1f} {base:.1f}L{outline}L{right:.1f} {base:.1f}Z"),
        Path("strip-hatch", "".join(_hatching(modelled, paper))),
        Path("strip-line", f"M{outline}"),
        line("strip-base", left, base, right, base),
        Path("strip-give", _on_paper(x, over, paper.top)),
        Rect("strip-touch", float(x[touch]) - TOUCH, float(over[touch]) - TOUCH, 2 * TOUCH, 2 * TOUCH),
        Path("strip-notch", f"M{x[hard]:.1f} {y[hard]:.1f}l-4.5 -7h9Z"),
        _ribbon(modelled, target.heads[0], x, base + 3, paper.ribbon),
    ]
    if paper.labelled:
        shapes += _labels(modelled, paper, float(x[hard]), peak)
    return Picture(
        role=f"strip strip-{size}",
        width=width,
        height=height,
        shapes=tuple(shapes),
        label="Rep strip. " + (says or why(modelled, target)),
    )


def strips(models: Sequence[VariantModel], target: Target, size: str = "row") -> list[Picture]:
    """The strips of several reps on one scale, that of the largest moment asked."""
    peak = max((float(m.along("demand").max()) for m in models), default=None)
    return [strip(m, target, size, peak) for m in models]


def shape_and_line(modelled: VariantModel, peak: float | None = None) -> tuple[Array, Array, int]:
    """What the load asks and what the muscles can give, over a peak or that asked, and where the two touch.

    The second is strength at the load in use, scaled so that it touches the first where effort peaks.
    """
    demand = np.maximum(modelled.along("demand"), 0.0)
    strength = np.maximum(modelled.along("strength"), 1e-6)
    ratio = demand / strength
    touch, full = int(ratio.argmax()), max(float(demand.max()) if peak is None else peak, 1e-9)
    return demand / full, strength * float(ratio[touch]) / full, touch


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


def _on_paper(x: Array, y: Array, top: float) -> str:
    """Path data of a line that leaves the paper at its top and comes back: only what lies below."""
    run = np.flatnonzero(y >= top)
    parts = np.split(run, np.flatnonzero(np.diff(run) > 1) + 1)
    return "".join("M" + _points(x[part], y[part]) for part in parts if part.size > 1)


def _labels(modelled: VariantModel, paper: _Paper, hard: float, shared: float | None) -> list[Label]:
    left, right, foot = paper.left, paper.right, paper.height - 3
    peak = float(paper.down(np.array(1.0)))
    above = min(max(hard, left + HALF_WORD), right - HALF_WORD)
    word = f"hard spot {modelled.readings.hard_spot:.0f}°"
    return [
        Label("strip-text", left - 5, peak + 4, "100%" if shared is None else f"{shared:.0f}", "end"),
        Label("strip-text", left - 5, paper.base, "0", "end"),
        Label("strip-text", left, foot, "stretched"),
        Label("strip-text", right, foot, "short", "end"),
        Label("strip-text", (left + right) / 2, foot, SAYS if shared is None else SAYS_SHARED, "middle"),
        Label("strip-text strip-strong", above, paper.top - 4, word, "middle"),
    ]


def _points(x: Array, y: Array) -> str:
    """Path data through points, without its first letter: "0 1L2 3L4 5"."""
    return "L".join(["%.1f %.1f"] * x.size) % tuple(np.stack((x, y), axis=1).ravel().tolist())
