"""A set for a purpose: from targets, lens, equipment and joints to picks with their reasons and swaps."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from curve_rank.arm.arrays import BoolArray
from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.practice.choose_set import Candidates, PickSwap, SetChoice, Wishes, choose, swaps
from curve_rank.practice.coverage import Cell, Coverage, coverage, heads_of
from curve_rank.practice.limits import Adjustment, Fit, Limits, NotFittingError, fit
from curve_rank.practice.rooms import Room
from curve_rank.practice.rules import rule
from curve_rank.rating.lenses import Lens
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.ranking import Question, Row, rank
from curve_rank.rating.similar import curve_of
from curve_rank.rating.targets import Target, known, targets
from curve_rank.rating.words import in_a_row
from curve_rank.study.schemes import tempo_of

Draw = Callable[[tuple[Variant, ...], Body, float], tuple[Readings, ...]]
REACHED = 0.01
"""Of peak force: a cell in which nothing in the catalogue places more is asked of nobody."""
MOST_TARGETS = 8
BRACHIALIS = "brachialis"


@dataclass(frozen=True)
class SetQuestion:
    """What a set is for.

    Attributes
    ----------
    targets : tuple of Target
    lens : Lens
    equipment, spare : tuple of str
        As in `rating.ranking.Question`.
    body : Body
    reps : int
    wishes : Wishes
    limits : Limits
        How far the joints go; set-ups are fitted to them.
    room : Room, optional
        To whose holes they are fitted.
    """

    targets: tuple[Target, ...]
    lens: Lens
    equipment: tuple[str, ...] = ()
    spare: tuple[str, ...] = ()
    body: Body = field(default_factory=Body)
    reps: int = DEFAULT_EFFORT_REPS
    wishes: Wishes = field(default_factory=Wishes)
    limits: Limits = field(default_factory=Limits)
    room: Room | None = None

    def of(self, target: Target) -> Question:
        """The ranking of one of its targets."""
        return Question(target, self.lens, self.equipment, self.spare, self.body, self.reps)


@dataclass(frozen=True)
class SetSwap:
    """Another set-up in a pick's place: cells covered more or fewer, and points of the score."""

    variant: Variant
    cells: int
    score: float


@dataclass(frozen=True)
class Pick:
    """One set-up of a set.

    Attributes
    ----------
    row : Row
        Of the target it serves best.
    target : Target
    minutes : float
    covers : tuple of Cell
        All that it covers.
    alone : tuple of Cell
        What nothing else in the set covers.
    why : str
    swaps : tuple of SetSwap
    fitted : tuple of Adjustment
        What was changed to fit.
    """

    row: Row
    target: Target
    minutes: float
    covers: tuple[Cell, ...]
    alone: tuple[Cell, ...]
    why: str
    swaps: tuple[SetSwap, ...]
    fitted: tuple[Adjustment, ...] = ()

    @property
    def variant(self) -> Variant:
        """Its document."""
        return self.row.variant


@dataclass(frozen=True)
class Gap:
    """A cell that the set does not cover, and why."""

    cell: Cell
    why: str


@dataclass(frozen=True)
class SetAnswer:
    """A chosen set.

    Attributes
    ----------
    question : SetQuestion
    picks : tuple of Pick
        Best first.
    coverage : Coverage
        Of the picks, in their order.
    uncovered : tuple of Gap
    optimal : bool
        Whether it is proven that no set is better.
    """

    question: SetQuestion
    picks: tuple[Pick, ...]
    coverage: Coverage
    uncovered: tuple[Gap, ...]
    optimal: bool

    @property
    def minutes(self) -> float:
        """Of the whole set [min]."""
        return sum(pick.minutes for pick in self.picks)


def set_question(  # noqa: PLR0913 — every part of a wish has a name of its own
    keys: Sequence[str],
    lens: Lens,
    *,
    equipment: tuple[str, ...] = (),
    spare: tuple[str, ...] = (),
    body: Body | None = None,
    reps: int = DEFAULT_EFFORT_REPS,
    wishes: Wishes | None = None,
    limits: Limits | None = None,
    room: Room | None = None,
) -> SetQuestion:
    """A question by its targets' keys.

    Raises
    ------
    BadInputError, UnknownNameError
    """
    if not 1 <= len(keys) <= MOST_TARGETS:
        raise BadInputError("targets", len(keys), f"1 to {MOST_TARGETS}")
    found = tuple(known("target", key, targets()) for key in dict.fromkeys(keys))
    asked = SetQuestion(
        found, lens, equipment, spare, body or Body(), reps, wishes or Wishes(), limits or Limits(), room
    )
    asked.of(found[0])  # equipment, joints and repetitions are checked as a ranking checks them
    return asked


