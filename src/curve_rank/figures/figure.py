"""The figure: a person at a set-up over a rep, with the line of force, the lever and the working heads.

Made here once for every frame of a rep; the page only swaps path data while scrubbing.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from curve_rank.errors import UnknownNameError
from curve_rank.figures import arms, bellies, bones, furniture, hands, implement, person
from curve_rank.figures.framing import NEAR, TEXT_SHARE, WHOLE, WORDS, Beside, Box
from curve_rank.figures.implement import Pull
from curve_rank.figures.outlines import MovingPath, Plane
from curve_rank.figures.projection import VIEWS, Projection, best_view
from curve_rank.figures.shapes import Group, Label, Path, Picture, Shape
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.posing import VariantPose

FIST = 75
"""How far around the grip the near frame looks [mm]."""
FARTHEST = 0.55
"""How far along the line of force the near frame looks from the grip [m]."""
CHEST = -0.1
"""How far below the shoulders the trunk is that words keep clear of [m]."""
TRUNK_DEEP = 0.12
"""Half the depth of a trunk, seen from above [m]."""
CROWN = 0.3
"""How far over the shoulders the face ends that words keep clear of [m]."""
UNDER_BAR = 1.7
"""How far below a hand that is seen end on words stand, in sizes of writing: clear of its bar."""
AROUND = np.exp(1j * np.pi * np.array([0, 0.25, -0.25, 0.5, -0.5, 0.75, -0.75]))
"""Where around a place words may stand, the farthest from the trunk first."""
FARTHER = (1.0, 1.6, 2.4)
"""How far around a place words may stand, as a multiple of what is held there, the nearest first [1]."""
SHOWN = 0.4
"""A lever of which less than this part is seen has no side of its own [1]."""
EVERY = 5
"""Of so many frames of a rep one is handed out: between two of them everything moves evenly enough."""
EXACT = ("force", "arrow", "lever", "square", "pivot")
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
    words : Beside
        How the lever's length is written there.
    """

    name: str
    view: str
    near: Box
    whole: Box
    shapes: tuple[MovingPath, ...]
    opacity: dict[str, list[float]]
    lever: tuple[tuple[int, int, float | None], ...]
    angle: tuple[float, ...]
    words: Beside

    def at(self, frame: int, *, whole: bool = False, ghosts: tuple[Figure, ...] = ()) -> Picture:
        """One frame as a picture; ghosts' outlines lie faintly over it."""
        box = self.whole if whole else self.near
        paths: list[Shape] = [
            Path(s.role, s.at(frame), s.key, self.opacity[s.key][frame] if s.key in self.opacity else None)
            for s in self.shapes
        ]
        outlined = tuple(Path("fig-ghost", s.at(frame)) for ghost in ghosts for s in _outlined(ghost))
        x, y, centimetres = self.lever[frame]
        size = self.text_size(whole=whole)
        words, beside = "" if centimetres is None else f"lever {centimetres:g} cm", self.words
        across, down = x + beside.across * size, y + beside.down * size
        label = Label("fig-lever-text", across, down, words, beside.anchor, size, key="lever-text")
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
        return {"view": self.view, "frames": {n: [s.told(n) for s in shown] for n in self.told}}

    @property
    def told(self) -> list[int]:
        """Frames that are handed out."""
        last = len(self.angle) - 1
        return sorted({*range(0, last, EVERY), last})

    def text_size(self, *, whole: bool) -> int:
        """Size of writing in a frame."""
        return round(TEXT_SHARE * max((self.whole if whole else self.near)[2:]))

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
            "text": self.text_size(whole=False),
            "whole_text": self.text_size(whole=True),
            "shapes": [{"key": s.key, "role": s.role} for s in self.shapes],
            "fixed": {s.key: s.told(0) for s in several if s.frames.is_still and only is None},
            "frames": {
                n + first: {s.key: s.told(n) for s in moving if s.key not in EXACT} for n in self.told
            },
            "exact": {
                s.key: {n + first: s.told(n) for n in range(len(self.angle))}
                for s in moving
                if s.key in EXACT
            },
            "opacity": {key: dict(enumerate(row, first)) for key, row in self.opacity.items()},
            "lever": dict(enumerate(self.lever, first)),
            "words": vars(self.words),
            "alone": only is not None,
        }


def _outlined(figure: Figure) -> list[MovingPath]:
    """What a ghost shows of a figure, each outline once."""
    found = {s.key: s for s in figure.shapes if s.key in OUTLINED}
    return [found[key] for key in OUTLINED if key in found]


