"""The next target: on logs of every kind it keeps to the rules, and names what it rests on."""

from __future__ import annotations

from datetime import timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.practice.rooms import Room, is_a_step, load_up, loads_in, plates_for
from curve_rank.training.log import Bout, LoggedSet, bouts
from curve_rank.training.noticing import notices
from curve_rank.training.pain import pain_state
from curve_rank.training.progression import NextTarget, Range, guide_range, next_target
from curve_rank.training.same_effort import load_at, points_of, records_of, said_of, strength_of, trend_of
from curve_rank.training.slopes import slope_of, usual_noise
from tests.training.logged import CHIN, CURL, DOWN, MONDAY, did, fact_of
from tests.training.quick import HOME

WANTED = Range(sets=3, reps_from=8, reps_to=12)
LATER = MONDAY + timedelta(days=3)


def after(log: list[LoggedSet], variant: str = CURL, room: Room | None = HOME, **told: object) -> NextTarget:
    document = find_variant(variant, built_in())
    today = max(one.day for one in log) + timedelta(days=2) if log else LATER
    flag = pain_state(log, today).of(variant)
    rows = bouts(log).get(variant, ())
    return next_target(rows, document, WANTED, room, today, flag=flag, **told)  # type: ignore[arg-type]


def test_what_trunk_and_elbows_helped_with_raises_no_weight_and_is_no_record() -> None:
    strict, loose = did(0, 12, 12, 12), did(0, 12, 12, 12, done="little_help")
    assert after(strict).load > after(loose).load == 10.0
    assert "Trunk or elbows helped in set 1" in after(loose).reason
    assert strength_of(strict[0], fact_of(CURL)) is not None
    assert strength_of(loose[0], fact_of(CURL)) is None


@st.composite
def logs(draw: st.DrawFn) -> list[LoggedSet]:
    """Up to five sessions of up to four sets, whole or not, on one side or two, painful or not."""
    log: list[LoggedSet] = []
    two = draw(st.booleans())
    for n in range(draw(st.integers(1, 5))):
        load = draw(st.sampled_from((8.0, 10.0, 12.0, 16.0)))
        for number in range(1, draw(st.integers(1, 4)) + 1):
            for side in ("left", "right") if two else ("",):
                kind = draw(st.sampled_from(("working",) * 6 + ("partial", "assisted", "lowering")))
                pain = draw(st.sampled_from((0,) * 12 + (2, 8)))
                reps = draw(st.sampled_from((7, 11, 12, 12, 12, 13)))
                told = {"side": side, "kind": kind, "pain": pain, "pain_joint": "elbow" if pain else ""}
                (one,) = did(3 * n, reps, load=load, **told)
                log.append(one.model_copy(update={"set": number}))
    return log


@given(logs())
def test_it_never_adds_before_all_reached_the_top_nor_a_step_that_is_not_there(log: list[LoggedSet]) -> None:
    found = after(log)
    rows: list[Bout] = [b for b in bouts(log)[CURL] if b.sets]
    assert found.reason
    assert is_a_step(HOME, find_variant(CURL, built_in()), found.load) or found.action in ("pause", "stop")
    assert set(found.rests_on) <= {one.key for one in log}
    if not rows or found.load <= max(one.load_kg for one in rows[-1].sets):
        return
    last = rows[-1].sets
    assert found.action == "add"
    assert {one.key for one in last} == set(found.rests_on)
    assert all(one.reps >= WANTED.reps_to for one in last)
    assert len({one.set for one in last}) >= WANTED.sets
    assert not any(one.hurts for one in log if one.day == last[0].day)
    top = max(one.load_kg for one in last)
    assert found.load == load_up(HOME, find_variant(CURL, built_in()), top)


def test_the_weight_stays_until_the_last_set_is_there_and_says_which_was_not() -> None:
    short = after(did(0, 12, 12, 11))
    assert (short.action, short.load, short.reps) == ("stay", 10, (12, 12, 12))
    assert "Set 3 was 11 of 12 on 2 March" in short.reason
    full = after(did(0, 12, 12, 12))
    assert (full.action, full.load) == ("add", 12)
    assert "10 kg × 12, 12, 12" in full.reason
    assert full.reps[0] < 12


