"""A room's real steps: which dumbbells, plates and stacks there are, and what can be loaded with them."""

from __future__ import annotations

from functools import lru_cache
from itertools import combinations, product
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from curve_rank.arm.arrays import Array
from curve_rank.catalogue.schema import Variant
from curve_rank.practice.units import HALF_POUND, KG_PER_LB, Unit, mass_shown

Kilograms = Annotated[float, Field(gt=0, le=500, allow_inf_nan=False)]
List = Annotated[tuple[Kilograms, ...], Field(max_length=60)]
ALREADY_SMALL = 1e-6
SAME_LOAD = 1e-3
"""Loads that differ by less are one [kg]."""
PLATE_PAIRS = 12
"""Kinds of plate whose every combination is worked out."""


BARS = ("barbell", "angled_bar", "neutral_bar")
"""Where one of them stands, plates do."""
HELP = ("cable", "machine", "band")
"""What can take weight off somebody who hangs or presses."""


class Room(BaseModel):
    """What stands in a room, with its steps.

    Attributes
    ----------
    name : str
    unit : str
        "kg" or "lb": what stands on its equipment, whatever whoever trains there reads.
    equipment : tuple of str
        Kinds of load and bench; empty for everything.
    dumbbells_kg : tuple of float
        One by one.
    bar_kg, angled_bar_kg, neutral_bar_kg : float
    plates_kg : tuple of float
        Kinds there is at least a pair of.
    stack_from_kg, stack_to_kg, stack_step_kg : float
        Of cables and machines.
    bands_kg : tuple of float
        Each by what it pulls at twice its slack length; two may be taken together. Empty for any pull.
    pulley_m : tuple of float
        Heights of the pulley's holes over the floor; empty for any.
    bench_deg : tuple of float
        Angles of the bench's back from the floor; empty for any.
    stations : int
        Cable stations, so many exercises can stand on one at once.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: Annotated[str, Field(min_length=1, max_length=80)] = "Any gym"
    unit: Unit = "kg"
    equipment: tuple[str, ...] = ()
    dumbbells_kg: List = tuple(float(n) for n in (*range(1, 10), *range(10, 42, 2)))
    bar_kg: Kilograms = 20.0
    angled_bar_kg: Kilograms = 8.0
    neutral_bar_kg: Kilograms = 10.0
    plates_kg: List = (1.25, 2.5, 5.0, 10.0, 15.0, 20.0)
    stack_from_kg: Kilograms = 2.5
    stack_to_kg: Kilograms = 100.0
    stack_step_kg: Kilograms = 2.5
    bands_kg: List = ()
    pulley_m: Annotated[tuple[Annotated[float, Field(ge=0, le=3)], ...], Field(max_length=40)] = ()
    bench_deg: Annotated[tuple[Annotated[float, Field(ge=0, le=90)], ...], Field(max_length=12)] = ()
    stations: Annotated[int, Field(ge=1, le=20)] = 1

    @model_validator(mode="after")
    def _stack_rises(self) -> Room:
        if self.stack_to_kg < self.stack_from_kg:
            raise ValueError("stack_to_kg must be at least stack_from_kg")
        return self


def usual_room(unit: str) -> Room:
    """Any gym, where a unit is usual."""
    return room_in_pounds(Room().name) if unit == "lb" else Room()


def room_in_pounds(name: str) -> Room:
    """A gym as it is where pounds are used: dumbbells and stacks by 2.5 and 5 lb, a bar of 45 lb."""
    dumbbells = (*np.arange(2.5, 20, 2.5), *np.arange(20, 105, 5))
    return Room(
        name=name,
        unit="lb",
        dumbbells_kg=tuple(float(pounds) * KG_PER_LB for pounds in dumbbells),
        bar_kg=45 * KG_PER_LB,
        angled_bar_kg=18 * KG_PER_LB,
        neutral_bar_kg=22 * KG_PER_LB,
        plates_kg=tuple(pounds * KG_PER_LB for pounds in (2.5, 5, 10, 25, 35, 45)),
        stack_from_kg=5 * KG_PER_LB,
        stack_to_kg=220 * KG_PER_LB,
        stack_step_kg=5 * KG_PER_LB,
    )


def loads_in(room: Room, variant: Variant) -> Array | None:
    """Every load that the room allows a variant, rising; None where any is possible.

    Parameters
    ----------
    room : Room
        With its dumbbells, plates and stacks.
    variant : Variant
        The set-up.

    Returns
    -------
    array, shape (loads,), or None
        [kg], as the variant counts its load.
    """
    kinds, bar = set(variant.equipment.loads), _bar(room, variant)
    if bar is not None:
        return np.asarray(bar + 2 * _sums(room.plates_kg))
    if "dumbbell" in kinds:
        return np.array(sorted(set(room.dumbbells_kg))) / (1 - variant.band_part)
    if kinds & {"cable", "machine"}:
        count = int((room.stack_to_kg - room.stack_from_kg) / room.stack_step_kg + ALREADY_SMALL) + 1
        return np.asarray(room.stack_from_kg + room.stack_step_kg * np.arange(count))
    if "body_weight" in kinds:
        helped = -room.stack_step_kg * np.arange(20, 0, -1) if _has(room, *HELP) else np.empty(0)
        return np.concatenate([helped, _hung(room)])
    return np.array(sorted(_taken(room.bands_kg))) if room.bands_kg else None


def _has(room: Room, *kinds: str) -> bool:
    """Whether one of some kinds stands there; nothing ticked is everything."""
    return not room.equipment or any(kind in room.equipment for kind in kinds)


def _hung(room: Room) -> Array:
    """What can be hung from the belt, from nothing on: plates where there are bars, else a dumbbell [kg]."""
    if _has(room, *BARS):
        return _sums(room.plates_kg)
    return np.array([0.0, *(sorted(set(room.dumbbells_kg)) if _has(room, "dumbbell") else ())])


def _taken(bands: tuple[float, ...]) -> dict[float, tuple[float, ...]]:
    """What one band pulls, or two together, and which they are [kg]."""
    pairs = {a + b: (a, b) for a, b in combinations(sorted(bands), 2)}
    return pairs | {one: (one,) for one in bands}


def load_down(room: Room, variant: Variant, load: float) -> float:
    """The heaviest load of the room's that is not over a load; the lightest there is where all are [kg]."""
    steps = loads_in(room, variant)
    if steps is None:
        step = variant.equipment.smallest_step_kg
        return float(np.floor(load / step + ALREADY_SMALL) * step)
    under = steps[steps <= load + ALREADY_SMALL]
    return float(under[-1] if under.size else steps[0]) if steps.size else load


