"""The ledger of claims with their verdicts, and one claim with all it stands on."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass
from itertools import groupby
from typing import Any
from urllib.parse import urlencode

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.claims import ClaimsQuestion
from curve_rank.background.runs import Run
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import parse_setup
from curve_rank.errors import BadInputError, BusyError, CurveRankError, UnknownNameError
from curve_rank.exchange.study_views import claim_view
from curve_rank.figures.balance import balance
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strips
from curve_rank.figures.svg import svg
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.spreads import Spread, spread_of
from curve_rank.rating.targets import known, targets
from curve_rank.store.documents import is_own, own_claims, unreadable, versions
from curve_rank.store.sharing import is_mine
from curve_rank.store.verdicts import KeptVerdict, Stamp, keep_verdicts, kept_verdicts
from curve_rank.study.claim_words import (
    OUTCOMES,
    history_words,
    parameter_words,
    probability_words,
    size_words,
    turn_words,
)
from curve_rank.study.claims import SCORE, Claim, built_in_claims
from curve_rank.study.compare import MOST
from curve_rank.study.verdicts import Asked, Verdict, asked_of, digest_of, reading_of
from curve_rank.web import arms, current, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.teaching import ClaimsQuery

blueprint = Blueprint("claims", __name__)

AT_ONCE = 0.5
"""The ledger is answered with verdicts that are made within this [s]."""


@dataclass(frozen=True)
class Entry:
    """A claim, and its verdicts: the one that stands, and what it was before."""

    key: str
    claim: Claim
    stamp: Stamp
    kept: tuple[KeptVerdict, ...]

    @property
    def verdict(self) -> Verdict | None:
        """What the model says now; None until it is worked out."""
        return self.kept[-1].verdict if self.kept and self.kept[-1].stamp == self.stamp else None

    @property
    def outcome(self) -> str:
        """The verdict in a word, or that it is being worked out."""
        return self.verdict.outcome if self.verdict else "waiting"

    @property
    def history(self) -> tuple[tuple[str, KeptVerdict], ...]:
        """What it was before, until what changed; only where the verdict changed with it."""
        told = []
        for before, after in zip(self.kept, self.kept[1:], strict=False):
            if before.verdict.outcome != after.verdict.outcome:
                changed = after.stamp.changed_since(before.stamp)
                told.append((history_words(before.verdict.outcome, changed), after))
        return tuple(reversed(told))


@dataclass(frozen=True)
class LedgerView:
    """The page."""

    entries: tuple[Entry, ...]
    shown: tuple[Entry, ...]
    query: ClaimsQuery
    run: Run | None

    @property
    def counts(self) -> Counter[str]:
        """How many claims have which verdict."""
        return Counter(entry.outcome for entry in self.entries)

    @property
    def questions(self) -> list[tuple[str, list[Entry]]]:
        """The shown claims under their questions."""
        return [(question, list(rows)) for question, rows in groupby(self.shown, lambda e: e.claim.question)]


@dataclass(frozen=True)
class ClaimView:
    """One claim's page: its set-ups modelled, side by side on one scale."""

    entry: Entry
    asked: Asked | None
    models: tuple[VariantModel, ...]
    read: tuple[Spread, ...]

    @property
    def strips(self) -> list[Picture]:
        """A strip for each set-up."""
        return strips(self.models, targets()[self.asked.test.head], "large") if self.asked else []

    @property
    def beside(self) -> str:
        """The set-ups as the address of a comparison; empty where there is none to make."""
        test = self.entry.claim.test
        if test is None or not 2 <= len(test.setups) <= MOST:
            return ""
        return urlencode({"with": test.setups, "target": test.head}, doseq=True)


@blueprint.get("/claims")
@allowed(*TEACHING)
def show() -> ResponseReturnValue:
    """The ledger; what has no verdict yet is being worked out."""
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/claims/ledger.html",
        view=_ledger(),
        outcomes=OUTCOMES,
        scale=scale,
        probability_words=probability_words,
        size=size_of,
        is_own=is_own,
        damaged_claims=unreadable(session, viewer, "claim"),
    )


@blueprint.get("/claims.json")
@allowed(*TEACHING)
def data() -> ResponseReturnValue:
    """The ledger's data."""
    view = _ledger()
    return jsonify([claim_view(e.key, e.claim, e.verdict) for e in view.shown])


@blueprint.get("/claims/working.json")
@allowed(*TEACHING)
def working() -> ResponseReturnValue:
    """How far the verdicts are that are being worked out."""
    run = _work_out(entries())
    if run is None:
        return jsonify({"state": "finished", "done": 0, "total": 0})
    run.ask()
    return jsonify(run.told)


@blueprint.get("/claims/<key>")
@allowed(*TEACHING)
def one(key: str) -> ResponseReturnValue:
    """One claim."""
    view = _claim(key)
    session, viewer = current.session(), current.viewer()
    mine = is_mine(session, viewer, "claim", key)
    return render_template(
        "pages/claims/claim.html",
        view=view,
        entry=view.entry,
        claim=view.entry.claim,
        outcomes=OUTCOMES,
        scale=scale,
        strips=[Markup(svg(one)) for one in view.strips],
        probability_words=probability_words,
        size=size_of,
        turn_words=turn_words,
        parameter_words=parameter_words,
        reading=read_of(view.entry.claim),
        is_own=mine,
        versions=versions(session, viewer, "claim", key) if mine else (),
    )


