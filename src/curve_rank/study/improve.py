"""What would make it better: a bounded search over a set-up's fields for a stated aim.

Every set-up that is tried stands on the gym's steps. Where trying all of them is little work, all are tried;
else the best single changes are put together field by field, the best few kept at each. What is reported
stands on the fixed draws: gains are medians of differences, draw by draw.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import product
from math import prod

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.controls import Control, controls
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.draws import Draw, fixed_draws
from curve_rank.rating.limits import objections
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.readings import Reading, Way, all_readings
from curve_rank.rating.targets import known
from curve_rank.study.compare import Difference, difference, resolved

FEW = 64
"""Set-ups of which all are tried, under all draws."""
WIDTH = 5
"""Set-ups kept at each step of putting changes together."""
VALUES = 7
"""Most values of one field that are tried, what stands there among them."""
FIELDS = 6
"""Most fields that are put together."""
SINGLES, TOGETHER = 4, 6
"""Single changes that are reported, and combinations that are tried under all draws."""
KEPT = 0.05
"""What is to be kept may get worse by this part of itself."""
LEAST_TRAVEL = 0.6
"""A changed rep still travels this part of the way that it did."""

Tell = Callable[[int, int], None]


@dataclass(frozen=True)
class Aim:
    """What is wanted: a reading of a head up or down, and readings that must not get worse."""

    reading: Reading
    way: Way
    head: str
    keep: tuple[Reading, ...] = ()

    @property
    def sign(self) -> int:
        """+1 where more is better."""
        return 1 if self.way == "up" else -1


@dataclass(frozen=True)
class FieldChange:
    """One field, from what is shown to what is shown, in the control's own unit."""

    control: Control
    to: float

    @property
    def setting(self) -> Change:
        """As a change of the document."""
        return Change(field=self.control.field, set=self.control.field_value(self.to))


@dataclass(frozen=True)
class Cost:
    """A reading that gets worse elsewhere."""

    reading: Reading
    difference: Difference


@dataclass(frozen=True)
class Improvement:
    """Changes that further the aim.

    Attributes
    ----------
    changes : tuple of FieldChange
    variant : Variant
        The set-up with them.
    gain : Difference
        Of the aim's reading, after minus before, in its printed unit.
    costs : tuple of Cost
    """

    changes: tuple[FieldChange, ...]
    variant: Variant
    gain: Difference
    costs: tuple[Cost, ...]


@dataclass(frozen=True)
class Search:
    """What a search found, best first: single changes, and the best of several together."""

    aim: Aim
    singles: tuple[Improvement, ...]
    together: Improvement | None
    tried: int

    @property
    def all(self) -> tuple[Improvement, ...]:
        """Single changes, then those together."""
        return self.singles if self.together is None else (*self.singles, self.together)


def parse_aim(text: str, head: str, keep: tuple[str, ...] = ()) -> Aim:
    """An aim from "reading up" or "reading down".

    Raises
    ------
    BadInputError, UnknownNameError
    """
    name, _, way = text.strip().partition(" ")
    reading = known("aim", name, all_readings())
    way = way.strip() or reading.better
    if way not in ("up", "down"):
        raise BadInputError("aim", text, f"{name} up, or {name} down")
    kept = tuple(known("keep", key, all_readings()) for key in keep)
    for one in kept:
        if not one.better:
            right = ", ".join(q.key for q in all_readings().values() if q.better)
            raise BadInputError("keep", one.key, f"a reading that has a better way: {right}")
    return Aim(reading, "up" if way == "up" else "down", head, kept)


def search_grid(variant: Variant, fields: tuple[str, ...] = ()) -> dict[str, tuple[float, ...]]:
    """The values, as shown, that are tried for each field; what stands there is among them.

    Raises
    ------
    BadInputError
        For a field that cannot be moved.
    """
    there = {c.field: c for c in controls(variant)}
    for field in fields:
        known("field", field, there)
    return {
        field: _thinned(control)
        for field, control in there.items()
        if (not fields or field in fields) and len(control.grid) > 1
    }