def test_the_weaker_side_decides_and_the_other_only_matches() -> None:
    left, right = did(0, 12, 12, 11, side="left"), did(0, 12, 12, 12, side="right")
    assert after(left + right).action == "stay"
    assert "(left)" in after(left + right).reason
    assert after(did(0, 12, 12, 12, side="left") + right).action == "add"


def test_a_step_too_large_waits_for_more_repetitions_but_not_for_ever() -> None:
    coarse = Room(name="Two pairs", dumbbells_kg=(8, 16))
    first = after(did(0, 12, 12, 12, load=8), room=coarse)
    assert (first.action, first.load, first.reps) == ("reps", 8, (13, 13, 13))
    assert "the next weight here is 16 kg" in first.reason
    assert after(did(0, 18, 18, 18, load=8), room=coarse).load == 16
    top = after(did(0, 12, 12, 12, load=16), room=coarse)
    assert (top.action, top.load) == ("reps", 16)


def test_body_weight_goes_through_less_help_to_added_load() -> None:
    steps = [
        after(did(0, 12, 12, 12, load=kg, variant=CHIN), CHIN, Room(), hands=76.0) for kg in (-20, -2.5, 0)
    ]
    assert [one.load for one in steps] == [-17.5, 0, 1.25]
    assert "less help" in steps[0].reason
    assert steps[0].reason.count("of help") >= 1


def test_after_a_long_time_away_and_under_the_range_it_is_lighter() -> None:
    document = find_variant(CURL, built_in())
    rows = bouts(did(0, 12, 12, 12))[CURL]
    away = next_target(rows, document, WANTED, HOME, MONDAY + timedelta(days=40))
    assert (away.action, away.load) == ("away", 8)
    heavy = bouts(did(0, 12, 12, 12, load=30, variant=DOWN))[DOWN]
    press = find_variant(DOWN, built_in())
    for step, load in ((2.5, 27.5), (5, 25), (10, 30), (6, 24)):
        room = Room(stack_from_kg=step, stack_to_kg=60, stack_step_kg=step)
        back = next_target(heavy, press, WANTED, room, MONDAY + timedelta(days=40))
        # 27 kg is what the time away costs: never more than the step that is nearest to it.
        assert (back.action, back.load, back.reps) == ("away", load, (8, 8, 8))
        assert ("the weight stays" in back.reason) == (load == 30)
    low = after(did(0, 7, 6, 6) + did(3, 7, 7, 6))
    assert (low.action, low.load) == ("less", 8)
    assert after(did(0, 9, 8, 8) + did(3, 7, 7, 6)).action == "stay"
    begun = next_target((), document, WANTED, HOME, LATER, start=13.0)
    assert (begun.action, begun.load) == ("begin", 12)


def test_pain_warns_pauses_stops_and_ends() -> None:
    sore = {"pain": 3, "pain_joint": "elbow"}
    once = did(0, 12, 12, 12) + did(3, 12, 12, 12, **sore)
    held = after(once)
    assert (held.action, held.load) == ("hold", 10)
    assert "once more, and it pauses" in held.reason
    twice = once + did(5, 10, **sore)
    assert after(twice).action == "pause"
    assert pain_state(twice, LATER + timedelta(days=4)).spare == ("elbow",)
    well = once + did(5, 12, 12, 12)
    assert after(well).action == "add"
    sharp = did(0, 12, 12, 12) + did(3, 5, pain=2, pain_joint="elbow", sharp=True)
    assert after(sharp).action == "stop"
    assert "licensed clinician" in after(sharp).reason
    state = pain_state(sharp, MONDAY + timedelta(days=4))
    assert state.of(DOWN, fact_of(DOWN)) == state.stopped[0], "every exercise that strains the joint"
    again = next_target(
        bouts(twice)[CURL], find_variant(CURL, built_in()), WANTED, HOME, MONDAY + timedelta(days=25),
        over=pain_state(twice, MONDAY + timedelta(days=25)).over[CURL],
    )  # fmt: skip
    assert (again.action, again.load) == ("again", 8)


