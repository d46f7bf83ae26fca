"""What stands in addresses and forms, read in one place: typed, checked, and kept as it was typed."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field
from werkzeug.datastructures import MultiDict

from curve_rank.answers.requests import Length, Mass, Names, Number, RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.errors import BadInputError
from curve_rank.rating.criteria import criteria


class HandoutQuery(RequestForm):
    """Which variants are printed on which paper, and which drawing of them is watched."""

    variants: Names = Field(default=(), alias="with")
    at: tuple[str, ...] = Field(default=(), max_length=400)
    """Beside every variant of the form, in its order: as the how manieth it comes; empty for wherever."""
    paper: str = "a4"
    title: Annotated[str, Field(max_length=80)] = ""
    words: Annotated[str, Field(max_length=400)] = ""
    two: Literal["", "yes"] = ""
    key: str = ""
    run: str = ""


class PictureQuery(RequestForm):
    """The paper a picture of its own is drawn on."""

    paper: Literal["light", "dark"] = "light"


class SearchForm(RequestForm):
    """What is searched for: a reading of a head up or down, and what must not get worse; and which run."""

    aim: str = "long_tension"
    way: str = ""
    head: str = ""
    keep: Names = ()
    run: str = ""


class PartForm(RequestForm):
    """The triceps' part of the upper arm [%]."""

    part: Number


class SaveForm(RequestForm):
    """Under which name a set-up is kept, or that it is the next version."""

    name: str = ""
    kind: str = Field(default="new", alias="as")


class FaultForm(RequestForm):
    """A fault of one's own: what it is called, and what to say against it."""

    name: str = ""
    cue: str = ""


class NumberForm(RequestForm):
    """A version's number."""

    number: Whole


class QuestionForm(RequestForm):
    """A question to be kept."""

    name: str = ""
    address: str = ""


class SchoolsQuery(RequestForm):
    """Which target the schools are shown for."""

    target: str = "biceps_long"


class LensQuery(RequestForm):
    """What a lens starts from, or which version is looked at."""

    start: str = Field(default="all_round", alias="from")
    version: Whole | None = None


class LensTrial(RequestForm):
    """For which target a lens that is being made is tried, and which lens it began with."""

    target: str = "biceps_long"
    start: str = Field(default="all_round", alias="from")


class LoadsQuery(RequestForm):
    """A known set, and where its worth is wanted."""

    variant: str = "standing-dumbbell-curl"
    load: Mass = 12.0
    reps: Whole = DEFAULT_EFFORT_REPS
    to: str = ""
    to_reps: Whole = DEFAULT_EFFORT_REPS
    done: str = "strictly"
    to_done: str = "strictly"
    person: Whole | None = Field(default=None, alias="for")


class PersonForm(RequestForm):
    """Whom a form is about."""

    person: Whole = Field(alias="for")


class BodyForm(PersonForm):
    """A person's size [cm, kg] and, where there is one, a known set."""

    height: Length = 178.0
    mass: Mass = 80.0
    upper_arm: Length | None = None
    forearm: Length | None = None
    variant: str = "standing-dumbbell-curl"
    load: Mass | None = None
    reps: Whole = DEFAULT_EFFORT_REPS
    level: str = "trained"


class TextForm(RequestForm):
    """A document's text, mended by hand."""

    text: str = ""


class CriterionEntry(RequestForm):
    """What is typed for one criterion of a lens."""

    weight: Number | None = None
    zero: Number | None = None
    full: Number | None = None
    least: Number | None = None
    most: Number | None = None


def lens_data(values: MultiDict[str, str]) -> dict[str, Any]:
    """The lens document that a form describes, as plain data.

    Raises
    ------
    BadInputError
    """
    data: dict[str, Any] = {name: " ".join(values.get(name, "").split()) for name in ("name", "school")}
    data |= {"weights": {}, "curves": {}, "limits": {}}
    for key, criterion in criteria().items():
        typed = MultiDict((name, values.get(f"{name}-{key}", "")) for name in CriterionEntry.model_fields)
        try:
            entry = CriterionEntry.read(typed)
        except BadInputError as error:
            raise BadInputError(f"{criterion.name}: {error.field}", error.value, error.expected) from error
        if entry.weight:
            data["weights"][key] = entry.weight
        if entry.zero is not None or entry.full is not None:
            data["curves"][key] = {
                "zero": criterion.zero if entry.zero is None else entry.zero,
                "full": criterion.full if entry.full is None else entry.full,
            }
        if entry.least is not None or entry.most is not None:
            data["limits"][key] = {"at_least": entry.least, "at_most": entry.most}
    return data
