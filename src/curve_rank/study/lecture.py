"""A lecture: kept things in order, with own words between them, and questions for those who listen."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from urllib.parse import parse_qsl, urlencode

from pydantic import BaseModel, ConfigDict, Field, model_validator

from curve_rank.validation import validated

Kind = Literal["words", "page", "hands", "sketch"]
MOST_SLIDES = 60


class Slide(BaseModel):
    """One thing that is shown.

    Attributes
    ----------
    kind : str
        Own words, a page's answer, a question with two answers, or a set-up whose curve is sketched.
    what : str
        The page's address, the question's key, or the set-up's id; empty for words alone.
    title : str
        Own title, where it is not that of what is shown.
    words : str
        Own words beside it.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    kind: Kind
    what: Annotated[str, Field(max_length=1200)] = ""
    title: Annotated[str, Field(max_length=120)] = ""
    words: Annotated[str, Field(max_length=600)] = ""

    @model_validator(mode="after")
    def _shows_something(self) -> Slide:
        if self.kind == "words" and not (self.title.strip() or self.words.strip()):
            raise ValueError("a slide of words needs a title or words")
        if self.kind != "words" and not self.what.strip():
            raise ValueError("what is shown must be named")
        return self


class Lecture(BaseModel):
    """Slides in order."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    schema_version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=80)]
    slides: Annotated[tuple[Slide, ...], Field(max_length=MOST_SLIDES)] = ()

    def of_nobody(self) -> Lecture:
        """The lecture with no page asked for somebody: a person's number means another one elsewhere."""
        slides = (
            slide.model_copy(update={"what": for_nobody(slide.what)}) if slide.kind == "page" else slide
            for slide in self.slides
        )
        return self.model_copy(update={"slides": tuple(slides)})


def for_nobody(address: str) -> str:
    """A page's address without whom it was asked for."""
    page, mark, query = address.partition("?")
    if not mark:
        return address
    kept = urlencode(
        [(name, value) for name, value in parse_qsl(query, keep_blank_values=True) if name != "for"]
    )
    return f"{page}?{kept}" if kept else page


def validate_lecture(data: Any, *, name: str = "lecture") -> Lecture:
    """A lecture from plain data.

    Raises
    ------
    BadInputError
    """
    return validated(Lecture, data, name)
