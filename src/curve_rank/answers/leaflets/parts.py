"""What all leaflets share: the edition, medians, and cautions said once."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from curve_rank.answers.client import Client
from curve_rank.answers.edition import made_now
from curve_rank.exchange.leaflet import Leaflet
from curve_rank.figures.ladder import Rung
from curve_rank.rating.cannot_tell import CannotTell
from curve_rank.rating.cautions import CautionReason
from curve_rank.rating.spreads import Spread
from curve_rank.rating.words import in_a_row, lower_first, printed

MEDIANS = "Numbers are medians of the same 64 arms; eight arms in ten lie in the interval."


def for_whom(client: Client, reps: int) -> str:
    """The end of a question: for whom, and how hard."""
    return f"{client.name}, {reps} repetitions to failure."


def not_told(some: Iterable[CannotTell]) -> tuple[str, ...]:
    """What the model cannot tell, and why, a sentence each."""
    return tuple(f"The model cannot tell: {lower_first(one.question)} {one.why}" for one in some)


def rung(name: str, spread: Spread, digits: int, before: str = "") -> Rung:
    """A name with its median and interval, as they are printed."""
    median, low, high = (printed(v, digits) for v in (spread.median, spread.low, spread.high))
    says = f"{median} ({low} to {high})"
    return Rung(name, spread.median, spread.low, spread.high, says, before)


def leaflet(kind: str, title: str, data: Any, **named: Any) -> Leaflet:
    """A leaflet made now; what is not its own is what its page shows."""
    own: dict[str, Any] = {
        key: tuple(text for text in named.pop(key, ()) if text) for key in ("told", "cautions", "left_out")
    }
    parts = {key: named.pop(key) for key in ("asks", "holds", "table", "pictures")}
    return Leaflet(kind, title, data=data, made=made_now(), shown=named, **own, **parts)


def cautions_of(rows: Iterable[tuple[str, tuple[CautionReason, ...]]]) -> tuple[str, ...]:
    """Each caution once, and of which rows it is."""
    found: dict[str, tuple[str, list[str]]] = {}
    for name, reasons in rows:
        for one in reasons:
            found.setdefault(one.caution.key, (one.caution.says, []))[1].append(name)
    return tuple(f"{says} ({in_a_row(of)})" if any(of) else says for says, of in found.values())