def on_step(room: Room | None, variant: Variant, load: float) -> float:
    """The room's step that a load reads alike with, or the load itself: 33 lb are the pin at 15 kg [kg]."""
    steps = loads_in(room, variant) if room is not None else None
    if steps is None or not steps.size:
        return load
    nearest = float(steps[np.abs(steps - load).argmin()])
    return nearest if abs(nearest - load) <= HALF_POUND else load


def is_a_step(room: Room, variant: Variant, load: float) -> bool:
    """Whether the room allows a load."""
    steps = loads_in(room, variant)
    return steps is None or bool((np.abs(steps - load) < SAME_LOAD).any())


def _bar(room: Room, variant: Variant) -> float | None:
    """What the bar weighs that a variant is done with; None for one without [kg]."""
    bars = {"barbell": room.bar_kg, "angled_bar": room.angled_bar_kg, "neutral_bar": room.neutral_bar_kg}
    return next((bars[kind] for kind in bars if kind in variant.equipment.loads), None)


@lru_cache(maxsize=8)
def _stacks(plates: tuple[float, ...]) -> dict[float, tuple[float, ...]]:
    """What plates can add to one side, and which: each kind used or not, the largest up to three times.

    At most 12,288 stacks of a room, some 2 MB.
    """
    kinds = sorted(set(plates))[-PLATE_PAIRS:]
    found: dict[float, tuple[float, ...]] = {}
    for more in range(3 if kinds else 1):
        for used in product(*((0.0, kind) for kind in kinds)):
            picked = sorted([kind for kind in used if kind] + kinds[-1:] * more, reverse=True)
            found.setdefault(sum(used) + more * kinds[-1] if kinds else 0.0, tuple(picked))
    return found


