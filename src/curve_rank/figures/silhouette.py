"""A set-up at a glance, for lists: the body as a shadow, the working arm dark, what it holds and leans on.

Where a figure has less than eighty pixels its lines run together; here the arm is the only dark thing.
Lengths are in centimetres.
"""

from __future__ import annotations

import re

import numpy as np

from curve_rank.figures import arms, bellies, furniture, implement, person
from curve_rank.figures.framing import Framing
from curve_rank.figures.outlines import CLOSED, OPEN, MovingPath, Plane
from curve_rank.figures.projection import Projection, best_view, solid, stroke
from curve_rank.figures.shapes import Path, Picture
from curve_rank.rating.modelling import VariantModel

FRAMING = Framing(40, 1000)
"""Paper around what is shown, and the least that is shown [mm]."""
ALONG = 0.25
"""How much of the line of force is shown from the grip on [m]."""
MANY = 12
"""Of a curve of more points every other one is enough."""
UNSEEN = ("floor", "plates", "stack")
"""What a list is too small for."""


def silhouette(modelled: VariantModel) -> Picture:
    """A set-up where it is hardest, in the view that shows most."""
    view = best_view(modelled.variant)
    scene = Projection.of_model(modelled, view, modelled.hard)
    who = person.Person(scene)
    head = "biceps_long" if modelled.variant.group == "flexors" else "triceps_long"
    room = [*furniture.furniture(scene), *implement.behind(scene)]
    body = [
        s for s in (*arms.far_arm(scene), *person.person(who)) if s.role.startswith(("fig-body", "fig-skin"))
    ]
    limbs = [s for s in arms.arm(scene) if s.role == "fig-skin"]
    held = implement.implement(scene)
    parts = [
        ("sil-room", [s for s in room if not s.key.startswith(UNSEEN)]),
        ("sil-body", body),
        ("sil-rim", limbs),
        ("sil-arm", limbs),
        (f"head-{head}", [s for s in bellies.heads(scene, (head,)) if s.key == f"head-{head}"]),
        ("sil-thing", [s for s in held if s.key not in ("handle", "knob")]),
        ("sil-bar", [s for s in held if s.key == "handle"]),
        ("sil-force", _force(scene)),
    ]
    left, top, width, height = FRAMING.around(_around(scene, who, limbs), scene.floor)
    return Picture(
        role="silhouette",
        left=round(left / 10),
        top=round(top / 10),
        width=round(width / 10),
        height=round(height / 10),
        shapes=tuple(Path(role, "".join(map(_small, several))) for role, several in parts if several),
        scaled=True,
    )


def _around(scene: Projection, who: person.Person, limbs: list[MovingPath]) -> list[Plane]:
    grip, reach = scene.flat(scene.frame.grip), implement.reach(scene)
    points = [*person.around_head(who), scene.flat(scene.frame.elbow)]
    points += [grip + reach * way for way in (1, 1j, -1, -1j)]
    points += [np.array([1, 1j]) @ limb.frames.numbers[0].reshape(-1, 2).T for limb in limbs]
    return [*points, scene.trunk(0, -scene.body.trunk, 0), *(leg.start + leg.way for _, leg in who.legs[:1])]


def _force(scene: Projection) -> list[MovingPath]:
    pull = implement.pull_of(scene)
    if pull is None:
        return []
    start, tip = scene.flat(scene.frame.grip), scene.flat(implement.along_the_pull(scene, pull, ALONG))
    return [stroke("force", "fig-force", start, tip), solid("arrow", "fig-tip", implement.arrow(start, tip))]


def _small(shape: MovingPath) -> str:
    """A shape in whole centimetres: a curve's points, joined by straight lines."""
    told = shape.told(0)
    if told[0] in (CLOSED, OPEN):
        numbers = [round(int(n) / 10) for n in told[1:].split()]
        points = list(zip(numbers[::2], numbers[1::2], strict=True))
        points = list(dict.fromkeys(points[::2] if len(points) > MANY else points))
        line = " ".join(f"{x} {y}" for x, y in points)
        return f"M{line}" + ("Z" if told[0] == CLOSED else "")
    return re.sub(r"-?\d+(?: -?\d+)*", _in_centimetres, told)


def _in_centimetres(found: re.Match[str]) -> str:
    """Numbers after a command; of an arc the middle three are no lengths."""
    numbers = found[0].split()
    if len(numbers) == 7:
        lengths = [str(round(int(n) / 10) or 1) for n in numbers]
        return " ".join([*lengths[:2], *numbers[2:5], *(str(round(int(n) / 10)) for n in numbers[5:])])
    return " ".join(str(round(int(n) / 10)) for n in numbers)
