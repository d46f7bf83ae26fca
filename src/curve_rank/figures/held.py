"""A position that is held: the person in it, the heads as long as they are, and where it is drawn on."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.stretches import Draw
from curve_rank.figures import arms, bellies, bones, furniture, person
from curve_rank.figures.framing import Framing
from curve_rank.figures.implement import arrow
from curve_rank.figures.projection import Stance, best_view, solid, stroke
from curve_rank.figures.shapes import Path, Picture

FRAMING = Framing(90, 900)
"""Paper around the person, and the least that is framed [mm]."""
ARROW = 0.3
"""How far the arrow reaches [m]."""
THICK, THIN = 0.75, 0.4
"""A head's thickness at its shortest and at its longest, over a working one's."""


def held_picture(variant: Variant, body: Body, percent: Mapping[str, float], pull: Draw) -> Picture:
    """A position that is held, from its set-up's first posture.

    Parameters
    ----------
    variant : Variant
        As `Stretch.as_setup` makes it.
    body : Body
        The person.
    percent : mapping
        How long each head is [% of its range].
    pull : Draw
        Where it is drawn on, and which way.
    """
    view = best_view(variant)
    scene = Stance.of(variant, body, view, samples=3)
    long = {head: np.full(scene.count, percent[head]) for head in bellies.heads_of(variant)}
    drawn = {head: (THICK + (THIN - THICK) * part / 100, part) for head, part in long.items()}
    start = scene.frame.grip if pull.at == "hand" else scene.frame.elbow
    along = np.array([pull.forward, pull.up, 0.0])
    at = scene.in_room(start)
    tip = at + ARROW * (along / np.linalg.norm(along))[:, None]
    a, b = scene.plane(at), scene.plane(tip)
    shapes = (
        *furniture.furniture(scene),
        *arms.far_arm(scene),
        *person.person(person.Person(scene)),
        *arms.arm(scene),
        *bones.bones(scene),
        *bellies.bellies(scene, drawn),
        stroke("force", "fig-force", a, b),
        solid("arrow", "fig-tip", arrow(a, b)),
    )
    faint = {f"head-{head}": float(0.3 + 0.7 * part[0] / 100) for head, part in long.items()}
    corners = [scene.trunk(0, 0.3, 0), scene.trunk(0, -body.trunk - 0.1, 0), b[:1]]
    corners += [scene.flat(point)[:1] for point in (scene.frame.elbow, scene.frame.grip)]
    corners += [scene.still(*place) for place in scene.pulleys()]
    left, top, width, height = FRAMING.around(corners, scene.floor)
    return Picture(
        role="figure",
        left=left,
        top=top,
        width=width,
        height=height,
        shapes=tuple(Path(one.role, one.at(0), one.key, faint.get(one.key)) for one in shapes),
        label=f"{variant.name}, {view} view; the arrow is where it is drawn on",
        scaled=True,
    )
