"""Kinds of edits of a block: plain data, each with what it does."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from curve_rank.practice.block import MOST_EXERCISES
from curve_rank.practice.profile import Weekday
from curve_rank.validation import from_validation

Place = Annotated[int, Field(ge=0, le=50)]
_Counts = Annotated[tuple[Annotated[int, Field(ge=1, le=8)], ...], Field(max_length=MOST_EXERCISES)]


class _Edit(BaseModel):
    """`everywhere` does the same in every week that has such a session."""

    model_config = ConfigDict(frozen=True, extra="forbid")


class InSession(_Edit):
    week: Place
    session: Place
    everywhere: bool = False


class MoveSession(InSession):
    """Another day for a session."""

    do: Literal["move_session"] = "move_session"
    day: Weekday


class MoveExercise(InSession):
    """Another place for an exercise, in its session or in another of the same week."""

    do: Literal["move_exercise"] = "move_exercise"
    exercise: Place
    to_session: Place
    to: Place


class AddExercise(InSession):
    """One more exercise, at the end."""

    do: Literal["add_exercise"] = "add_exercise"
    variant: Annotated[str, Field(max_length=60)]


class RemoveExercise(InSession):
    """One exercise less."""

    do: Literal["remove_exercise"] = "remove_exercise"
    exercise: Place


class SwapExercise(InSession):
    """Another variant in an exercise's place."""

    do: Literal["swap_exercise"] = "swap_exercise"
    exercise: Place
    variant: Annotated[str, Field(max_length=60)]


class SetExercise(InSession):
    """Other values of an exercise."""

    do: Literal["set_exercise"] = "set_exercise"
    exercise: Place
    values: dict[str, str | int]


class SetSets(_Edit):
    """Other numbers of sets in a week, and in all that have the same exercises."""

    do: Literal["set_sets"] = "set_sets"
    week: Place
    sets: Annotated[
        tuple[
            Annotated[tuple[Annotated[int, Field(ge=1, le=8)], ...], Field(max_length=MOST_EXERCISES)], ...
        ],
        Field(max_length=7),
    ]


class GroupExercise(InSession):
    """Together with the exercise after it, or alone again."""

    do: Literal["group_exercise"] = "group_exercise"
    exercise: Place
    together: bool


class OrderSession(InSession):
    """The usual order: heavy first, elbow-hungry last; warm-ups as they are due."""

    do: Literal["order_session"] = "order_session"
    first: Annotated[str, Field(max_length=12)] = "triceps"


class WarmUp(InSession):
    """The light sets that are due."""

    do: Literal["warm_up"] = "warm_up"


class CopyWeek(_Edit):
    """A week as another one is."""

    do: Literal["copy_week"] = "copy_week"
    week: Place
    to: Place


class AddWeek(_Edit):
    """One week more, like the last."""

    do: Literal["add_week"] = "add_week"


class RemoveWeek(_Edit):
    """One week less."""

    do: Literal["remove_week"] = "remove_week"
    week: Place


class EasierWeek(_Edit):
    """A week with fewer sets, further from failure."""

    do: Literal["easier_week"] = "easier_week"
    week: Place


class SetBlock(_Edit):
    """Name, range of weekly sets, stretches, why no rest day is needed, when it begins."""

    do: Literal["set_block"] = "set_block"
    name: Annotated[str, Field(max_length=80)] | None = None
    low: float | None = None
    high: float | None = None
    minutes: int | None = None
    stretches: bool | None = None
    override: Annotated[str, Field(max_length=200)] | None = None
    start: date | None = None


Edit = (
    MoveSession | MoveExercise | AddExercise | RemoveExercise | SwapExercise | SetExercise | GroupExercise
    | OrderSession | WarmUp | SetSets | CopyWeek | AddWeek | RemoveWeek | EasierWeek | SetBlock
)  # fmt: skip
_EDIT: TypeAdapter[Edit] = TypeAdapter(Annotated[Edit, Field(discriminator="do")])


def read_edit(data: object) -> Edit:
    """An edit from plain data.

    Raises
    ------
    BadInputError
    """
    try:
        return _EDIT.validate_python(data)
    except ValidationError as error:
        raise from_validation(error, "edit", _Edit) from error
