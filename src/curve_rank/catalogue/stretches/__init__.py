"""Stretches: positions to hold after training, as documents beside the variants'."""

from __future__ import annotations

from functools import cache
from typing import Annotated, Literal

from pydantic import Field

from curve_rank.catalogue.library import plain_data, shipped, validate_variant
from curve_rank.catalogue.line_kinds import DocumentPart, Elbow, Line
from curve_rank.catalogue.schema import (
    Abduction,
    Base,
    Bench,
    Forearm,
    Group,
    Load,
    Short,
    Text,
    TrunkPitch,
    UpperArm,
    Variant,
    Wrist,
)
from curve_rank.errors import UnknownNameError
from curve_rank.validation import validated

Joint = Literal["elbow", "shoulder", "wrist", "lower_back"]
OPENS = 20.0
"""How far the elbow leaves the position where it is drawn as a set-up [degrees]."""


class Held(DocumentPart):
    """The joint angles of the position [degrees], as a variant's."""

    upper_arm: UpperArm = 0
    abduction: Abduction = 0
    elbow: Elbow = 0
    forearm: Forearm = 0
    wrist: Wrist = 0
    trunk_pitch: TrunkPitch = 0


class Draw(DocumentPart):
    """Where the position is drawn on, and which way, forward and up in the room."""

    at: Literal["hand", "elbow"]
    forward: Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)]
    up: Annotated[float, Field(ge=-1, le=1, allow_inf_nan=False)]


class Stretch(DocumentPart):
    """One position that is held.

    Attributes
    ----------
    id, name : str
    group : str
        The muscles it is for.
    needs : tuple of str
        Loads and benches without which it cannot be.
    setup, cautions : tuple of str
    feel : str
        Where it should be felt.
    asks : tuple of str
        Joints that it takes near their end: not for somebody who spares them.
    base : str
        What the body stands, sits or kneels on.
    held : Held
    pull : Draw
    lines : tuple of Line
        Pulleys that are drawn, where there are any.
    hold_s, rounds : int
    """

    schema_version: Literal[1]
    id: Annotated[str, Field(pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$", max_length=60)]
    name: Short
    group: Annotated[Group, Field(alias="target")]
    needs: tuple[Load | Bench, ...] = ()
    setup: Annotated[tuple[Text, ...], Field(min_length=1, max_length=6)]
    feel: Text
    cautions: Annotated[tuple[Text, ...], Field(min_length=1, max_length=4)]
    asks: tuple[Joint, ...] = ()
    base: Base
    held: Held
    pull: Draw
    lines: tuple[Line, ...] = ()
    hold_s: Annotated[int, Field(ge=10, le=120)] = 30
    rounds: Annotated[int, Field(ge=1, le=6)] = 3

    def as_setup(self, held: Held) -> Variant:
        """The position as a set-up that begins in it, to be drawn; nothing is lifted."""
        angles = held.model_dump()
        elbow = angles.pop("elbow")
        opens = OPENS if self.group == "flexors" else -OPENS
        data = {
            "schema_version": 1,
            "id": self.id,
            "name": self.name,
            "family": "straight_arm",
            "target": self.group,
            "summary": self.feel,
            "setup": self.setup,
            "cues": (self.feel,),
            "path": [{"elbow": elbow}, {"elbow": elbow + opens}],
            "lines": [line.model_dump() for line in self.lines] or [{"kind": "weight"}],
            "equipment": {"loads": ["body_weight"], "handle": "free", "arms": 1},
            "support": {"base": self.base},
            "posture": angles,
        }
        return validate_variant(data, name=self.id)


@cache
def stretches() -> dict[str, Stretch]:
    """All positions by id, flexors first.

    Raises
    ------
    BadInputError
        When a shipped document is not a valid position, naming file and field.
    """
    found = shipped("stretches", lambda text, name: validated(Stretch, plain_data(text, name=name), name))
    return {one.id: one for one in sorted(found, key=lambda one: (one.group != "flexors", one.name))}


def stretch_named(key: str) -> Stretch:
    """A position by its id.

    Raises
    ------
    UnknownNameError
    """
    if key not in stretches():
        raise UnknownNameError("stretch", key, "one of: " + ", ".join(stretches()))
    return stretches()[key]
