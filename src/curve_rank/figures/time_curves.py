"""A rep in time: the same panels over seconds, from the short end down and back up."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.arrays import Array, Index
from curve_rank.arm.tempo import PHASES, TimedReps
from curve_rank.figures.curves import (
    GAP,
    LEFT,
    PANEL,
    RIGHT,
    TOP,
    WIDTH,
    CurveLine,
    Curves,
    Panel,
    head_names,
    nice_ticks,
    panel_shapes,
)
from curve_rank.figures.shapes import Circle, Group, Label, Path, Picture, Shape, line
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import targets

MOST_POINTS = 240
"""Points of a curve over time."""
WORDS = {"lower": "down", "pause": "pause", "lift": "up", "squeeze": "squeeze"}


def time_curves(modelled: VariantModel, timed: TimedReps) -> Curves:
    """The curves of one rep in time; cursor and dots stand where the lift passes each place of the rep.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    timed : TimedReps
        Of the same rep, S = (times,).
    """
    kept = np.unique(np.linspace(0, timed.time.size - 1, MOST_POINTS).astype(np.intp))
    panels = _panels(modelled, timed, kept)
    total = float(timed.time[-1])
    span = WIDTH - RIGHT - LEFT
    across = "M" + "L".join(f"{LEFT + span * t / total:.1f} %.1f" for t in timed.time[kept].tolist())
    bottom = len(panels) * (PANEL + GAP) - 2
    shapes: list[Shape] = []
    for panel in panels:
        shapes += panel_shapes(panel, across, (), ())
    shapes += _time_axis(timed, bottom, span)
    at = _lift_places(modelled, timed)
    x = np.round(LEFT + span * timed.time[at] / total, 1).tolist()
    dots = _dots(panels, timed, kept, at)
    hard = modelled.hard
    shapes.append(line("curve-cursor", x[hard], TOP - 4, x[hard], bottom, key="cursor"))
    keyed = [s for panel in panels for s, _ in panel.keyed()]
    marks = tuple(Circle(f"curve-dot {s.role}", x[hard], dots[s.key][hard], 3.4, key=s.key) for s in keyed)
    picture = Picture(
        role="curves-picture",
        width=WIDTH,
        height=bottom + 34,
        shapes=(*shapes, Group(marks)),
        label="Curves over the seconds of a repetition: moment, effort, tension and length of each head.",
        scaled=True,
    )
    return Curves(picture, x, dots)


def _panels(modelled: VariantModel, timed: TimedReps, kept: Index) -> list[Panel]:
    names, anatomy = head_names(modelled.variant.group), modelled.anatomy
    heads = targets()[modelled.variant.group].heads
    listed: list[tuple[str, tuple[CurveLine, ...]]] = [
        (
            "Moment [N·m]",
            (
                CurveLine("strength", "curve-strength", "can give", timed.strength[kept]),
                CurveLine("demand", "curve-demand", "asked", timed.demand[kept]),
            ),
        ),
        (
            "Effort [% of strength]",
            (CurveLine("effort", "curve-effort", "effort", 100 * timed.effort[kept]),),
        ),
        (
            "Tension [% of peak force]",
            tuple(
                CurveLine(f"drive-{h}", f"head-{h}", names[h], 100 * timed.tension[anatomy.index(h), kept])
                for h in heads
            ),
        ),
        (
            "Length [% of the head’s own range]",
            tuple(
                CurveLine(f"length-{h}", f"head-{h}", names[h], timed.percent[anatomy.index(h), kept])
                for h in heads
            ),
        ),
    ]
    panels = []
    for n, (title, series) in enumerate(listed):
        every = np.concatenate([s.values for s in series])
        low = min(0.0, float(every.min())) if n == 0 else 0.0
        high = max(0.0 if n == 0 else 100.0, float(every.max()))
        panels.append(Panel(title, TOP + n * (PANEL + GAP), series, nice_ticks(low, high)))
    return panels


def _lift_places(modelled: VariantModel, timed: TimedReps) -> Index:
    """For each sample of the rep, the time sample at which the lift passes it."""
    lift = np.flatnonzero(timed.phase == PHASES.index("lift"))
    wanted = np.linspace(0, 1, modelled.along("demand").size)
    return lift[np.clip(np.searchsorted(timed.place[lift], wanted), 0, lift.size - 1)].astype(np.intp)


def _dots(panels: list[Panel], timed: TimedReps, kept: Index, at: Index) -> dict[str, list[float]]:
    times: Array = timed.time[kept]
    return {
        s.key: np.round(np.interp(timed.time[at], times, down), 1).tolist()
        for panel in panels
        for s, down in panel.keyed()
    }


def _time_axis(timed: TimedReps, bottom: float, span: float) -> list[Shape]:
    """Seconds along the bottom, and which phase is which."""
    total = float(timed.time[-1])
    shapes: list[Shape] = [Path("curve-domain", f"M{LEFT} {bottom}H{LEFT + span}")]
    for second in nice_ticks(0, total, 6):
        if second <= total:
            x = LEFT + span * second / total
            shapes += [
                line("curve-domain", x, bottom, x, bottom + 4),
                Label("curve-text", x, bottom + 15, f"{second:g}", "middle"),
            ]
    for n, phase in enumerate(PHASES):
        inside = timed.time[timed.phase == n]
        if inside.size > 1:
            start, end = float(inside[0]), float(inside[-1])
            x = LEFT + span * start / total
            shapes.append(line("curve-axis", x, TOP, x, bottom))
            if (end - start) / total > 0.1:
                middle = LEFT + span * (start + end) / 2 / total
                shapes.append(Label("curve-text", middle, bottom + 28, WORDS[phase], "middle"))
    shapes.append(Label("curve-text", LEFT + span + 6, bottom + 15, "seconds"))
    return shapes
