"""Handles: the places of a figure that can be taken hold of, and the fields that follow a pull on them.

A handle stands at a point of the figure. Pulled elsewhere, its fields take the values that bring the point as
near as they can: places in the room exactly, angles by a bounded search.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import minimize_scalar

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.controls import Control, controls, movable
from curve_rank.catalogue.line_kinds import BandLine, CableLine
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import CurveRankError, UnknownNameError
from curve_rank.figures.outlines import Plane
from curve_rank.figures.projection import Stance, hand_height
from curve_rank.rating.rep_of_variant import hand_keys

FEW_SAMPLES = 9
FAR = 1e9
PLACES = {"side": ("forward", "up"), "front": ("right", "up"), "top": ("forward", "right")}
"""Per view, the fields of a place in the room that a pull across and down moves."""
KEY_PLACES = {"side": ("forward", "up"), "front": ("out", "up"), "top": ("forward", "out")}
LYING_KEY_PLACES = {"side": ("forward", "up"), "front": ("out", "forward"), "top": ("up", "out")}
"""The same of a path's points, which stand in the trunk: from the front a lying one is seen end on."""
LYING = 45.0

Where = Callable[[Stance], Plane]


@dataclass(frozen=True)
class Handle:
    """One handle in one view.

    Attributes
    ----------
    key : str
    label : str
        What it is, for people.
    fields : tuple of str
        Which it moves: that across first where there are two.
    where : callable
        Its point in the plane, (frames,) or (1,), in any stance of the set-up.
    """

    key: str
    label: str
    fields: tuple[str, ...]
    where: Where

    def as_data(self, stance: Stance) -> dict[str, Any]:
        """For the page's script: its places along the rep."""
        at = self.where(stance)
        return {
            "key": self.key,
            "label": self.label,
            "fields": list(self.fields),
            "at": [[round(p.real), round(p.imag)] for p in at.tolist()],
        }


def handles(variant: Variant, view: str) -> tuple[Handle, ...]:
    """The handles of a set-up in a view; only those whose fields can be moved."""
    there = movable(variant)
    listed = [
        *_of_path(variant, view),
        *_of_body(variant, view),
        *_of_range(variant),
        *_of_lines(variant, view),
    ]
    return tuple(handle for handle in listed if set(handle.fields) <= there)


def pulled(
    variant: Variant, body: Body, view: str, key: str, to: tuple[float, float], part: float, *, snap: bool
) -> tuple[Change, ...]:
    """The changes that bring a handle to a place, or as near as its fields go.

    Parameters
    ----------
    variant : Variant
        As it is before the pull.
    body : Body
        The person: size, strength, joints.
    view : str
        "side", "front" or "top".
    key : str
        The handle's.
    to : tuple of float
        Across and down in the figure's plane [mm].
    part : float
        Place in the rep at which the figure is shown [1].
    snap : bool
        Whether values go to the gym's steps.

    Raises
    ------
    UnknownNameError
    """
    found = {handle.key: handle for handle in handles(variant, view)}
    if key not in found:
        raise UnknownNameError("drag", key, "one of: " + (", ".join(found) or "nothing in this view"))
    handle = found[key]
    there = {control.field: control for control in controls(variant)}
    moved = [there[field] for field in handle.fields]
    pull = _Pull(variant, body, view, handle, complex(*to), part)
    if len(moved) == 2:
        shown = pull.exactly(moved)
    else:
        shown = (pull.nearest_step(moved[0]) if snap else pull.nearest(moved[0]),)
    return tuple(
        Change(field=control.field, set=control.field_value(_set(control, value, snap=snap)))
        for control, value in zip(moved, shown, strict=True)
    )


@dataclass(frozen=True)
class _Pull:
    """One pull on a handle."""

    variant: Variant
    body: Body
    view: str
    handle: Handle
    to: complex
    part: float

    def at(self, moved: list[Control], shown: tuple[float, ...]) -> complex | None:
        """Where the handle is with its fields at some values; None where they cannot be."""
        made = tuple(
            Change(field=c.field, set=c.field_value(value)) for c, value in zip(moved, shown, strict=True)
        )
        try:
            stance = Stance.of(changed(self.variant, made), self.body, self.view, FEW_SAMPLES)
        except CurveRankError:
            return None
        points = self.handle.where(stance)
        place = round(self.part * (points.size - 1))
        return complex(points[place])

    def exactly(self, moved: list[Control]) -> tuple[float, ...]:
        """Two fields of a place in space: the plane is a straight function of them."""
        here = tuple(control.shown for control in moved)
        start = self.at(moved, here)
        steps = []
        for n, control in enumerate(moved):
            step = control.gym if control.shown + control.gym <= control.high else -control.gym
            there = self.at(moved, tuple(v + step * (k == n) for k, v in enumerate(here)))
            steps.append(None if start is None or there is None else (there - start) / step)
        if start is None or None in steps:
            return here
        slope = np.array([[s.real for s in steps if s is not None], [s.imag for s in steps if s is not None]])
        wanted = np.array([(self.to - start).real, (self.to - start).imag])
        found = np.array(here) + np.linalg.lstsq(slope, wanted, rcond=None)[0]
        return tuple(float(v) for v in found)

    def nearest_step(self, control: Control) -> float:
        """One field on the gym's steps: downhill from where it is, a step at a time."""
        start = round(control.shown / control.gym)
        far: dict[int, float] = {}

        def at(step: int) -> float:
            if step not in far:
                value = step * control.gym
                inside = control.low - 1e-9 <= value <= control.high + 1e-9
                far[step] = self._far(control, value) if inside else FAR
            return far[step]

        best = start
        for way in (1, -1):
            while at(best + way) < at(best):
                best += way
            if best != start:
                break
        return best * control.gym

    def nearest(self, control: Control) -> float:
        """One field: downhill from where it is, by growing steps, then searched between the last three."""
        far = {control.shown: self._far(control, control.shown)}

        def at(value: float) -> float:
            inside = min(max(value, control.low), control.high)
            if inside not in far:
                far[inside] = self._far(control, inside)
            return inside

        best, step = control.shown, control.gym
        way = min((1, -1), key=lambda sign: far[at(best + sign * step)])
        while far[ahead := at(best + way * step)] < far[best]:
            best, step = ahead, 2 * step
        tried = sorted(far)
        place = tried.index(best)
        low, high = tried[max(place - 1, 0)], tried[min(place + 1, len(tried) - 1)]
        found = minimize_scalar(
            lambda value: self._far(control, float(value)),
            bounds=(low, high), method="bounded", options={"xatol": control.step / 4},
        )  # fmt: skip
        return float(found.x) if found.fun <= far[best] else best

    def _far(self, control: Control, value: float) -> float:
        at = self.at([control], (value,))
        return FAR if at is None else abs(at - self.to)


