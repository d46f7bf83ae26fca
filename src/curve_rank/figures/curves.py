"""Four panels on one rep axis: demand against strength, effort, drive and length of each head.

The page's script moves the cursor and the dots; where they go is told beside the picture.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from math import floor, log10
from typing import Any

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.figures.shapes import (
    Circle,
    Group,
    Label,
    Path,
    Picture,
    Rect,
    Shape,
    kept_apart,
    line,
    true_minus,
)
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import targets

WIDTH, PANEL, GAP, LEFT, RIGHT, TOP = 470, 112, 30, 40, 96, 18
LINE_SPACE = 13
STEPS = (1, 2, 5, 10)
ENDS = 5


@dataclass(frozen=True)
class CurveLine:
    """One curve of a panel: its role, its name and its values along the rep; a faint one has no key."""

    key: str
    role: str
    name: str
    values: Array


@dataclass(frozen=True)
class Panel:
    """One panel: its curves, the faint ones first, and its scale, from a value to its place on the paper."""

    title: str
    top: float
    series: tuple[CurveLine, ...]
    ticks: tuple[float, ...]

    @cached_property
    def down(self) -> list[list[float]]:
        """Each curve's places down the paper."""
        places: list[list[float]] = self.y(np.stack([s.values for s in self.series])).tolist()
        return places

    def y(self, values: Array) -> Array:
        low, high = self.ticks[0], self.ticks[-1]
        return np.round(self.top + PANEL * (1 - (values - low) / (high - low)), 1)

    def keyed(self) -> Iterator[tuple[CurveLine, list[float]]]:
        """The curves that are not faint, with their places."""
        return ((s, down) for s, down in zip(self.series, self.down, strict=True) if s.key)


@dataclass(frozen=True)
class Curves:
    """The picture, and what the page's script needs to move cursor and dots.

    Attributes
    ----------
    picture : Picture
    x : list of float
        Place of each sample across.
    dots : dict
        Per dot's key, its place down at each sample.
    """

    picture: Picture
    x: list[float]
    dots: dict[str, list[float]]

    def as_data(self) -> dict[str, Any]:
        """For the script."""
        return {"x": self.x, "dots": self.dots}


def curves(
    modelled: VariantModel, ghosts: tuple[VariantModel, ...] = (), head: str = "", names: str = ""
) -> Curves:
    """The curves of one modelled rep.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    ghosts : tuple of VariantModel
        Whose curves stand faintly behind.
    head : str
        The one head whose drive and length ghosts show; all of them where it is empty.
    names : str
        A letter a ghost, written where its curves begin; none where it is empty.
    """
    panels = _panels(modelled, ghosts, head)
    count = modelled.along("demand").size
    x = np.linspace(LEFT, WIDTH - RIGHT, count)
    bottom = len(panels) * (PANEL + GAP) - 2
    hard, height = modelled.hard, bottom + 34
    across = "M" + "L".join(f"{place:.1f} %.1f" for place in x.tolist())
    shapes: list[Shape] = []
    for n, panel in enumerate(panels):
        shapes += panel_shapes(panel, across, modelled.told_slack if n == 0 else (), modelled.told_slack)
        shapes += _ghost_names(panel, names, len(ghosts))
    shapes += _rep_axis(modelled, bottom)
    cursor = line("curve-cursor", float(x[hard]), TOP - 4, float(x[hard]), bottom, key="cursor")
    keyed = [one for panel in panels for one in panel.keyed()]
    marks = [Circle(f"curve-dot {s.role}", float(x[hard]), down[hard], 3.4, key=s.key) for s, down in keyed]
    return Curves(
        Picture(
            role="curves-picture",
            width=WIDTH,
            height=height,
            shapes=(*shapes, cursor, Group(tuple(marks))),
            label="Curves along the rep: what the load asks and the muscles can give, effort, "
            "drive and length of each head. "
            "The numbers stand in the table below.",
            scaled=True,
        ),
        np.round(x, 1).tolist(),
        {s.key: down for s, down in keyed},
    )


def head_names(group: str) -> dict[str, str]:
    """What a group's heads are called beside their curves."""
    return {
        head: targets()[head].name.lower().removeprefix("biceps ").removeprefix("triceps ")
        for head in targets()[group].heads
    }


def nice_ticks(low: float, high: float, about: int = 4) -> tuple[float, ...]:
    """Round numbers, some `about` steps of 1, 2 or 5 times a power of ten, that hold low and high."""
    span = max(high - low, 1e-9)
    power = 10.0 ** floor(log10(span / about))
    step = next(step * power for step in STEPS if span / (step * power) <= about)
    first, last = floor(low / step + 1e-9), -floor(-high / step + 1e-9)
    return tuple(round(n * step, 10) for n in range(first, max(last, first + 1) + 1))


