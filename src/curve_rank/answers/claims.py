"""The ledger of claims with their verdicts, and one claim with all it stands on."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from itertools import groupby, pairwise
from typing import TYPE_CHECKING, Annotated, Any
from urllib.parse import urlencode

from pydantic import Field, model_serializer

from curve_rank.answers.means import Library, Means
from curve_rank.answers.plain import SHAPES
from curve_rank.answers.requests import RequestForm
from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.claims import ClaimsQuestion
from curve_rank.background.runs import Run
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BusyError, CurveRankError
from curve_rank.exchange.study_views import claim_view
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strips
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.readings import Reading
from curve_rank.rating.spreads import Spread, spread_of
from curve_rank.rating.targets import known, targets
from curve_rank.store.database import DbSession
from curve_rank.store.names import is_own
from curve_rank.store.verdicts import KeptVerdict, Stamp, keep_verdicts, kept_verdicts
from curve_rank.store.viewers import Viewer
from curve_rank.study.claim_words import OUTCOMES, history_words, probability_words, size_words
from curve_rank.study.claims import SCORE, Claim
from curve_rank.study.compare import MOST
from curve_rank.study.verdicts import ClaimSetups, Verdict, asked_of, digest_of, reading_of, verdicts

if TYPE_CHECKING:
    from curve_rank.answers.desk import Desk


class ClaimsRequest(RequestForm):
    """Which claims are listed: those of one verdict, about one head, with some words; or one's own."""

    verdict: str = ""
    head: str = ""
    words: Annotated[str, Field(max_length=80)] = ""
    own: str = ""

    def fits(self, entry: ClaimEntry) -> bool:
        """Whether a claim is listed; of a verdict that is being worked out nobody knows yet."""
        claim, test = entry.claim, entry.claim.test
        told = " ".join((claim.name, claim.question, *claim.sides, claim.notes)).lower()
        return (
            (not self.verdict or entry.outcome in (self.verdict, "waiting"))
            and (not self.own or entry.is_own)
            and (not self.head or (test is not None and test.head == self.head))
            and all(word in told for word in self.words.lower().split())
        )

    @property
    def address(self) -> str:
        """What is asked, as a query string."""
        return urlencode({key: value for key, value in self.model_dump().items() if value})


@dataclass(frozen=True)
class ClaimEntry:
    """A claim and its verdict, with everything that is said of it anywhere.

    Attributes
    ----------
    key : str
    claim : Claim
    stamp : Stamp
        What a verdict would stand on now.
    verdict : Verdict or None
        None until it is worked out.
    reading : Reading or None
        What its test reads; None without one, or where its lens is gone.
    size : str
        How much more or less, in a sentence; empty where nothing is measured.
    history : tuple
        What it was before, until what changed; only where the verdict changed with it.
    """

    __pydantic_config__ = SHAPES

    key: str
    claim: Claim
    stamp: Stamp
    verdict: Verdict | None
    reading: Reading | None
    size: str
    history: tuple[tuple[str, KeptVerdict], ...] = ()

    @model_serializer
    def as_data(self) -> dict[str, Any]:
        """The claim, and what the model says of it."""
        return claim_view(self.key, self.claim, self.verdict)

    @property
    def outcome(self) -> str:
        """The verdict in a word, or that it is being worked out."""
        return self.verdict.outcome if self.verdict else "waiting"

    @property
    def says(self) -> str:
        """The verdict in words."""
        return OUTCOMES[self.verdict.outcome] if self.verdict else ""

    @property
    def probability(self) -> str:
        """How sure it is, in words; empty where nothing is weighed."""
        found = self.verdict
        return probability_words(found) if found and found.probability is not None else ""

    @property
    def is_own(self) -> bool:
        """Whether somebody here wrote it."""
        return is_own(self.key)


@dataclass(frozen=True)
class UnderWay:
    """Work that goes on: how far it is."""

    done: int
    total: int


