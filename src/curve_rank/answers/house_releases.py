"""What a house tells others of itself once a year, and what another house told."""

from __future__ import annotations

import json
import secrets
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from curve_rank.answers.house_trials import told_of_trial
from curve_rank.errors import BadInputError
from curve_rank.house.release import (
    GROUPS_TOLD,
    TRIAL_TOLD,
    Release,
    by_group,
    difference_told,
    group_told,
    refusal,
    release,
    release_from,
    spread_told,
)
from curve_rank.house.shares import Share
from curve_rank.practice.rules import rule
from curve_rank.rating.targets import known
from curve_rank.store.house import other_houses, pooling
from curve_rank.study.personal import TENTH

if TYPE_CHECKING:
    from curve_rank.answers.house import HouseBook


def releases(book: HouseBook) -> tuple[Release, ...]:
    """What the viewer's house has told."""
    return tuple(release_from(json.loads(text)) for text in pooling.releases(book.db, book.viewer))


def why_none(book: HouseBook) -> str:
    """Why nothing may be told to other houses this year; empty where it may."""
    there = pooling.months(book.db, book.viewer)
    people = len(pooling.shares(book.db, book.viewer, there[0])) if there else 0
    return refusal("groups", people, releases(book), book.today.year)


def make_release(book: HouseBook, trial: int | None = None) -> Release:
    """This year's release, of the newest month or of a trial: its noise is drawn, and kept.

    Raises
    ------
    UnknownNameError, BadInputError
        Saying why not.
    """
    year, before = book.today.year, releases(book)
    rng = np.random.default_rng(secrets.randbits(128))
    if trial is not None:
        told = told_of_trial(book.db, book.viewer, trial, book.today)
        made = release(told, TRIAL_TOLD, "trial", year, before, rng)
    else:
        there = pooling.months(book.db, book.viewer)
        texts = pooling.shares(book.db, book.viewer, there[0]) if there else ()
        groups = {one.id: group_told(one) for one in book.means.variants}
        rows = [by_group(Share.read(text), groups) for text in texts]
        made = release(rows, GROUPS_TOLD, "groups", year, before, rng)
    with book.store.writing() as db:
        pooling.keep_release(db, book.viewer, year, json.dumps(made.as_data()))
    return made


@dataclass(frozen=True)
class OtherHouse:
    """What another house told: each number with what its noise and its people leave unsure, in `unit`."""

    id: int
    claim: str
    """Of which it is one more study; empty for none."""
    told: Release
    rows: tuple[tuple[str, float, float], ...]
    unit: str
    weight: float
    """Of the model's own error it is worth so many exercises [1]."""


def others_kept(book: HouseBook) -> tuple[OtherHouse, ...]:
    """What other houses told, of those that the viewer has read in, newest first."""
    return tuple(
        other_house(one.content, one.id, one.claim) for one in other_houses.other_houses(book.db, book.viewer)
    )


def keep_other(book: HouseBook, text: str, claim: str) -> OtherHouse:
    """Read a release in, and keep it as one more study of a claim, or of none.

    Raises
    ------
    BadInputError, UnknownNameError
        For what is no release, for a claim that is none, and for one of a trial's claim that tells of none.
    """
    read = other_house(text)
    if claim:
        known("claim", claim, book.means.library.claims)
        difference_told(read.told)
    with book.store.writing() as db:
        content = json.dumps(json.loads(text), sort_keys=True)  # the same, however it is laid out
        other_houses.keep_other_house(db, book.viewer, content, claim)
    return read


def other_house(text: str, number: int = 0, claim: str = "") -> OtherHouse:
    """A release as it was handed out, as one more study with its weight.

    Raises
    ------
    BadInputError
    """
    try:
        data = json.loads(text)
    except ValueError as error:
        raise BadInputError("release", text[:80], "the JSON that a house handed out") from error
    if not isinstance(data, dict):
        raise BadInputError("release", text[:80], "the JSON that a house handed out")
    told = release_from(data)
    wide = spread_told(told)
    # a trial's difference is in parts of a length, means of groups are logarithms of loads
    per, unit = (rule("release.trial_unit"), "cm") if told.content == "trial" else (100.0, "%")
    rows = tuple((name, per * value, per * TENTH * wide) for name, value in told.means.items())
    return OtherHouse(number, claim, told, rows, unit, (rule("house.own_error") / wide) ** 2)
