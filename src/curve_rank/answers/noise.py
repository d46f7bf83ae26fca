"""In which noise logs are read here: the usual one, or what the house's own logs show together."""

from __future__ import annotations

import json

from curve_rank.store import logs
from curve_rank.store.database import DbSession
from curve_rank.training.attention import scatter_from
from curve_rank.training.house_noise import house_noise
from curve_rank.training.slopes import Noise


def noise_here(db: DbSession) -> Noise:
    """The noise of everyone whose log is kept here; the usual one for fewer than ten."""
    found = (scatter_from(json.loads(text)) for text in logs.scatters(db))
    return house_noise(one for one in found if one is not None)
