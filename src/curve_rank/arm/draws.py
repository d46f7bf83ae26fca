"""Draws of the arm: other arms and other set-ups that the parameters' spreads allow.

Every number that may be off has one standard normal deviate in a draw. One set of draws serves all
variants, so that differences between them are fair. Lengths follow the drawn moment arms, because both
come from one potential.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from functools import cache
from io import BytesIO
from statistics import NormalDist

import numpy as np

from curve_rank.arm.actuators import Capacities, capacities_of_arms, default_capacities
from curve_rank.arm.arrays import Array, by_arm
from curve_rank.arm.body import SEGMENT_RANGES, Body, bodies_of_arms
from curve_rank.arm.muscle import (
    Anatomy,
    ArmCurves,
    anatomy_of_arms,
    default_anatomy,
    elbow_curves_below,
    with_curves,
)
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import LengthScale, Readings, read_reps
from curve_rank.arm.rep import RepBatch, model_reps
from curve_rank.arm.rep_setup import RepStack, Shift
from curve_rank.data_files import read_bytes

NORMAL = NormalDist()
SETUP = (
    "setup.trunk",
    "setup.upper_arm",
    "setup.hips",
    "setup.pulley_forward",
    "setup.pulley_up",
    "setup.pulley_right",
)
LINES = {"band": "band.tension", "sideways": "press.sideways", "carried": "press.carried"}
"""Numbers of the lines of force, by the name in a shift that they are drawn under."""
CURVES = ("active_width", "passive_strain")
"""Numbers of all heads' force–length curves."""
SCALES = {"muscle.force_scale_flexors": 1.0, "muscle.force_scale_extensors": -1.0}
"""Fitted scales of force, by the sign of the heads they scale."""
FIXED, FIXED_DRAWS = -1, 64
"""Seed of the fixed set of draws, whose medians are printed, and how many there are: a power of two."""
SCRAMBLE = 7
"""Which scramble of the even sequence the fixed draws are: of a few dozen, the one whose loads, their
relations and intervals come nearest to those of thousands of fresh draws."""
EVEN, EVEN_BITS = "even_draws.npy", 30
"""The file of their even sequence, and the bits of its numbers."""
APART = -2
"""Seed of draws with one number alone off: first none, then each by a spread up and by one down."""
LEAST_RISE = 0.05
"""Least part of a head's range over which "long" becomes whole [1]."""
LEAST_STRENGTH = 0.2
"""Least strength that is drawn of somebody of whom no set is known, over what is said [1]."""
LENGTHS = {"upper_arm_m": "upper_arm_length", "forearm_m": "forearm_length", "grip_m": "grip_distance"}
OF_HEADS = (
    "elbow_arm",
    "elbow_arm_low",
    "forearm_scale",
    "forearm_arm",
    "shoulder_arm",
    "peak_force",
    "reference_length",
)


@dataclass(frozen=True)
class ArmDraw:
    """One draw: an arm, its other actuators, a body and a set-up a little off; or several together.

    Attributes
    ----------
    anatomy, capacities, body, shift
    exponent : float
        Of load sharing.
    lengths : LengthScale
        Where "long" begins and is whole.
    """

    anatomy: Anatomy
    capacities: Capacities
    body: Body
    shift: Shift
    exponent: float | Array
    lengths: LengthScale


@cache
def uncertain() -> tuple[str, ...]:
    """Names of everything that is drawn, in the order of the deviates: parameter keys and set-up parts."""
    parameters = parameter_set()
    names = [
        f"heads.{head.key}.{name}"
        for name in OF_HEADS
        for head in parameters.heads
        if _spread(f"heads.{head.key}.{name}") > 0
    ]
    names += [p.key for p in parameters if p.key.startswith("helpers.") and p.spread > 0]
    names += [f"body.{name}" for name in (*LENGTHS.values(), "upper_arm_mass")]
    names += [f"muscle.{name}" for name in CURVES]
    others = (*SCALES, "sharing.exponent", "readings.long_from", "readings.long_to", *LINES.values())
    return (*names, *others, *SETUP)


def _deviates_at(parts: Array) -> Array:
    """The standard normal deviates below which these parts lie, in the same shape."""
    return np.fromiter(map(NORMAL.inv_cdf, parts.ravel()), float, parts.size).reshape(parts.shape)


@cache
def _even_deviates() -> Array:
    """Standard normal deviates of the fixed set of draws, (draws, len(uncertain())), evenly spread.

    A scrambled Sobol' sequence: its medians settle with fewer draws than those of independent deviates. It is
    read from a file (`scripts/write_even_draws`): to make it takes longer than all else that a command does.
    """
    even = np.load(BytesIO(read_bytes("curve_rank.arm", EVEN)))
    return _deviates_at(even / 2**EVEN_BITS)


