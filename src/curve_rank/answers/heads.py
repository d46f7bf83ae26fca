"""One head: its map over the joints, the cuts through it, and the reps that walk over it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal
from urllib.parse import urlencode

from pydantic import Field, model_serializer

from curve_rank.answers.means import Library, Means
from curve_rank.answers.plain import SHAPES
from curve_rank.answers.requests import Names, Number, RequestForm
from curve_rank.arm.atlas import RANGES, Across, Atlas, atlas
from curve_rank.arm.body import Body
from curve_rank.arm.ranges import ELBOW_RANGE
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import SetupAddress, parse_setup
from curve_rank.errors import BadInputError
from curve_rank.exchange.study_views import atlas_view
from curve_rank.figures.arm_plate import VIEWS, arm_plate
from curve_rank.figures.maps import KINDS, Kind, head_map, scale_of, sections, values_of
from curve_rank.figures.shapes import Picture
from curve_rank.rating.cannot_tell import CannotTell, about_target
from curve_rank.rating.targets import targets
from curve_rank.study.heads import Head, LoadedLists, head_named, heads, loaded_lists, model_says, moved_by

WALKS = {
    "flexors": ("reclined-60-dumbbell-curl", "pad-45-dumbbell-curl"),
    "extensors": ("overhead-rope-low-pulley", "rope-press-down"),
}
"""Whose reps walk over a head's map where nobody names any."""
MOST_WALKS = 4


@dataclass(frozen=True)
class HeadQuestion:
    """Which map of a head is drawn, where it is cut, and whose reps walk over it."""

    head: Head
    kind: Kind
    across: Across
    at: tuple[float, float]
    held: float
    setups: tuple[SetupAddress, ...]
    variants: tuple[Variant, ...]

    def address(self, **replaced: object) -> str:
        """The state as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "map": self.kind,
            "across": self.across,
            "elbow": f"{self.at[0]:g}",
            "other": f"{self.at[1]:g}",
            "held": f"{self.held:g}" if self.held else None,
            "with": [setup.text for setup in self.setups],
        }
        values |= replaced
        return urlencode({k: v for k, v in values.items() if v is not None}, doseq=True)


class HeadRequest(RequestForm):
    """Which map of a head is drawn, at which angles it is cut, and whose paths walk over it."""

    kind: Literal["length", "arm", "strength"] = Field(default="length", alias="map")
    across: Literal["shoulder", "forearm"] | None = None
    elbow: Number = 90.0
    other: Number = 0.0
    held: Number | None = None
    setups: Names = Field(default=(), alias="with")

    def of(self, key: str, library: Library) -> HeadQuestion:
        """What it asks of a head.

        Raises
        ------
        CurveRankError
            For a head or set-up that is none, an angle out of range, and more paths than fit on a map.
        """
        head, at = head_named(key), (self.elbow, self.other)
        # An angle that is held without a word is that of the forearm.
        by_forearm = self.held is None and _second_joints(key) == ("forearm",)
        across = self.across or ("forearm" if by_forearm else "shoulder")
        for name, value, (low, high) in (
            ("elbow", at[0], ELBOW_RANGE),
            ("other", at[1], RANGES[across]),
        ):
            if not low <= value <= high:
                raise BadInputError(name, value, f"{low:g} to {high:g} degrees")
        setups = tuple(map(parse_setup, self.setups or WALKS.get(head.group, WALKS["flexors"])))
        if len(setups) > MOST_WALKS:
            raise BadInputError("with", f"{len(setups)} set-ups", f"at most {MOST_WALKS} on one map")
        variants = tuple(map(library.setup, setups))
        return HeadQuestion(head, self.kind, across, at, self.held or 0.0, setups, variants)


def _second_joints(key: str) -> tuple[Across, ...]:
    """The joints beside the elbow that change a head's length."""
    joints: tuple[Across, ...] = ("shoulder", "forearm")
    return tuple(joint for joint in joints if joint in moved_by(key))


