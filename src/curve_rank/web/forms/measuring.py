"""What the measuring pages read: files, captures and pictures."""

from __future__ import annotations

import re
from typing import Literal

from werkzeug.datastructures import MultiDict

from curve_rank.answers.requests import Mass, Number, RequestForm, Whole, number_of
from curve_rank.errors import BadInputError
from curve_rank.measure.columns import ColumnChoice
from curve_rank.measure.marks import Marks, validate_marks

LONGEST_CELL = 60


class FileForm(RequestForm):
    """A file of samples: its text, which column is which, and what is to be done with it."""

    text: str = ""
    kind: Literal["", "torque", "force"] = ""
    angle: str = ""
    angle_unit: str = "deg"
    torque: str = ""
    torque_unit: str = "N·m"
    force: str = ""
    force_unit: str = "N"
    lever: str = ""
    lever_unit: str = "m"
    good_only: str = ""
    do: Literal["look", "keep"] = "look"

    def choice(self, guessed: ColumnChoice) -> ColumnChoice:
        """Which column is which: what was guessed, until somebody has chosen."""
        if not self.kind:
            return guessed
        named = {name: getattr(self, name) for name in ("angle", "angle_unit")}
        wanted = ("torque",) if self.kind == "torque" else ("force", "lever")
        return ColumnChoice(**named, **{n: getattr(self, n) for w in wanted for n in (w, f"{w}_unit")})


class TorqueProfileForm(RequestForm):
    """Under which name a profile is kept, whose it is, and the stack it was measured with."""

    name: str = ""
    group: Literal["flexors", "extensors"] = "flexors"
    stack: Mass | None = None


class DeviceForm(RequestForm):
    """Which device is listened to, and what the capture is called."""

    device: str = ""
    name: str = ""


class PhaseForm(RequestForm):
    """What is read now, and the known weight [kg] with its lever [m]."""

    phase: Literal["empty", "weight", "sweep"] = "empty"
    weight: Mass = 10.0
    lever: Number = 0.3


class LiveQuery(RequestForm):
    """The points a page has already."""

    since: Whole = 0


POINTS = ("shoulder", "elbow", "grip", "hip", "pull", "scale_a", "scale_b", "level_a", "level_b",
          "plumb_a", "plumb_b")  # fmt: skip


class PicturesForm(RequestForm):
    """What a set of pictures is called."""

    name: str = ""


class MarksForm(RequestForm):
    """What holds for all pictures of a set; their marks stand in fields of their own."""

    facing: Literal["right", "left"] = "right"
    known_cm: Number = 30.0
    known_error_cm: Number = 0.5
    level_is: Literal["floor", "plumb"] = "floor"
    marking_px: Number = 3.0
    turned_deg: Number = 10.0
    camera_m: Number = 3.0


class PlanQuery(RequestForm):
    """The variant that pictures are laid against, and what for."""

    plan: str = ""
    lens: str = "long_length"


class RemoveForm(RequestForm):
    """Whether what was made from pictures goes with them."""

    all: Literal["", "yes"] = ""


def marks_of(values: MultiDict[str, str], count: int) -> Marks:
    """The marks of so many pictures: fields `<picture>-<mark>-x` and `-y`, counted from 0 [px].

    Raises
    ------
    BadInputError
    """
    pictures = []
    for n in range(count):
        at = {name: _point(values, f"{n}-{name}") for name in POINTS}
        for pair in ("scale", "level", "plumb"):
            ends = (at.pop(f"{pair}_a"), at.pop(f"{pair}_b"))
            at[pair] = ends if None not in ends else None  # type: ignore[assignment]
        pictures.append(at)
    return validate_marks(MarksForm.read(values).model_dump() | {"pictures": pictures})


def _point(values: MultiDict[str, str], name: str) -> tuple[float, float] | None:
    typed = [values.get(f"{name}-{axis}", "").strip() for axis in "xy"]
    if not all(typed):
        return None
    try:
        x, y = (number_of(text) for text in typed)
    except ValueError as error:
        raise BadInputError(name, ", ".join(typed), "two numbers of pixels") from error
    return x, y


class IntoForm(RequestForm):
    """The variant that takes a profile, and what the variant made from it is called."""

    variant: str = ""
    name: str = ""


def mended_cells(values: MultiDict[str, str]) -> dict[tuple[int, int], str]:
    """Cells written anew, by row and column.

    Raises
    ------
    BadInputError
    """
    found = {}
    for key, text in values.items():
        place = re.fullmatch(r"cell-([0-9]{1,6})-([0-9]{1,2})", key)
        if place is None:
            continue
        if len(text) > LONGEST_CELL:
            raise BadInputError(f"row {place[1]}", text[:LONGEST_CELL], f"at most {LONGEST_CELL} characters")
        found[int(place[1]), int(place[2])] = text
    return found
