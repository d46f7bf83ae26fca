"""What is sore before a session bends it: the joint is spared, and what is left is light, that side first."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date

from curve_rank.catalogue import words
from curve_rank.errors import BadInputError
from curve_rank.practice.facts import Facts
from curve_rank.practice.rooms import Room, load_down
from curve_rank.practice.rules import rule
from curve_rank.rating.joints import joints, spare_above
from curve_rank.rating.targets import known
from curve_rank.training.pain import PainFlag, PainState, strained

SIDES = ("left", "right")


@dataclass(frozen=True)
class Soreness:
    """What somebody says is sore before they begin.

    Attributes
    ----------
    joints : tuple of str
        Keys of joints.
    groups : tuple of str
        Muscle groups, "flexors" and "extensors".
    side : str
        "left", "right", or empty for both.
    """

    joints: tuple[str, ...] = ()
    groups: tuple[str, ...] = ()
    side: str = ""

    def __bool__(self) -> bool:
        return bool(self.joints or self.groups)

    @property
    def says(self) -> str:
        """What is sore, as "left elbows, elbow flexors"."""
        named = [joints()[key].name.lower() for key in self.joints]
        named += [words.groups()[key].lower() for key in self.groups]
        return f"{self.side} {', '.join(named)}".strip()

    def spares(self, fact: Facts) -> bool:
        """Whether an exercise strains a sore joint so much that it is not for today."""
        return any(fact.strain.get(joint, 0.0) > spare_above() for joint in self.joints)

    def lightens(self, fact: Facts) -> bool:
        """Whether an exercise is done, lightly: it works a sore muscle or strains a sore joint a little."""
        works = fact.group in self.groups
        strains = any(fact.strain.get(joint, 0.0) >= strained() for joint in self.joints)
        return not self.spares(fact) and (works or strains)

    def light(self, fact: Facts, room: Room, load: float) -> float:
        """A light load in place of a working one: the room's step under its part of what the hands hold."""
        held = rule("sore.light") * (load + fact.on_hands) - fact.on_hands
        return min(load, load_down(room, fact.variant, held))


def soreness_of(keys: Iterable[str], side: str) -> Soreness:
    """What was ticked: joints and muscle groups together.

    Raises
    ------
    UnknownNameError, BadInputError
        For a key or a side that is none.
    """
    there: Mapping[str, object] = {**joints(), **words.groups()}
    ticked = tuple(dict.fromkeys(keys))
    for key in ticked:
        known("sore", key, there)
    if side not in ("", *SIDES):
        raise BadInputError("side", side, f"one of: {', '.join(SIDES)}, or nothing for both")
    return Soreness(
        tuple(key for key in ticked if key in joints()),
        tuple(key for key in ticked if key not in joints()),
        side,
    )


def with_soreness(
    pain: PainState, sore: Soreness, facts: Mapping[str, Facts], variants: Iterable[str], today: date
) -> PainState:
    """What pain asks for on a day, with what is sore: variants that strain it are not for today."""
    flags = tuple(
        PainFlag(
            "pause",
            joint,
            tuple(key for key in variants if facts[key].strain.get(joint, 0.0) > spare_above()),
            f"Sore {sore.side} {joints()[joint].name.lower()} today: this strains them. ".replace("  ", " ")
            + "Do something that spares them; if it lasts, see a licensed clinician.",
            today,
            (),
        )
        for joint in sore.joints
    )
    return replace(pain, flags=(*pain.flags, *flags)) if flags else pain
