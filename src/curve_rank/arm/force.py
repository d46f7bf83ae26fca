"""Moments that loads and the arm's own weight make about elbow, forearm, shoulder and wrist.

Every moment here is linear in the load, so a rep's moments are kept as a part per kilogram and a part
that is there without any load (the weight of the arm, and of the body that hangs from the hands).
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np

from curve_rank.arm.arrays import Array, Index, cross, dot, length_of, of_arms, of_reps
from curve_rank.arm.body import Body
from curve_rank.arm.lines import Band, BodyWeight, Cable, FreeWeight, LineGroup, Machine
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.posture import Frame, Posture, room_to_trunk, turned_to_room
from curve_rank.arm.rep_setup import Shift
from curve_rank.errors import PostureError


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
        return Moments(**{f.name: getattr(self, f.name) + getattr(other, f.name) for f in fields(self)})

    def times(self, load: Array) -> Moments:
        """Every moment times a load that broadcasts to S."""
        return Moments(**{f.name: getattr(self, f.name) * load for f in fields(self)})

    def add_at(self, reps: Index, more: Moments) -> None:
        """Add the moments of some reps in place; S is (reps, samples)."""
        for f in fields(self):
            getattr(self, f.name)[..., reps, :] += getattr(more, f.name)


@dataclass(frozen=True)
class ExternalLoad:
    """What lies outside the muscles over reps, S = (reps, samples).

    Attributes
    ----------
    per_kg, held : Moments
        Moments of the lines of force: per kilogram of load, and without any load.
    arm : Moments
        Moments of the arm's own weight.
    pull_per_kg, pull_held : array, shape (3, *S)
        Sum of the forces on the right hand, trunk frame [N/kg], [N].
    back_per_kg, back_held : array, shape S
        Moment of both hands' forces about the hips, in the side plane [N·m/kg], [N·m].
    """

    per_kg: Moments
    held: Moments
    arm: Moments
    pull_per_kg: Array
    pull_held: Array
    back_per_kg: Array
    back_held: Array

    @property
    def static(self) -> Moments:
        """All moments that are there without any load."""
        return self.held + self.arm

    def pull(self, load: Array) -> Array:
        """Force on the right hand at loads (reps,) [N], shape (3, *S)."""
        return self.pull_held + load[:, None] * self.pull_per_kg

    def lever(self, load: Array) -> Array:
        """Distance from the elbow's axis to the line of the load [m]; NaN where nothing pulls at the hand."""
        moment = self.held.elbow + load[:, None] * self.per_kg.elbow
        pull = self.pull(load)
        size = length_of(pull)
        return np.where(size > 1e-9, np.abs(moment) / np.maximum(size, 1e-9), np.nan)

    def back(self, load: Array) -> Array:
        """Moment of the load about the hips [N·m], shape S; + bends the trunk forward."""
        return self.back_held + load[:, None] * self.back_per_kg


def external_load(
    groups: tuple[LineGroup, ...],
    frame: Frame,
    posture: Posture,
    body: Body,
    hip_height: Array,
    *,
    shift: Shift | None = None,
) -> ExternalLoad:
    """Moments of the lines of force and of the arm's own weight.

    Parameters
    ----------
    groups : tuple of LineGroup
        From `lines.grouped`.
    frame : Frame
        Of `posture`, shape S = (reps, samples).
    posture : Posture
        Angles of shape S = (reps, samples) [degrees].
    body : Body
        The person: size, strength, joints.
    hip_height : array, shape (reps, 1)
        Hip centre above the floor [m].
    shift : Shift, optional
        Moves every pulley and anchor in the room; nothing is refused then.

    Returns
    -------
    ExternalLoad

    Raises
    ------
    PostureError
        When a pulley lies inside the body or comes within 0.1 m of the hand.
    """
    shape = posture.elbow.shape
    nothing = ExternalLoad(
        per_kg=_no_moments(shape),
        held=_no_moments(shape),
        arm=_arm_weight(frame, body),
        pull_per_kg=np.zeros((3, *shape)),
        pull_held=np.zeros((3, *shape)),
        back_per_kg=np.zeros(shape),
        back_held=np.zeros(shape),
    )
    room = _Room(posture, body, hip_height, shift or Shift(), shift is None)
    for group in groups:
        _add_group(nothing, group, frame, room)
    return nothing


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


@dataclass(frozen=True)
class _Room:
    """How the trunk stands in the room, and how pulleys in it are treated."""

    posture: Posture
    body: Body
    hip_height: Array
    shift: Shift
    check: bool

    def of(self, reps: Index) -> _Room:
        """The room of some reps."""
        posture, shift = of_reps(self.posture, reps), of_arms(self.shift, reps)
        return _Room(posture, self.body, self.hip_height[reps], shift, self.check)


def _no_moments(shape: tuple[int, ...]) -> Moments:
    elbow, forearm, wrist, side = (np.zeros(shape) for _ in range(4))
    return Moments(elbow, forearm, np.zeros((3, *shape)), wrist, side)


