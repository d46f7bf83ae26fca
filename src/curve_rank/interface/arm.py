"""A person's arm."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import NamedTuple

from curve_rank.answers.client import Client
from curve_rank.arm.body import Body
from curve_rank.catalogue.setups import parse_setup
from curve_rank.interface.here import means
from curve_rank.study import transfer


class KnownSet(NamedTuple):
    """A set that somebody did to failure.

    Parameters
    ----------
    variant : str
        Of which set-up, by its id.
    load_kg : float
        As the set-up counts it [kg].
    reps : int
        Repetitions to failure.
    """

    variant: str
    load_kg: float
    reps: int = 10


@dataclass(frozen=True)
class Arm:
    """A person's size and strength.

    Parameters
    ----------
    height_m : float
        Standing height [m], 1.30 to 2.20.
    mass_kg : float
        Body mass [kg], 35 to 200.
    known : KnownSet or tuple, optional
        A set that was done to failure: strength follows from it.
    strength : float
        Without a known set: over a trained man's of this mass [1], 0.2 to 3.
    upper_arm_m, forearm_m : float, optional
        Measured lengths: shoulder to elbow, elbow to wrist [m].

    Raises
    ------
    CurveRankError
        When a number is outside its range, or no strength explains the known set; when it is first used.

    Examples
    --------
    >>> Arm(height_m=1.78, mass_kg=80).body.height
    1.78
    """

    height_m: float = 1.78
    mass_kg: float = 80.0
    known: KnownSet | tuple[str, float, int] | None = None
    strength: float = 1.0
    upper_arm_m: float | None = None
    forearm_m: float | None = None
    name: str = field(default="", compare=False)

    @cached_property
    def body(self) -> Body:
        """The body that the model works with, its strength found from the known set where there is one."""
        body = Body(
            height=self.height_m,
            mass=self.mass_kg,
            strength=self.strength,
            upper_arm_m=self.upper_arm_m,
            forearm_m=self.forearm_m,
        )
        if self.known is None:
            return body
        known = KnownSet(*self.known)
        variant = means().library.setup(parse_setup(known.variant))
        done = transfer.KnownSet(variant, float(known.load_kg), int(known.reps))
        return transfer.body_from_set(body, done, means().modeller)

    @property
    def client(self) -> Client:
        """As whom answers are worked out for them."""
        return Client(
            name=self.name or f"a body of {self.height_m:g} m and {self.mass_kg:g} kg", body=self.body
        )
