"""The heads in words: what each is, what is taught of it, and what the model says of it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np

from curve_rank.arm.atlas import atlas
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.rating.readings import all_readings
from curve_rank.rating.targets import known

MOST_LISTED = 5
LEAST_MOVE = 1e-3
"""A head that a joint shifts by less than this is not moved by it [m per radian]."""


@dataclass(frozen=True)
class Head:
    """One head in words.

    Attributes
    ----------
    key, name, group : str
    counted : bool
        One of the seven that exercises are for, not a helper.
    starts, ends : str
    joints : dict
        What it does at each joint that it crosses.
    said : tuple of str
        What practitioners say of it.
    """

    key: str
    name: str
    group: str
    counted: bool
    starts: str
    ends: str
    joints: dict[str, str]
    said: tuple[str, ...]


@dataclass(frozen=True)
class HeadLoad:
    """A variant that loads a head, and how much: tension long, short, or over the rep, in per cent."""

    variant: Variant
    value: float


@dataclass(frozen=True)
class LoadedLists:
    """Variants that load a head long, short, or hardly at all, the clearest first."""

    long: tuple[HeadLoad, ...]
    short: tuple[HeadLoad, ...]
    hardly: tuple[HeadLoad, ...]


@cache
def heads() -> dict[str, Head]:
    """All heads by key: the seven, then the helpers."""
    table = read_toml("curve_rank.study", "heads.toml")
    found = [
        Head(h.key, h.name, h.group, h.counted, **{**table[h.key], "said": tuple(table[h.key]["said"])})
        for h in parameter_set().heads
    ]
    return {h.key: h for h in sorted(found, key=lambda h: not h.counted)}


def head_named(key: str) -> Head:
    """A head by its key.

    Raises
    ------
    UnknownNameError
    """
    return known("head", key, heads())


@cache
def moved_by(key: str) -> tuple[str, ...]:
    """The joints that change a head's length: "elbow", "shoulder", "forearm"."""
    arms = atlas(key, "shoulder").moment_arms | {"forearm": atlas(key, "forearm").moment_arms["forearm"]}
    return tuple(
        joint for joint in ("elbow", "shoulder", "forearm") if np.abs(arms[joint]).max() > LEAST_MOVE
    )


@cache
def model_says(key: str) -> tuple[str, ...]:
    """What the model says of a head, from its maps."""
    over_shoulder, over_forearm = atlas(key, "shoulder"), atlas(key, "forearm")
    arms, says = over_shoulder.moment_arms, []
    elbow = arms["elbow"]
    if np.abs(elbow).max() > LEAST_MOVE:
        straight, best = np.abs(elbow[0, 0]), np.abs(elbow[0]).argmax()
        says.append(
            f"Its moment arm at the elbow is {1000 * straight:.0f} mm with the arm straight and largest, "
            f"{1000 * np.abs(elbow).max():.0f} mm, near {over_shoulder.elbow[best]:.0f}°."
        )
        row, column = np.unravel_index(np.abs(over_shoulder.strength).argmax(), elbow.shape)
        at = f"with the elbow near {over_shoulder.elbow[column]:.0f}°"
        if np.abs(arms["shoulder"]).max() > LEAST_MOVE:
            at += f" and the upper arm at {over_shoulder.other[row]:.0f}°".replace("-", "−")
        says.append(f"It is strongest {at}: {np.abs(over_shoulder.strength).max():.0f} N·m at full drive.")
    low, high = over_shoulder.percent.min(), over_shoulder.percent.max()
    if np.abs(arms["shoulder"]).max() > LEAST_MOVE:
        change = np.ptp(over_shoulder.percent, axis=0).max()
        says.append(f"The shoulder alone changes its length by up to {change:.0f} % of its range.")
    says.append(f"With the thumb up its length runs from {low:.0f} to {high:.0f} % of its range.")
    turning = 1000 * np.abs(over_forearm.moment_arms["forearm"]).max()
    if turning > 1:
        says.append(f"It turns the forearm with at most {turning:.0f} mm.")
    return tuple(says)


def loaded_lists(
    key: str, drawn: dict[str, Readings], variants: tuple[Variant, ...], most: int = MOST_LISTED
) -> LoadedLists:
    """Variants of a head's group by how they load it, medians of the fixed draws.

    Parameters
    ----------
    key : str
        The head's key.
    drawn : dict of Readings
        By variant id, S = (draws,).
    variants : tuple of Variant
        Those of its group that can be modelled.
    most : int
        Listed of each kind.
    """

    def by(reading: str) -> list[HeadLoad]:
        values = all_readings()[reading].values
        return [HeadLoad(v, float(np.median(values(drawn[v.id], key)))) for v in variants]

    def first(listed: list[HeadLoad], sign: int) -> tuple[HeadLoad, ...]:
        return tuple(sorted(listed, key=lambda one: (sign * one.value, one.variant.name))[:most])

    return LoadedLists(
        first(by("long_tension"), -1), first(by("short_tension"), -1), first(by("mean_tension"), 1)
    )