def _alone(key: str) -> str:
    """The one joint that changes a head's length; empty where there are more."""
    joints = moved_by(key)
    return joints[0] if len(joints) == 1 else ""


@dataclass(frozen=True)
class HeadAnswer:
    """A head's map, with everything that is said of it anywhere.

    The map of a head that one joint alone moves is a curve; beside a map stand the cuts through it.
    """

    __pydantic_config__ = SHAPES

    asked: HeadQuestion
    atlas: Atlas
    map: Picture
    sections: tuple[Picture, ...]
    says: tuple[str, ...]
    cannot_tell: tuple[CannotTell, ...]

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """The map as grids."""
        return atlas_view(self.atlas)

    @property
    def head(self) -> Head:
        """The head in words."""
        return self.asked.head

    @property
    def seconds(self) -> tuple[Across, ...]:
        """The joints beside the elbow that a map of it can go over."""
        return _second_joints(self.head.key)

    @property
    def alone(self) -> str:
        """The one joint that moves it; empty where there are more."""
        return _alone(self.head.key)

    @property
    def held(self) -> tuple[str, float]:
        """The third joint, and the angle it is held at."""
        ((joint, angle),) = self.atlas.held.items()
        return joint, angle

    def as_script(self) -> dict[str, Any]:
        """What the page's script reads under the pointer."""
        scale, kind = scale_of(self.atlas), self.asked.kind
        name, unit = KINDS[kind]
        return {
            "elbow": self.atlas.elbow.tolist(),
            "other": self.atlas.other.tolist(),
            "values": values_of(self.atlas, kind).round(2).tolist(),
            "name": name,
            "unit": unit,
            "across": self.asked.across,
            "alone": self.alone,
            "x": [scale.x(scale.elbow[0]), scale.x(scale.elbow[1])],
            "y": [scale.y(scale.other[0]), scale.y(scale.other[1])],
        }


def plates_of(asked: HeadQuestion, address: Callable[[str], str]) -> dict[str, Picture]:
    """The arm at the posture under the cross, by how it is looked at; `address` is where a head leads."""
    names = {key: one.name for key, one in heads().items()}
    at = {"elbow": asked.at[0], "shoulder": 0.0, "forearm": 0.0}
    held = "forearm" if asked.across == "shoulder" else "shoulder"
    at |= {asked.across: asked.at[1], held: asked.held}
    return {view: arm_plate(view, asked.head.key, names, address, **at) for view in VIEWS}


def head_map_of(means: Means, asked: HeadQuestion) -> HeadAnswer:
    """A head's map with reps walking over it.

    Raises
    ------
    CurveRankError
        Where a set-up cannot be modelled.
    """
    head, made = asked.head, atlas(asked.head.key, asked.across, held=asked.held)
    walks = tuple(means.modeller.one(v, Body(), effort=usual_effort()) for v in asked.variants)
    along_elbow, along_second = cuts = sections(made, asked.kind, asked.at)
    curves = {"elbow": along_elbow, "forearm": along_second, "shoulder": along_second}
    alone = _alone(head.key)
    return HeadAnswer(
        asked=asked,
        atlas=made,
        map=curves[alone] if alone else head_map(made, asked.kind, walks, asked.at),
        sections=() if alone else cuts,
        says=tuple(model_says(head.key)),
        cannot_tell=about_target(targets()[head.key]) if head.counted else (),
    )


def loaded_by(means: Means, head: Head) -> LoadedLists | None:
    """How set-ups load a head; None for a helper.

    Raises
    ------
    StillDrawingError
        Where the draws are under way, and whoever asks is told so.
    """
    if not head.counted:
        return None
    body, effort = Body(), usual_effort()
    able = tuple(m.variant for m in means.able(head.group, body, effort))
    drawn = dict(zip((v.id for v in able), means.draw(able, body, effort), strict=True))
    return loaded_lists(head.key, drawn, able)
