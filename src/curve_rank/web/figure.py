"""The figure: a person at a set-up over a rep, with the line of force, the lever and the working heads.

Drawn here once for every frame of a rep; the page only swaps path data while scrubbing.
"""

from __future__ import annotations

import math
from typing import Any

from curve_rank.errors import UnknownNameError
from curve_rank.rating.modelling import Modelled
from curve_rank.web import held
from curve_rank.web.drawing import VIEWS, Drawing

TEXT_SHARE = 0.033
"""Size of writing in the figure, over the view box."""


def figure(modelled: Modelled, view: str) -> dict[str, Any]:
    """The figure's shapes over the rep in one view.

    Parameters
    ----------
    modelled : Modelled
    view : str
        "side", "front" or "top".

    Returns
    -------
    dict
        `box` (SVG view box, millimetres), `text` (size of writing), `shapes` (key and class, back to
        front), `fixed` (path data that never changes, by key), `frames` (changing path data, by key, one per
        sample), `opacity` (per head, one per sample: longer is denser), `lever` (per sample: x, y,
        centimetres).

    Raises
    ------
    UnknownNameError
    """
    if view not in VIEWS:
        raise UnknownNameError("view", view, "one of: " + ", ".join(VIEWS))
    drawing = Drawing(modelled, view)
    shapes = [
        *drawing.scenery(), *drawing.far_arm(), *drawing.body(), *drawing.arm(), *drawing.heads(),
        *held.implement(drawing), *held.force(drawing),
    ]  # fmt: skip
    box = drawing.box()
    fixed = {s.key: s.frames[0] for s in shapes if len(s.frames) == 1}
    moving = [s for s in shapes if s.key not in fixed]
    return {
        "view": view,
        "box": box,
        "text": round(TEXT_SHARE * max(box[2], box[3])),
        "shapes": [{"key": s.key, "css": s.css} for s in shapes],
        "fixed": fixed,
        "frames": [
            {shape.key: shape.frames[n] for shape in moving} for n in range(drawing.count)
        ],
        "opacity": drawing.opacity(),
        "lever": _lever_labels(drawing),
    }  # fmt: skip


def _lever_labels(drawing: Drawing) -> list[list[float | None]]:
    """Per frame, where the lever's length is written and what it is [cm]."""
    middle = (drawing.flat(drawing.elbow) + drawing.flat(held.lever_foot(drawing))) / 2
    lever = 100 * drawing.modelled.along("lever")
    return [
        [round(x), round(y), round(cm, 1) if math.isfinite(cm) else None]
        for (x, y), cm in zip(middle.tolist(), lever.tolist(), strict=True)
    ]