@dataclass(frozen=True)
class LedgerAnswer:
    """The claims that are listed, of all there are."""

    entries: tuple[ClaimEntry, ...]
    shown: tuple[ClaimEntry, ...]
    asked: ClaimsRequest
    under_way: UnderWay | None

    @property
    def counts(self) -> Counter[str]:
        """How many claims have which verdict."""
        return Counter(entry.outcome for entry in self.entries)

    @property
    def questions(self) -> list[tuple[str, list[ClaimEntry]]]:
        """The shown claims under their questions."""
        return [(question, list(rows)) for question, rows in groupby(self.shown, lambda e: e.claim.question)]


@dataclass(frozen=True)
class ClaimedSetup:
    """One set-up of a claim, as it is modelled."""

    id: str
    name: str
    changes: str
    against: bool
    """Whether it is what the claim is weighed against."""
    strip: Picture
    read: Spread


@dataclass(frozen=True)
class ClaimAnswer:
    """One claim, its set-ups side by side on one scale."""

    entry: ClaimEntry
    setups: tuple[ClaimedSetup, ...]

    @property
    def beside(self) -> str:
        """The set-ups as the address of a comparison; empty where there is none to make."""
        test = self.entry.claim.test
        if test is None or not 2 <= len(test.setups) <= MOST:
            return ""
        return urlencode({"with": test.setups, "target": test.head}, doseq=True)


@dataclass(frozen=True)
class ClaimBook:
    """Where claims are looked up, and their verdicts kept and worked out.

    Attributes
    ----------
    desk : Desk
    db : DbSession
        The open database.
    viewer : Viewer
        Whose ledger it is.
    means : Means
    """

    desk: Desk
    db: DbSession
    viewer: Viewer
    means: Means

    def entries(self) -> tuple[ClaimEntry, ...]:
        """All claims of the viewer, with their verdicts: their own first."""
        library, kept = self.means.library, kept_verdicts(self.db, self.viewer)
        return tuple(
            _entry(key, claim, library, _stamp(key, claim, self.means), kept.get(key, ()))
            for key, claim in library.claims.items()
        )

    def _afresh(self) -> tuple[ClaimEntry, ...]:
        """All claims, with verdicts that another session has kept since this one began to read."""
        self.db.rollback()  # a transaction goes on seeing the database as it was when it began
        return self.entries()

    def work_out(self, every: Iterable[ClaimEntry]) -> Run | None:
        """The run that works out what has no verdict; None where all have one, or others are served first."""
        missing = {entry.key: entry for entry in every if entry.verdict is None}
        if not missing:
            return None
        library, setups = self.means.library, dict[str, Variant]()
        for entry in missing.values():
            for line in entry.claim.test.setups if entry.claim.test else ():
                try:
                    setups[line] = library.setup_in(line)
                except CurveRankError:
                    continue
        question = ClaimsQuestion({k: e.claim for k, e in missing.items()}, setups, library.lenses)
        keep = self._keeper({key: entry.stamp for key, entry in missing.items()})
        try:
            return self.desk.claims.start(self.viewer.person, question, self.means.modeller, keep)
        except BusyError:
            return None

    def _keeper(self, stamps: dict[str, Stamp]) -> Callable[[dict[str, Verdict]], None]:
        """Keeps verdicts when they are made, in a session of its own: the request will be over."""
        store, viewer = self.desk.store, self.viewer

        def keep(found: dict[str, Verdict]) -> None:
            made = {key: (stamp, found[key]) for key, stamp in stamps.items() if key in found}
            with store.writing() as db:
                keep_verdicts(db, viewer, made)

        return keep

    def ledger(self, asked: ClaimsRequest, patience: float) -> LedgerAnswer:
        """The ledger; what has no verdict yet is being worked out.

        Parameters
        ----------
        asked : ClaimsRequest
            Which claims are listed.
        patience : float
            So long verdicts are waited for [s].

        Raises
        ------
        UnknownNameError
            For a verdict or head that is none.
        """
        if asked.head:
            known("head", asked.head, targets())
        if asked.verdict:
            known("verdict", asked.verdict, OUTCOMES)
        every = self.entries()
        run = self.work_out(every)
        if run is not None and run.wait(patience):
            every, run = self._afresh(), None
        shown = tuple(entry for entry in every if asked.fits(entry))
        return LedgerAnswer(every, shown, asked, UnderWay(run.done, run.total) if run else None)

    def claim(self, key: str, patience: float) -> ClaimAnswer:
        """One claim; its verdict is waited for a little.

        Raises
        ------
        UnknownNameError
            Where there is none of that key.
        StillDrawingError
            Where the draws are under way, and whoever asks is told so.
        """
        entry = known("claim", key, {one.key: one for one in self.entries()})
        run = self.work_out((entry,))
        if run is not None and run.wait(patience):
            entry = next(one for one in self._afresh() if one.key == key)
        return claim_answer(self.means, entry)


