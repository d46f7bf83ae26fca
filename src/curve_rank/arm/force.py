"""Lines of force and the moments they make about elbow, forearm, shoulder and wrist.

Every moment here is linear in the load, so a rep's moments are kept as a part per kilogram and a part
that is there without any load (the weight of the arm itself).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Frame, Posture, cross, dot, room_to_trunk, trunk_to_room
from curve_rank.errors import PostureError

Array = NDArray[np.float64]

NEAREST_PULLEY = 0.10
"""A pulley closer to the hand than this [m] gives no line of force worth the name."""


@dataclass(frozen=True)
class FreeWeight:
    """A weight in the hand: pulls straight down.

    Attributes
    ----------
    share : float
        Part of the load this line carries on the right hand [1].
    offset : float
        The weight's centre from the middle of the grip, + towards the thumb [m].
    sideways : float
        Share of the vertical force with which two hands on one bar press apart (+) or together (−).
    """

    share: float = 1.0
    offset: float = 0.0
    sideways: float = 0.0


@dataclass(frozen=True)
class Cable:
    """A cable from the hand to a pulley fixed in the room.

    Attributes
    ----------
    pulley : tuple of float
        Metres forward, up, right of the floor under the hip centre.
    share : float
        Part of the load this line carries on the right hand [1].
    from_middle : bool
        The cable leaves the middle of a bar held in both hands, not the hand itself.
    """

    pulley: tuple[float, float, float]
    share: float = 1.0
    from_middle: bool = False


Line = FreeWeight | Cable


@dataclass(frozen=True)
class Moments:
    """External moments [N·m] (or per kilogram), arrays of shape S; shoulder of shape (3, *S).

    `elbow` + flexes; `forearm` + pronates; `shoulder` in trunk axes (z flexes); `wrist` bends towards the
    palm (+), `wrist_side` towards the thumb (+).
    """

    elbow: Array
    forearm: Array
    shoulder: Array
    wrist: Array
    wrist_side: Array

    def __add__(self, other: Moments) -> Moments:
        return Moments(
            self.elbow + other.elbow,
            self.forearm + other.forearm,
            self.shoulder + other.shoulder,
            self.wrist + other.wrist,
            self.wrist_side + other.wrist_side,
        )


@dataclass(frozen=True)
class ExternalLoad:
    """What lies outside the muscles over a rep.

    Attributes
    ----------
    per_kg, static : Moments
        Moments per kilogram of load, and of the arm's own weight.
    pull : array, shape (3, *S)
        Sum of the load's forces on the right hand per kilogram, trunk frame [N/kg].
    lever : array, shape S
        Distance from the elbow's axis to the line of the external load [m].
    back : array, shape S
        Moment per kilogram of the load about the hips, in the side plane [N·m/kg], both hands.
    """

    per_kg: Moments
    static: Moments
    pull: Array
    lever: Array
    back: Array


def external_load(
    lines: tuple[Line, ...], frame: Frame, posture: Posture, body: Body, hip_height: float
) -> ExternalLoad:
    """Moments of the lines of force and of the arm's own weight.

    Parameters
    ----------
    lines : tuple of FreeWeight or Cable
        Their shares are of one load; several lines sum.
    frame : Frame
        Of `posture`, shape S.
    posture : Posture
    body : Body
    hip_height : float
        Hip centre above the floor [m].

    Returns
    -------
    ExternalLoad

    Raises
    ------
    PostureError
        When a pulley lies inside the body or comes within 0.1 m of the hand.
    """
    gravity = parameter_set().number("body.gravity")
    parts = [_on_hand(line, frame, posture, body, hip_height) for line in lines]
    moments = [hand_moments(frame, point, force) for point, force in parts]
    per_kg = moments[0]
    for more in moments[1:]:
        per_kg = per_kg + more
    pull = np.sum([force for _, force in parts], axis=0)
    size = np.sqrt(dot(pull, pull))
    return ExternalLoad(
        per_kg=per_kg,
        static=_arm_weight(frame, body, gravity),
        pull=pull,
        lever=np.abs(per_kg.elbow) / np.maximum(size, 1e-12),
        back=_about_hips(parts, posture, body),
    )


def hand_moments(frame: Frame, point: Array, force: Array) -> Moments:
    """Moments of a `force` [N] on the hand at `point` [m], both (3, *S), trunk frame."""
    about_elbow = cross(point - frame.elbow, force)
    about_wrist = cross(point - frame.wrist, force)
    return Moments(
        elbow=dot(frame.elbow_axis, about_elbow),
        forearm=-dot(frame.forearm, about_elbow),
        shoulder=cross(point, force),
        wrist=dot(frame.thumb, about_wrist),
        wrist_side=dot(cross(frame.hand, frame.thumb), about_wrist),
    )


def _on_hand(
    line: Line, frame: Frame, posture: Posture, body: Body, hip_height: float
) -> tuple[Array, Array]:
    """Point of application and force per kilogram of load of one line, both (3, *S)."""
    gravity = parameter_set().number("body.gravity")
    if isinstance(line, FreeWeight):
        point = frame.grip + line.offset * frame.thumb
        force = line.share * gravity * frame.down
        inward = np.zeros_like(force)
        inward[2] = -line.sideways * line.share * gravity
        return point, force + inward
    pulley = room_to_trunk(np.array(line.pulley), posture, body, hip_height)
    _refuse_pulley_in_body(pulley, line, body)
    start = frame.grip.copy()
    if line.from_middle:
        start[2] = -body.shoulder_half_width
    along = pulley - start
    distance = np.sqrt(dot(along, along))
    if float(distance.min()) < NEAREST_PULLEY:
        raise PostureError(
            "pulley", line.pulley, f"at least {NEAREST_PULLEY:g} m from the hand throughout the rep"
        )
    return frame.grip, line.share * gravity * along / distance


def _refuse_pulley_in_body(pulley: Array, line: Cable, body: Body) -> None:
    """The trunk and head as one upright ellipsoid-ended block around the spine."""
    half_depth, half_width = 0.07 * body.height, body.shoulder_half_width + 0.02
    inside = (
        (np.abs(pulley[0]) < half_depth)
        & (np.abs(pulley[2] + body.shoulder_half_width) < half_width)
        & (pulley[1] > -body.trunk - 0.1)
        & (pulley[1] < 0.16 * body.height)
    )
    if bool(inside.any()):
        raise PostureError("pulley", line.pulley, "a place outside the body: move it forward, back or aside")


def _arm_weight(frame: Frame, body: Body, gravity: float) -> Moments:
    upper_mass, fore_mass, hand_mass = body.segment_masses
    upper_at, fore_at, hand_at = body.segment_centres
    hand = hand_moments(frame, frame.wrist + hand_at * frame.hand, hand_mass * gravity * frame.down)
    fore_point, fore_force = frame.elbow + fore_at * frame.forearm, fore_mass * gravity * frame.down
    upper_force = upper_mass * gravity * frame.down
    nothing = np.zeros_like(hand.elbow)
    rest = Moments(
        elbow=dot(frame.elbow_axis, cross(fore_point - frame.elbow, fore_force)),
        forearm=nothing,
        shoulder=cross(fore_point, fore_force) + cross(upper_at * frame.upper_arm, upper_force),
        wrist=nothing,
        wrist_side=nothing,
    )
    return hand + rest


def _about_hips(parts: list[tuple[Array, Array]], posture: Posture, body: Body) -> Array:
    """Side-plane moment of both hands' load about the hips [N·m/kg]; + bends the trunk forward."""
    total: Array = np.zeros_like(parts[0][0][0])
    for point, force in parts:
        from_hips = trunk_to_room(point, posture, body, 0.0)
        in_room = trunk_to_room(force, posture, body, 0.0) - trunk_to_room(0 * force, posture, body, 0.0)
        total = total - (from_hips[0] * in_room[1] - from_hips[1] * in_room[0])
    return np.asarray(2 * total)
