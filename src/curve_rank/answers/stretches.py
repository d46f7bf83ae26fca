"""Stretches for somebody: how long each head gets within their joints, which to hold for what was trained."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Annotated, Any

from markupsafe import Markup
from pydantic import Field, model_serializer

from curve_rank.answers.means import Means
from curve_rank.answers.people import whose
from curve_rank.answers.plain import SHAPES
from curve_rank.answers.requests import Names, RequestForm, Whole
from curve_rank.arm.body import Body
from curve_rank.catalogue.stretches import Stretch, stretches
from curve_rank.exchange.json_views import spread
from curve_rank.figures.held import held_picture
from curve_rank.figures.shapes import Picture
from curve_rank.figures.svg import svg
from curve_rank.practice.facts import Facts
from curve_rank.practice.limits import Limits
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.rules import rule
from curve_rank.practice.stretching import HeadReach, StretchReach, after, arms, can_be_held, ranked, reaches
from curve_rank.rating.modelling import Modeller
from curve_rank.store import people
from curve_rank.store.database import DbSession
from curve_rank.store.viewers import Viewer
from curve_rank.study.heads import Head, head_named, heads

CAUTION = (
    "Slowly, to a steady pull and never into pain; breathe. Numbness, tingling or a pinch at the joint is "
    "too far. After an injury, ask a licensed clinician first."
)


class StretchRequest(RequestForm):
    """For whom, and after training which heads; without any, all there are."""

    heads: Annotated[Names, Field(alias="head", max_length=12)] = ()
    person: Annotated[Whole | None, Field(alias="for")] = None


@dataclass(frozen=True)
class HeldStretch:
    """A position as somebody holds it, with its picture."""

    reach: StretchReach
    picture: Picture

    @property
    def stretch(self) -> Stretch:
        """Its document."""
        return self.reach.stretch

    @property
    def drawn(self) -> Markup:
        """The picture in a page."""
        return Markup(svg(self.picture))

    @property
    def long(self) -> tuple[tuple[Head, HeadReach], ...]:
        """The counted heads of its group that it takes long."""
        counted = [head for head in heads().values() if head.counted and head.group == self.stretch.group]
        found = [(head, self.reach.heads[head.key]) for head in counted]
        return tuple(one for one in found if one[1].percent.median >= rule("stretch.least"))


@dataclass(frozen=True)
class StretchesAnswer:
    """Positions to hold, which, for whom, and what is not for them."""

    __pydantic_config__ = SHAPES

    asked: StretchRequest
    name: str
    trained: tuple[Head, ...]
    first: tuple[HeldStretch, ...]
    """To be held, for what was trained."""
    others: tuple[HeldStretch, ...]
    left_out: tuple[tuple[Stretch, str], ...]

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """As it is handed out."""
        return {
            "for": self.asked.person,
            "heads": [head.key for head in self.trained],
            "first": [_view(one) for one in self.first],
            "others": [_view(one) for one in self.others],
            "left_out": [{"stretch": one.id, "why": why} for one, why in self.left_out],
            "caution": CAUTION,
        }


def stretches_for(db: DbSession, viewer: Viewer, means: Means, asked: StretchRequest) -> StretchesAnswer:
    """Positions for somebody whom a viewer may see; for nobody, the default body's in any room.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person, or a head is none.
    """
    trained = tuple(head_named(key) for key in asked.heads)
    profile, body, room = whose(db, viewer, asked.person)
    name = people.person(db, viewer, asked.person).name if asked.person is not None else ""
    return made_for(means.modeller, asked, trained, name, (profile, body, room))


def made_for(
    modeller: Modeller,
    asked: StretchRequest,
    trained: tuple[Head, ...],
    name: str,
    who: tuple[ClientProfile, Body, Room | None],
) -> StretchesAnswer:
    """Positions for a profile, body and room, the first of them for the heads that were trained."""
    profile, body, room = who
    every = reached(modeller, profile.limits)
    there = room.equipment if room else ()
    why = {one.stretch.id: can_be_held(one, profile.spare, there) for one in every}
    able = tuple(one for one in every if not why[one.stretch.id])
    keys = [head.key for head in trained or heads().values() if head.counted or trained]
    first = after(keys, able)
    return StretchesAnswer(
        asked=asked,
        name=name,
        trained=trained,
        first=tuple(_held(modeller, one, body) for one in first),
        others=tuple(_held(modeller, one, body) for one in able if one not in first),
        left_out=tuple((one.stretch, why[one.stretch.id]) for one in every if why[one.stretch.id]),
    )


def reached(modeller: Modeller, limits: Limits) -> tuple[StretchReach, ...]:
    """All positions within somebody's joints; worked out once for all who ask."""
    drawn = modeller.once(("stretch arms",), arms)
    key = ("stretches", limits.model_dump_json())
    return modeller.once(key, lambda: reaches(stretches().values(), limits, drawn))


def for_head(modeller: Modeller, head: Head, body: Body) -> tuple[tuple[HeldStretch, HeadReach], ...]:
    """What takes a head long, the longest first, for joints without limits."""
    rows = ranked(head.key, reached(modeller, Limits()))
    return tuple((_held(modeller, one, body), one.heads[head.key]) for one in rows)


def heads_trained(facts: Iterable[Facts]) -> tuple[str, ...]:
    """Heads for which sets of some exercises count by more than half."""
    keys = [key for fact in facts for key, part in fact.counts.items() if part > 0.5]
    return tuple(key for key, head in heads().items() if head.counted and key in keys)


def _held(modeller: Modeller, one: StretchReach, body: Body) -> HeldStretch:
    percent = {key: head.percent.median for key, head in one.heads.items()}
    key = ("held", one.stretch.id, one.held.model_dump_json(), repr(body))
    setup = one.stretch.as_setup(one.held)
    return HeldStretch(one, modeller.once(key, lambda: held_picture(setup, body, percent, one.stretch.pull)))


def _view(one: HeldStretch) -> dict[str, Any]:
    stretch = one.stretch
    return {
        "stretch": stretch.id,
        "name": stretch.name,
        "target": stretch.group,
        "needs": list(stretch.needs),
        "hold_s": stretch.hold_s,
        "rounds": stretch.rounds,
        "held": one.reach.held.model_dump(),
        "nearer": list(one.reach.nearer),
        "heads": {
            head.key: {"percent": spread(reach.percent, 1), "longest": round(reach.longest, 1)}
            for head, reach in one.long
        },
        "setup": list(stretch.setup),
        "feel": stretch.feel,
        "cautions": list(stretch.cautions),
    }