def _add_group(total: ExternalLoad, group: LineGroup, frame: Frame, room: _Room) -> None:
    """Add one group of lines in place."""
    chosen, part = of_reps(frame, group.reps), room.of(group.reps)
    if group.kind is Machine:
        total.per_kg.add_at(group.reps, _machine(group, chosen, part.posture))
        return
    point = chosen.grip
    if group.kind is FreeWeight:
        point = point + group.column("offset") * chosen.thumb
    per_kg, held = _forces(group, chosen, part)
    for force, moments, pull, back in (
        (per_kg, total.per_kg, total.pull_per_kg, total.back_per_kg),
        (held, total.held, total.pull_held, total.back_held),
    ):
        if force is not None:
            moments.add_at(group.reps, hand_moments(chosen, point, force))
            pull[:, group.reps] += force
            back[group.reps] += _about_hips(point, force, part)


def _forces(group: LineGroup, frame: Frame, room: _Room) -> tuple[Array, Array | None]:
    """Force on the hand per kilogram of load, and without load, (3, n, samples)."""
    gravity = parameter_set().number("body.gravity")
    if group.kind is FreeWeight:
        return gravity * group.column("load_part") * _with_sideways(frame.down, group, room.shift), None
    if group.kind is BodyWeight:
        up = gravity * _with_sideways(-frame.down, group, room.shift)
        carried = group.column("carried") * room.shift.carried ** group.column("estimated")
        return group.column("load_part") * up, room.body.mass * carried * up
    along, distance = _towards(group, frame, room)
    tension = _band_tension(group, distance) ** room.shift.band if group.kind is Band else 1.0
    return gravity * group.column("load_part") * tension * along, None


def _with_sideways(vertical: Array, group: LineGroup, shift: Shift) -> Array:
    """A unit vertical force and the sideways one that goes with pressing a bar apart."""
    result = vertical.copy()
    result[2] -= group.column("sideways") * shift.sideways
    return result


def _towards(group: LineGroup, frame: Frame, room: _Room) -> tuple[Array, Array]:
    """Direction from the hand, or the bar's middle, to the pulley or anchor, and the distance [m]."""
    name = "anchor" if group.kind is Band else "pulley"
    place = group.places(name) + room.shift.pulley
    pulley = room_to_trunk(place, room.posture, room.body, room.hip_height)
    start = frame.grip
    if group.kind is Cable:
        start = start.copy()
        middle = group.column("from_middle")
        start[2] = np.where(middle > 0, -room.body.shoulder_half_width, start[2])
    along = pulley - start
    distance = length_of(along)
    if room.check:
        _refuse_pulleys(group, name, pulley, distance, room.body)
    return along / np.maximum(distance, 1e-6), distance


def _band_tension(group: LineGroup, distance: Array) -> Array:
    """Tension over the tension at twice the slack length."""
    rows = [
        np.interp(row / line.slack - 1, line.stretch, line.tension, left=0.0)
        for row, line in zip(distance, group.lines, strict=True)
        if isinstance(line, Band)
    ]
    return np.stack(rows)


def _machine(group: LineGroup, frame: Frame, posture: Posture) -> Moments:
    """A machine's couple on the forearm, per kilogram of stack."""
    rows = [
        line.load_part * np.interp(angles, line.angle, line.torque)
        for angles, line in zip(posture.elbow, group.lines, strict=True)
        if isinstance(line, Machine)
    ]
    torque, nothing = np.stack(rows), np.zeros(posture.elbow.shape)
    return Moments(torque, nothing, torque * frame.elbow_axis, nothing, nothing)


def _refuse_pulleys(group: LineGroup, name: str, pulley: Array, distance: Array, body: Body) -> None:
    """The trunk and head as one upright block around the spine; and a pulley in the hand."""
    nearest = parameter_set().number("ranges.nearest_pulley")
    for bad, right in (
        (_inside(pulley, body), "a place outside the body: move it forward, back or aside"),
        (distance < nearest, f"at least {nearest:g} m from the hand throughout the rep"),
    ):
        if bad.any():
            line = group.lines[int(bad.any(axis=-1).argmax())]
            raise PostureError(name, getattr(line, name), right)


def _inside(place: Array, body: Body) -> Array:
    """Where a place (3, *S) lies in the block of trunk and head."""
    block = body.trunk_block
    return np.asarray(
        (np.abs(place[0]) < block.half_depth)
        & (np.abs(place[2] + body.shoulder_half_width) < block.half_width)
        & (place[1] > -block.below)
        & (place[1] < block.above)
    )


def _arm_weight(frame: Frame, body: Body) -> Moments:
    gravity = parameter_set().number("body.gravity")
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


def _about_hips(point: Array, force: Array, room: _Room) -> Array:
    """Side-plane moment of both hands' force about the hips [N·m]; + bends the trunk forward."""
    shoulder = np.array([0.0, room.body.trunk, room.body.shoulder_half_width])
    ahead, above = turned_to_room(point + shoulder[:, None, None], room.posture)
    forward, up = turned_to_room(force, room.posture)
    return np.asarray(-2 * (ahead * up - above * forward))