def _panels(modelled: VariantModel, ghosts: tuple[VariantModel, ...], head: str) -> list[Panel]:
    result = []
    old = [_series(ghost) for ghost in ghosts]
    for n, (title, new) in enumerate(zip(TITLES, _series(modelled), strict=True)):
        faint = tuple(
            replace(s, key="", role=f"curve-ghost {s.role}")
            for ghost in old
            for s in ghost[n]
            if not head or s.key in ("demand", "effort", f"drive-{head}", f"length-{head}")
        )
        series = (*faint, *new)
        every = np.concatenate([s.values for s in series])
        # What is told in percent is drawn on a scale of a hundred; a moment that reverses goes below 0.
        low = min(0.0, float(every.min())) if n == 0 else 0.0
        high = max(0.0 if n == 0 else 100.0, float(every.max()))
        result.append(Panel(title, TOP + n * (PANEL + GAP), series, nice_ticks(low, high)))
    return result


TITLES = (
    "Moment [N·m]",
    "Effort [% of strength]",
    "Drive [%]",
    "Length [% of the head’s own range]",
)


def _series(modelled: VariantModel) -> list[tuple[CurveLine, ...]]:
    heads = targets()[modelled.variant.group].heads
    names = head_names(modelled.variant.group)
    return [
        (
            CurveLine("strength", "curve-strength", "can give", modelled.along("strength")),
            CurveLine("demand", "curve-demand", "load asks", modelled.along("demand")),
        ),
        (CurveLine("effort", "curve-effort", "effort", 100 * modelled.along("effort")),),
        tuple(CurveLine(f"drive-{h}", f"head-{h}", names[h], 100 * modelled.drive_along(h)) for h in heads),
        tuple(CurveLine(f"length-{h}", f"head-{h}", names[h], modelled.length_along(h)) for h in heads),
    ]


def panel_shapes(
    panel: Panel, across: str, named: tuple[tuple[float, float], ...], slack: tuple[tuple[float, float], ...]
) -> list[Shape]:
    """A panel's slack, scale, curves and names; `across` is a path's text that lacks its places down."""
    left, right = LEFT, WIDTH - RIGHT
    shapes: list[Shape] = []
    for start, end in slack:
        shapes.append(
            Rect(
                "curve-slack", left + start * (right - left), panel.top, (end - start) * (right - left), PANEL
            )
        )
    for start, end in named:
        if end - start > 0.1:
            middle = left + (start + end) / 2 * (right - left)
            shapes.append(Label("curve-text", middle, panel.top + 10, "slack", "middle"))
    heights = panel.y(np.array(panel.ticks)).tolist()
    shapes.append(Path("curve-axis", "".join(f"M{left:g} {y:.1f}H{right:g}" for y in heights)))
    for tick, y in zip(panel.ticks, heights, strict=True):
        shapes.append(Label("curve-text", left - 5, y + 4, true_minus(f"{tick:g}"), "end"))
    shapes.append(line("curve-domain", left, panel.top, left, panel.top + PANEL))
    shapes.append(Label("curve-title", left, panel.top - 6, panel.title))
    for s, down in zip(panel.series, panel.down, strict=True):
        shapes.append(Path(f"curve {s.role}", across % tuple(down)))
    return shapes + _names(panel, right)


def _names(panel: Panel, right: float) -> list[Shape]:
    """Each curve's name beside its end, pushed apart where they would stand on each other."""
    ends = sorted((down[-1], s.name) for s, down in panel.keyed())
    at = kept_apart([y for y, _ in ends], LINE_SPACE)
    over = max(0.0, at[-1] - (panel.top + PANEL - 4))
    return [Label("curve-name", right + 6, y - over + 4, name) for y, (_, name) in zip(at, ends, strict=True)]


def _ghost_names(panel: Panel, names: str, ghosts: int) -> list[Shape]:
    """A letter where each ghost's curve begins, where each has but one curve in the panel."""
    faint = [down for s, down in zip(panel.series, panel.down, strict=True) if not s.key]
    if not names or len(faint) != ghosts:
        return []
    return [
        Label("curve-ghost-name", LEFT + 3 + 11 * n, down[0] - 3, name)
        for n, (name, down) in enumerate(zip(names, faint, strict=False))
    ]


def _rep_axis(modelled: VariantModel, bottom: float) -> list[Shape]:
    """The rep's own angle along the bottom, and which end is which."""
    left, right = LEFT, WIDTH - RIGHT
    angle = modelled.along("angle")
    places = [left + n / (ENDS - 1) * (right - left) for n in range(ENDS)]
    marks = "".join(f"M{x:g} {bottom}v4" for x in places)
    shapes: list[Shape] = [Path("curve-domain", f"M{left} {bottom}H{right}{marks}")]
    for n, x in enumerate(places):
        part = n / (ENDS - 1)
        words = true_minus(f"{angle[round(part * (angle.size - 1))]:.0f}°")
        shapes.append(Label("curve-text", x, bottom + 15, words, "middle"))
    joint = modelled.variant.coordinate
    return [
        *shapes,
        Label("curve-text", left - 16, bottom + 28, "stretched"),
        Label("curve-text", (left + right) / 2, bottom + 28, f"{joint} angle along the rep", "middle"),
        Label("curve-text", right + 16, bottom + 28, "short", "end"),
    ]