def _sums(plates: tuple[float, ...]) -> Array:
    """What plates can add to one side, rising [kg]."""
    return np.array(sorted(_stacks(plates)))


def load_up(room: Room | None, variant: Variant, load: float) -> float | None:
    """The next load over one: the room's smallest step there, or the variant's own; None at the end [kg]."""
    steps = loads_in(room, variant) if room is not None else None
    if steps is None:
        step = variant.equipment.smallest_step_kg
        return float(np.floor(load / step + 1 + ALREADY_SMALL) * step)
    over = steps[steps > load + 1e-3]
    return float(over[0]) if over.size else None


def load_nearest(room: Room, variant: Variant, load: float, most: float) -> float:
    """The room's step that is nearest to a load; the one under it where that over it is over `most` [kg]."""
    under, over = load_down(room, variant, load), load_up(room, variant, load)
    return over if over is not None and over <= most and over - load < load - under else under


def load_under(room: Room | None, variant: Variant, load: float) -> float:
    """The next load under one, or itself where there is none [kg]."""
    steps = loads_in(room, variant) if room is not None else None
    if steps is None:
        step = variant.equipment.smallest_step_kg
        lower = float(np.ceil(load / step - 1 - ALREADY_SMALL) * step)
        return lower if lower > 0 or "body_weight" in variant.equipment.loads else load
    under = steps[steps < load - 1e-3]
    return float(under[-1]) if under.size else load


def plates_for(room: Room, variant: Variant, load: float) -> str:
    """What to take, in words, as the room marks it: which dumbbell, which plates on each side, which pin."""
    kinds, bar = set(variant.equipment.loads), _bar(room, variant)

    def shown(kilograms: float) -> str:
        return mass_shown(kilograms, room.unit)

    def plain(some: tuple[float, ...]) -> str:
        return " + ".join(shown(one).rpartition(" ")[0] for one in some)

    if not load:
        return ""
    if variant.band is not None:
        pull = load * variant.band_part
        taken = _taken(room.bands_kg).items()
        picked = next((some for whole, some in taken if abs(whole - pull) < SAME_LOAD), ())
        bands = f"bands {plain(picked)} {room.unit}, which pull" if len(picked) > 1 else "a band that pulls"
        beside = f"{_dumbbells(variant)} of {shown(load - pull)} and " if "dumbbell" in kinds else ""
        return f"{beside}{bands} {shown(pull)} at {variant.band.said_at:g} m"
    if bar is not None:
        side = (load - bar) / 2
        picked = plates_of(room.plates_kg, side)
        if not picked:
            return f"the empty bar ({shown(bar)})" if side < ALREADY_SMALL else ""
        return f"bar {shown(bar)}, each side {plain(picked)}"
    if "dumbbell" in kinds:
        return f"{_dumbbells(variant)} of {shown(load)}"
    if kinds & {"cable", "machine"}:
        return f"pin at {shown(load)}"
    return _from_the_belt(room, load) if "body_weight" in kinds and load > 0 else ""


def _from_the_belt(room: Room, load: float) -> str:
    """What to hang there, in words."""
    if not _has(room, *BARS):
        return f"hang the dumbbell of {mass_shown(load, room.unit)} from the belt"
    picked = [mass_shown(one, room.unit).rpartition(" ")[0] for one in plates_of(room.plates_kg, load)]
    return f"hang {' + '.join(picked)} {room.unit} from the belt" if picked else ""


def _dumbbells(variant: Variant) -> str:
    pair = variant.equipment.arms == 2 and variant.equipment.hands == 1
    return "two dumbbells" if pair else "the dumbbell"


def plates_of(plates: tuple[float, ...], side: float) -> tuple[float, ...]:
    """Plates that make up a side, largest first; empty where none do."""
    return next((picked for total, picked in _stacks(plates).items() if abs(total - side) < 1e-3), ())
