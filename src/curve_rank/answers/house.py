"""The house and the model: what was lifted, what the model would have to be for it, editions of the loads."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from typing import TYPE_CHECKING, Annotated

import numpy as np

from curve_rank.answers.claims import UnderWay
from curve_rank.answers.doubt import DoubtedNumber
from curve_rank.answers.means import Means
from curve_rank.answers.plain import SHAPES, Shown, to_digits
from curve_rank.answers.spoken import is_current
from curve_rank.arm.body import Body
from curve_rank.arm.draws import SCALES
from curve_rank.arm.parameters import parameter_set
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.house import HouseLog, Tables
from curve_rank.background.runs import Run
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, BusyError
from curve_rank.house.fit import HouseFit, NumberFound, fit
from curve_rank.house.forecasts import Calibration, Drift, Forecast, calibrated, drift
from curve_rank.house.shares import Share, said_by_all
from curve_rank.house.shift import shift_of
from curve_rank.house.surprise import Surprise, pairs, surprises
from curve_rank.practice.facts import lines_for
from curve_rank.practice.rules import rule
from curve_rank.rating.spreads import Spread
from curve_rank.store import logs, people
from curve_rank.store.house import forecasts, pooling
from curve_rank.store.house.pooling import Edition, Turn
from curve_rank.study.claim_words import off_words
from curve_rank.study.personal import TENTH
from curve_rank.study.verdicts import Turn as NumberOff

if TYPE_CHECKING:
    from curve_rank.answers.desk import Desk
    from curve_rank.store.database import DbSession
    from curve_rank.store.viewers import Viewer

MOST_PAIRS = 12
LOOKED_BACK = 84
"""So far back logs are read [days]."""


@dataclass(frozen=True)
class ExerciseSeen:
    """One exercise, or one over another, as it was lifted, beside what the model says; in per cent."""

    variants: tuple[str, ...]
    name: str
    people: int
    lifted: Annotated[Spread, to_digits(1)]
    model: Annotated[Spread, to_digits(1)]
    days: Annotated[float, to_digits(1)]


@dataclass(frozen=True)
class ExerciseOffset:
    """By how much the house lifts more on an exercise than the model says, the house's strength taken off.

    In per cent; loads are for ten repetitions of the default body [kg].
    """

    variant: str
    name: str
    readings: int
    more: Annotated[Spread, to_digits(1)]
    load_kg: Annotated[float, to_digits(2)]
    load_then_kg: Annotated[float, to_digits(2)]

    @property
    def is_sure(self) -> bool:
        """Whether the interval lies on one side."""
        return self.more.low > 0 or self.more.high < 0


@dataclass(frozen=True)
class NumberSeen:
    """A number of the model, as it is published and as the house would have it."""

    key: str
    name: str
    kind: str
    z: Annotated[float, to_digits(2)]
    middle: Annotated[float, to_digits(2)]
    low: Annotated[float, to_digits(2)]
    high: Annotated[float, to_digits(2)]
    speaks: bool
    settles_at: int | None
    says: str
    interval: str


@dataclass(frozen=True)
class HouseEditionSeen:
    """An edition, whether it speaks, and whether it is of just those who agree still."""

    id: int
    name: str
    note: str
    month: str
    author: str
    made: str
    speaks: bool
    current: bool


@dataclass(frozen=True)
class HouseAnswer:
    """What a house finds out, for somebody who may read its logs."""

    __pydantic_config__ = SHAPES

    month: str
    months: tuple[str, ...]
    agreed: int
    logging: int
    people: int
    may_freeze: bool
    fitted: bool
    own_error: Annotated[float | None, to_digits(3)]
    scales: str
    exercises: tuple[ExerciseSeen, ...]
    pairs: tuple[ExerciseSeen, ...]
    offsets: tuple[ExerciseOffset, ...]
    numbers: tuple[NumberSeen, ...]
    editions: tuple[HouseEditionSeen, ...]
    calibration: dict[str, tuple[Calibration, ...]]
    drift: Drift
    turns: Shown[tuple[Turn, ...]]
    under_way: Shown[UnderWay | None] = None

    @property
    def least(self) -> int:
        """Of so many people something is fitted."""
        return int(rule("house.least_people"))

    @property
    def spoken(self) -> HouseEditionSeen | None:
        """The edition that speaks now."""
        return next((one for one in self.editions if one.speaks), None)

    @property
    def saying(self) -> tuple[NumberSeen, ...]:
        """The numbers of which something may be said."""
        return tuple(one for one in self.numbers if one.speaks)

    @property
    def ends(self) -> tuple[float, float]:
        """Of the scale that all exercises share [%]."""
        rows = self.exercises
        spreads = [one.lifted for one in rows] + [one.model for one in rows]
        most = max((abs(v) for s in spreads for v in (s.low, s.high)), default=10.0)
        return -most, most


@dataclass(frozen=True)
class HouseBook:
    """Where a house is looked at.

    Attributes
    ----------
    desk : Desk
    db : DbSession
    viewer : Viewer
    means : Means
    """

    desk: Desk
    db: DbSession
    viewer: Viewer
    means: Means

    @property
    def this_month(self) -> str:
        """The month it is."""
        return f"{datetime.now(UTC):%Y-%m}"

    def answer(self, month: str = "", patience: float = 0.0) -> HouseAnswer:
        """What stands in a month, the newest unless it is named; tables that are not at hand are made.

        Parameters
        ----------
        month : str
            As in "2026-11".
        patience : float
            So long tables are waited for [s].

        Raises
        ------
        UnknownNameError
        """
        there = pooling.months(self.db, self.viewer)
        if month and month not in there:
            raise BadInputError("month", month, "one of: " + (", ".join(there) or "none is frozen yet"))
        month = month or (there[0] if there else "")
        shares = tuple(map(Share.read, pooling.shares(self.db, self.viewer, month)))
        variants = self._variants(shares)
        tables = self.desk.house.found(variants)
        if shares and tables is None:
            run = self._making(variants)
            if run is not None and run.wait(patience):
                tables, run = self.desk.house.tables(variants), None
        else:
            run = self.under_way()
        return self._answer(month, there, shares, variants, tables, run)

    def freeze(self) -> Run | None:
        """Make and freeze this month's shares; None where others are served first.

        Raises
        ------
        BadInputError
            Where this month stands already.
        """
        month = self.this_month
        if month in pooling.months(self.db, self.viewer):
            raise BadInputError("month", month, "one that is not frozen yet; the next begins on the first")
        who = self.logs()
        store = self.desk.store

        def keep(person: int, share: Share) -> None:
            with store.writing() as db:
                pooling.keep_share(db, person, month, share.text())

        try:
            return self.desk.house.freeze(self.viewer.person, who, self.means.variants, self._today, keep)
        except BusyError:
            return None

    def logs(self) -> tuple[HouseLog, ...]:
        """Logs of those who agreed, and whose size is known."""
        found = []
        for person in pooling.agreed(self.db, self.viewer):
            row = people.known_person(self.db, self.viewer, person)
            if row.bodies:
                since = date.fromordinal(self._today.toordinal() - LOOKED_BACK)
                log = logs.log_of(self.db, self.viewer, person, since=since)
                found.append(HouseLog(person, people.body_of(row), log))
        return tuple(found)

    def refresh(self, edition: Edition) -> bool:
        """Work an edition out anew, where whoever agrees has changed; whether it is current then."""
        if is_current(self.db, edition):
            return True
        shares = tuple(map(Share.read, pooling.shares(self.db, self.viewer, edition.month)))
        if edition.author != self.viewer.person or len(shares) < rule("house.least_people"):
            return False
        variants = self._variants(shares)
        fitted = self._fitted(shares, self.desk.house.tables(variants))
        mark = pooling.mark_of(self.db, self.viewer, edition.month)
        with self.desk.store.writing() as db:
            pooling.keep_offsets(db, edition.id, shift_of(fitted).text(), mark)
        return True

    def make_edition(self, name: str, note: str, month: str) -> int:
        """Make an edition of what stands in a month; its number.

        Raises
        ------
        BadInputError, UnknownNameError
        """
        shares = pooling.shares(self.db, self.viewer, month)
        least = int(rule("house.least_people"))
        if len(shares) < least:
            right = f"a month with {least} people or more"
            raise BadInputError("month", f"{month or 'none'} with {len(shares)}", right)
        with self.desk.store.writing() as db:
            number = pooling.make_edition(db, self.viewer, name=name, note=note, month=month)
        self.db.rollback()
        self.refresh(pooling.edition(self.db, number))
        return number

    def let_speak(self, number: int | None) -> str:
        """Let an edition speak, worked out anew where somebody has left it; its name.

        Raises
        ------
        UnknownNameError, BadInputError
        """
        name = "The model as it is published"
        if number is not None:
            edition = pooling.edition(self.db, number)
            name = f"“{edition.name}”"
            if not self.refresh(edition):
                raise BadInputError("edition", edition.name, f"one that {edition.author_name} works out anew")
        with self.desk.store.writing() as db:
            pooling.turn_to(db, self.viewer, number)
        return name

    def under_way(self) -> Run | None:
        """What is being worked out for the viewer."""
        mine = (run for run in self.desk.house.runs.under_way() if run.person == self.viewer.person)
        return next(mine, None)

    @property
    def _today(self) -> date:
        return datetime.now(UTC).date()

    def _making(self, variants: Sequence[Variant]) -> Run | None:
        try:
            return self.desk.house.make_tables(self.viewer.person, variants)
        except BusyError:
            return None

    def _variants(self, shares: Sequence[Share]) -> tuple[Variant, ...]:
        done = {key for one in shares for key in one.lifted}
        return tuple(v for v in sorted(self.means.variants, key=lambda v: v.id) if v.id in done)

    def _fitted(self, shares: Sequence[Share], tables: Tables) -> HouseFit:
        text = "|".join(one.text() for one in shares)
        key = ("house", tables.effects.variants, hashlib.sha256(text.encode()).hexdigest())
        known = set(tables.effects.variants)
        said = said_by_all([one for one in shares if known.issuperset(one.said.variants)])
        return self.means.modeller.once(key, lambda: fit(said, tables.effects))

    def _answer(
        self,
        month: str,
        there: tuple[str, ...],
        shares: tuple[Share, ...],
        variants: tuple[Variant, ...],
        tables: Tables | None,
        run: Run | None,
    ) -> HouseAnswer:
        names = {one.id: one.name for one in self.means.variants}
        foretold = forecasts.scored(self.db, self.viewer)
        fitted = None
        if tables is not None and len(shares) >= rule("house.least_people"):
            fitted = self._fitted(shares, tables)
        seen = [surprises(shares, tables.strays), pairs(shares, tables.strays)] if tables else [(), ()]
        return HouseAnswer(
            month=month,
            months=there,
            agreed=len(pooling.agreed(self.db, self.viewer)),
            logging=pooling.who_log(self.db, self.viewer),
            people=len(shares),
            may_freeze=self.this_month not in there and run is None,
            fitted=fitted is not None,
            own_error=fitted.own_error if fitted else None,
            scales=_scales(fitted) if fitted else "",
            exercises=tuple(_seen(one, names) for one in seen[0]),
            pairs=tuple(_seen(one, names) for one in seen[1][:MOST_PAIRS]),
            offsets=self._offsets(fitted, variants) if fitted else (),
            numbers=tuple(_number(one) for one in fitted.numbers) if fitted else (),
            editions=self._editions(),
            calibration=self._calibration(foretold, names),
            drift=drift(foretold),
            turns=pooling.turns(self.db),
            under_way=UnderWay(run.done, run.total) if run else None,
        )

    def _offsets(self, fitted: HouseFit, variants: tuple[Variant, ...]) -> tuple[ExerciseOffset, ...]:
        lines = lines_for(variants, Body(), self.means.modeller)
        against = fitted.against_the_house
        low, high = against.interval()
        found = []
        for n, key in enumerate(against.variants):
            if key not in lines or not fitted.said.readings[n]:
                continue
            line, more = lines[key], [float(np.expm1(v[n])) for v in (against.middle, low, high)]
            load = line.base + line.slope * usual_effort()
            then = (load + line.on_hands) * (1 + more[0]) - line.on_hands
            count = int(fitted.said.readings[n])
            found.append(
                ExerciseOffset(key, line.variant.name, count, Spread(*(100 * v for v in more)), load, then)
            )
        return tuple(sorted(found, key=lambda one: -abs(one.more.median)))

    def _calibration(
        self, foretold: Sequence[Forecast], names: dict[str, str]
    ) -> dict[str, tuple[Calibration, ...]]:
        """How forecasts did: all together, and by exercise, room, person and edition."""
        if not foretold:
            return {}
        people = {one.person: f"person {one.person}" for one in foretold}
        editions = {str(one.id): one.name for one in pooling.editions(self.db)}
        return {
            "all": calibrated(foretold, lambda _: "all"),
            "exercise": calibrated(foretold, lambda one: names.get(one.variant, one.variant)),
            "room": calibrated(foretold, lambda one: one.room),
            "person": calibrated(foretold, lambda one: people[one.person]),
            "edition": calibrated(
                foretold, lambda one: editions.get(one.edition.partition(" ")[0], "as published")
            ),
        }

    def _editions(self) -> tuple[HouseEditionSeen, ...]:
        speaking = pooling.speaking(self.db)
        return tuple(
            HouseEditionSeen(
                one.id, one.name, one.note, one.month, one.author_name, f"{one.made_at:%Y-%m-%d}",
                speaking is not None and speaking.id == one.id, is_current(self.db, one),
            )
            for one in pooling.editions(self.db)
        )  # fmt: skip


def _seen(one: Surprise, names: dict[str, str]) -> ExerciseSeen:
    called = [names.get(key, key) for key in one.variants]
    return ExerciseSeen(
        one.variants, " over ".join(called), one.people, _percent(one.lifted), _percent(one.model),
        100 * one.days,
    )  # fmt: skip


def _percent(part: Spread) -> Spread:
    return Spread(100 * part.median, 100 * part.low, 100 * part.high)


def _number(one: NumberFound) -> NumberSeen:
    def off(spreads: float) -> str:
        return off_words(NumberOff(one.name, spreads)) or f"{spreads:+.1f} spreads".replace("-", "−")

    says = {
        "unseen": "cannot be seen from loads",
        "at least": f"at least {off(one.low)}",
        "at most": f"at most {off(one.high)}",
        "known": off(one.middle),
    }[one.kind]
    return NumberSeen(
        one.name, DoubtedNumber.of(one.name).name, one.kind, one.z, one.middle, one.low, one.high,
        one.speaks, one.settles, says, f"{off(one.low)} to {off(one.high)}",
    )  # fmt: skip


def _scales(fitted: HouseFit) -> str:
    """Flexors' scale of force over extensors': each alone is one thing with the house's strength."""
    names = fitted.effects.names
    middle, wide = fitted.difference(*(names.index(key) for key in SCALES))
    spread = parameter_set()[next(iter(SCALES))].spread
    ends = (middle, middle - TENTH * wide, middle + TENTH * wide)
    told = [f"{100 * np.expm1(spread * v):+.0f}".replace("-", "−") for v in ends]
    return f"{told[0]} % ({told[1]} to {told[2]})"
