"""Trials over people: a coin, one day of looking, and what they and other houses say of a claim."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from curve_rank.answers.house_trials import house_trial_answer, trials_seen
from curve_rank.house.release import TRIAL_TOLD, release
from curve_rank.store import measures
from curve_rank.store.demo_house import FIRST, SECOND_EDUCATOR
from curve_rank.store.house import house_trials
from curve_rank.store.viewers import viewer_of
from curve_rank.training.circumference import ArmMeasure
from tests.helpers import desk_of
from tests.web.pages.conftest import Mill
from tests.web.pages.test_sign_in import as_anybody

WREN, GROWTH_CLAIM = "Wren Achterberg", "hard_spot_place"


def test_a_trial_tosses_its_coin_and_shows_nothing_before_its_day(mill: Mill) -> None:
    today = datetime.now(UTC).date()
    begins, looks_on = ((today + timedelta(days=days)).isoformat() for days in (-70, 7))
    ways = {"name": "Recline or pad?", "first": "Recline first", "second": "Pad first"}
    asked = ways | {"difference": "0,5", "begins": begins, "looks_on": looks_on}
    for wrong in ({"difference": "9"}, {"looks_on": asked["begins"]}, {"first": ""}, {"begins": "soon"}):
        answer = mill.page.post("/house/trials", data=asked | wrong)
        assert answer.status_code == 400, wrong
    assert mill.page.post("/house/trials", data=asked).status_code == 303
    people = [mill.person(f"{first} Underhill-Sedge") for first in FIRST[:12]]
    for person in people:
        assert mill.page.post("/house/trials/1/people", data={"person": person}).status_code == 303
    again = mill.page.post("/house/trials/1/people", data={"person": people[0]})
    assert again.status_code == 400
    assert mill.page.post("/house/trials/1/people", data={"person": mill.person(WREN)}).status_code in (
        400,
        404,
    )
    desk = desk_of(mill.app)
    with desk.store.writing() as db:
        viewer = viewer_of(db, mill.person(SECOND_EDUCATOR))
        assert viewer
        trial = house_trials.house_trial(db, viewer, 1)
        for person, _, way in trial.people:
            for day, more in ((trial.begins, 0.0), (trial.looks_on, 1.6 - 1.5 * way)):
                three = tuple(34.0 + more + 0.01 * person for _ in range(3))
                measure = ArmMeasure(day=day, when="start", relaxed=three, flexed=three)
                measures.add_sitting(db, viewer, person, measure, None)
    told = mill.page.get("/house/trials/1.json").get_json()
    assert told["people"] == [6, 6]
    assert (told["open"], told["measured"], told["slope_cm"]) == (False, 0, None)
    assert "nothing of the outcome is shown before" in told["says"]
    assert "Recline first" in mill.page.get("/house/trials/1").text
    with desk.store.reading() as db:
        _, open_ = house_trial_answer(db, viewer, 1, trial.looks_on)
        assert open_.slope_cm == pytest.approx(1.5, abs=0.01)
        assert open_.says == "“Recline first” made arms grow more"
    early = mill.page.post("/house/releases", data={"trial": 1})
    assert early.status_code == 400
    assert "one that has been looked at" in early.text
    other = as_anybody(mill.app, "Maude Ellerby")
    assert other.get("/house/trials/1").status_code == 404
    mill.says(f"{FIRST[0]} Underhill-Sedge", agreed=False)
    assert sum(mill.page.get("/house/trials/1.json").get_json()["people"]) == 11


def test_a_claim_about_growth_has_its_trials_in_one_line_and_other_houses_beside(mill: Mill) -> None:
    today = datetime.now(UTC).date()
    address = f"/claims/{GROWTH_CLAIM}"
    assert "What coins said" not in mill.page.get(address).text
    form = mill.page.get(f"/house/trials?claim={GROWTH_CLAIM}").text
    assert f'name="claim" value="{GROWTH_CLAIM}"' in form
    dates = [(today + timedelta(days=n)).isoformat() for n in (-70, 1)]
    asked = {"name": "Does it?", "first": "The left side", "second": "The right side", "difference": "0.5"}
    asked |= {"claim": GROWTH_CLAIM, "begins": dates[0], "looks_on": dates[1]}
    assert mill.page.post("/house/trials", data=asked | {"claim": "none-such"}).status_code in (400, 404)
    desk, lifters = desk_of(mill.app), [mill.person(f"{first} Underhill-Sedge") for first in FIRST[:16]]
    for half in (lifters[:8], lifters[8:]):
        number = mill.page.post("/house/trials", data=asked).headers["Location"].rpartition("/")[2]
        for person in half:
            mill.page.post(f"/house/trials/{number}/people", data={"person": person})
        with desk.store.writing() as db:
            viewer = viewer_of(db, mill.person(SECOND_EDUCATOR))
            assert viewer
            trial = house_trials.house_trial(db, viewer, int(number))
            assert trial.claim == GROWTH_CLAIM
            for person, _, way in trial.people:
                for day, more in ((trial.begins, 0.0), (trial.looks_on, 1.6 - 1.5 * way)):
                    three = tuple(34.0 + more + 0.03 * (person % 5) for _ in range(3))
                    measure = ArmMeasure(day=day, when="start", relaxed=three, flexed=three)
                    measures.add_sitting(db, viewer, person, measure, None)
    waiting = mill.page.get(address).text
    assert "2 more wait" in waiting
    assert "in one line" not in " ".join(waiting.split())
    rows = [{"difference": 0.1}] * 60
    told = release(rows, TRIAL_TOLD, "trial", 2026, (), np.random.default_rng(1)).as_data()
    assert (
        mill.page.post(
            "/house/releases/read", data={"text": json.dumps(told), "claim": GROWTH_CLAIM}
        ).status_code
        == 303
    )
    with desk.store.reading() as db:
        seen = trials_seen(db, viewer, GROWTH_CLAIM, today + timedelta(days=1))
        assert (seen.looked_at, seen.waiting, seen.measured, seen.others) == (2, 0, 16, 1)
        assert seen.slope_cm == pytest.approx(1.5, abs=0.05)
        assert seen.together
        assert 0.5 < seen.together.slope < 1.5
    page = " ".join(mill.page.get(address).text.split())
    assert "With 1 other house" in page
    assert "of the weight theirs" not in page, "nothing of the trials here before their day"
