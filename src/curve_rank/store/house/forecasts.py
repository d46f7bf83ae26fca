"""What was foretold of people's sets, kept before they were done, and what was done then."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy import select
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session as DbSession

from curve_rank.house.forecasts import Forecast
from curve_rank.store.house.pooling import agreed
from curve_rank.store.tables import ForecastRow, SetRow, now
from curve_rank.store.viewers import Viewer

SAME_LOAD = 0.01
"""What was done with another load than was foretold is no answer to it [1]."""


@dataclass(frozen=True)
class Foretold:
    """The first set of an exercise, as it is foretold."""

    variant: str
    load_kg: float
    room: str
    edition: str
    expected: float
    spread: float


def keep_forecasts(session: DbSession, person: int, day: date, rows: Sequence[Foretold]) -> None:
    """Keep what is foretold of a day; what was foretold first stands, and nothing of what is done already."""
    done = set(session.scalars(select(SetRow.variant).where(SetRow.person_id == person, SetRow.day == day)))
    values = [
        vars(one) | {"owner_id": person, "day": day, "made_at": now()}
        for one in rows
        if one.variant not in done
    ]
    if values:
        session.execute(insert(ForecastRow).values(values).on_conflict_do_nothing())


def are_kept(session: DbSession, person: int, day: date, variants: Sequence[str]) -> bool:
    """Whether all of that is foretold already."""
    there = session.scalars(
        select(ForecastRow.variant).where(ForecastRow.owner_id == person, ForecastRow.day == day)
    )
    return set(variants) <= set(there)


def scored(session: DbSession, viewer: Viewer) -> tuple[Forecast, ...]:
    """Forecasts of whoever the viewer may see and who agrees, with what was done; oldest first."""
    people = agreed(session, viewer)
    rows = session.execute(
        select(ForecastRow, SetRow.reps, SetRow.reserve, SetRow.load_kg)
        .join(
            SetRow,
            (SetRow.person_id == ForecastRow.owner_id)
            & (SetRow.day == ForecastRow.day)
            & (SetRow.variant == ForecastRow.variant),
        )
        .where(
            ForecastRow.owner_id.in_(people),
            SetRow.number == 1,
            SetRow.removed.is_(False),
            SetRow.guessed.is_(False),
            SetRow.as_planned.is_(False),
            SetRow.reserve.is_not(None),
            SetRow.pain == 0,
        )
        .order_by(ForecastRow.day, ForecastRow.id, SetRow.side)
    )
    found: dict[int, Forecast] = {}
    for row, reps, reserve, load in rows:
        if abs(load - row.load_kg) <= SAME_LOAD * max(abs(row.load_kg), 1.0):
            found.setdefault(
                row.id,
                Forecast(
                    row.owner_id, row.day, row.variant, row.room, row.edition,
                    row.expected, row.spread, float(reps + (reserve or 0)),
                ),
            )  # fmt: skip
    return tuple(found.values())