def deviates(seed: int, draw: int) -> Array:
    """Standard normal deviates of one draw, in the order of `uncertain()`.

    Parameters
    ----------
    seed, draw : int
        The same pair gives the same deviates, whoever asks and in whatever order; of the seeds `FIXED` and
        `APART` there are `draws_of`.
    """
    if seed == FIXED:
        return np.asarray(_even_deviates()[draw])
    if seed == APART:
        return one_off((draw - 1) // 2, 0.0 if draw == 0 else 1.0 if draw % 2 else -1.0)
    return np.random.default_rng((seed, draw)).standard_normal(len(uncertain()))


@cache
def _even_strengths() -> Array:
    """Standard normal deviates of the fixed draws' strengths, (draws,), evenly spread."""
    order = np.random.default_rng((SCRAMBLE, FIXED_DRAWS)).permutation(FIXED_DRAWS)
    return _deviates_at((order + 0.5) / FIXED_DRAWS)


def person_deviate(seed: int, draw: int) -> float:
    """How strong somebody is among people of one level, in a draw [standard deviations].

    The fixed draws' are even, in an order of their own; among draws with one number off nobody strays.
    """
    if seed == APART:
        return 0.0
    if seed == FIXED:
        return float(_even_strengths()[draw])
    return float(np.random.default_rng((seed, draw, 1)).standard_normal())


def draws_of(seed: int) -> int:
    """How many draws there are of the seeds `FIXED` and `APART`."""
    return FIXED_DRAWS if seed == FIXED else 1 + 2 * len(uncertain())


def one_off(place: int, spreads: float) -> Array:
    """Deviates of an arm in which one number alone is off, by so many spreads."""
    return some_off({place: spreads})


def some_off(offs: Mapping[int, float]) -> Array:
    """Deviates of an arm in which some numbers, by their places, are off, each by so many spreads."""
    values = np.zeros(len(uncertain()))
    for place, spreads in offs.items():
        values[place] = spreads
    return values


def arm_draw(values: Array, body: Body) -> ArmDraw:
    """The arm and set-up that deviates stand for.

    Parameters
    ----------
    values : array, shape (len(uncertain()),)
        Deviates, in standard deviations, in the order of `uncertain()`.
    body : Body
        The person; measured lengths are kept as they are.
    """
    at = dict(zip(uncertain(), values.tolist(), strict=True))
    numbers = parameter_set().number
    angle, place = numbers("readings.setup_angle"), numbers("readings.setup_pulley")
    shift = Shift(
        trunk=angle * at["setup.trunk"],
        upper_arm=angle * at["setup.upper_arm"],
        hips=at["setup.hips"],
        pulley=place * np.array([[[at[name]]] for name in SETUP[3:]]),
        **{name: _factor(at, key) for name, key in LINES.items()},
    )
    least, most = numbers("sharing.exponent_least"), numbers("sharing.exponent")
    exponent = least + (most - least) * NORMAL.cdf(at["sharing.exponent"])
    start, end = (numbers(key) + _spread(key) * at[key] for key in ("readings.long_from", "readings.long_to"))
    lengths = LengthScale(start, max(end, start + LEAST_RISE))
    return ArmDraw(_anatomy(at), _capacities(at), _body(at, body), shift, exponent, lengths)


def with_body(draw: ArmDraw, values: Array, body: Body) -> ArmDraw:
    """A draw of the same deviates, for another person: only the body is drawn anew."""
    return replace(draw, body=_body(dict(zip(uncertain(), values.tolist(), strict=True)), body))


def as_strong(draw: ArmDraw, deviate: float) -> ArmDraw:
    """The draw as of somebody `deviate` spreads stronger than said; the same where the strength is known."""
    factor = max(LEAST_STRENGTH, 1 + draw.body.strength_spread * deviate)
    active = {
        name: value * factor
        for name, value in vars(draw.capacities).items()
        if name.startswith(("shoulder_", "wrist_")) and not name.endswith("_cost")
    }
    return replace(
        draw,
        anatomy=replace(draw.anatomy, peak_force=draw.anatomy.peak_force * factor),
        capacities=replace(draw.capacities, **active),
    )


def arms_together(arms: Sequence[ArmDraw], reps: int) -> ArmDraw:
    """Several draws as one, over arms · reps reps: what differs between arms is an array (…, reps, 1)."""

    def rows(part: str, kind: type[Shift] | type[LengthScale]) -> dict[str, Array]:
        return {
            f.name: by_arm([getattr(getattr(arm, part), f.name) for arm in arms], reps) for f in fields(kind)
        }

    shift = rows("shift", Shift)
    shift["pulley"] = shift["pulley"][:, 0, 0]
    return ArmDraw(
        anatomy=anatomy_of_arms([arm.anatomy for arm in arms], reps),
        capacities=capacities_of_arms([arm.capacities for arm in arms], reps),
        body=bodies_of_arms([arm.body for arm in arms], reps),
        shift=Shift(**shift),
        exponent=by_arm([arm.exponent for arm in arms], reps),
        lengths=LengthScale(**rows("lengths", LengthScale)),
    )


def read_draws(
    stack: RepStack,
    arms: Sequence[ArmDraw],
    *,
    effort: float,
    near_loads: Array,
    trunk_supported: tuple[bool, ...],
) -> Readings:
    """Readings of stacked reps with every one of several arms, S = (arms, reps).

    Parameters
    ----------
    stack : RepStack
        The reps, stacked.
    arms : sequence of ArmDraw
        The arms.
    effort : float
        Of the repetitions: the part of their strength that the hardest moment takes, 0 to 1.
    near_loads : array, shape (reps,)
        Working loads of the arm that was not drawn, to start the search from.
    trunk_supported : tuple of bool
        As in `read_reps`.
    """
    several = arms_together(arms, len(stack.setups))
    batch = _batch_of(stack, several, len(arms), effort, near_loads)
    readings = read_reps(batch, trunk_supported=trunk_supported * len(arms), lengths=several.lengths)
    return readings.by_draw(len(arms))


def load_draws(stack: RepStack, arms: Sequence[ArmDraw], *, effort: float, near_loads: Array) -> Array:
    """Working loads alone of stacked reps with every one of several arms, shape (arms, reps) [kg]."""
    several = arms_together(arms, len(stack.setups))
    batch = _batch_of(stack, several, len(arms), effort, near_loads)
    return np.asarray(batch.load).reshape(len(arms), len(stack.setups))


def _batch_of(stack: RepStack, several: ArmDraw, arms: int, effort: float, near_loads: Array) -> RepBatch:
    return model_reps(
        stack.of_arms(arms),
        body=several.body,
        effort=effort,
        anatomy=several.anatomy,
        capacities=several.capacities,
        shift=several.shift,
        near_loads=np.tile(near_loads, arms),
        exponent=several.exponent,
    )


def _spread(key: str) -> float:
    found = parameter_set().get(key)
    if found is None:
        return 0.0
    return found.number if key.endswith("elbow_arm_low") else found.spread


def _factor(at: dict[str, float], key: str) -> float:
    """One plus spread times deviate; never below a tenth."""
    return max(0.1, 1 + _spread(key) * at[key]) if key in at else 1.0


def _anatomy(at: dict[str, float]) -> Anatomy:
    base = default_anatomy()

    def factors(name: str) -> Array:
        return np.array([_factor(at, f"heads.{key}.{name}") for key in base.keys])

    elbow = _scaled(base.elbow_moment_arm, factors("elbow_arm"))
    low = _scaled(elbow_curves_below(), _extra_low(at, base.keys))
    force = factors("peak_force")
    for key, sign in SCALES.items():
        force = np.where(base.sign == sign, force * _factor(at, key), force)
    forearm_scale = base.forearm_scale * factors("forearm_scale")[:, None]
    reference = [f"heads.{key}.reference_length" for key in base.keys]
    return with_curves(
        replace(
            base,
            peak_force=base.peak_force * force,
            reference_length=base.reference_length
            + np.array([_spread(key) * at.get(key, 0.0) for key in reference]),
            forearm_scale=forearm_scale,
            **{name: getattr(base, name) * _factor(at, f"muscle.{name}") for name in CURVES},
        ),
        elbow_moment_arm=_sum(elbow, low),
        forearm_moment_arm=_scaled(base.forearm_moment_arm, factors("forearm_arm")),
        shoulder_moment_arm=_scaled(base.shoulder_moment_arm, factors("shoulder_arm")),
    )


def _extra_low(at: dict[str, float], heads: tuple[str, ...]) -> Array:
    """What is added to the low part of each elbow arm, so that its whole spread is the larger one."""
    result = np.zeros(len(heads))
    for i, head in enumerate(heads):
        key = f"heads.{head}.elbow_arm_low"
        if key in at:
            beyond = np.sqrt(max(0.0, _spread(key) ** 2 - _spread(f"heads.{head}.elbow_arm") ** 2))
            result[i] = max(-0.8, beyond * at[key])
    return result


def _scaled(curves: ArmCurves, factors: Array) -> ArmCurves:
    return ArmCurves(curves.first, curves.cubic * factors[:, None, None], curves.integral * factors[:, None])


def _sum(one: ArmCurves, other: ArmCurves) -> ArmCurves:
    return ArmCurves(one.first, one.cubic + other.cubic, one.integral + other.integral)


def _capacities(at: dict[str, float]) -> Capacities:
    base = default_capacities()
    others = {
        name: value * _factor(at, f"helpers.{name}") for name, value in vars(base).items() if name != "grips"
    }
    grips = {grip: value * _factor(at, f"helpers.grip_{grip}") for grip, value in base.grips.items()}
    return Capacities(grips, **others)


def _body(at: dict[str, float], body: Body) -> Body:
    present = {"upper_arm_m": body.upper_arm, "forearm_m": body.forearm, "grip_m": body.grip}
    lengths = {
        name: float(np.clip(length * _factor(at, f"body.{LENGTHS[name]}"), *SEGMENT_RANGES[name]))
        for name, length in present.items()
        if getattr(body, name) is None
    }
    return replace(body, **lengths, arm_mass=body.arm_mass * _factor(at, "body.upper_arm_mass"))