def _set(control: Control, value: float, *, snap: bool) -> float:
    """A value inside the control's ends, on the gym's steps or the finest."""
    step = control.gym if snap else control.step
    return round(min(max(round(value / step) * step, control.low), control.high), 6)


def _of_body(variant: Variant, view: str) -> list[Handle]:
    """Trunk, bench, pad, elbow and hand."""
    by_hand, side = variant.hand_path is not None, view == "side"
    elbow = "hand_path.flare" if by_hand else "posture.upper_arm" if side else "posture.abduction"
    hand = "hand_path.wider" if by_hand else "posture.wrist" if side else "posture.rotation"
    found = [
        Handle("shoulder", "Shoulder: leans the trunk", ("posture.trunk_pitch",), _shoulder),
        Handle("trunk", "Trunk", ("posture.trunk_pitch",), _chest),
        Handle("elbow", "Elbow", (elbow,), lambda s: s.flat(s.frame.elbow)),
    ]
    if not (by_hand and side):
        found.append(Handle("hand", "Hand", (hand,), lambda s: s.flat(s.frame.grip)))
    surface = variant.support.surface
    if surface in ("back_rest", "chest_bench"):
        towards = -1 if surface == "back_rest" else 1
        found.append(
            Handle(
                "bench", "Bench back", ("posture.trunk_pitch",),
                lambda s: _wide(s, s.trunk(towards * (s.body.build.trunk_half_depth + 0.04), -0.15, 0)),
            )
        )  # fmt: skip
    if surface == "pad":
        found.append(Handle("pad", "Pad", ("posture.upper_arm",), lambda s: s.flat(1.2 * s.frame.elbow)))
    return found


def _chest(stance: Stance) -> Plane:
    return _wide(stance, stance.trunk(0, -0.45 * stance.body.trunk, 0))


def _shoulder(stance: Stance) -> Plane:
    return _wide(stance, stance.flat(0 * stance.frame.elbow))


def _of_range(variant: Variant) -> list[Handle]:
    """The hand at both ends of the rep."""
    if variant.hand_path is not None:
        first, last = "hand_path.start", "hand_path.end"
    elif variant.coordinate == "shoulder":
        first, last = "path.0.upper_arm", "path.-1.upper_arm"
    else:
        first, last = "path.0.elbow", "path.-1.elbow"
    return [
        Handle("start", "Stretched end of the range", (first,), lambda s: _moving(s)[:1]),
        Handle("end", "Short end of the range", (last,), lambda s: _moving(s)[-1:]),
    ]


def _moving(stance: Stance) -> Plane:
    """The hand, or the shoulder where it is the hand that stands still."""
    still = hand_height(stance.variant) is not None
    return stance.flat(0 * stance.frame.grip if still else stance.frame.grip)


def _of_lines(variant: Variant, view: str) -> list[Handle]:
    """Pulleys and band anchors."""
    found = []
    for n, one in enumerate(variant.lines):
        if isinstance(one, CableLine | BandLine):
            name = "Band anchor" if isinstance(one, BandLine) else "Pulley"
            fields = tuple(f"lines.{n}.{place}" for place in PLACES[view])
            found.append(Handle(f"pulley-{n}", name, fields, _pulley(n)))
    return found


def _pulley(n: int) -> Where:
    def where(stance: Stance) -> Plane:
        one = stance.variant.lines[n]
        if not isinstance(one, CableLine | BandLine):
            raise TypeError(one)
        return stance.still(one.forward, one.up, one.right)

    return where


def _of_path(variant: Variant, view: str) -> list[Handle]:
    """The points of a bar's or the hands' path, where it is not the body that moves about them."""
    if variant.hand_path is None or hand_height(variant) is not None:
        return []
    places = LYING_KEY_PLACES if abs(variant.posture.trunk_pitch) > LYING else KEY_PLACES
    return [
        Handle(
            f"key-{n}",
            f"Path, point {n + 1} of {len(variant.hand_path.keys)}",
            tuple(f"hand_path.keys.{n}.{place}" for place in places[view]),
            _key(n),
        )
        for n in range(len(variant.hand_path.keys))
    ]


def _key(n: int) -> Where:
    def where(stance: Stance) -> Plane:
        path = stance.variant.hand_path
        if path is None:
            raise TypeError(path)
        point = hand_keys(path).point[:, [n]]
        return stance.flat(
            point * (stance.body.upper_arm + stance.body.forearm + stance.body.grip) + 0 * stance.frame.grip
        )

    return where


def _wide(stance: Stance, points: Plane) -> Plane:
    """Points at every frame, where they may be told once."""
    return np.asarray(np.broadcast_to(points, (stance.count,)))