@blueprint.get("/claims/<key>.json")
@allowed(*TEACHING)
def one_data(key: str) -> ResponseReturnValue:
    """Its data."""
    entry = _claim(key).entry
    return jsonify(claim_view(key, entry.claim, entry.verdict))


@blueprint.post("/claims/<key>/publish")
@allowed(*TEACHING)
def publish(key: str) -> ResponseReturnValue:
    """Publish a claim with its verdict.

    Raises
    ------
    BadInputError
        While the verdict is being worked out.
    """
    view = _claim(key)
    entry, claim = view.entry, view.entry.claim
    verdict = entry.verdict
    if verdict is None:
        raise BadInputError("claim", claim.name, "a verdict first; it is being worked out")
    return publishing.keep(
        "claim",
        claim.question,
        claim_view(key, claim, verdict),
        entry=entry,
        scale_picture=balance(verdict.probability),
        outcome=OUTCOMES[verdict.outcome],
        probability=probability_words(verdict),
        size=size_of(entry),
        reading=read_of(claim),
        models=view.models,
        read=view.read,
        strips=view.strips,
        hangs_on=[f"{parameter_words(one.parameter)} ({100 * one.part:.0f} %)" for one in verdict.hangs_on],
        turns=[turn_words(turn) for turn in verdict.turns],
    )


def scale(verdict: Verdict | None) -> Markup:
    """The scale of a verdict."""
    return Markup(svg(balance(verdict.probability if verdict else None)))


def read_of(claim: Claim) -> Any:
    """What a claim's test reads; None without one, or where its lens is gone."""
    if claim.test is None:
        return None
    if claim.test.reading == SCORE and claim.test.lens not in current.lenses_for(claim.test.lens):
        return None
    return reading_of(claim.test, current.lenses_for(claim.test.lens))


def size_of(entry: Entry) -> str:
    """How much more or less, in a sentence; empty where nothing is measured."""
    found = read_of(entry.claim)
    if entry.verdict is None or entry.claim.test is None or found is None:
        return ""
    return size_words(entry.verdict, entry.claim.test, found)


def entries() -> tuple[Entry, ...]:
    """All claims of whoever is here, with their verdicts: their own first."""
    session, viewer = current.session(), current.viewer()
    kept = kept_verdicts(session, viewer)
    own = own_claims(session, viewer)
    return tuple(
        Entry(key, claim, _stamp(key, claim), kept.get(key, ()))
        for key, claim in (own | built_in_claims()).items()
    )


def _stamp(key: str, claim: Claim) -> Stamp:
    """What a verdict would stand on now; where its set-ups are not there, that they are not."""

    def digest() -> str:
        return digest_of(claim, _resolve)

    try:
        return Stamp.of(digest() if is_own(key) else current.modeller().once(("claim", key), digest))
    except CurveRankError as error:
        return Stamp.of(hashlib.sha256(str(error).encode()).hexdigest())


def _resolve(line: str) -> Variant:
    return current.setup_of(parse_setup(line))


def _ledger() -> LedgerView:
    query = ClaimsQuery.read(request.args)
    if query.verdict:
        known("verdict", query.verdict, OUTCOMES)
    every = entries()
    run = _work_out(every)
    if run is not None and run.wait(AT_ONCE):
        every, run = entries(), None
    shown = tuple(
        e
        for e in every
        if (not query.verdict or e.outcome in (query.verdict, "waiting")) and (not query.own or is_own(e.key))
    )
    return LedgerView(every, shown, query, run)


def _work_out(every: tuple[Entry, ...]) -> Run | None:
    """The run that works out what has no verdict; None where all have one, or others are served first."""
    missing = {e.key: e for e in every if e.verdict is None}
    if not missing:
        return None
    setups: dict[str, Variant] = {}
    for entry in missing.values():
        for line in entry.claim.test.setups if entry.claim.test else ():
            try:
                setups[line] = _resolve(line)
            except CurveRankError:
                continue
    claims = {key: entry.claim for key, entry in missing.items()}
    question = ClaimsQuestion(claims, setups, current.all_lenses())
    try:
        return current.desk().claims.start(
            current.viewer().person,
            question,
            current.modeller(),
            _keeper({k: e.stamp for k, e in missing.items()}),
        )
    except BusyError:
        return None


def _keeper(stamps: dict[str, Stamp]) -> Callable[[dict[str, Verdict]], None]:
    """Keeps verdicts when they are made, in a session of its own: the request will be over."""
    store, viewer = current.desk().store, current.viewer()

    def keep(found: dict[str, Verdict]) -> None:
        made = {key: (stamp, found[key]) for key, stamp in stamps.items() if key in found}
        with store.writing() as session:
            keep_verdicts(session, viewer, made)

    return keep


def _claim(key: str) -> ClaimView:
    every = {entry.key: entry for entry in entries()}
    if key not in every:
        raise UnknownNameError("claim", key, "one of the ledger")
    run = _work_out((every[key],))
    if run is not None and run.wait(arms.AT_ONCE):
        every = {entry.key: entry for entry in entries()}
    entry, body, effort = every[key], Body(), usual_effort()
    try:
        asked = asked_of(entry.claim, _resolve, current.all_lenses())
        setups = asked.setups if asked else ()
        models = tuple(current.modeller().one(v, body, effort=effort) for v in setups)
    except CurveRankError:
        return ClaimView(entry, None, (), ())
    drawn = arms.drawn(setups, body, effort) if setups else ()
    read = (
        tuple(spread_of(asked.read(v, d, body.mass)) for v, d in zip(setups, drawn, strict=True))
        if asked
        else ()
    )
    return ClaimView(entry, asked, models, read)
