"""Planning for somebody: from what they are and want to a block, and what each of them does in it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.practice.block import Block, Session
from curve_rank.practice.choose_set import Wishes
from curve_rank.practice.facts import Facts, facts_for
from curve_rank.practice.limits import Adjustment
from curve_rank.practice.make_block import BlockWish, make_block
from curve_rank.practice.plan_warnings import PlanContext
from curve_rank.practice.profile import ClientProfile
from curve_rank.practice.rooms import Room
from curve_rank.practice.rules import row_of_rules, rule
from curve_rank.practice.session import (
    SetTarget,
    freshness,
    set_targets,
    warm_up_sets,
    why_beyond,
)
from curve_rank.practice.sets import Draw, SetAnswer, choose_for, fitted_to, set_question
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller, VariantModel, content_keys
from curve_rank.study.personal_model import personal_model
from curve_rank.training.learning import LogFindings, with_factors

MOST_PICKS, MOST_POOL = 6, 10
VARIANT_BYTES = 40_000
"""Memory of a variant's document that is kept for one body alone, near enough."""


@dataclass(frozen=True)
class _FittedAll:
    """Everything fitted, and its memory [bytes]."""

    variants: tuple[Variant, ...]
    unfit: Mapping[str, str]
    told: Mapping[str, tuple[Adjustment, ...]]
    memory: int


@dataclass(frozen=True)
class Planner:
    """Somebody a plan is made for, and all it is made from.

    Attributes
    ----------
    profile : ClientProfile
    body : Body
    room : Room
    variants : tuple of Variant
        All there are.
    modeller : Modeller
    draw : callable
    loads : mapping
        Loads that were set by hand, by variant id [kg].
    learned : LogFindings, optional
        What was learned from the person's log, where loads and curves follow it.
    house : callable, optional
        Makes facts as a house lifts; of whom something was learned, that was learned from there already.
    """

    profile: ClientProfile
    body: Body
    room: Room
    variants: tuple[Variant, ...]
    modeller: Modeller
    draw: Draw
    loads: Mapping[str, float] = field(default_factory=dict)
    learned: LogFindings | None = None
    house: Callable[[Mapping[str, Facts]], Mapping[str, Facts]] | None = None

    def context(self) -> PlanContext:
        """Facts of everything that can be done, and why the rest cannot."""
        kept = self._fitted()
        fitting = kept.variants
        there = tuple(variant.digest for variant in self.variants)
        key = ("facts", there, *content_keys(fitting, self.body, usual_effort()))
        facts = self.modeller.once(
            key, lambda: facts_for(fitting, self.variants, self.body, self.modeller, self.draw)
        )
        learned = self.learned.factors if self.learned else {}
        usual = self.house(facts) if self.house and not learned else facts
        own = with_factors(usual, learned)
        return PlanContext(own, self.profile, self.room, kept.unfit, kept.told)

    def modelled(self, variant: Variant) -> VariantModel:
        """A variant's model, to draw from: with the person's own arm, where that was learned."""
        if self.learned is not None and self.learned.middle:
            return personal_model(variant, self.body, self.learned.middle, usual_effort(), self.modeller)
        return self.modeller.one(variant, self.body, effort=usual_effort())

    def _fitted(self) -> _FittedAll:
        """Variants as this body does them, and why others cannot be; worked out once."""
        asked = (self.profile.limits.model_dump_json(), self.room.model_dump_json(), repr(self.body))
        key = ("fitted", *asked, *(variant.digest for variant in self.variants))

        def make() -> _FittedAll:
            fitted, unfit = fitted_to(self.variants, self.profile.limits, self.room, self.body)
            told = {key: one.told for key, one in fitted.items() if one.told}
            variants = tuple(one.variant for one in fitted.values())
            return _FittedAll(variants, unfit, told, len(told) * VARIANT_BYTES)

        return self.modeller.once(key, make)

    def choose(self, lens: Lens, wishes: Wishes | None = None) -> SetAnswer:
        """The set that the profile asks for."""
        asked = set_question(
            self.profile.aims,
            lens,
            equipment=self.room.equipment,
            spare=self.profile.spare,
            body=self.body,
            wishes=wishes or Wishes(at_most=MOST_PICKS),
            limits=self.profile.limits,
            room=self.room,
        )
        return choose_for(asked, self.variants, self.modeller, self.draw)

    def pool(self, lens: Lens, wish: BlockWish) -> tuple[str, ...]:
        """What a week is dealt from, best first: the set, and sets that would cover the same without it.

        So that the sessions of a week can differ, and half of them can be rotated.
        """
        context = self.context()
        coarse = frozenset(key for key, fact in context.facts.items() if not context.has_load(fact))
        found = self._best(lens, MOST_PICKS, coarse) or self._best(lens, MOST_PICKS, frozenset())
        wanted = MOST_POOL if wish.vary else len(found)
        while len(found) < wanted:
            more = self._best(lens, min(MOST_PICKS, wanted - len(found)), coarse.union(found))
            if not more:
                break
            found += more
        return found

    def _best(self, lens: Lens, most: int, banned: frozenset[str]) -> tuple[str, ...]:
        """The best set without some; empty where nothing else fits."""
        try:
            return tuple(pick.variant.id for pick in self.choose(lens, Wishes(most, banned=banned)).picks)
        except BadInputError:
            return ()

    def make(self, picks: Sequence[str], wish: BlockWish, lens: str) -> Block:
        """A block of some variants, best first.

        Raises
        ------
        BadInputError
        """
        context = self.context()
        for key in picks:
            if key in context.left_out:
                right = "exercises that fit this body, these joints and this room"
                raise BadInputError("picks", f"{key}: {context.left_out[key]}", right)
        swaps = {key: context.instead(key, set(picks)) for key in picks}
        return make_block(picks, context.facts, self.profile, self.room, wish, swaps, lens)