def _thinned(control: Control) -> tuple[float, ...]:
    """At most `VALUES` of a control's steps, spread evenly, what is shown now among them."""
    steps = control.grid
    if len(steps) <= VALUES:
        return steps
    places = np.unique(np.round(np.linspace(0, len(steps) - 1, VALUES)).astype(int)).tolist()
    here = steps.index(control.shown)
    if here not in places:
        places[int(np.argmin([abs(place - here) for place in places]))] = here
    return tuple(steps[place] for place in sorted(places))


def improve(
    variant: Variant,
    aim: Aim,
    *,
    body: Body,
    effort: float,
    modeller: Modeller,
    grid: Mapping[str, tuple[float, ...]] | None = None,
    draw: Draw | None = None,
    tell: Tell = lambda _done, _total: None,
) -> Search:
    """Search a set-up's fields for an aim.

    Parameters
    ----------
    variant : Variant
        The set-up.
    aim : Aim
        Which reading is to go which way, and what must not get worse.
    body : Body
        The person: size, strength, joints.
    effort : float
        Of the repetitions: the part of their strength that the hardest moment takes, 0 to 1.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.
    grid : mapping, optional
        Values, as shown, to try of each field; without, the gym's steps of all fields within reach.
    draw : callable, optional
        Makes the draws where they are not to be made in this thread.
    tell : callable
        Told after every part how much is done of how much; it may raise to stop the search.

    Raises
    ------
    CurveRankError
        When the set-up itself cannot be modelled.
    """
    start = modeller.one(variant, body, effort=effort)
    made = draw or (lambda variants: fixed_draws(variants, body, effort, modeller))
    one = _Searching(variant, aim, body, effort, modeller, start, made)
    values = dict(search_grid(variant) if grid is None else grid)
    there = {c.field: c for c in controls(variant)}
    options = {
        field: [FieldChange(known("field", field, there), to) for to in tried if to != there[field].shown]
        for field, tried in values.items()
    }
    options = {field: changes for field, changes in options.items() if changes}
    if prod(len(changes) + 1 for changes in options.values()) <= FEW:
        return one.report(one.everything(options, tell), tell)
    return one.report(one.step_by_step(options, tell), tell)


@dataclass(frozen=True)
class _Candidate:
    """A set-up that may be done so, and what its plain reading gains over the start's."""

    changes: tuple[FieldChange, ...]
    variant: Variant
    gain: float


