"""Set-ups beside each other, loads carried over, and claims weighed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from curve_rank.answers.claims import ClaimEntry, weighed
from curve_rank.answers.compare import CompareAnswer, CompareRequest, side_by_side
from curve_rank.answers.loads import LoadElsewhere, load_elsewhere
from curve_rank.answers.plain import plain
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.interface import table
from curve_rank.interface.arm import Arm, KnownSet
from curve_rank.interface.here import means
from curve_rank.interface.setup import Setup, as_setup
from curve_rank.rating.spreads import Spread
from curve_rank.rating.targets import known as one_of
from curve_rank.study import transfer as transfers


@dataclass(frozen=True)
class ComparedValue:
    """One reading of two set-ups: medians, and how much more the second reads, with an 80 % interval."""

    reading: str
    name: str
    unit: str
    first: float
    second: float
    difference: float
    low: float
    high: float
    chance: float
    says: str


@dataclass(frozen=True, eq=False)
class Comparison(table.Tabular):
    """Set-ups side by side, over the same drawn arms."""

    answer: CompareAnswer

    def between(self, first: int = 0, second: int = 1) -> tuple[ComparedValue, ...]:
        """Every reading of two of the columns, counted from 0; the first must stand before the second."""
        found = []
        for one in self.answer.readings:
            gap = one.differences[first, second]
            found.append(
                ComparedValue(
                    reading=one.reading.key,
                    name=one.reading.name,
                    unit=one.reading.unit,
                    first=one.columns[first].median,
                    second=one.columns[second].median,
                    difference=gap.spread.median,
                    low=gap.spread.low,
                    high=gap.spread.high,
                    chance=gap.chance,
                    says=gap.says(one.reading.digits),
                )
            )
        return tuple(found)

    @property
    def readings(self) -> tuple[ComparedValue, ...]:
        """Every reading of the first two."""
        return self.between()

    def to_dict(self) -> dict[str, Any]:
        """As the page's data and `curve-rank compare --json` have it."""
        found: dict[str, Any] = plain(self.answer)
        return found

    @property
    def _columns(self) -> table.Columns:
        return table.columns_of(ComparedValue, self.readings)

    def __repr__(self) -> str:
        return f"<Comparison of {' and '.join(one.name for one in self.answer.variants)}>"

    def _repr_html_(self) -> str:
        wanted = ("name", "unit", "first", "second", "difference", "low", "high", "says")
        return table.html({name: self._columns[name] for name in wanted})


def compare(
    *setups: Setup | str,
    target: str = "",
    lens: str = "long_length",
    arm: Arm | None = None,
    reps: int = DEFAULT_EFFORT_REPS,
) -> Comparison:
    """Two to four set-ups side by side.

    Parameters
    ----------
    *setups : Setup or str
        Of one muscle group.
    target : str
        Whose readings; else the long head's.
    lens : str
        By which the score is.
    arm : Arm, optional
        Whose; else the default body's.
    reps : int
        Repetitions to failure.

    Returns
    -------
    Comparison

    Raises
    ------
    CurveRankError
        For fewer than two or more than four, and what cannot be modelled.
    """
    lines = tuple(as_setup(one).text for one in setups)
    wish = CompareRequest(setups=lines, target=target, lens=lens, reps=reps)
    return Comparison(side_by_side(means(), wish.of((arm or Arm()).client, means().library)))


@dataclass(frozen=True)
class CarriedLoad:
    """A load carried over to another set-up: the median and the 80 % interval [kg]."""

    variant: str
    load_kg: float
    low_kg: float
    high_kg: float
    rounded_kg: float
    limited_by: str
    says: str


def transfer(
    known: KnownSet | tuple[str, float, int],
    to: Setup | str,
    *,
    reps: int = DEFAULT_EFFORT_REPS,
    arm: Arm | None = None,
) -> CarriedLoad:
    """What a known set is worth on another set-up of the same muscles, at the same effort.

    Parameters
    ----------
    known : KnownSet or tuple
        Variant, load [kg], repetitions to failure.
    to : Setup or str
        Where its worth is wanted.
    reps : int
        Repetitions to failure there.
    arm : Arm, optional
        Size; strength follows from the known set.

    Returns
    -------
    CarriedLoad

    Raises
    ------
    CurveRankError
        Where no strength explains the set.
    """
    done, there = KnownSet(*known), as_setup(to)
    size = (arm or Arm()).body
    known_set = transfers.KnownSet(as_setup(done.variant).document, float(done.load_kg), int(done.reps))
    found: LoadElsewhere = load_elsewhere(means(), size, known_set, there.document, reps)
    return CarriedLoad(
        found.variant, found.median, found.low, found.high, found.rounded_kg, found.limited_by, found.words
    )


@dataclass(frozen=True, eq=False)
class Verdict:
    """What the model says of a claim: "holds", "fails", "too_close" or "outside"."""

    entry: ClaimEntry

    @property
    def outcome(self) -> str:
        """The verdict in a word."""
        return self.entry.outcome

    @property
    def probability(self) -> float | None:
        """Part of the drawn arms in which it holds [1]; None where the model has no say."""
        return self.entry.verdict.probability if self.entry.verdict else None

    @property
    def size(self) -> Spread | None:
        """How much more the first side reads: median, low and high, in the reading's unit."""
        return self.entry.verdict.size if self.entry.verdict else None

    @property
    def says(self) -> str:
        """The claim and the verdict, in words."""
        entry = self.entry
        weighed_words = ". ".join(part for part in (entry.probability, entry.size) if part)
        return f"{entry.claim.sides[0]} {entry.says}{': ' if weighed_words else '.'}{weighed_words}"

    def to_dict(self) -> dict[str, Any]:
        """As the claim's page has it."""
        found: dict[str, Any] = plain(self.entry)
        return found

    def __repr__(self) -> str:
        return f"<Verdict {self.entry.key}: {self.outcome}>"


def claim(key: str) -> Verdict:
    """Weigh one of the claims that ship, by its key; `claims` lists them.

    Raises
    ------
    UnknownNameError
        Where there is none of that key.
    """
    library = means().library
    found = one_of("claim", key, library.claims)
    return Verdict(weighed(library, {key: found}, means().modeller)[0])


def claims() -> dict[str, str]:
    """What the claims that ship say, by key."""
    return {key: one.sides[0] for key, one in means().library.claims.items()}
