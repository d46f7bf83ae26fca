"""What a rep is before it is modelled: its posture, loads, support, and how far off it may be set up."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from curve_rank.arm.arrays import Array, BoolArray, Index, for_arms, of_arms
from curve_rank.arm.body import Body
from curve_rank.arm.hand_path import HandTrack, arm_angles
from curve_rank.arm.lines import BodyWeight, Line, LineGroup, grouped
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Posture, stacked
from curve_rank.arm.ranges import SHOULDER_RANGE
from curve_rank.errors import BadInputError

SAMPLES = 41
DEFAULT_EFFORT_REPS = 10
LINKS = ("elbow", "elbow_return", "wrist", "shoulder")


@dataclass(frozen=True)
class RepSetup:
    """One rep to be modelled.

    Attributes
    ----------
    posture : Posture
        Angles of shape (samples,), from the target group's stretched end to its short end, evenly spaced
        in the rep coordinate.
    lines : tuple of Line
    flexes : bool
        True when the elbow flexors are the target, False for the extensors.
    grip : str
        One of `actuators.GRIPS`: how well the handle resists the forearm's turning.
    upper_arm_supported : bool
        Something else holds the upper arm, so the shoulder balance is not asked.
    hip_height : float
        [m]
    hip_spread : float
        One standard deviation of it [m].
    coordinate : str
        "elbow", or "shoulder" for straight-arm work: the angle the rep is measured in, and the joint whose
        moment is its demand.
    hand : HandTrack, optional
        Where the posture came from a hand path: the path at the samples.
    from_vertical : bool
        The upper arm is set from the vertical, so turning the trunk turns the shoulder's angle with it.
    tied : bool
        A bar, the floor or a fixed handle ties the hands to their path, so a lifter finds the same one again.
    """

    posture: Posture
    lines: tuple[Line, ...]
    flexes: bool
    grip: str
    upper_arm_supported: bool
    hip_height: float
    coordinate: str = "elbow"
    hand: HandTrack | None = None
    from_vertical: bool = False
    hip_spread: float = 0.0
    tied: bool = False


@dataclass(frozen=True)
class Shift:
    """A set-up a little off what was meant; of several arms together every number is an array (reps, 1).

    Attributes
    ----------
    trunk, upper_arm : float
        [degrees]
    hips : float
        Hip height off, in standard deviations of the kind of base [1].
    pulley : array, shape (3, 1, 1) or (3, reps, 1)
        [m]
    band : float
        Exponent on a band's tension over its tension at stretch 1: its curve's shape.
    sideways, carried : float
        Times the sideways forces, and times the part of the body on the hands where the feet share it [1].
    """

    trunk: float | Array = 0.0
    upper_arm: float | Array = 0.0
    hips: float | Array = 0.0
    pulley: Array = field(default_factory=lambda: np.zeros((3, 1, 1)))
    band: float | Array = 1.0
    sideways: float | Array = 1.0
    carried: float | Array = 1.0


def effort_for_reps(reps: float) -> float:
    """Effort at which `reps` repetitions end in failure: 1/(1 + n/30), trusted from 1 to 20."""
    if not 1 <= reps <= 20:
        raise BadInputError("reps", reps, "1 to 20 repetitions, where the rule is trusted")
    return effort_of(reps)


def usual_effort() -> float:
    """Effort of the usual set, of `DEFAULT_EFFORT_REPS` repetitions to failure."""
    return effort_for_reps(DEFAULT_EFFORT_REPS)


def effort_of(reps: float) -> float:
    """The same rule for any repetitions, also where it is not trusted."""
    return 1 / (1 + reps / parameter_set().number("readings.reps_constant"))


def reps_of(effort: float) -> float:
    """Repetitions to failure at an effort, by the same rule; none at a full effort or more [1]."""
    constant = parameter_set().number("readings.reps_constant")
    return max(constant * (1 / effort - 1), 0.0) if effort > 0 else np.inf


def least_load(setup: RepSetup, body: Body) -> float:
    """The least load [kg]: 0, or less where the body's own weight can be taken off."""
    hung = [line for line in setup.lines if isinstance(line, BodyWeight) and line.load_part > 0]
    return -max((0.98 * body.mass * line.carried / line.load_part for line in hung), default=0.0)


