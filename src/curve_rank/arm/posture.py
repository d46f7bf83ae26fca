"""Postures of trunk and arm, and the frame of axes and points that follows from them.

Trunk frame: x forward, y up along the trunk, z out to the right, shoulder at the origin (joint axes after
Wu et al. 2005, simplified). Room frame: x forward, y up, z right, origin on the floor under the hip centre.
A right arm; a left arm is its mirror.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np

from curve_rank.arm.arrays import Array, sin_cos
from curve_rank.arm.body import Body
from curve_rank.arm.ranges import ELBOW_RANGE, FOREARM_RANGE, OUT_TO_THE_SIDE, SHOULDER_RANGE
from curve_rank.errors import PostureError


@dataclass(frozen=True)
class Posture:
    """Joint angles over a rep, all of one shape (…, samples) [degrees].

    Attributes
    ----------
    elbow : array
        0 straight … 145 fully bent.
    shoulder : array
        Flexion: −90 behind, 0 at the side, 90 in front, 180 overhead.
    abduction : array
        Out to the side.
    rotation : array
        Axial rotation of the upper arm, + inward.
    forearm : array
        −90 palm up, 0 thumb up, +90 palm down.
    wrist : array
        + bent towards the palm, − cocked back.
    trunk_pitch : array
        0 upright, +90 prone, −90 supine.
    trunk_roll : array
        +90 lying on the left side, right arm uppermost.
    """

    elbow: Array
    shoulder: Array
    abduction: Array
    rotation: Array
    forearm: Array
    wrist: Array
    trunk_pitch: Array
    trunk_roll: Array

    def check(self) -> None:
        """Refuse postures the arm tables do not cover.

        Raises
        ------
        PostureError
            Naming the joint, the angle and the range.
        """
        inside_frontal = np.abs(self.abduction) < OUT_TO_THE_SIDE
        for name, values, (low, high) in (
            ("elbow", self.elbow, ELBOW_RANGE),
            ("forearm", self.forearm, FOREARM_RANGE),
            ("shoulder", np.where(inside_frontal, self.shoulder, 0.0), SHOULDER_RANGE),
        ):
            worst = values.flat[np.argmax(np.abs(values - (low + high) / 2))]
            if not low - 1e-9 <= worst <= high + 1e-9:
                right = f"an angle that the joint reaches, {low:g}° to {high:g}°".replace("-", "−")
                raise PostureError(name, round(float(worst), 1), right)


@dataclass(frozen=True)
class Frame:
    """Axes (unit vectors) and points [m] of the arm in the trunk frame, components first.

    `bend` is the direction in which the hand moves when the elbow flexes; `palm` points out of the palm,
    `thumb` towards the thumb side, `hand` from the wrist along the hand.
    """

    upper_arm: Array
    elbow_axis: Array
    forearm: Array
    bend: Array
    palm: Array
    thumb: Array
    hand: Array
    elbow: Array
    wrist: Array
    grip: Array
    down: Array


def arm_frame(posture: Posture, body: Body) -> Frame:
    """Axes and points of the right arm.

    Parameters
    ----------
    posture : Posture
        Angles of shape S.
    body : Body
        The person: size, strength, joints.

    Returns
    -------
    Frame
        Vectors of shape (3, *S) in the trunk frame.
    """
    angles = (posture.shoulder, posture.abduction, posture.rotation, posture.elbow)
    (sf, cf), (sa, ca), (sr, cr), (se, ce) = (sin_cos(a) for a in angles)
    (sp, cp), (sw, cw) = sin_cos(posture.forearm), sin_cos(posture.wrist)

    upper_arm = np.stack((sf * ca, -cf * ca, sa + 0 * sf))
    side = np.stack((cf * cr + sf * sa * sr, sf * cr - cf * sa * sr, -ca * sr))
    elbow_axis = np.stack((cf * sr - sf * sa * cr, sf * sr + cf * sa * cr, ca * cr))
    forearm = se * side + ce * upper_arm
    bend = ce * side - se * upper_arm
    palm = -sp * bend - cp * elbow_axis
    thumb = cp * bend - sp * elbow_axis
    hand = cw * forearm + sw * palm

    elbow = body.upper_arm * upper_arm
    wrist = elbow + body.forearm * forearm
    return Frame(
        upper_arm=upper_arm,
        elbow_axis=elbow_axis,
        forearm=forearm,
        bend=bend,
        palm=palm,
        thumb=thumb,
        hand=hand,
        elbow=elbow,
        wrist=wrist,
        grip=wrist + body.grip * hand,
        down=gravity_direction(posture),
    )


def gravity_direction(posture: Posture) -> Array:
    """Unit vector of gravity in the trunk frame, shape (3, *S)."""
    (sp, cp), (sr, cr) = sin_cos(posture.trunk_pitch), sin_cos(posture.trunk_roll)
    return np.stack((sp, -cp * cr, -cp * sr))


def room_to_trunk(point: Array, posture: Posture, body: Body, hip_height: float | Array) -> Array:
    """Carry a point fixed in the room into the trunk frame.

    Parameters
    ----------
    point : array, shape (3,) or (3, *S)
        Metres forward, up, right of the floor under the hip centre.
    posture : Posture
        Shape S.
    body : Body
        The person: the length of the trunk counts.
    hip_height : float or array that broadcasts to S
        Hip centre above the floor [m].

    Returns
    -------
    array, shape (3, *S)
        Relative to the shoulder.
    """
    (sp, cp), (sr, cr) = sin_cos(posture.trunk_pitch), sin_cos(posture.trunk_roll)
    x, y, z = point[0], point[1] - hip_height, point[2]
    forward, up = cp * x - sp * y, sp * x + cp * y
    return np.stack(
        (
            forward,
            cr * up - sr * z - body.trunk,
            sr * up + cr * z - body.shoulder_half_width,
        )
    )


def trunk_to_room(point: Array, posture: Posture, body: Body, hip_height: float | Array) -> Array:
    """Carry a point given in the trunk frame into the room; the inverse of `room_to_trunk`."""
    (sp, cp), (sr, cr) = sin_cos(posture.trunk_pitch), sin_cos(posture.trunk_roll)
    along, out = point[1] + body.trunk, point[2] + body.shoulder_half_width
    up, right = cr * along + sr * out, -sr * along + cr * out
    x = point[0]
    return np.stack((cp * x + sp * up, -sp * x + cp * up + hip_height, right + 0 * x))


def turned_to_room(vector: Array, posture: Posture) -> tuple[Array, Array]:
    """The part forward and the part up, in the room, of a vector (3, *S) of the trunk frame."""
    (sp, cp), (sr, cr) = sin_cos(posture.trunk_pitch), sin_cos(posture.trunk_roll)
    along = cr * vector[1] + sr * vector[2]
    return cp * vector[0] + sp * along, cp * along - sp * vector[0]


def turned_to_trunk(vector: Array, posture: Posture) -> Array:
    """A vector (3, *S) of the room in the trunk's axes."""
    (sp, cp), (sr, cr) = sin_cos(posture.trunk_pitch), sin_cos(posture.trunk_roll)
    forward, up, right = cp * vector[0] - sp * vector[1], sp * vector[0] + cp * vector[1], vector[2]
    return np.stack((forward, cr * up - sr * right, sr * up + cr * right))


def stacked(postures: list[Posture]) -> Posture:
    """One posture of shape (reps, samples) out of several of shape (samples,)."""
    return Posture(**{f.name: np.stack([getattr(p, f.name) for p in postures]) for f in fields(Posture)})
