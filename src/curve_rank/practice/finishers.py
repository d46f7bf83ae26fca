"""What a rep scheme on the last set adds, and to which part of a head's length it adds it."""

from __future__ import annotations

from dataclasses import dataclass

from curve_rank.arm.readings import LENGTHS
from curve_rank.rating.modelling import VariantModel
from curve_rank.study.schemes import Scheme, SchemePart, read_schemes


@dataclass(frozen=True)
class Finish:
    """A last set done by a scheme, beside a straight one.

    Attributes
    ----------
    scheme : Scheme
    most : str
        The length at which it adds most: long, middle or short.
    times : dict
        Tension times time by length, over that of the straight set [1].
    """

    scheme: Scheme
    most: str
    times: dict[str, float]

    @property
    def says(self) -> str:
        """In words."""
        where = {"long": "while it is long", "middle": "in the middle", "short": "while it is short"}[
            self.most
        ]
        return f"{self.scheme.name}: {self.times[self.most]:.1f} times a straight set’s tension {where}"


def finish(modelled: VariantModel, scheme: Scheme, head: str, reps: int) -> Finish:
    """What a scheme adds to a head, beside a straight set of so many repetitions.

    Parameters
    ----------
    modelled : VariantModel
        The set-up, modelled.
    scheme : Scheme
        How the set ends.
    head : str
        Whose tension it is.
    reps : int
        Of the straight set it ends.
    """
    straight = Scheme("straight", "Straight", "", (SchemePart(reps=reps),))
    one, plain = read_schemes(modelled, (scheme, straight))
    at = modelled.anatomy.index(head)
    usual = {length: float(plain.tension[length][at]) for length in LENGTHS}
    more = {length: float(one.tension[length][at]) for length in LENGTHS}
    least = 0.05 * max(usual.values())
    times = {length: more[length] / max(usual[length], least, 1e-9) for length in LENGTHS}
    most = max(LENGTHS, key=lambda length: more[length] - usual[length])
    return Finish(scheme, most, times)