def choose_for(
    asked: SetQuestion, variants: tuple[Variant, ...], modeller: Modeller, draw: Draw
) -> SetAnswer:
    """The best set for a question.

    Parameters
    ----------
    asked : SetQuestion
        Targets, lens, constraints and wishes.
    variants : tuple of Variant
        All there are.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.
    draw : callable
        Makes, or finds, the fixed draws of variants for a body and an effort.

    Raises
    ------
    BadInputError
        Where nothing fits, or no set is what was wished.
    """
    pool = _pool(asked, variants, modeller, draw)
    choice = choose(pool.candidates, asked.wishes)
    others = swaps(pool.candidates, asked.wishes, choice)
    order = sorted(choice.picks, key=lambda n: -pool.candidates.scores[n])
    picks = tuple(_pick(pool, choice, n, others[n]) for n in order)
    return SetAnswer(asked, picks, pool.coverage.of(order), _uncovered(pool, choice), choice.optimal)


@dataclass(frozen=True)
class _Pool:
    """What a set is chosen from: rows with the target they serve best, what they place, what is left out."""

    asked: SetQuestion
    rows: tuple[tuple[Row, Target], ...]
    coverage: Coverage
    wanted: tuple[int, ...]
    brachialis: BoolArray
    out: tuple[tuple[VariantModel, str], ...]
    out_covers: Coverage
    modeller: Modeller
    fitted: dict[str, Fit]

    @cached_property
    def candidates(self) -> Candidates:
        """As the programme takes them."""
        models = [row.modelled for row, _ in self.rows]
        return Candidates(
            ids=tuple(m.variant.id for m in models),
            covers=self.coverage.covered[:, list(self.wanted)],
            scores=np.array([row.score for row, _ in self.rows]),
            minutes=np.array([minutes_of(m.variant) for m in models]),
            heavy=np.array([is_heavy(m.variant) for m in models], dtype=bool),
            brachialis=self.brachialis,
            alike=_alike(models, self.modeller),
        )


def minutes_of(variant: Variant) -> float:
    """Of an exercise with its sets and rests, at its own tempo and the middle of its repetitions [min]."""
    guide = variant.guide
    reps = (guide.reps_from + guide.reps_to) / 2
    seconds = reps * tempo_of(variant).total
    return rule("minutes.set_up") + rule("minutes.sets") * (seconds / 60 + rule("minutes.rest"))


def is_heavy(variant: Variant) -> bool:
    """Whether it is a heavy basic lift: its own guide takes it down to few repetitions."""
    return variant.guide.reps_from <= rule("choose.heavy_reps")


def _pool(asked: SetQuestion, variants: tuple[Variant, ...], modeller: Modeller, draw: Draw) -> _Pool:
    heads = heads_of([target.key for target in asked.targets])
    groups = {target.group for target in asked.targets}
    effort = effort_for_reps(asked.reps)
    mine = tuple(v for v in variants if v.group in groups)
    fitted, unfit = fitted_to(mine, asked.limits, asked.room, asked.body)
    fitting = tuple(one.variant for one in fitted.values())
    others = tuple(v for v in variants if v.id in unfit)
    everything = modeller.able((*fitting, *others), asked.body, effort=effort)
    made = draw(tuple(m.variant for m in everything), asked.body, effort)
    places = {m.variant.id: n for n, m in enumerate(everything)}
    whole = coverage(tuple(dict.fromkeys((*heads, BRACHIALIS))), everything, made)
    rows: dict[str, tuple[Row, Target]] = {}
    left: dict[str, str] = dict(unfit)
    for target in asked.targets:
        ranking = rank(asked.of(target), fitting, modeller)
        left |= {out.variant.id: out.reason for out in ranking.left_out}
        for row in ranking.rows:
            before = rows.get(row.variant.id)
            if before is None or row.score > before[0].score:
                rows[row.variant.id] = (row, target)
    kept = [places[key] for key in rows]
    out = {key: why for key, why in left.items() if key in places and key not in rows}
    shown = whole.of(kept, heads)
    return _Pool(
        asked=asked,
        rows=tuple(rows.values()),
        coverage=shown,
        wanted=tuple(np.flatnonzero(shown.asked & (shown.best > REACHED)).tolist()),
        brachialis=np.asarray(whole.of(kept, (BRACHIALIS,)).covered.any(axis=1)),
        out=tuple((everything[places[key]], why) for key, why in out.items()),
        out_covers=whole.of([places[key] for key in out], heads),
        modeller=modeller,
        fitted=fitted,
    )


