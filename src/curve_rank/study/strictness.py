"""How strictly a set is done: with a part of a variant's own faults of trunk and elbow, where those help."""

from __future__ import annotations

from curve_rank.arm.body import Body
from curve_rank.arm.parameters import parameter_set
from curve_rank.catalogue.changes import changed, value_at
from curve_rank.catalogue.schema import Change, Fault, Variant
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.spreads import Spread

MANNERS = {
    "strictly": "strictly",
    "little_help": "with a little help from trunk and elbows",
    "loosely": "loosely",
}
"""How a set may be done, in words."""
HELPING = ("trunk_pitch", "upper_arm")
"""Fields whose change can carry a load past its hard spot."""


def part_of_faults(manner: str) -> float:
    """How much of a variant's own faults goes with a manner [1].

    Raises
    ------
    BadInputError
    """
    if manner not in MANNERS:
        raise BadInputError("done", manner, "one of: " + ", ".join(MANNERS))
    little = parameter_set().number("strictness.little")
    return {"strictly": 0.0, "little_help": little, "loosely": 1.0}[manner]


def as_done(variant: Variant, manner: str, body: Body, effort: float, modeller: Modeller) -> Variant:
    """A variant as it is done: with as much of every fault of trunk and elbow that lets more be lifted.

    Parameters
    ----------
    variant : Variant
        As it should be.
    manner : str
        One of `MANNERS`.
    body : Body
        The person: size, strength, joints.
    effort : float
        Of the set, 0 to 1.
    modeller : Modeller
        Keeps what is found.

    Raises
    ------
    BadInputError
        For a manner that is none.
    """
    done = _with_help(variant, part_of_faults(manner), body, effort, modeller)
    if manner != "loosely":
        return done
    little = as_done(variant, "little_help", body, effort, modeller)
    return max(little, done, key=lambda one: modeller.one(one, body, effort=effort).load)


def help_of(
    variant: Variant, manner: str, on_hands: float, body: Body, effort: float, modeller: Modeller
) -> float:
    """What the hands hold, done so, over what they hold strictly [1]; `on_hands` is of the body [kg]."""
    done = as_done(variant, manner, body, effort, modeller)
    held, strictly = (modeller.one(one, body, effort=effort).load + on_hands for one in (done, variant))
    return held / strictly if strictly > 0 else 1.0


def between(
    variant: Variant, manner: str, body: Body, effort: float, modeller: Modeller
) -> tuple[Variant, ...]:
    """With the least and the most help that may be meant; nothing where none is."""
    number, part = parameter_set().number, part_of_faults(manner)
    if part == 0:
        return ()
    meant = (part * number("strictness.meant_from"), part * number("strictness.meant_to"))
    return tuple(_with_help(variant, some, body, effort, modeller) for some in meant)


def widened(told: Spread, ends: tuple[Spread, ...]) -> Spread:
    """An interval that holds those of its ends as well."""
    return Spread(told.median, min(one.low for one in (told, *ends)), max(one.high for one in (told, *ends)))


def _with_help(variant: Variant, part: float, body: Body, effort: float, modeller: Modeller) -> Variant:
    if part == 0:
        return variant
    load = modeller.one(variant, body, effort=effort).load
    helped = variant
    for fault in variant.faults:
        tried = _partly(helped, fault, part)
        if tried is None:
            continue
        try:
            more = modeller.one(tried, body, effort=effort).load
        except CurveRankError:
            continue
        if more > load:
            helped, load = tried, more
    return helped


def _partly(variant: Variant, fault: Fault, part: float) -> Variant | None:
    """A fault of trunk or elbow in part; None of any other."""
    changes = [_scaled(variant, change, part) for change in fault.changes]
    if not all(changes):
        return None
    try:
        return changed(variant, tuple(one for one in changes if one))
    except BadInputError:
        return None


def _scaled(variant: Variant, change: Change, part: float) -> Change | None:
    *_, name = change.field.split(".")
    if name not in HELPING:
        return None
    if change.add is not None:
        return change.model_copy(update={"add": change.add * part})
    now = value_at(variant, change.field)
    plain = getattr(variant.posture, name) if now is None else now
    return change.model_copy(update={"set": plain + part * (float(change.set or 0) - plain)})
