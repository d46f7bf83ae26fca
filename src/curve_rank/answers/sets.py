"""Sets: the fewest set-ups that cover what is asked, why each, and what could stand instead."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Any, Literal, Self
from urllib.parse import urlencode

from markupsafe import Markup
from pydantic import AfterValidator, Field, model_serializer

from curve_rank.answers.client import Client
from curve_rank.answers.drawn import strip_of
from curve_rank.answers.means import Means
from curve_rank.answers.plain import SHAPES
from curve_rank.answers.requests import Names, Number, RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.exchange.study_views import set_view
from curve_rank.figures.coverage import coverage_picture
from curve_rank.figures.shapes import Picture
from curve_rank.practice.choose_set import Wishes
from curve_rank.practice.coverage import Cell
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.sets import Pick, SetAnswer, choose_for, set_question
from curve_rank.rating.words import load_words

LETTERS = "ABCDEFGHIJKL"
BOTH = ("biceps_long", "triceps_long")
"""What a set is for where nobody says."""


class SetRequest(RequestForm):
    """What a set is for: targets, lens, equipment, person, joints to spare, and the wishes."""

    targets: Annotated[Names, AfterValidator(lambda named: named or BOTH)] = Field(BOTH, alias="target")
    lens: str = "long_length"
    equipment: Names = Field(default=(), alias="with")
    spare: Names = ()
    person: Whole | None = Field(default=None, alias="for")
    at_most: Whole = Field(default=5, alias="most")
    minutes: Number | None = None
    heavy: Literal["", "yes"] = ""
    brachialis: Literal["", "yes"] = ""
    pinned: Names = Field(default=(), alias="pin")
    banned: Names = Field(default=(), alias="ban")
    profile: Literal["", "yes"] = ""

    @property
    def address(self) -> str:
        """The question as a query string, in one fixed order."""
        parts: list[tuple[str, object]] = [("target", key) for key in self.targets]
        parts += [("lens", self.lens)]
        parts += [("with", item) for item in self.equipment] + [("spare", joint) for joint in self.spare]
        parts += [("for", self.person)] if self.person is not None else []
        parts += [("most", self.at_most)]
        parts += [("minutes", f"{self.minutes:g}")] if self.minutes is not None else []
        parts += [(name, "yes") for name in ("heavy", "brachialis") if getattr(self, name)]
        parts += [("pin", key) for key in self.pinned] + [("ban", key) for key in self.banned]
        return urlencode(parts)

    def but(self, **changed: object) -> Self:
        """The same with some of it changed."""
        return self.model_copy(update=changed)

    def in_room(self, room: Room | None) -> Self:
        """The question with what stands in a room to hand, where it names no equipment of its own."""
        return self if self.equipment or room is None else self.but(equipment=room.equipment)

    def by_profile(self, profile: ClientProfile, room: Room | None) -> Self:
        """The question as a client's profile puts it."""
        return self.but(
            targets=profile.targets or self.targets,
            spare=profile.spare,
            equipment=(),
            minutes=float(profile.minutes),
            profile="",
        ).in_room(room)


@dataclass(frozen=True)
class PickedSetup:
    """One set-up of a set, with the addresses of the sets in which it stands otherwise."""

    letter: str
    pick: Pick
    load: str
    """The median load in words."""
    strip: Markup
    swaps: tuple[tuple[str, float, int, str], ...]
    """Name, points and parts covered more or fewer, and the set's address."""
    is_pinned: bool
    keeping: str
    """The best set with it in any case; where it is pinned, with it free again."""
    without: str


@dataclass(frozen=True)
class ChosenSetAnswer:
    """The set that answers a question, with everything that is said of it anywhere."""

    __pydantic_config__ = SHAPES

    asked: SetRequest
    client: Client
    found: SetAnswer
    picks: tuple[PickedSetup, ...]
    picture: Picture
    table: tuple[tuple[Cell, float, tuple[str, ...]], ...]
    """Per cell the most that is placed there, and the letters of what covers it."""

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """As it is handed out."""
        return set_view(self.found)

    @property
    def ids(self) -> tuple[str, ...]:
        """Of the set-ups."""
        return tuple(one.pick.variant.id for one in self.picks)


def chosen_set(
    means: Means,
    asked: SetRequest,
    client: Client,
    profile: ClientProfile,
    room: Room | None,
) -> ChosenSetAnswer:
    """The fewest set-ups that cover what is asked.

    Parameters
    ----------
    means : Means
        With what it is worked out.
    asked : SetRequest
        What is asked.
    client : Client
        Whom it is for.
    profile : ClientProfile
        Theirs: how far their joints go.
    room : Room, optional
        In which they train: its equipment where none is asked for, and its steps.

    Raises
    ------
    BadInputError
        Where nothing fits, or no set is what was wished.
    StillDrawingError
        Where the draws are under way, and whoever asks is told so.
    """
    asked = asked.in_room(room)
    question = set_question(
        asked.targets,
        means.library.lens(asked.lens),
        equipment=asked.equipment,
        spare=asked.spare,
        body=client.body,
        reps=DEFAULT_EFFORT_REPS,
        wishes=Wishes(
            at_most=asked.at_most,
            minutes=asked.minutes,
            heavy=bool(asked.heavy),
            brachialis=bool(asked.brachialis),
            pinned=frozenset(asked.pinned),
            banned=frozenset(asked.banned),
        ),
        limits=profile.limits,
        room=room,
    )
    found = choose_for(question, means.variants, means.modeller, means.draw)
    coverage, ids = found.coverage, tuple(pick.variant.id for pick in found.picks)
    cells = zip(coverage.cells, coverage.placed.max(axis=0, initial=0.0), coverage.covered.T, strict=True)
    return ChosenSetAnswer(
        asked=asked,
        client=client,
        found=found,
        picks=tuple(
            _picked(letter, pick, asked, ids, means)
            for letter, pick in zip(LETTERS, found.picks, strict=False)
        ),
        picture=coverage_picture(coverage, LETTERS),
        table=tuple(
            (cell, float(most), tuple(LETTERS[n] for n, has in enumerate(covered) if has))
            for cell, most, covered in cells
        ),
    )


def _picked(letter: str, pick: Pick, asked: SetRequest, ids: Iterable[str], means: Means) -> PickedSetup:
    key, pinned, row = pick.variant.id, asked.pinned, pick.row
    others, is_pinned = tuple(other for other in ids if other != key), key in asked.pinned
    free = tuple(other for other in pinned if other != key)

    def instead(other: str) -> str:
        banned = tuple(one for one in asked.banned if one != other)
        return asked.but(pinned=(*others, other), banned=banned).address

    return PickedSetup(
        letter=letter,
        pick=pick,
        load=load_words(row.modelled, row.load.median),
        strip=strip_of(means.modeller, row.modelled, pick.target),
        swaps=tuple((one.variant.name, one.score, one.cells, instead(one.variant.id)) for one in pick.swaps),
        is_pinned=is_pinned,
        keeping=asked.but(pinned=free if is_pinned else (*pinned, key)).address,
        without=asked.but(pinned=free, banned=(*asked.banned, key)).address,
    )
