"""A variant from scratch: where the body is, what is lifted and how it is held, as one to be modelled."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Any

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.arm.posture import arm_frame, trunk_to_room
from curve_rank.catalogue.library import validate_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.data_files import read_toml
from curve_rank.errors import BadInputError
from curve_rank.rating.rep_of_variant import rep_setup
from curve_rank.rating.targets import known
from curve_rank.study.trying import try_out

SLACK = 0.55
"""Part of the way to where it is made fast over which a band does not pull [1]."""
AWAY = 1.1
"""How far from the hand a cable or band is made fast, where the room lets it [m]."""
LOWEST, HIGHEST = 0.1, 2.4
"""Where a pulley or a band's end can be over the floor [m]."""
KNEES = 0.6
"""Below this a line of somebody who sits must begin in front of the knees [m]."""
EVEN = {"flexors": -2.2, "extensors": 2.2}
"""What a machine asks at every angle, per kilogram of its stack, until it is measured [N·m/kg]."""
GUIDE = {"lower_s": 3, "pause_s": 0, "lift_s": 1, "squeeze_s": 0, "reps_from": 8, "reps_to": 15}
FAMILIES = {
    "reclined": "reclined",
    "pad": "supported",
    "chest_down": "supported",
    "lying": "lying",
    "floor": "lying",
}


@dataclass(frozen=True)
class Beginning:
    """What a variant begins with, by the keys of `choices`.

    Attributes
    ----------
    group : str
        "flexors" or "extensors".
    base, load, grip : str
    arms : int
        1 or 2.
    """

    group: str
    base: str
    load: str
    grip: str
    arms: int = 2


@cache
def choices() -> dict[str, Any]:
    """Bases, loads and grips, and how each is called."""
    return read_toml("curve_rank.catalogue", "scratch.toml")


def from_scratch(asked: Beginning, name: str) -> Variant:
    """A variant that can be modelled, its cable or band made fast where it pulls squarely half way.

    Parameters
    ----------
    asked : Beginning
        What is put together.
    name : str
        Its name.

    Raises
    ------
    UnknownNameError, BadInputError
        For what is no choice, or cannot be together.
    """
    table = choices()
    base, load = known("base", asked.base, table["bases"]), known("load", asked.load, table["loads"])
    grip, path = known("grip", asked.grip, table["grips"]), known("for", asked.group, table["paths"])
    if asked.load == "machine" and not base["support"].get("upper_arm"):
        raise BadInputError(
            "base", base["name"], "one that holds the upper arm, as a pad does, for a machine"
        )
    pulls = load["pulls"] if asked.group == "extensors" else f"flexors_{load['pulls']}"
    arm = base["arm"].get(pulls, base["arm"].get("flexors"))
    document = {
        "schema_version": 1,
        "id": "from-scratch",
        "name": name,
        "family": _family(asked, load),
        "target": asked.group,
        "summary": f"{base['name'].capitalize()}, {load['name']}, {grip['name']}.",
        "equipment": load["equipment"]
        | ({"bench": base["bench"]} if "bench" in base else {})
        | {"arms": asked.arms},
        "support": base["support"],
        "posture": base["posture"] | {"upper_arm": arm, "forearm": grip["forearm"]},
        "path": [{"elbow": angle} for angle in path],
        "lines": [{"kind": "weight"}],
        "setup": [base["says"], f"{load['name'].capitalize()}. {grip['says']}"],
        "cues": ["Keep the upper arm where you set it.", "Lower slowly."],
        "guide": GUIDE,
    }
    where = _made_fast(validate_variant(document), asked)
    made = validate_variant(document | {"lines": [_line(one, where, asked) for one in load["lines"]]})
    try_out(made, Body())
    return made


def _family(asked: Beginning, load: dict[str, Any]) -> str:
    if asked.base in FAMILIES:
        return FAMILIES[asked.base]
    if load["pulls"] == "line":
        if asked.group == "extensors":
            return "press_down"
        return "band" if asked.load == "band" else "cable"
    return "standing" if asked.group == "flexors" else "overhead"


def _line(line: dict[str, Any], where: dict[str, float], asked: Beginning) -> dict[str, Any]:
    place = {key: where[key] for key in ("forward", "up", "right")}
    if line["kind"] == "cable":
        return line | place
    if line["kind"] == "band":
        return line | place | {"slack_m": max(0.1, round(SLACK * where["reach"], 2))}
    if line["kind"] == "machine":
        return line | {"profile": [[angle, EVEN[asked.group]] for angle in (0, 60, 145)]}
    return line


def _made_fast(posed: Variant, asked: Beginning) -> dict[str, float]:
    """Where a line is made fast that pulls squarely to the forearm half way through the rep."""
    body = Body()
    setup = rep_setup(posed, body)
    frame, half = arm_frame(setup.posture, body), setup.posture.elbow.size // 2
    way = frame.bend if asked.group == "extensors" else -frame.bend
    hand, beyond = (
        trunk_to_room(point, setup.posture, body, setup.hip_height)[:, half]
        for point in (frame.grip, frame.grip + way)
    )
    pull = beyond - hand
    reach = AWAY
    if pull[1] < 0:
        reach = min(reach, (hand[1] - LOWEST) / -pull[1])
    elif pull[1] > 0:
        reach = min(reach, (HIGHEST - hand[1]) / pull[1])
    reach = max(reach, 0.2)
    place = hand + reach * pull
    up = float(np.clip(place[1], 0.02, HIGHEST))
    front = choices()["bases"][asked.base].get("front", -np.inf) if up < KNEES else -np.inf
    return {
        "forward": round(max(float(place[0]), front), 2),
        "up": round(up, 2),
        "right": round(float(place[2]), 2),
        "reach": float(reach),
    }
