"""Joint paths: key postures interpolated and sampled evenly in the rep coordinate."""

from __future__ import annotations

from dataclasses import fields

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.posture import Posture
from curve_rank.errors import BadInputError

ANGLES = tuple(f.name for f in fields(Posture))


def joint_path(keys: dict[str, Array], *, coordinate: str, samples: int) -> Posture:
    """A rep through key postures.

    Parameters
    ----------
    keys : dict of array, each shape (keys,)
        Every angle of `Posture` at each key, from the stretched end to the short end [degrees].
    coordinate : str
        The angle the rep is measured in, "elbow" or "shoulder"; strictly rising or falling over the keys.
    samples : int
        How many postures.

    Returns
    -------
    Posture
        Shape (samples,), evenly spaced in the coordinate; other angles piecewise linear in it.

    Raises
    ------
    BadInputError
        When the coordinate turns round or stands still.
    """
    along = keys[coordinate]
    steps = np.diff(along)
    if along.size < 2 or not (np.all(steps > 1e-6) or np.all(steps < -1e-6)):
        raise BadInputError(
            f"path {coordinate}", along.tolist(), "at least two keys, each further the same way than the last"
        )
    at = np.linspace(along[0], along[-1], samples)
    rising = np.sign(steps[0])
    return Posture(**{name: np.interp(rising * at, rising * along, keys[name]) for name in ANGLES})
