"""What lectures read: a name, slides as they are edited, what a room is asked, what a phone answers."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from curve_rank.answers.requests import Number, RequestForm, Whole
from curve_rank.errors import BadInputError
from curve_rank.study.lecture import MOST_SLIDES, Lecture, validate_lecture

Texts = Annotated[tuple[str, ...], Field(max_length=MOST_SLIDES)]
"""A column of the editor: a text a slide, empty ones too."""


class NewLecture(RequestForm):
    """Its name, and the page with which it begins."""

    name: str = ""
    page: str = ""


class Adding(RequestForm):
    """What is put into which lecture."""

    page: str = ""
    lecture: str = ""


class LectureForm(RequestForm):
    """A lecture as it stands in the editor, and what is done to it.

    `act` is "keep", or names what is done and to which slide: "up 2", "down 2", "out 2"; `kind` is added at
    the end where `act` is "add".
    """

    name: str = ""
    kinds: Texts = Field(default=(), alias="kind")
    whats: Texts = Field(default=(), alias="what")
    titles: Texts = Field(default=(), alias="title")
    words: Texts = ()
    act: str = "keep"
    added: str = ""
    hands: str = ""
    sketch: str = ""

    def as_lecture(self) -> Lecture:
        """What it makes.

        Raises
        ------
        BadInputError
        """
        columns = self.kinds, self.whats, self.titles, self.words
        if len({len(column) for column in columns}) > 1:
            raise BadInputError("slides", "columns of different length", "a kind, what, title and words each")
        slides: list[dict[str, Any]] = [
            {"kind": kind, "what": what, "title": title, "words": words}
            for kind, what, title, words in zip(*columns, strict=True)
        ]
        return validate_lecture({"name": self.name.strip(), "slides": self._acted(slides)})

    def _acted(self, slides: list[dict[str, Any]]) -> list[dict[str, Any]]:
        act, _, place = self.act.partition(" ")
        if act == "add":
            new = {
                "words": {"kind": "words", "title": "New words"},
                "hands": {"kind": "hands", "what": self.hands},
            }
            return [*slides, new.get(self.added, {"kind": "sketch", "what": self.sketch})]
        n = int(place) if place.isdigit() else -1
        if not 0 <= n < len(slides):
            return slides
        if act == "out":
            return slides[:n] + slides[n + 1 :]
        other = n + {"up": -1, "down": 1}.get(act, 0)
        if 0 <= other < len(slides):
            slides[n], slides[other] = slides[other], slides[n]
        return slides


class Leading(RequestForm):
    """Which slide is on the screen, counted from 0, and whether what is right is shown."""

    slide: Whole = 0
    shown: Whole = 0


class Listening(RequestForm):
    """A phone's own name for as long as it listens, and what it answers to which question."""

    phone: Annotated[str, Field(max_length=40)] = ""
    turn: Whole = 0
    hand: Whole | None = None
    at: Annotated[tuple[Number, ...], Field(max_length=40)] = ()
