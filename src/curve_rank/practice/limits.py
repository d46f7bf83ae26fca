"""How far each joint goes without pain, and set-ups fitted to it: what is changed, and what cannot be."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from curve_rank.arm.arrays import Array, BoolArray
from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.line_kinds import CableLine
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.errors import CurveRankError
from curve_rank.practice.rooms import Room
from curve_rank.practice.rules import rule
from curve_rank.rating.rep_of_variant import rep_setup
from curve_rank.rating.words import lower_first

CLOSE = 0.5
"""A posture so much past a limit still counts as inside it [°]."""


class Limits(BaseModel):
    """How far somebody's joints go without pain [°].

    Attributes
    ----------
    elbow_straight : float
        Bend that is left when the elbow is as straight as it goes; 0 is straight.
    shoulder_back, shoulder_overhead, shoulder_out : float
        Upper arm behind the trunk, forward and up, and out to the side.
    palm_up, palm_down : float
        From thumb up.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    elbow_straight: Annotated[float, Field(ge=0, le=90)] = 0.0
    shoulder_back: Annotated[float, Field(ge=0, le=60)] = 60.0
    shoulder_overhead: Annotated[float, Field(ge=60, le=180)] = 180.0
    shoulder_out: Annotated[float, Field(ge=20, le=120)] = 120.0
    palm_up: Annotated[float, Field(ge=0, le=90)] = 90.0
    palm_down: Annotated[float, Field(ge=0, le=90)] = 90.0

    @property
    def is_full(self) -> bool:
        """Whether nothing is limited."""
        return self == Limits()


@dataclass(frozen=True)
class Adjustment:
    """One thing that was changed to fit: what, from and to in words, and why."""

    what: str
    before: str
    after: str
    why: str


def fitted_words(changed: Iterable[Adjustment]) -> str:
    """What was changed to fit, in a line."""
    return "; ".join(f"{lower_first(one.what)} {one.after} (usually {one.before})" for one in changed)


@dataclass(frozen=True)
class Fit:
    """A variant as somebody can do it.

    Attributes
    ----------
    variant : Variant
        Under the same id.
    changes : tuple of Change
        From the variant as it stands in the catalogue.
    told : tuple of Adjustment
    """

    variant: Variant
    changes: tuple[Change, ...] = ()
    told: tuple[Adjustment, ...] = ()


class NotFittingError(CurveRankError):
    """A set-up that goes where it hurts, whatever is changed about it."""


def fit(variant: Variant, limits: Limits, room: Room | None = None, body: Body | None = None) -> Fit:
    """A variant within somebody's limits and a room's holes.

    Parameters
    ----------
    variant : Variant
        The set-up.
    limits : Limits
        What the person cannot do.
    room : Room, optional
        Whose benches and pulleys have holes.
    body : Body, optional
        The person: size, strength, joints.

    Raises
    ------
    NotFittingError
        Where it cannot be done, with the reason.
    """
    found = [*_bench(variant, limits, room), *_pulleys(variant, room)]
    if not limits.is_full:
        if variant.hand_path is not None:
            found += _trimmed(variant, limits, body or Body())
        else:
            found += [*_elbow(variant, limits), *_shoulder(variant, limits, found), *_palm(variant, limits)]
    changes = tuple(change for change, _ in found)
    fitted = variant
    if changes:
        try:
            fitted = changed(variant, changes)
        except CurveRankError as error:
            raise NotFittingError(variant.name, "as it stands", "a range that is left over") from error
    if not limits.is_full:
        _check(fitted, limits, body or Body())
    told = tuple(dict.fromkeys(words for _, words in found if words is not None))
    return Fit(fitted, changes, told)


Found = list[tuple[Change, Adjustment | None]]


def _angles(variant: Variant, body: Body) -> dict[str, Array]:
    posture = rep_setup(variant, body).posture
    return {
        "elbow": posture.elbow,
        "shoulder": posture.shoulder,
        "out": posture.abduction,
        "forearm": posture.forearm,
    }


def demanded(variants: Iterable[Variant], body: Body) -> dict[str, float]:
    """How far set-ups take each joint, by the names of `Limits` [°]; nothing where there are none.

    Parameters
    ----------
    variants : iterable of Variant
        The set-ups; what cannot be posed is passed over.
    body : Body
        The person.
    """
    found: list[dict[str, float]] = []
    for variant in variants:
        with suppress(CurveRankError):
            at = _angles(variant, body)
            found.append(
                {
                    "elbow_straight": float(at["elbow"].min()),
                    "shoulder_back": float(-at["shoulder"].min()),
                    "shoulder_overhead": float(at["shoulder"].max()),
                    "shoulder_out": float(np.abs(at["out"]).max()),
                    "palm_up": float(-at["forearm"].min()),
                    "palm_down": float(at["forearm"].max()),
                }
            )
    if not found:
        return {}
    far = {name: max(one[name] for one in found) for name in found[0]}
    return far | {"elbow_straight": min(one["elbow_straight"] for one in found)}


