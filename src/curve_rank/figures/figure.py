"""The figure: a person at a set-up over a rep, with the line of force, the lever and the working heads.

Made here once for every frame of a rep; the page only swaps path data while scrubbing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from curve_rank.errors import UnknownNameError
from curve_rank.figures import arms, bellies, furniture, implement, person
from curve_rank.figures.implement import Pull
from curve_rank.figures.outlines import MovingPath, Plane
from curve_rank.figures.projection import VIEWS, Projection, best_view
from curve_rank.figures.shapes import Group, Label, Path, Picture, Shape
from curve_rank.rating.modelling import VariantModel

Box = tuple[int, int, int, int]

FIST = 75
"""How far around the grip the near frame looks [mm]."""
MARGIN, NEAR_MARGIN = 120, 62
"""Paper around what is framed [mm]."""
LEAST_WHOLE, LEAST_NEAR = 1200, 820
"""Least width and height that is framed [mm]."""
PANEL = 1.12
"""Width over height of the room a figure is given."""
FARTHEST = 0.55
"""How far along the line of force the near frame looks from the grip [m]."""
ABOVE, BELOW = -0.7, 1.5
"""Where words stand beside a lever, in sizes of writing down the paper."""
TEXT_SHARE = 0.036
"""Size of writing in the figure, over the view box."""
EVERY = 5
"""Of so many frames of a rep one is handed out: between two of them everything moves evenly enough."""
EXACT = ("force", "arrow", "lever", "pivot")
"""What is handed out in every frame: it is read off."""
OUTLINED = ("trunk", "upper", "fore")
"""What a ghost shows of the saved set-up."""


@dataclass(frozen=True)
class Figure:
    """A figure over a rep in one view; lengths in millimetres.

    Attributes
    ----------
    name, view : str
    near, whole : Box
        View boxes around arm, load and line of force, and around the whole body.
    shapes : tuple of MovingPath
        From back to front.
    opacity : dict
        Per head's shape, one a frame: driven is denser.
    lever : tuple
        Per frame, where the lever's length is written and what it is [cm]; None where there is none.
    angle : tuple of float
        Of the rep, per frame [degrees].
    aside : float
        How far below the lever its length is written, in sizes of writing: away from the shoulder.
    """

    name: str
    view: str
    near: Box
    whole: Box
    shapes: tuple[MovingPath, ...]
    opacity: dict[str, list[float]]
    lever: tuple[tuple[int, int, float | None], ...]
    angle: tuple[float, ...]
    aside: float = ABOVE

    def at(self, frame: int, *, whole: bool = False, ghosts: tuple[Figure, ...] = ()) -> Picture:
        """One frame as a picture; ghosts' outlines lie faintly over it."""
        box = self.whole if whole else self.near
        paths: list[Shape] = [
            Path(s.role, s.at(frame), s.key, self.opacity[s.key][frame] if s.key in self.opacity else None)
            for s in self.shapes
        ]
        outlined = tuple(Path("fig-ghost", s.at(frame)) for ghost in ghosts for s in _outlined(ghost))
        x, y, centimetres = self.lever[frame]
        size = self.text_size(box)
        words = "" if centimetres is None else f"lever {centimetres:g} cm"
        label = Label("fig-lever-text", x, y + self.aside * size, words, "middle", size, key="lever-text")
        return Picture(
            role="figure",
            left=box[0],
            top=box[1],
            width=box[2],
            height=box[3],
            shapes=(*paths, Group(outlined, key="ghost"), label),
            label=f"{self.name}, {self.view} view, at {self.angle[frame]:.0f}°",
            key="figure",
            scaled=True,
        )

    def outlines(self) -> dict[str, Any]:
        """For the page's script: what a ghost shows, in some frames; between them it is in between."""
        shown = _outlined(self)
        return {"view": self.view, "frames": {n: [s.at(n) for s in shown] for n in self.told}}

    @property
    def told(self) -> list[int]:
        """Frames that are handed out."""
        last = len(self.angle) - 1
        return sorted({*range(0, last, EVERY), last})

    @staticmethod
    def text_size(box: Box) -> int:
        """Size of writing for a view box."""
        return round(TEXT_SHARE * max(box[2], box[3]))

    def as_data(self, only: int | None = None) -> dict[str, Any]:
        """For the page's script: path data that never changes, and that of some frames, to lie between.

        `only` says which frame it is, where one was made alone.
        """
        several = {s.key: s for s in self.shapes}.values()  # ink and fill of a shape are told once
        moving = [s for s in several if only is not None or not s.frames.is_still]
        first = only or 0
        return {
            "view": self.view,
            "box": self.near,
            "whole": self.whole,
            "text": self.text_size(self.near),
            "whole_text": self.text_size(self.whole),
            "shapes": [{"key": s.key, "role": s.role} for s in self.shapes],
            "fixed": {s.key: s.at(0) for s in several if s.frames.is_still and only is None},
            "frames": {n + first: {s.key: s.at(n) for s in moving if s.key not in EXACT} for n in self.told},
            "exact": {
                s.key: {n + first: s.at(n) for n in range(len(self.angle))} for s in moving if s.key in EXACT
            },
            "opacity": {key: dict(enumerate(row, first)) for key, row in self.opacity.items()},
            "lever": dict(enumerate(self.lever, first)),
            "aside": self.aside,
            "alone": only is not None,
        }


