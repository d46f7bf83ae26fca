"""Choosing: never beaten by trying every set; more never makes it worse; what cannot be says why."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest

from curve_rank.errors import BadInputError
from curve_rank.practice.choose_set import Candidates, ImpossibleWishError, Wishes, choose, swaps


def random_case(seed: int, count: int | None = None) -> tuple[Candidates, Wishes]:
    chance = np.random.default_rng(seed)
    size = count or int(chance.integers(4, 11))
    alike = chance.random((size, size)) < 0.15
    alike = np.triu(alike, 1) | np.triu(alike, 1).T
    candidates = Candidates(
        ids=tuple(f"v{n}" for n in range(size)),
        covers=chance.random((size, int(chance.integers(3, 9)))) < 0.3,
        scores=chance.uniform(0, 90, size).round(1),
        minutes=chance.uniform(6, 14, size).round(1),
        heavy=chance.random(size) < 0.3,
        brachialis=chance.random(size) < 0.4,
        alike=alike,
    )
    wishes = Wishes(
        at_most=int(chance.integers(1, 5)),
        minutes=None if chance.random() < 0.4 else float(chance.uniform(8, 45)),
        heavy=bool(chance.random() < 0.4),
        brachialis=bool(chance.random() < 0.4),
        pinned=frozenset({"v0"}) if chance.random() < 0.25 else frozenset(),
        banned=frozenset({"v1"}) if chance.random() < 0.25 else frozenset(),
    )
    return candidates, wishes


def is_wished(candidates: Candidates, wishes: Wishes, picks: tuple[int, ...]) -> bool:
    """Written anew from the wishes themselves."""
    ids = {candidates.ids[n] for n in picks}
    return (
        len(picks) <= wishes.at_most
        and wishes.pinned <= ids
        and not ids & wishes.banned
        and (wishes.minutes is None or sum(candidates.minutes[n] for n in picks) <= wishes.minutes + 1e-6)
        and (not wishes.heavy or any(candidates.heavy[n] for n in picks))
        and (not wishes.brachialis or any(candidates.brachialis[n] for n in picks))
        and not any(candidates.alike[a, b] for a, b in combinations(picks, 2))
    )


def worth(candidates: Candidates, picks: tuple[int, ...]) -> tuple[float, float, float]:
    covered = candidates.covers[list(picks)].any(axis=0).sum() if picks else 0
    return (float(covered), -float(len(picks)), round(float(candidates.scores[list(picks)].sum()), 6))


def best_by_trying(candidates: Candidates, wishes: Wishes) -> tuple[float, float, float] | None:
    every = range(len(candidates.ids))
    found = [
        worth(candidates, picks)
        for size in range(wishes.at_most + 1)
        for picks in combinations(every, size)
        if is_wished(candidates, wishes, picks)
    ]
    return max(found, default=None)


@pytest.mark.parametrize("part", range(4))
def test_it_is_never_beaten_by_trying_every_set(part: int) -> None:
    impossible = 0
    for seed in range(50 * part, 50 * part + 50):
        candidates, wishes = random_case(seed)
        best = best_by_trying(candidates, wishes)
        if best is None:
            impossible += 1
            with pytest.raises(ImpossibleWishError):
                choose(candidates, wishes)
            continue
        found = choose(candidates, wishes)
        assert is_wished(candidates, wishes, found.picks), seed
        assert worth(candidates, found.picks) == pytest.approx(best, abs=1e-3), seed
        assert found.optimal
    assert impossible < 25


def test_more_to_choose_from_never_makes_it_worse() -> None:
    for seed in range(30):
        candidates, wishes = random_case(seed, 10)
        wishes = Wishes(at_most=wishes.at_most, minutes=wishes.minutes)
        few = Candidates(
            candidates.ids[:6], candidates.covers[:6], candidates.scores[:6], candidates.minutes[:6],
            candidates.heavy[:6], candidates.brachialis[:6], candidates.alike[:6, :6],
        )  # fmt: skip
        less, more = choose(few, wishes), choose(candidates, wishes)
        assert worth(candidates, more.picks) >= worth(candidates, less.picks)


def small(**changed: object) -> Candidates:
    values: dict[str, object] = {
        "ids": ("press", "curl", "row"),
        "covers": np.array([[1, 0], [0, 1], [0, 1]], dtype=bool),
        "scores": np.array([50.0, 40.0, 60.0]),
        "minutes": np.array([10.0, 8.0, 9.0]),
        "heavy": np.array([True, False, False]),
        "brachialis": np.array([False, True, False]),
        "alike": np.zeros((3, 3), dtype=bool),
    }
    return Candidates(**(values | changed))  # type: ignore[arg-type]


def told(candidates: Candidates, wishes: Wishes) -> tuple[str, ...]:
    with pytest.raises(ImpossibleWishError) as impossible:
        choose(candidates, wishes)
    assert "give up" in str(impossible.value)
    return impossible.value.giving_up


def test_what_cannot_be_names_the_smallest_thing_to_give_up() -> None:
    both = Wishes(at_most=1, heavy=True, brachialis=True)
    assert told(small(), both) == (
        "the heavy basic lift", "something for the brachialis", "the limit of 1: 2 are enough",
    )  # fmt: skip
    hurried = told(small(), Wishes(minutes=12, heavy=True, brachialis=True))
    assert "the 12 minutes: 18 are enough" in hurried
    alike = np.array([[0, 1, 0], [1, 0, 0], [0, 0, 0]], dtype=bool)
    pinned = told(small(alike=alike), Wishes(pinned=frozenset({"press", "curl"})))
    assert pinned == ("the pinned curl", "the pinned press")
    assert told(small(), Wishes(heavy=True, banned=frozenset({"press"}))) == (
        "the heavy basic lift", "the ban of press",
    )  # fmt: skip


@pytest.mark.parametrize(
    "wishes",
    [
        Wishes(at_most=0),
        Wishes(at_most=99),
        Wishes(minutes=0),
        Wishes(minutes=float("nan")),
        Wishes(pinned=frozenset({"nothing"})),
        Wishes(pinned=frozenset({"curl"}), banned=frozenset({"curl"})),
    ],
)
def test_wishes_that_make_no_sense_are_refused(wishes: Wishes) -> None:
    with pytest.raises(BadInputError):
        choose(small(), wishes)


def test_swaps_are_the_next_best_in_a_picks_place() -> None:
    candidates = small()
    choice = choose(candidates, Wishes(at_most=2))
    assert [candidates.ids[n] for n in choice.picks] == ["press", "row"]
    found = swaps(candidates, Wishes(at_most=2), choice)
    (instead,) = found[2]
    assert (candidates.ids[instead.other], instead.cells, instead.score) == ("curl", 0, -20.0)
    (worse,) = found[0]
    assert (candidates.ids[worse.other], worse.cells) == ("curl", -1)
    pinned = Wishes(at_most=2, pinned=frozenset({"press"}))
    assert swaps(candidates, pinned, choose(candidates, pinned))[0] == ()
    nothing = Candidates((), np.zeros((0, 2), bool), *(np.zeros(0),) * 4, np.zeros((0, 0), bool))
    with pytest.raises(BadInputError, match="leave something"):
        choose(nothing, Wishes())
