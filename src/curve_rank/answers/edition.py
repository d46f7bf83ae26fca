"""By which edition of the model and its numbers something is made now."""

from __future__ import annotations

from curve_rank.exchange.leaflet import made_words
from curve_rank.store.tables import now
from curve_rank.store.verdicts import Stamp


def made_now() -> str:
    """When something is made, and by which edition of the model: as every paper and every print says it."""
    stamp = Stamp.of("")
    return made_words(now(), stamp.model, stamp.parameters)