def fitted_to(
    variants: tuple[Variant, ...], limits: Limits, room: Room | None, body: Body
) -> tuple[dict[str, Fit], dict[str, str]]:
    """Variants as whoever asks can do them, by id; and why others cannot be."""
    fitted: dict[str, Fit] = {}
    unfit: dict[str, str] = {}
    for variant in variants:
        try:
            fitted[variant.id] = fit(variant, limits, room, body)
        except NotFittingError as error:
            unfit[variant.id] = f"does not fit: {error.value}"
        except CurveRankError as error:
            unfit[variant.id] = str(error)
    return fitted, unfit


def _alike(models: Sequence[VariantModel], modeller: Modeller) -> BoolArray:
    """Which pairs have nearly the same curve, (set-ups, set-ups)."""
    alike = np.zeros((len(models), len(models)), dtype=bool)
    for group in ("flexors", "extensors"):
        some = [n for n, m in enumerate(models) if m.variant.group == group]
        if len(some) < 2:
            continue
        curves = np.stack([curve_of(models[n], modeller).ravel() for n in some])
        squares = (curves**2).mean(axis=1)
        apart = squares[:, None] + squares[None, :] - 2 * curves @ curves.T / curves.shape[1]
        alike[np.ix_(some, some)] = np.sqrt(np.maximum(apart, 0.0)) < rule("choose.alike")
    np.fill_diagonal(alike, val=False)
    return alike


def _pick(pool: _Pool, choice: SetChoice, n: int, others: Sequence[PickSwap]) -> Pick:
    row, target = pool.rows[n]
    covered, cells = pool.coverage.covered, pool.coverage.cells
    rest = [other for other in choice.picks if other != n]
    elsewhere = np.asarray(covered[rest].any(axis=0))
    mine = [i for i in pool.wanted if covered[n, i]]
    covers, alone = tuple(cells[i] for i in mine), tuple(cells[i] for i in mine if not elsewhere[i])
    return Pick(
        row=row,
        target=target,
        minutes=float(pool.candidates.minutes[n]),
        covers=covers,
        alone=alone,
        why=_why(pool, n, covers, alone),
        swaps=tuple(SetSwap(pool.rows[s.other][0].variant, s.cells, s.score) for s in others),
        fitted=pool.fitted[row.variant.id].told,
    )


def _why(pool: _Pool, n: int, covers: tuple[Cell, ...], alone: tuple[Cell, ...]) -> str:
    row, target = pool.rows[n]
    score = f"{row.score:.0f} points for {target.name.lower()} by {pool.asked.lens.name.lower()}"
    if pool.candidates.ids[n] in pool.asked.wishes.pinned:
        return f"You pinned it; {score}."
    if alone:
        return f"Nothing else here loads the {_listed(alone)}; {score}."
    if covers:
        return f"It loads the {_listed(covers)}; {score}."
    asked_for = [
        words
        for wished, has, words in (
            (pool.asked.wishes.heavy, pool.candidates.heavy[n], "the heavy basic lift"),
            (pool.asked.wishes.brachialis, pool.candidates.brachialis[n], "the one for the brachialis"),
        )
        if wished and has
    ]
    return f"It is {' and '.join(asked_for)}; {score}." if asked_for else f"{score[0].upper()}{score[1:]}."


def _uncovered(pool: _Pool, choice: SetChoice) -> tuple[Gap, ...]:
    found = []
    for place, i in enumerate(pool.wanted):
        if choice.covered[place]:
            continue
        cell = pool.coverage.cells[i]
        able = np.flatnonzero(pool.coverage.covered[:, i])
        if able.size:
            best = max(able.tolist(), key=lambda n: pool.candidates.scores[n])
            name = pool.rows[best][0].variant.name
            why = f"{name} would load it, but there is no room for it within these wishes"
        else:
            outside = [
                (float(pool.out_covers.placed[k, i]), m.variant.name, reason)
                for k, (m, reason) in enumerate(pool.out)
                if pool.out_covers.covered[k, i]
            ]
            if outside:
                _, name, reason = max(outside)
                why = f"nothing that fits reaches it; {name} would, but it {reason}"
            else:
                why = "nothing that can be modelled for this body reaches it"
        found.append(Gap(cell, why))
    return tuple(found)


def _listed(cells: tuple[Cell, ...]) -> str:
    return in_a_row([cell.name for cell in cells])
