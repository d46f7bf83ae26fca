"""Verdicts on claims: the newest is what is shown, the older ones are its history.

A verdict stands on the set-ups it is about, the parameters and the code of the model. Where one of them has
changed it is worked out anew, and what it was before stays.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from datetime import datetime

from pydantic import TypeAdapter
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.arm.parameters import parameter_set
from curve_rank.store.safe.shelf import edition
from curve_rank.store.tables import VerdictRow
from curve_rank.store.viewers import Viewer
from curve_rank.study.verdicts import Verdict

LENGTH = 16
"""Characters of a mark."""
_TEXT = TypeAdapter(Verdict)


@dataclass(frozen=True)
class Stamp:
    """What a verdict stands on, as marks that change with it.

    Attributes
    ----------
    setups : str
        The claim's test and its set-ups.
    parameters : str
    model : str
        The code.
    """

    setups: str
    parameters: str
    model: str

    @classmethod
    def of(cls, setups: str) -> Stamp:
        """That of a verdict made now."""
        return cls(setups[:LENGTH], parameter_set().fingerprint[:LENGTH], edition()[:LENGTH])

    def changed_since(self, before: Stamp) -> tuple[str, ...]:
        """The names of what is not as it was."""
        return tuple(f.name for f in fields(self) if getattr(self, f.name) != getattr(before, f.name))


@dataclass(frozen=True)
class KeptVerdict:
    """A verdict, what it stands on, and when it was made."""

    verdict: Verdict
    stamp: Stamp
    made_at: datetime


def kept_verdicts(session: DbSession, viewer: Viewer) -> dict[str, tuple[KeptVerdict, ...]]:
    """The viewer's verdicts by claim, newest last."""
    rows = session.scalars(
        select(VerdictRow).where(VerdictRow.owner_id == viewer.person).order_by(VerdictRow.id)
    )
    found: dict[str, tuple[KeptVerdict, ...]] = {}
    for row in rows:
        stamp = Stamp(row.setups, row.parameters, row.model)
        one = KeptVerdict(_TEXT.validate_json(row.content), stamp, row.created_at)
        found[row.claim] = (*found.get(row.claim, ()), one)
    return found


def keep_verdicts(session: DbSession, viewer: Viewer, made: Mapping[str, tuple[Stamp, Verdict]]) -> None:
    """Keep verdicts by claim; one that is kept already stays as it is."""
    there = kept_verdicts(session, viewer)
    for claim, (stamp, verdict) in made.items():
        if claim in there and there[claim][-1].stamp == stamp:
            continue
        text = _TEXT.dump_json(verdict).decode()
        session.add(VerdictRow(owner_id=viewer.person, claim=claim, content=text, **asdict(stamp)))
    session.flush()