@pytest.mark.parametrize("told", [{"pain": 6}, {"pain": 1, "sharp": True}])
def test_strong_and_sharp_pain_is_said_once_and_stops(told: dict[str, object]) -> None:
    """Not "it stops" and "no more weight, and it pauses" of the same exercise."""
    log = did(0, 12, pain=2, pain_joint="elbow") + did(3, 8, pain_joint="elbow", **told)
    (flag,) = pain_state(log, MONDAY + timedelta(days=4)).flags
    assert flag.level == "stop"
    assert pain_state(did(0, 8, pain=5, pain_joint="elbow"), LATER).flags[0].level == "warn"


def test_pain_that_goes_on_in_changing_exercises_lasts() -> None:
    log = []
    for n, variant in enumerate((CURL, DOWN, CURL, DOWN)):
        log += did(5 * n, 10, variant=variant, pain=2, pain_joint="elbow")
    assert pain_state(log[:2], MONDAY + timedelta(days=6)).stopped == ()
    (flag,) = pain_state(log, MONDAY + timedelta(days=16)).stopped
    assert "since 2 March, told in 4 sessions: it lasts" in flag.says


def test_what_is_noticed_names_the_sets_and_what_to_try() -> None:
    facts = {CURL: fact_of(CURL)}
    uneven = [o for n in range(3) for s, r in (("left", 8), ("right", 14)) for o in did(3 * n, r, side=s)]
    drift = [one for n, left in enumerate((3, 2, 1)) for one in did(3 * n, 10, reserve=left)]
    fall = did(0, 12, 7, 3, reserve=0)
    grip = [one for n in range(2) for one in did(3 * n, 10, gave_out="grip")]
    for kind, log in (
        ("sides", uneven),
        ("drift", drift),
        ("fall", fall),
        ("gave_out", grip),
    ):
        told = {one.kind: one for one in notices(bouts(log), facts, {CURL: 90})}
        assert kind in told, kind
        assert told[kind].tries
    assert "left side" in {one.kind: one for one in notices(bouts(uneven), facts, {})}["sides"].says
    steady = [one for n in range(6) for one in did(3 * n, 8 + n, 8 + n)]
    assert notices(bouts(steady), facts, {CURL: 90}) == ()


def test_different_exercises_share_one_line() -> None:
    facts = {key: fact_of(key) for key in (CURL, CHIN)}
    for strength in (0.8, 1.3):
        for key, fact in facts.items():
            (one,) = did(0, 8, load=load_at(strength, fact, 10), variant=key, reserve=2)
            assert strength_of(one, fact) == pytest.approx(strength, rel=1e-6)
    log = [o for n in range(6) for o in did(3 * n, 10, load=10 * 1.02**n, variant=CURL)]
    points = points_of(bouts(log), facts, "flexors")
    trend = trend_of(slope_of(said_of(bouts(log), facts, "flexors"), usual_noise()))
    assert trend is not None
    assert trend.low <= trend.gain <= trend.high
    assert trend.gain == pytest.approx(points[-1].strength / points[0].strength - 1, rel=1e-3)
    assert len(records_of(points)) == 6
    assert trend_of(slope_of(said_of(bouts(log[:2]), facts), usual_noise())) is None


def test_every_load_of_a_room_can_be_picked() -> None:
    room = Room(name="Any")
    for key in (CURL, DOWN, CHIN, "standing-barbell-curl"):
        document = find_variant(key, built_in())
        steps = loads_in(room, document)
        assert steps is not None
        for load in steps[steps > 0][:40]:
            assert plates_for(room, document, float(load)), (key, load)
    assert (
        plates_for(room, find_variant("standing-barbell-curl", built_in()), 32.5)
        == "bar 20 kg, each side 5 + 1.25"
    )
    assert guide_range(find_variant(CURL, built_in())).reps_to >= 8