def claim_answer(means: Means, entry: ClaimEntry) -> ClaimAnswer:
    """A claim with its set-ups modelled; without them, where one cannot be."""
    body, effort, test = Body(), usual_effort(), entry.claim.test
    try:
        asked = asked_of(entry.claim, means.library.setup_in, means.library.lenses)
        if asked is None or test is None:
            return ClaimAnswer(entry, ())
        models = tuple(means.modeller.one(v, body, effort=effort) for v in asked.setups)
    except CurveRankError:
        return ClaimAnswer(entry, ())
    drawn = strips(models, targets()[asked.test.head], "large")
    read = _read(asked, means, body, effort)
    lines = (line.split("~")[1:] for line in test.setups)
    return ClaimAnswer(
        entry,
        tuple(
            ClaimedSetup(m.variant.id, m.variant.name, ", ".join(changes), n >= len(test.more), strip, spread)
            for n, (m, changes, strip, spread) in enumerate(zip(models, lines, drawn, read, strict=True))
        ),
    )


def _read(asked: ClaimSetups, means: Means, body: Body, effort: float) -> list[Spread]:
    drawn = means.draw(asked.setups, body, effort)
    return [spread_of(asked.read(v, d, body)) for v, d in zip(asked.setups, drawn, strict=True)]


def weighed(library: Library, claims: dict[str, Claim], modeller: Modeller) -> tuple[ClaimEntry, ...]:
    """Claims with their verdicts, worked out now and kept nowhere."""
    body, effort = Body(), usual_effort()
    found = verdicts(
        claims, library.setup_in, library.lenses,
        draw=lambda variants: fixed_draws(variants, body, effort, modeller),
        draw_apart=lambda variants: fixed_draws(variants, body, effort, modeller, APART),
        modeller=modeller, body=body, effort=effort,
    )  # fmt: skip
    made, nothing = dict(found), Stamp.of("")
    return tuple(_with(key, claim, library, nothing, made[key]) for key, claim in claims.items())


def _entry(
    key: str, claim: Claim, library: Library, stamp: Stamp, kept: tuple[KeptVerdict, ...]
) -> ClaimEntry:
    verdict = kept[-1].verdict if kept and kept[-1].stamp == stamp else None
    told = []
    for before, after in pairwise(kept):
        if before.verdict.outcome != after.verdict.outcome:
            changed = after.stamp.changed_since(before.stamp)
            told.append((history_words(before.verdict.outcome, changed), after))
    return _with(key, claim, library, stamp, verdict, tuple(reversed(told)))


def _with(
    key: str,
    claim: Claim,
    library: Library,
    stamp: Stamp,
    verdict: Verdict | None,
    history: tuple[tuple[str, KeptVerdict], ...] = (),
) -> ClaimEntry:
    reading = _reading(claim, library)
    size = size_words(verdict, claim.test, reading) if verdict and claim.test and reading else ""
    return ClaimEntry(key, claim, stamp, verdict, reading, size, history)


def _reading(claim: Claim, library: Library) -> Reading | None:
    test = claim.test
    if test is None or (test.reading == SCORE and test.lens not in library.lenses_for(test.lens)):
        return None
    return reading_of(test, library.lenses_for(test.lens))


def _stamp(key: str, claim: Claim, means: Means) -> Stamp:
    """What a verdict would stand on now; where its set-ups are not there, that they are not."""

    def digest() -> str:
        return digest_of(claim, means.library.setup_in)

    try:
        return Stamp.of(digest() if is_own(key) else means.modeller.once(("claim", key), digest))
    except CurveRankError as error:
        return Stamp.of(hashlib.sha256(str(error).encode()).hexdigest())