@dataclass(frozen=True)
class _Searching:
    """One search under way: where it starts, what for, and for whom."""

    variant: Variant
    aim: Aim
    body: Body
    effort: float
    modeller: Modeller
    start: VariantModel
    draw: Draw

    def everything(self, options: Mapping[str, list[FieldChange]], tell: Tell) -> list[_Candidate]:
        """All combinations of all values."""
        choices = [[None, *changes] for changes in options.values()]
        sets = [tuple(c for c in row if c is not None) for row in product(*choices)]
        found = self.candidates([row for row in sets if row])
        tell(1, 2)
        return found

    def step_by_step(self, options: Mapping[str, list[FieldChange]], tell: Tell) -> list[_Candidate]:
        """All single changes, then the best of them put together field by field."""
        parts = min(len(options), FIELDS) + 2
        singles = self.candidates([(change,) for changes in options.values() for change in changes])
        tell(1, parts)
        best = {field: [s for s in singles if s.changes[0].control.field == field] for field in options}
        ranked = sorted(
            (sorted(found, key=lambda s: -s.gain) for found in best.values() if found),
            key=lambda found: -found[0].gain,
        )
        ranked = [found for found in ranked if found[0].gain >= self.aim.reading.told_from / 2]
        found, front = list(singles), [_Candidate((), self.variant, 0.0)]
        for n, of_field in enumerate(ranked[:FIELDS]):
            values = [single.changes[0] for single in of_field[: VALUES // 2 + 1]]
            grown = self.candidates([(*kept.changes, value) for kept in front for value in values])
            found += [c for c in grown if len(c.changes) > 1]
            front = sorted([*front, *grown], key=lambda c: -c.gain)[:WIDTH]
            tell(n + 2, parts)
        return found

    def candidates(self, sets: list[tuple[FieldChange, ...]]) -> list[_Candidate]:
        """Those sets of changes that a lifter could do, with their plain gain."""
        made: list[tuple[tuple[FieldChange, ...], Variant]] = []
        for changes in sets:
            try:
                made.append((changes, changed(self.variant, tuple(c.setting for c in changes))))
            except CurveRankError:
                continue
        models = self.modeller.model(tuple(v for _, v in made), self.body, effort=self.effort)
        return [
            _Candidate(changes, variant, self._gain(model))
            for (changes, variant), model in zip(made, models, strict=True)
            if isinstance(model, VariantModel) and self._may_be(model)
        ]

    def report(self, found: list[_Candidate], tell: Tell) -> Search:
        """The best of what was found, on the fixed draws."""
        singles = _best([c for c in found if len(c.changes) == 1], 2 * SINGLES, all_of_them=len(found) <= FEW)
        together = _best([c for c in found if len(c.changes) > 1], TOGETHER, all_of_them=len(found) <= FEW)
        chosen = [*singles, *together]
        before, *after = self.draw((self.variant, *(c.variant for c in chosen)))
        told = [self._improvement(c, before, drawn) for c, drawn in zip(chosen, after, strict=True)]
        helps = sorted(
            (i for i in told if i is not None and self.aim.sign * i.gain.spread.median > 0),
            key=lambda i: -self.aim.sign * i.gain.spread.median,
        )
        tell(1, 1)
        alone = [i for i in helps if len(i.changes) == 1]
        several = next((i for i in helps if len(i.changes) > 1), None)
        best = abs(alone[0].gain.spread.median) if alone else 0.0
        better = several if several and abs(several.gain.spread.median) > best else None
        return Search(self.aim, _one_a_field(alone)[:SINGLES], better, len(found))

    def _improvement(self, candidate: _Candidate, before: Readings, after: Readings) -> Improvement | None:
        def change(reading: Reading) -> Difference:
            return difference(reading.values(before, self.aim.head), reading.values(after, self.aim.head))

        for kept in self.aim.keep:
            least = kept.values(before, self.aim.head)
            if not _is_kept(kept, float(np.median(least)), change(kept).spread.median):
                return None
        worse = [
            Cost(q, change(q)) for q in all_readings().values() if q.better and q.key != self.aim.reading.key
        ]
        costs = tuple(c for c in worse if _is_cost(c))
        return Improvement(candidate.changes, candidate.variant, change(self.aim.reading), costs)

    def _gain(self, model: VariantModel) -> float:
        values = self.aim.reading.values
        return self.aim.sign * float(
            values(model.readings, self.aim.head) - values(self.start.readings, self.aim.head)
        )

    def _may_be(self, model: VariantModel) -> bool:
        """Whether a lifter could do it, it is still a rep, and what is to be kept is nearly kept."""
        angle, was = (float(np.ptp(m.along("angle"))) for m in (model, self.start))
        if angle < LEAST_TRAVEL * was:
            return False
        broken = objections(model)
        if broken and broken.keys() - objections(self.start).keys():
            return False
        return all(self._nearly_kept(kept, model) for kept in self.aim.keep)

    def _nearly_kept(self, kept: Reading, model: VariantModel) -> bool:
        """On plain readings, with as much room again as the draws' medians are given."""
        before, after = (float(kept.values(m.readings, self.aim.head)) for m in (self.start, model))
        return _is_kept(kept, before, after - before, room=2)


def _best(candidates: list[_Candidate], most: int, *, all_of_them: bool) -> list[_Candidate]:
    """The candidates with the largest plain gain; all where there are few."""
    ordered = sorted(candidates, key=lambda c: -c.gain)
    return ordered if all_of_them else [c for c in ordered[:most] if c.gain > 0]


def _one_a_field(improvements: list[Improvement]) -> tuple[Improvement, ...]:
    """Of each field its best change."""
    first: dict[str, Improvement] = {}
    for one in improvements:
        first.setdefault(one.changes[0].control.field, one)
    return tuple(first.values())


def _is_kept(reading: Reading, before: float, change: float, room: float = 1.0) -> bool:
    worse = -change if reading.better == "up" else change
    return worse <= room * max(KEPT * abs(before), 1e-9)


def _is_cost(cost: Cost) -> bool:
    told = cost.difference.spread.median
    worse = -told if cost.reading.better == "up" else told
    return worse >= cost.reading.told_from and cost.difference.chance >= resolved()