def _inside(angles: dict[str, Array], limits: Limits) -> dict[str, BoolArray]:
    """Per limit, whether each posture is inside it."""
    return {
        "with the elbow so straight": angles["elbow"] >= limits.elbow_straight - CLOSE,
        "so far behind the trunk": angles["shoulder"] >= -limits.shoulder_back - CLOSE,
        "so far overhead": angles["shoulder"] <= limits.shoulder_overhead + CLOSE,
        "so far out to the side": np.abs(angles["out"]) <= limits.shoulder_out + CLOSE,
        "with the palm so far up": angles["forearm"] >= -limits.palm_up - CLOSE,
        "with the palm so far down": angles["forearm"] <= limits.palm_down + CLOSE,
    }


def _check(variant: Variant, limits: Limits, body: Body) -> None:
    for words, inside in _inside(_angles(variant, body), limits).items():
        if not inside.all():
            raise NotFittingError(variant.name, f"goes {words}", "a set-up that stays where nothing hurts")


def _bench(variant: Variant, limits: Limits, room: Room | None) -> Found:
    """A reclined bench with hanging arms no lower than the shoulder allows, in the bench's holes."""
    pitch, arm = variant.posture.trunk_pitch, variant.posture.upper_arm
    reclined = variant.support.surface == "back_rest" and -85 < pitch < 0
    if not reclined or any(key.trunk_pitch is not None for key in variant.path):
        return []
    holes = room.bench_deg if room else ()
    hangs = variant.posture.upper_arm_from == "vertical" and all(k.upper_arm is None for k in variant.path)
    least = 90 - limits.shoulder_back - arm if hangs and not limits.is_full else 0.0
    floor = 90 + pitch
    wanted = max(floor, least)
    if holes:
        allowed = [hole for hole in holes if hole >= least - CLOSE]
        if not allowed or min(abs(h - wanted) for h in allowed) > rule("fit.bench_off"):
            raise NotFittingError(variant.name, f"bench at {wanted:.0f}°", "a bench with a hole near it")
        wanted = min(allowed, key=lambda hole: (abs(hole - wanted), -hole))
    if abs(wanted - floor) < CLOSE:
        return []
    why = (
        "the shoulder goes no further back"
        if wanted > floor and least > floor
        else "the bench has no other hole"
    )
    words = Adjustment("Bench", f"{floor:.0f}°", f"{wanted:.0f}° from the floor", why)
    return [(Change(field="posture.trunk_pitch", set=wanted - 90), words)]


def _pulleys(variant: Variant, room: Room | None) -> Found:
    found: Found = []
    for n, line in enumerate(variant.lines):
        if not isinstance(line, CableLine) or not room or not room.pulley_m:
            continue
        hole = min(room.pulley_m, key=lambda height: abs(height - line.up))
        if abs(hole - line.up) > rule("fit.pulley_off"):
            raise NotFittingError(variant.name, f"pulley at {line.up:g} m", "a pulley with a hole near it")
        if abs(hole - line.up) > 1e-3:
            words = Adjustment("Pulley", f"{line.up:.2f} m", f"{hole:.2f} m", "the nearest hole here")
            found.append((Change(field=f"lines.{n}.up", set=hole), words))
    return found


def _elbow(variant: Variant, limits: Limits) -> Found:
    least = limits.elbow_straight
    if not least or all(key.elbow >= least for key in variant.path):
        return []
    bends = [max(key.elbow, least) for key in variant.path]
    if variant.coordinate == "elbow":  # from key to key it bends or straightens by a degree at least
        rising = variant.group == "flexors"
        order = range(1, len(bends)) if rising else range(len(bends) - 2, -1, -1)
        for n in order:
            bends[n] = max(bends[n], bends[n - 1 if rising else n + 1] + 1)
    straightest = min(key.elbow for key in variant.path)
    words = Adjustment(
        "Elbow", f"{straightest:.0f}°", f"{least:.0f}° at its straightest", "it hurts further on"
    )
    return [
        (Change(field=f"path.{n}.elbow", set=bend), words)
        for n, (key, bend) in enumerate(zip(variant.path, bends, strict=True))
        if bend != key.elbow
    ]


