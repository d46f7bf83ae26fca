"""The plate: an arm at any posture, its heads where they lie, one with its line of pull and its joints."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.figures import arms, bellies, bones, hands, person
from curve_rank.figures.outlines import MovingPath
from curve_rank.figures.projection import Stance
from curve_rank.figures.shapes import Circle, Group, Path, Picture, Shape
from curve_rank.figures.standing import standing

VIEWS = {"side": "from the side", "front": "from the front"}
DEEP, RESTING = 0.4, 1.0
"""How dense a head is that is not chosen; how thick one is that rests [1]."""
AROUND, ABOVE = 130.0, 400.0
"""Paper around the arm, and above the shoulder, where the head is [mm]."""
JOINT = 17.0
WIDTH = 700.0
"""Least width of the paper [mm]."""


def arm_plate(
    view: str,
    chosen: str,
    names: dict[str, str],
    address: Callable[[str], str],
    *,
    elbow: float,
    shoulder: float = 0.0,
    forearm: float = 0.0,
) -> Picture:
    """The arm in one view.

    Parameters
    ----------
    view : str
        Of `VIEWS`.
    chosen : str
        The head that stands out; one that is not drawn stands among the elbow flexors.
    names : dict
        Per head's key, its whole name.
    address : callable
        Where a head leads; empty for nowhere.
    elbow, shoulder, forearm : float
        [°]
    """
    group = "extensors" if chosen in bellies.EXTENSORS else "flexors"
    scene = standing(view, group, at={"elbow": elbow, "shoulder": shoulder, "forearm": forearm})
    percents = _percents(elbow, shoulder, forearm)
    drawn = {key: (np.array([RESTING]), percents[key]) for key in bellies.heads_of(scene.variant)}
    skin = [*person.person(person.Person(scene)), *arms.arm(scene)]
    shapes: list[Shape] = [*_paths(skin), *_paths(bones.bones(scene))]
    for key in drawn:
        parts = bellies.bellies(scene, {key: drawn[key]})
        body = tuple(_paths(parts, 1.0 if key == chosen else DEEP))
        shapes.append(Group(body, key=f"layer-{key}", href=address(key), title=names[key]))
    shapes += _paths(hands.fingers(scene))
    if chosen in drawn:
        shapes += _pull(scene, chosen, percents[chosen])
    left, top, width, height = _frame(scene)
    told = f"{names[chosen]}, the arm {VIEWS[view]}: elbow {elbow:.0f}°, upper arm {shoulder:.0f}°"
    if chosen in percents:
        told += f", at {float(percents[chosen][0]):.0f} % of its range"
    return Picture("plate", width, height, tuple(shapes), f"A plate: {told}", left, top, scaled=True)


def _percents(elbow: float, shoulder: float, forearm: float) -> dict[str, np.ndarray]:
    """How long each head is at a posture [% of its range], (1,) each."""
    at = {"elbow": elbow, "shoulder": shoulder, "forearm": forearm, "abduction": 0.0}
    anatomy = default_anatomy()
    found = head_geometry(anatomy, **{name: np.array([value]) for name, value in at.items()}).percent
    return {key: np.clip(found[anatomy.index(key)], 0, 100) for key in anatomy.keys}


def _paths(parts: list[MovingPath], opacity: float | None = None) -> list[Shape]:
    return [Path(one.role, one.at(0), one.key, opacity) for one in parts]


def _pull(scene: Stance, head: str, percent: np.ndarray) -> list[Shape]:
    """The way the head pulls along, and the joints that it crosses."""
    path = bellies.path_of(scene, bellies.drawn_bellies()[head], percent)
    points = path.points[0]
    line = "L".join(f"{p.real:.0f} {p.imag:.0f}" for p in points[:: max(1, len(points) // 24)].tolist())
    anatomy = default_anatomy()
    crosses = {"elbow": scene.frame.elbow}
    arm = anatomy.shoulder_moment_arm.at(scene.posture.shoulder)[0][anatomy.index(head)]
    if float(np.abs(arm).max()) > 0:
        crosses["shoulder"] = 0 * scene.frame.elbow
    joints = [complex(scene.flat(place)[0]) for place in crosses.values()]
    return [
        Path("plate-pull", f"M{line}", "pull"),
        *(Circle("fig-pivot", at.real, at.imag, JOINT, "joint") for at in joints),
    ]


def _frame(scene: Stance) -> tuple[float, float, float, float]:
    """The arm and the shoulder that it hangs from, with paper around."""
    places = [scene.flat(p) for p in (0 * scene.frame.elbow, scene.frame.elbow, scene.frame.grip)]
    points = np.concatenate(places)
    left, right = points.real.min() - AROUND, points.real.max() + AROUND
    top, bottom = points.imag.min() - AROUND, points.imag.max() + AROUND
    top = min(top, float(places[0].imag[0]) - ABOVE)
    short = max(0.0, WIDTH - (right - left)) / 2
    return (
        round(float(left - short)),
        round(float(top)),
        round(float(right - left + 2 * short)),
        round(float(bottom - top)),
    )


def layers_of(chosen: str) -> tuple[str, ...]:
    """The heads that are drawn beside a chosen one, from the outermost in."""
    return (bellies.EXTENSORS if chosen in bellies.EXTENSORS else bellies.FLEXORS)[::-1]
