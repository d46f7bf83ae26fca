"""What a plan has to know of a variant for one body: whom it works, where, how heavy, what it strains."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Protocol, TypeVar

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import effort_for_reps, effort_of, reps_of, usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.coverage import cells_of, coverage
from curve_rank.practice.rooms import Room, load_nearest
from curve_rank.practice.rules import rule
from curve_rank.practice.sets import Draw, is_heavy
from curve_rank.rating.criteria import carried
from curve_rank.rating.joints import joints
from curve_rank.rating.modelling import Modeller, VariantModel, content_keys
from curve_rank.rating.similar import curve_of
from curve_rank.rating.targets import targets
from curve_rank.study.compare import median_tension
from curve_rank.study.schemes import tempo_of

FEW_REPS = 4
"""The other repetitions at which loads are worked out: over the effort they lie on a line."""


LEAST_RATIO = 0.05
"""A load so unsure that its low end would be nothing counts as this part of its middle [1]."""


class LoadLine(Protocol):
    """A variant whose load lies on a line over the effort, as far as a set of it is to be read."""

    @property
    def variant(self) -> Variant: ...
    @property
    def on_hands(self) -> float: ...
    @property
    def slope(self) -> float: ...
    @property
    def base(self) -> float: ...


@dataclass(frozen=True)
class Line:
    """The least that is a `LoadLine`: as in `Facts`."""

    variant: Variant
    on_hands: float
    slope: float
    base: float


def lines_for(variants: Sequence[Variant], body: Body, modeller: Modeller) -> dict[str, Line]:
    """Lines of those variants that can be modelled, by id: without any draw."""
    usual, few = usual_effort(), effort_for_reps(FEW_REPS)
    models = modeller.able(tuple(variants), body, effort=usual)
    heavier = modeller.able(tuple(m.variant for m in models), body, effort=few)
    loads = {m.variant.id: m.load for m in heavier}
    return {m.variant.id: _line(m, loads.get(m.variant.id, m.load)) for m in models}


def _line(modelled: VariantModel, heavier: float) -> Line:
    """From the loads for the usual repetitions and for few [kg]."""
    usual, few = usual_effort(), effort_for_reps(FEW_REPS)
    slope = (heavier - modelled.load) / (few - usual)
    hands = carried(modelled.variant) * modelled.body.mass
    return Line(modelled.variant, hands, slope, modelled.load - slope * usual)


@dataclass(frozen=True)
class Facts:
    """One variant, for one body.

    Attributes
    ----------
    variant : Variant
        Its document, as it is done.
    on_hands : float
        What the hands carry of the body [kg].
    counts : dict
        Per head of its group, which part of a set counts for it [0–1].
    long, short : dict
        Tension placed long and short in a repetition [of peak force].
    strain : dict
        Per joint [0–1].
    slope, base : float
        The load over the effort: base + slope × effort [kg].
    low_ratio : float
        What the hands hold at the low end of the interval over its middle [1].
    covers : frozenset of str
        Names of cells.
    curve : array
        By which it is alike to others.
    """

    variant: Variant
    on_hands: float
    counts: dict[str, float]
    long: dict[str, float]
    short: dict[str, float]
    strain: dict[str, float]
    slope: float
    base: float
    low_ratio: float
    covers: frozenset[str]
    curve: Array

    @property
    def group(self) -> str:
        """Flexors or extensors."""
        return self.variant.group

    @property
    def heavy(self) -> bool:
        """Whether it is a heavy basic lift."""
        return is_heavy(self.variant)

    @property
    def hungry(self) -> bool:
        """Whether it asks much of the elbow."""
        return self.strain["elbow"] >= rule("warm_up.hungry")

    @property
    def deep_overhead(self) -> bool:
        """Whether the upper arm is held so far overhead that a cold joint should not begin with it."""
        posture = self.variant.posture
        return posture is not None and posture.upper_arm >= rule("warm_up.overhead")

    @property
    def in_part(self) -> bool:
        """Whether its own guide moves the elbow through a part of its way alone."""
        elbows = [key.elbow for key in self.variant.path or () if getattr(key, "elbow", None) is not None]
        return len(elbows) > 1 and max(elbows) - min(elbows) < rule("warm_up.whole_range")

    @property
    def seconds(self) -> float:
        """Of one repetition at its own tempo [s]."""
        return tempo_of(self.variant).total

    def load_for(self, reps: float, *, low: bool = True) -> float:
        """The load for so many repetitions to failure, at the low end of what is likely [kg]."""
        load = self.base + self.slope * effort_of(reps)
        return (load + self.on_hands) * self.low_ratio - self.on_hands if low else load

    def load_near(self, room: Room, reps: float) -> float:
        """The room's step that is nearest to the middle of what is likely [kg].

        One over it is taken only up to half of what lies between the middle and the low end: what is too
        heavy ends early.
        """
        load = self.load_for(reps, low=False)
        most = (load + self.on_hands) * (1 + (1 - self.low_ratio) / 2) - self.on_hands
        return load_nearest(room, self.variant, load, most)

    def reps_at(self, load: float) -> float:
        """Repetitions to failure with a load, by the middle of what is likely [1]."""
        return reps_of((load - self.base) / self.slope)

    def alike(self, other: Facts) -> bool:
        """Whether two have nearly the same curve."""
        if self.group != other.group:
            return False
        apart = float(np.sqrt(np.mean((self.curve - other.curve) ** 2)))
        return apart < rule("choose.alike")


AnyLine = TypeVar("AnyLine", Line, Facts)


def times(line: AnyLine, factor: float) -> AnyLine:
    """The same, where the hands hold so many times as much at every effort [1]."""
    base = (line.base + line.on_hands) * factor - line.on_hands
    return replace(line, base=base, slope=line.slope * factor)


def facts_for(
    variants: Sequence[Variant], everything: Sequence[Variant], body: Body, modeller: Modeller, draw: Draw
) -> dict[str, Facts]:
    """Facts of those variants that can be modelled, by id.

    Parameters
    ----------
    variants : sequence of Variant
        As they are done, fitted where they are.
    everything : sequence of Variant
        The whole catalogue, over whose best it is told what covers what.
    body : Body
        With the strength that a known set explains.
    modeller : Modeller
        Models set-ups, and keeps what it has modelled.
    draw : callable
        Makes, or finds, the fixed draws.
    """
    usual = usual_effort()
    models = modeller.able(tuple(variants), body, effort=usual)
    drawn = draw(tuple(m.variant for m in models), body, usual)
    few = effort_for_reps(FEW_REPS)
    heavier = modeller.able(tuple(m.variant for m in models), body, effort=few)
    other = {m.variant.id: m.load for m in heavier}
    heads = tuple(key for key, target in targets().items() if target.heads == (key,))
    whole = coverage(heads, models, drawn, _best(heads, everything, body, modeller, draw))
    covered, cells = whole.covered, cells_of(heads)
    found = {}
    for n, (modelled, readings) in enumerate(zip(models, drawn, strict=True)):
        tension, drive = median_tension(readings), np.median(readings.mean_drive, axis=1)
        own = [h for h in heads if targets()[h].group == modelled.variant.group]
        places = {h: modelled.anatomy.index(h) for h in own}
        most = max(float(drive[at]) for at in places.values())
        line = _line(modelled, other.get(modelled.variant.id, modelled.load))
        hands = line.on_hands
        low, middle = np.quantile(readings.load, (0.1, 0.5))
        found[modelled.variant.id] = Facts(
            variant=modelled.variant,
            on_hands=hands,
            counts={h: float(drive[at]) / max(most, 1e-9) for h, at in places.items()},
            long={h: float(tension[at, 0]) for h, at in places.items()},
            short={h: float(tension[at, 2]) for h, at in places.items()},
            strain={key: float(np.median(joint.strain(readings, body))) for key, joint in joints().items()},
            slope=line.slope,
            base=line.base,
            low_ratio=max(float((low + hands) / max(middle + hands, 1e-9)), LEAST_RATIO),
            covers=frozenset(cells[i].name for i in np.flatnonzero(covered[n])),
            curve=curve_of(modelled, modeller).ravel(),
        )
    return found


def _best(
    heads: Sequence[str], everything: Sequence[Variant], body: Body, modeller: Modeller, draw: Draw
) -> Array:
    """The most that anything in the catalogue places in each cell, worked out once a body."""
    usual = usual_effort()

    def make() -> Array:
        models = modeller.able(tuple(everything), body, effort=usual)
        return coverage(heads, models, draw(tuple(m.variant for m in models), body, usual)).best

    return modeller.once(("best placed", *content_keys(tuple(everything), body, usual)), make)