def _shoulder(variant: Variant, limits: Limits, before: Found) -> Found:
    """Upper arms no further back, up and out than they go."""
    benched = {change.field: change.set for change, _ in before}
    base = float(benched.get("posture.trunk_pitch", variant.posture.trunk_pitch) or 0.0)
    vertical = variant.posture.upper_arm_from == "vertical"
    pitches = [base if key.trunk_pitch is None else key.trunk_pitch for key in variant.path]
    arms = [variant.posture.upper_arm if key.upper_arm is None else key.upper_arm for key in variant.path]
    shift = [pitch if vertical else 0.0 for pitch in pitches]
    inside = [
        min(max(arm + more, -limits.shoulder_back), limits.shoulder_overhead) - more
        for arm, more in zip(arms, shift, strict=True)
    ]
    found: Found = []
    if any(abs(a - b) > CLOSE for a, b in zip(arms, inside, strict=True)):
        if variant.support.upper_arm:
            raise NotFittingError(variant.name, "the pad holds the arm there", "a set-up without that pad")
        worst = max(range(len(arms)), key=lambda n: abs(arms[n] - inside[n]))
        back = arms[worst] < inside[worst]
        words = Adjustment(
            "Upper arm",
            f"{arms[worst] + shift[worst]:.0f}°",
            f"{inside[worst] + shift[worst]:.0f}° from the trunk",
            "the shoulder goes no further back" if back else "the shoulder goes no further up",
        )
        if all(key.upper_arm is None for key in variant.path) and len({round(a, 3) for a in inside}) == 1:
            found.append((Change(field="posture.upper_arm", set=inside[0]), words))
        elif any(key.upper_arm is None for key in variant.path):
            raise NotFittingError(
                variant.name, "moves the trunk while it lifts", "a set-up with a still trunk"
            )
        else:
            found += [(Change(field=f"path.{n}.upper_arm", set=arm), words) for n, arm in enumerate(inside)]
    out = variant.posture.abduction
    if abs(out) > limits.shoulder_out:
        words = Adjustment(
            "Upper arm out", f"{out:.0f}°", f"{limits.shoulder_out:.0f}°", "it goes no further out"
        )
        found.append(
            (Change(field="posture.abduction", set=float(np.copysign(limits.shoulder_out, out))), words)
        )
    return found


def _palm(variant: Variant, limits: Limits) -> Found:
    places = [("posture.forearm", variant.posture.forearm)]
    places += [(f"path.{n}.forearm", k.forearm) for n, k in enumerate(variant.path) if k.forearm is not None]
    found: Found = []
    for field, angle in places:
        inside = min(max(angle, -limits.palm_up), limits.palm_down)
        if abs(inside - angle) <= CLOSE:
            continue
        if variant.equipment.handle not in ("free", "rope"):
            raise NotFittingError(variant.name, "the bar turns the palm further", "a rope or a dumbbell")
        way = "up" if angle < 0 else "down"
        words = Adjustment(
            "Palm", f"{abs(angle):.0f}° {way}", f"{abs(inside):.0f}° {way}", "it turns no further"
        )
        found.append((Change(field=field, set=inside), words))
    return found


def _trimmed(variant: Variant, limits: Limits, body: Body) -> Found:
    """The stretch of a hand path that stays inside every limit."""
    assert variant.hand_path is not None
    fine = np.all(list(_inside(_angles(variant, body), limits).values()), axis=0)
    if fine.all():
        return []
    runs = np.split(np.flatnonzero(fine), np.flatnonzero(np.diff(np.flatnonzero(fine)) > 1) + 1)
    longest = max(runs, key=len)
    if len(longest) < rule("fit.least_range") * fine.size:
        raise NotFittingError(variant.name, "goes where it hurts for most of its way", "another set-up")
    path, last = variant.hand_path, fine.size - 1
    first, final = longest[0] + int(longest[0] > 0), longest[-1] - int(longest[-1] < last)
    span = path.end - path.start
    start, end = path.start + span * first / last, path.start + span * final / last
    before, after = (
        f"{100 * path.start:.0f}–{100 * path.end:.0f} %",
        f"{100 * start:.0f}–{100 * end:.0f} % of its way",
    )
    words = Adjustment("Range", before, after, "it hurts further on")
    moved = (("hand_path.start", start, path.start), ("hand_path.end", end, path.end))
    return [(Change(field=f, set=round(float(to), 4)), words) for f, to, was in moved if abs(to - was) > 1e-6]
