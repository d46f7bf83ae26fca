"""Claims of coaches in structured form: a question, what either side says, and what is modelled of it.

A claim states that one set-up, or several of a kind, read higher or lower than others by more than so much.
"""

from __future__ import annotations

from functools import cache
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from curve_rank.catalogue.setups import parse_setup
from curve_rank.data_files import read_toml
from curve_rank.errors import CurveRankError
from curve_rank.rating import cannot_tell
from curve_rank.rating.readings import all_readings
from curve_rank.rating.targets import targets
from curve_rank.validation import seen, validated

MOST_PAIRS, MOST_SOURCES = 6, 12
SCORE = "score"
"""The reading that is a lens's score."""

Setup = Annotated[str, Field(min_length=1, max_length=600), AfterValidator(seen)]


Key = Annotated[str, Field(max_length=60), AfterValidator(seen)]
Said = Annotated[str, Field(min_length=1, max_length=200), AfterValidator(seen)]
Told = Annotated[str, Field(min_length=1, max_length=300), AfterValidator(seen)]
Notes = Annotated[str, Field(max_length=2000), AfterValidator(seen)]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", str_strip_whitespace=True)


class ClaimTest(_Part):
    """What is modelled: `more` reads higher than `less` in a reading of a head by more than `by`.

    `way` "down" turns higher into lower. Without `less` the reading itself is above, or below, `by`; with
    `against` it is compared with that head's in the same set-up. Several set-ups are pairs, and their mean
    counts.
    """

    more: Annotated[tuple[Setup, ...], Field(min_length=1, max_length=MOST_PAIRS)]
    less: Annotated[tuple[Setup, ...], Field(max_length=MOST_PAIRS)] = ()
    reading: Key
    head: Key
    against: Key = ""
    lens: Key = ""
    way: Literal["up", "down"] = "up"
    by: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] = 0.0

    @model_validator(mode="after")
    def _sensible(self) -> ClaimTest:
        if self.less and len(self.less) != len(self.more):
            raise ValueError(f"less: as many set-ups as more ({len(self.more)}), or none")
        if self.less and self.against:
            raise ValueError("against: leave it out where set-ups are compared")
        if self.reading != SCORE and self.reading not in all_readings():
            raise ValueError(
                f"reading: {self.reading} is none; there are: {', '.join(all_readings())}, {SCORE}"
            )
        if (self.reading == SCORE) != bool(self.lens):
            raise ValueError("lens: name one for a score, and only there")
        for head in (self.head, self.against):
            if head and head not in targets():
                raise ValueError(f"head: {head} is none; there are: {', '.join(targets())}")
        if self.against and not all_readings()[self.reading].of_head:
            raise ValueError(f"against: {self.reading} is the same for every head")
        for line in (*self.more, *self.less):
            try:
                parse_setup(line)
            except CurveRankError as error:
                raise ValueError(str(error)) from error
        return self

    @property
    def is_alone(self) -> bool:
        """Whether the reading itself counts, not a difference."""
        return not self.less and not self.against

    @property
    def setups(self) -> tuple[str, ...]:
        """The set-ups' lines, those said to read more first."""
        return self.more + self.less


class Claim(_Part):
    """A claim: a question, what either side says, and what is modelled or why nothing is."""

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=80), AfterValidator(seen)]
    question: Said
    sides: tuple[Said, Said]
    test: ClaimTest | None = None
    missing: Annotated[str, Field(max_length=400), AfterValidator(seen)] = ""
    notes: Notes = ""
    sources: Annotated[tuple[Told, ...], Field(max_length=MOST_SOURCES)] = ()

    @model_validator(mode="after")
    def _one_of_both(self) -> Claim:
        if (self.test is None) == (not self.missing):
            raise ValueError("test or missing: either what is modelled, or why the model has no say")
        return self


@cache
def built_in_claims() -> dict[str, Claim]:
    """The claims of the data file, by key."""
    reasons = {one.key: one.why for one in cannot_tell.questions()}
    found = {}
    for key, entry in read_toml("curve_rank.study", "claims.toml").items():
        test = {name: entry[name] for name in ClaimTest.model_fields if name in entry}
        found[key] = validate_claim(
            {
                "name": key.replace("_", " "),
                "question": entry["question"],
                "sides": entry["sides"],
                "test": test or None,
                "missing": entry.get("missing", reasons.get(entry.get("cannot_tell", ""), "")),
                "sources": entry.get("published", ()),
            },
            name=key,
        )
    return found


def validate_claim(data: Any, *, name: str = "claim") -> Claim:
    """A claim from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(Claim, data, name)