def figure(
    modelled: VariantModel | VariantPose, view: str = "", only: int | None = None, *, hair: str = "short"
) -> Figure:
    """The figure of one modelled rep.

    Parameters
    ----------
    modelled : VariantModel or VariantPose
        The set-up, modelled; or posed, of which the one frame it was posed for can be made.
    view : str
        "side", "front" or "top"; empty for the one that shows most.
    only : int, optional
        The one frame that is made, where the others are not wanted.
    hair : str
        Of the head: "short", "tied" or "no".

    Raises
    ------
    UnknownNameError
    """
    view = view or best_view(modelled.variant)
    if view not in VIEWS:
        raise UnknownNameError("view", view, "one of: " + ", ".join(VIEWS))
    scene = Projection.of_model(modelled, view, only)
    floor = scene.floor
    pull, who = implement.pull_of(scene), person.Person(scene, hair)
    head = person.around_head(who)
    grip = scene.flat(scene.frame.grip)
    around = [grip + implement.reach(scene) * way for way in (1, 1j, -1, -1j)]
    near, whole = head + _near(scene, pull), head + around + _whole(who)
    sizes = tuple(
        TEXT_SHARE * max(paper.around(points, floor)[2:]) for paper, points in ((NEAR, near), (WHOLE, whole))
    )
    every = scene if only is None else Projection.of_model(modelled, view)  # words keep their side over a rep
    written, words = _words_at(every, implement.pull_of(every), sizes)
    written = written[scene.samples] if only is not None and written.size > 1 else written
    shapes = (
        *furniture.furniture(scene),
        *implement.behind(scene),
        *arms.far_arm(scene),
        *person.person(who),
        *arms.arm(scene),
        *bones.bones(scene),
        *bellies.heads(scene),
        *implement.implement(scene),
        *hands.fingers(scene),
        *implement.force(scene, pull),
    )
    return Figure(
        name=modelled.variant.name,
        view=view,
        near=NEAR.around(near, floor, (written, words)),
        whole=WHOLE.around(whole, floor, (written, words)),
        shapes=shapes,
        opacity=bellies.opacity(scene),
        lever=_lever_labels(scene, written),
        angle=tuple(scene.along("angle").tolist()),
        words=words,
    )


def _near(scene: Projection, pull: Pull | None) -> list[Plane]:
    """Arm, load and line of force; both arms where the view shows them."""
    frame = scene.frame
    points = [scene.flat(p) for p in (0 * frame.elbow, frame.elbow)]
    grips = [scene.flat(frame.grip)]
    if scene.view != "side" and scene.variant.equipment.arms == 2:
        grips.append(scene.flat(scene.mirrored(frame.grip)))
    points += [grip + FIST * way for grip in grips for way in (1, 1j, -1, -1j)]
    if pull is not None:
        points.append(scene.flat(implement.along_the_pull(scene, pull, FARTHEST)))
        points.append(scene.flat(pull.foot))
    return points


def _whole(who: person.Person) -> list[Plane]:
    """Body and pulleys, the floor included."""
    scene = who.scene
    frame = scene.frame
    points = [scene.flat(frame.elbow)]
    points += [end for _, leg in who.legs for end in (leg.start, leg.start + leg.way)]
    points += [scene.still(*place) for place in scene.pulleys()]
    if scene.view == "top":
        ends = (0.0, -scene.body.trunk)
        points += [scene.trunk(deep, up, 0) for deep in (-TRUNK_DEEP, TRUNK_DEEP) for up in ends]
    else:
        points.append(scene.still(0, 0, 0))
    if scene.view != "side":
        points += [scene.flat(scene.mirrored(p)) for p in (frame.elbow, frame.grip)]
    return points


def _words_at(scene: Projection, pull: Pull | None, sizes: tuple[float, ...]) -> tuple[Plane, Beside]:
    """Where the lever's length is written, beside the lever and the arm; on one side over a whole rep.

    Beyond the line of force, or, where the trunk is there, beyond the elbow; if a line should lie there,
    at the first place around where none does. `sizes` of writing are looked at [mm].
    """
    elbow, grip = scene.flat(scene.frame.elbow), scene.flat(scene.frame.grip)
    if pull is None:
        return elbow, Beside()
    foot, reach = scene.flat(pull.foot), implement.reach(scene)
    lever, chest = (foot - elbow).mean(), scene.trunk(0, CHEST, 0).mean() - elbow.mean()
    away = -1 if chest.real > 0 else 1
    way = lever / max(abs(lever), 1e-9)
    places = [(foot + way * reach, Beside.towards(way)), (elbow, Beside.towards(-way))]
    if abs(lever) < SHOWN * 1000 * np.nanmean(scene.along("lever")):  # seen end on: beside the hand
        places = [(grip + away * FIST, replace(Beside.towards(away), down=UNDER_BAR))]
    elif (chest * np.conj(way)).real > abs(lever):
        places.reverse()
    places += [
        (at + around * far * max(reach, FIST), Beside.towards(around))
        for far in FARTHER
        for at in (foot, elbow, grip)
        for around in away * AROUND
    ]
    lines = [
        (scene.flat(pull.start), scene.flat(pull.tip)),
        (elbow, foot),
        (scene.flat(0 * scene.frame.elbow), elbow),
    ]
    lines += implement.lines_of_bar(scene)
    lines.append((scene.trunk(0, CROWN, 0), scene.trunk(0, 0, 0)))
    return next((one for one in places if not _is_over(lines, *one, sizes)), places[0])


def _is_over(lines: list[tuple[Plane, Plane]], at: Plane, words: Beside, sizes: tuple[float, ...]) -> bool:
    """Whether words of some sizes ever stand over one of some lines."""
    for size in sizes:
        begins = {"start": 0.0, "middle": 0.5, "end": 1.0}[words.anchor] * WORDS
        corner = at + size * (words.across - begins + 1j * (words.down - 1))
        for start, end in lines:
            off = start[:, None] + (end - start)[:, None] * np.linspace(0, 1, 40) - corner[:, None]
            inside = (off.real > 0) & (off.real < WORDS * size) & (off.imag > 0) & (off.imag < 1.15 * size)
            if inside.any():
                return True
    return False


def _lever_labels(scene: Projection, at: Plane) -> tuple[tuple[int, int, float | None], ...]:
    return tuple(
        (round(place.real), round(place.imag), round(cm, 1) if math.isfinite(cm) else None)
        for place, cm in zip(at.tolist(), (100 * scene.along("lever")).tolist(), strict=True)
    )
