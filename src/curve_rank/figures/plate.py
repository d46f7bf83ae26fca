"""The plate: a hanging arm from the front and from behind, its heads as inked shapes that can be chosen."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Any

import numpy as np
from scipy.interpolate import PchipInterpolator

from curve_rank.data_files import read_toml
from curve_rank.figures.palette import palette
from curve_rank.figures.shapes import Group, Label, Path, Picture, Shape, line, number

VIEWS = {"front": "the arm from the front", "behind": "the arm from behind"}
MIDDLE, TOP, WIDTH, HEIGHT, WIDER = 280, 62, 530, 740, 1.35
NAMES, STEPS = 88, 40
"""Where names begin, from the arm's middle; points of an outline's side."""


def plate(view: str, names: dict[str, str], chosen: str, address: Callable[[str], str]) -> Picture:
    """One view of the plate.

    Parameters
    ----------
    view : str
        "front" or "behind".
    names : dict
        Per head's key, its whole name.
    chosen : str
        The head that stands out.
    address : callable
        Where a head leads.
    """
    table = read_plate()
    shapes: list[Shape] = [Path("plate-skin", _outline(table["skin"]))]
    for key, drawn in table[view].items():
        role = f"plate-head head-{key if key in palette().heads else 'others'}"
        out, body = drawn["points"][len(drawn["points"]) // 2], _outline(drawn["points"])
        side, y = (-1 if drawn["left"] else 1), drawn["at"] + TOP
        start, end = MIDDLE + side * (NAMES - 5), MIDDLE + WIDER * (out[0] + side * out[2] / 2)
        group = (
            Path(f"{role} plate-chosen" if key == chosen else role, body),
            line("plate-leader", start, y, end, out[1] + TOP),
            Label(
                "plate-name plate-name-chosen" if key == chosen else "plate-name",
                MIDDLE + side * NAMES, y + 7, drawn["word"], "end" if drawn["left"] else "start",
            ),
        )  # fmt: skip
        shapes.append(Group(group, key=f"plate-{key}", href=address(key), title=names[key]))
    return Picture("plate", WIDTH, HEIGHT, tuple(shapes), f"A plate: {VIEWS[view]}", scaled=True)


@cache
def read_plate() -> dict[str, Any]:
    """The plate's shapes."""
    return read_toml("curve_rank.figures", "plate.toml")


def _outline(points: list[list[float]]) -> str:
    """A smooth closed outline around a line of (x, y, half width)."""
    given = np.array(points, dtype=float)
    along = np.concatenate(([0.0], np.cumsum(np.hypot(*np.diff(given[:, :2], axis=0).T))))
    smooth = PchipInterpolator(along, given)(np.linspace(0, along[-1], STEPS))
    x, y, half = smooth.T * [[WIDER], [1], [WIDER]] + [[MIDDLE], [TOP], [0]]
    way = np.stack((np.gradient(x), np.gradient(y)))
    way = way / np.maximum(np.hypot(*way), 1e-9)
    one = (x - half * way[1], y + half * way[0])
    other = (x + half * way[1], y - half * way[0])
    corners = np.concatenate((np.stack(one, axis=1), np.stack(other, axis=1)[::-1]))
    return "M" + "L".join(f"{number(a)} {number(b)}" for a, b in corners.tolist()) + "Z"
