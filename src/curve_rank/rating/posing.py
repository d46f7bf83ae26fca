"""A set-up posed: where the arm and the load are, and what holds a load at one place of the rep."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.balance import Balance, balance
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import RepSetup, least_load, stack_reps
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.modelling import LARGEST_LOAD
from curve_rank.rating.rep_of_variant import rep_setup


@dataclass(frozen=True, eq=False)
class VariantPose:
    """What a figure shows of a variant, without strengths, a working load or readings.

    Attributes
    ----------
    variant : Variant
    rep : Balance
        Its rep, as a batch of one.
    load : float
        In the hands [kg].
    drives : array, shape (heads, samples)
        At the one place that was asked for, 0 elsewhere [1].
    """

    variant: Variant
    rep: Balance
    load: float
    drives: Array

    @property
    def body(self) -> Body:
        """The body it is posed for."""
        return self.rep.body

    @property
    def setup(self) -> RepSetup:
        """The rep before it was posed."""
        return self.rep.stack.setups[0]

    @cached_property
    def _along(self) -> dict[str, Array]:
        posture = self.rep.posture
        angle = posture.shoulder if self.rep.stack.straight_arm[0, 0] else posture.elbow
        return {"angle": angle[0], "lever": self.rep.external.lever(np.array([self.load]))[0]}

    def along(self, name: str) -> Array:
        """The rep coordinate [degrees], "angle", or the "lever" [m], shape (samples,)."""
        return self._along[name]

    def drive_along(self, key: str) -> Array:
        """A head's drive, shape (samples,); 0 but at the place that was asked for."""
        row: Array = self.drives[self.rep.anatomy.index(key)]
        return row

    def length_along(self, key: str) -> Array:
        """Length of a head along the rep, percent of its range, shape (samples,)."""
        row: Array = self.rep.geometry.percent[self.rep.anatomy.index(key), 0]
        return row


def pose_variant(variant: Variant, body: Body, *, load: float, part: float) -> VariantPose:
    """Pose a variant.

    Parameters
    ----------
    variant : Variant
        The set-up.
    body : Body
        The person: size, strength, joints.
    load : float
        In the hands [kg]; brought inside what can be lifted there.
    part : float
        The place in the rep whose drives are wanted, 0 to 1.

    Raises
    ------
    PostureError, BadInputError
        For a set-up that cannot be.
    """
    setup = rep_setup(variant, body)
    stack = stack_reps((setup,))
    stack.posture.check()
    held = balance(stack, stack.posture, body)
    lifted = np.array([min(max(load, least_load(setup, body)), LARGEST_LOAD)])
    drives, _ = held.share(held.outside(lifted), lifted, at=round(part * (held.shape[1] - 1)))
    return VariantPose(variant, held, float(lifted[0]), drives[: len(held.anatomy.keys), 0])
