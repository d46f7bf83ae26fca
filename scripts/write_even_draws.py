"""Writes the even sequence of the fixed draws: a scrambled Sobol' sequence, in 30 bits a number.

Making it anew would take a command as long as all else that it reads in. Run after a change of what is drawn.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
from scipy.stats import qmc

from curve_rank.arm import draws

FILE = Path(draws.__file__).with_name(draws.EVEN)


def even() -> np.ndarray:
    """The sequence, shape (draws, numbers drawn), times 2 to the power of `EVEN_BITS`."""
    sequence = qmc.Sobol(
        len(draws.uncertain()),
        scramble=True,
        bits=draws.EVEN_BITS,
        rng=np.random.default_rng(draws.SCRAMBLE),
    )
    return (sequence.random(draws.FIXED_DRAWS) * 2**draws.EVEN_BITS).astype(np.uint32)


if __name__ == "__main__":
    np.save(FILE, even())