@dataclass(frozen=True)
class ExercisePlan:
    """One exercise as somebody does it: its light sets, its working sets, and how fresh they are then."""

    variant: str
    warm_up: tuple[SetTarget, ...]
    sets: tuple[SetTarget, ...]
    fresh: float
    note: str = ""
    """Why repetitions go over the range, where they do."""

    @property
    def left(self) -> str:
        """What is left at the end of its sets: "2", or "3 to 1"."""
        first, last = self.sets[0].reserve, self.sets[-1].reserve
        return str(first) if first == last else f"{first} to {last}"


def session_plan(
    block: Block,
    week: int,
    session: Session,
    context: PlanContext,
    loads: Mapping[str, float],
) -> tuple[ExercisePlan | None, ...]:
    """What somebody does in a session: every set with its load and repetitions; None for what cannot be.

    Parameters
    ----------
    block : Block
        The weeks.
    week : int
        Its place: repetitions left go down as the block goes on.
    session : Session
        The session.
    context : PlanContext
        Facts, and the room on whose steps the loads lie.
    loads : mapping
        Loads set by hand [kg].
    """
    facts, room = context.facts, context.room
    reserve = reserve_in(block, week)
    known = all(one.variant in facts for one in session.exercises)
    fresh = freshness(session, facts) if known else [1.0] * len(session.exercises)
    found: list[ExercisePlan | None] = []
    for one, part in zip(session.exercises, fresh, strict=True):
        if one.variant not in facts:
            found.append(None)
            continue
        fact = facts[one.variant]
        sets = set_targets(one, fact, room, fresh=part, reserve=reserve, load=loads.get(one.variant))
        light = warm_up_sets(one.warm_up, fact, room, max(s.load for s in sets)) if one.warm_up else ()
        far = why_beyond(one, sets, fact, room, context.profile.mass_unit)
        found.append(ExercisePlan(one.variant, light, sets, part, far))
    return tuple(found)


def reserve_in(block: Block, week: int) -> int:
    """Repetitions that are left at the end of each set in a week."""
    if block.weeks[week].easier:
        return int(rule("session.easier_reserve"))
    row = row_of_rules("session.reserve")
    return int(row[min(week, len(row) - 1)])