def in_hand(setup: RepSetup, body: Body, load: float) -> float:
    """What the right hand holds of a load, and of the body [kg]."""
    return sum(
        line.load_part * load + (line.carried * body.mass if isinstance(line, BodyWeight) else 0.0)
        for line in setup.lines
    )


@dataclass(frozen=True)
class RepStack:
    """Several reps as arrays, made once and modelled as often as wanted.

    Attributes
    ----------
    setups : tuple of RepSetup
    posture : Posture
        Angles (reps, samples).
    lines : tuple of LineGroup
    hip_height, hip_spread, direction, from_vertical, loose : array, shape (reps, 1)
        [m], [m]; +1 for flexors and −1 for extensors; 1 where the upper arm is set from the vertical; 1 where
        angles may be set up a little off, 0 where something ties the hands.
    straight_arm, unsupported : array of bool, shape (reps, 1)
        Whether the shoulder is the rep's own joint, and whether it must hold the upper arm.
    by_hand : array of int
        Reps that follow a hand path.
    hand : HandTrack or None
        Their paths, shape (reps by hand, samples).
    """

    setups: tuple[RepSetup, ...]
    posture: Posture
    lines: tuple[LineGroup, ...]
    hip_height: Array
    hip_spread: Array
    direction: Array
    from_vertical: Array
    loose: Array
    straight_arm: BoolArray
    unsupported: BoolArray
    by_hand: Index
    hand: HandTrack | None

    def of_arms(self, arms: int) -> RepStack:
        """The same reps for so many arms, each arm's in a row."""

        def again(values: Array) -> Array:
            return np.concatenate([values] * arms, axis=-2)

        reps, columns = len(self.setups), ("hip_height", "hip_spread", "direction", "from_vertical", "loose")
        return RepStack(
            setups=self.setups * arms,
            posture=Posture(**{name: again(values) for name, values in vars(self.posture).items()}),
            lines=tuple(group.of_arms(arms, reps) for group in self.lines),
            straight_arm=np.tile(self.straight_arm, (arms, 1)),
            unsupported=np.tile(self.unsupported, (arms, 1)),
            by_hand=for_arms(self.by_hand, arms, reps),
            hand=self.hand and HandTrack(**{name: again(v) for name, v in vars(self.hand).items()}),
            **{name: again(getattr(self, name)) for name in columns},
        )


def stack_reps(setups: tuple[RepSetup, ...]) -> RepStack:
    """Several reps, all with the same number of samples, as arrays."""
    paths = [setup.hand for setup in setups if setup.hand is not None]
    hand = None
    if paths:
        hand = HandTrack(
            np.stack([p.point for p in paths], axis=1),
            np.stack([p.elbow_towards for p in paths], axis=1),
            np.stack([p.flare for p in paths]),
        )
    return RepStack(
        setups=setups,
        posture=stacked([setup.posture for setup in setups]),
        lines=grouped(tuple(setup.lines for setup in setups)),
        hip_height=np.array([[setup.hip_height] for setup in setups]),
        hip_spread=np.array([[setup.hip_spread] for setup in setups]),
        direction=np.array([[1.0 if setup.flexes else -1.0] for setup in setups]),
        from_vertical=np.array([[float(setup.from_vertical)] for setup in setups]),
        loose=np.array([[float(not setup.tied)] for setup in setups]),
        straight_arm=np.array([[setup.coordinate == "shoulder"] for setup in setups]),
        unsupported=np.array([[not setup.upper_arm_supported] for setup in setups]),
        by_hand=np.flatnonzero([setup.hand is not None for setup in setups]).astype(np.intp),
        hand=hand,
    )


def shifted(stack: RepStack, shift: Shift, body: Body) -> Posture:
    """Postures (reps, samples) of the same reps set up a little off."""
    posture = stack.posture
    angles = dict(vars(posture))
    trunk, upper_arm = stack.loose * shift.trunk, stack.loose * shift.upper_arm
    angles["trunk_pitch"] = posture.trunk_pitch + trunk
    turn = upper_arm + stack.from_vertical * trunk
    angles["shoulder"] = np.clip(posture.shoulder + turn, *SHOULDER_RANGE)
    if stack.hand is not None:
        flare = upper_arm[stack.by_hand]
        followed = arm_angles(stack.hand.flared(flare), of_arms(body, stack.by_hand), check=False)
        for name, values in vars(followed).items():
            angles[name] = angles[name].copy()
            angles[name][stack.by_hand] = values
    return Posture(**angles)