def _outlined(figure: Figure) -> list[MovingPath]:
    """What a ghost shows of a figure, each outline once."""
    found = {s.key: s for s in figure.shapes if s.key in OUTLINED}
    return [found[key] for key in OUTLINED if key in found]


def figure(modelled: VariantModel, view: str = "", only: int | None = None) -> Figure:
    """The figure of one modelled rep.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    view : str
        "side", "front" or "top"; empty for the one that shows most.
    only : int, optional
        The one frame that is made, where the others are not wanted.

    Raises
    ------
    UnknownNameError
    """
    view = view or best_view(modelled.variant)
    if view not in VIEWS:
        raise UnknownNameError("view", view, "one of: " + ", ".join(VIEWS))
    scene, floor = Projection.of_model(modelled, view, only), None if view == "top" else 0.0
    pull, head = implement.pull_of(scene), person.around_head(scene)
    shapes = (
        *furniture.furniture(scene),
        *arms.far_arm(scene),
        *person.person(scene),
        *arms.arm(scene),
        *bellies.heads(scene),
        *implement.implement(scene),
        *arms.fingers(scene),
        *implement.force(scene, pull),
    )
    return Figure(
        name=modelled.variant.name,
        view=view,
        near=framed(head + _near(scene, pull), NEAR_MARGIN, LEAST_NEAR, floor),
        whole=framed(head + _whole(scene), MARGIN, LEAST_WHOLE, floor),
        shapes=shapes,
        opacity=bellies.opacity(scene),
        lever=_lever_labels(scene, pull),
        angle=tuple(scene.along("angle").tolist()),
        aside=_aside(scene, pull),
    )


def _near(scene: Projection, pull: Pull | None) -> list[Plane]:
    """Arm, load and line of force; both arms where the view shows them."""
    frame = scene.frame
    points = [scene.flat(p) for p in (0 * frame.elbow, frame.elbow)]
    points += [scene.flat(frame.grip) + FIST * way for way in (1, 1j, -1, -1j)]
    if pull is not None:
        points.append(scene.flat(implement.along_the_pull(scene, pull, FARTHEST)))
        points.append(scene.flat(pull.foot))
    return points


def _whole(scene: Projection) -> list[Plane]:
    """Body, implement and pulleys, the floor included."""
    frame = scene.frame
    points = [scene.flat(frame.grip), scene.flat(frame.elbow)]
    points += [end for leg in person.legs(scene) for end in leg]
    points += [scene.still(*place) for place in scene.pulleys()]
    if scene.view != "top":
        points.append(scene.still(0, 0, 0))
    if scene.view != "side":
        points += [scene.flat(scene.mirrored(p)) for p in (frame.elbow, frame.grip)]
    return points


def framed(points: list[Plane], margin: float, least: float, floor: float | None) -> Box:
    """A view box of the panel's proportions around points; where there is a floor, hardly below it."""
    corners = np.concatenate(points)
    across, down = corners.real, corners.imag if floor is None else np.minimum(corners.imag, floor)
    width, height = (max(float(np.ptp(at)) + 2 * margin, least) for at in (across, down))
    width, height = max(width, PANEL * height), max(height, width / PANEL)
    left, top = ((at.min() + at.max() - size) / 2 for at, size in ((across, width), (down, height)))
    if floor is not None:
        top = min(top, floor + margin - height)
    return round(left), round(top), round(width), round(height)


def _aside(scene: Projection, pull: Pull | None) -> float:
    """On which side of the lever there is room for words; the same over a whole rep."""
    below = (_middle_of_lever(scene, pull) - scene.flat(0 * scene.frame.elbow)).imag
    return BELOW if float(np.mean(below)) > 0 else ABOVE


def _middle_of_lever(scene: Projection, pull: Pull | None) -> Plane:
    foot = scene.frame.elbow if pull is None else pull.foot
    return np.asarray((scene.flat(scene.frame.elbow) + scene.flat(foot)) / 2)


def _lever_labels(scene: Projection, pull: Pull | None) -> tuple[tuple[int, int, float | None], ...]:
    middle, lever = _middle_of_lever(scene, pull), 100 * scene.along("lever")
    return tuple(
        (round(at.real), round(at.imag), round(cm, 1) if math.isfinite(cm) else None)
        for at, cm in zip(middle.tolist(), lever.tolist(), strict=True)
    )
