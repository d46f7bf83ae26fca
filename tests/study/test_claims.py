"""The ledger: every school's row, verdicts that count draws, and what turns them."""

from __future__ import annotations

from collections import Counter
from typing import Any

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART, uncertain
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import parse_setup
from curve_rank.errors import BadInputError
from curve_rank.rating.draws import fixed_draws, one_off_draws
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.readings import all_readings
from curve_rank.rating.spreads import Spread
from curve_rank.rating.targets import targets
from curve_rank.study.claim_words import probability_words, size_words, turn_words
from curve_rank.study.claims import Claim, built_in_claims, validate_claim
from curve_rank.study.compare import compare
from curve_rank.study.verdicts import Turn, Verdict, asked_of, verdicts

BODY, EFFORT = Body(), 0.75
SCHOOLS = """
Where should the hard spot be? | Does grip width choose the biceps head? | Is the kickback worthwhile? |
Arm-behind, bar-up-the-body curl: which head? | Preacher position: which head? | Thumb-up curls: which
muscle? | Palm-up press-down: which head? | Lock out? | Full elbow extension at the bottom of a curl? |
Heavy, moderate or light? | To failure? | Upper arm in a curl | Strict or some cheating? | Kickback:
which head? | Grip width in lying extensions | How narrow is a narrow press? | Arm behind the body:
which biceps head? | Wrists turned out at lockout | Wrist in curls | Does lockout protect or hurt
elbows? | Arms beside pulling or pressing days | Which muscle first? | Two or three sessions, or more? |
Change exercises? | Overhead extension with the arms close in?
"""
PLAIN: dict[str, Any] = {
    "name": "x",
    "question": "Which?",
    "sides": ("this", "that"),
    "test": {"more": ("chin-up",), "less": ("pull-up-palms-away",), "reading": "load", "head": "biceps_long"},
}


def resolve(line: str) -> Variant:
    setup = parse_setup(line)
    return setup.of(find_variant(setup.variant, built_in()))


def weighed(claims: dict[str, Claim], modeller: Modeller) -> dict[str, Verdict]:
    return dict(
        verdicts(
            claims, resolve, lenses(), modeller=modeller, body=BODY, effort=EFFORT,
            draw=lambda v: fixed_draws(v, BODY, EFFORT, modeller),
            draw_apart=lambda v: fixed_draws(v, BODY, EFFORT, modeller, APART),
        )
    )  # fmt: skip


@pytest.fixture(scope="module")
def ledger(modeller: Modeller) -> dict[str, Verdict]:
    return weighed(built_in_claims(), modeller)


def test_every_question_of_the_schools_stands_there_and_each_verdict_three_times(
    ledger: dict[str, Verdict],
) -> None:
    asked = {claim.question for claim in built_in_claims().values()}
    assert {" ".join(question.split()) for question in SCHOOLS.split("|")} <= asked
    counts = Counter(verdict.outcome for verdict in ledger.values())
    assert all(counts[outcome] >= 3 for outcome in ("holds", "fails", "too_close", "outside"))
    for key, verdict in ledger.items():
        if verdict.outcome == "outside":
            assert len(verdict.missing) > 20, key
        else:
            assert verdict.size is not None, key


def test_every_verdict_is_what_comparing_and_counting_gives(
    ledger: dict[str, Verdict], modeller: Modeller
) -> None:
    for key, claim in built_in_claims().items():
        test, verdict = claim.test, ledger[key]
        if test is None:
            continue
        head, sign = targets()[test.head].heads[0], 1 if test.way == "up" else -1
        pairs = (
            list(zip(test.more, test.less, strict=True))
            if test.less
            else [(line, line) for line in test.more]
        )
        apart = []
        for more, less in pairs:
            variants = (resolve(less), resolve(more))
            drawn = fixed_draws(variants, BODY, EFFORT, modeller)
            models = tuple(modeller.one(v, BODY, effort=EFFORT) for v in variants)
            read = all_readings()[test.reading]
            second = read.values(drawn[1], head)
            if test.less:
                found = compare(models, drawn, targets()[test.head], lenses()["long_length"])
                (told,) = (r for r in found.readings if r.reading.key == test.reading)
                apart.append(second - read.values(drawn[0], head))
                if len(pairs) == 1 and verdict.size:
                    assert verdict.size == told.differences[0, 1].spread
            else:
                apart.append(second - (read.values(drawn[1], test.against) if test.against else 0.0))
        mean = np.mean(apart, axis=0)
        enough = sign * (mean - test.by) if test.is_alone else sign * mean - test.by
        chance = float((enough > 0).mean() + (enough == 0).mean() / 2)
        assert verdict.probability == pytest.approx(chance), key
        outcome = "holds" if chance >= 0.7 else "fails" if chance <= 0.3 else "too_close"
        assert verdict.outcome == outcome, key


def test_what_is_said_to_turn_a_claim_turns_it(ledger: dict[str, Verdict]) -> None:
    turned = 0
    for key in (
        "sits_up",
        "thumb_up_brachialis",
        "arm_behind_both_heads",
        "reclined_needs_a_drop",
        "narrow_press",
    ):
        asked = asked_of(built_in_claims()[key], resolve, lenses())
        assert asked
        assert sum(one.part for one in ledger[key].hangs_on) <= 1 + 1e-6
        for turn in ledger[key].turns:
            place = uncertain().index(turn.parameter)
            # A straight line between places tried has it to within a fifth.
            offs = [(place, 0.0), (place, 0.8 * turn.spreads), (place, 1.2 * turn.spreads)]
            drawn = one_off_draws(asked.setups, BODY, EFFORT, offs)
            plain, before, after = asked.margins(asked.sizes(drawn, BODY.mass)).tolist()
            assert plain * before > 0 > plain * after, (key, turn)
            turned += 1
    assert turned >= 5


def test_a_claim_about_its_own_mirror_is_even_and_by_a_score_is_the_board_s(modeller: Modeller) -> None:
    same = PLAIN["test"] | {"less": ("chin-up",)}
    score = PLAIN["test"] | {"reading": "score", "lens": "long_length"}
    swapped = score | {"more": score["less"], "less": score["more"]}
    claims = {
        name: validate_claim(PLAIN | {"test": t})
        for name, t in (("same", same), ("one", score), ("two", swapped))
    }
    found = weighed(claims, modeller)
    assert (found["same"].probability, found["same"].outcome) == (0.5, "too_close")
    one, two = found["one"], found["two"]
    assert one.size
    assert two.size
    assert one.probability is not None
    assert two.probability is not None
    assert one.size.median == pytest.approx(-two.size.median)
    assert one.probability == pytest.approx(1 - two.probability)


def test_a_set_up_that_cannot_be_leaves_a_claim_outside(modeller: Modeller) -> None:
    test = PLAIN["test"] | {"less": ("chin-up~hand_path.keys.0.up=1.4",)}
    found = weighed({"x": validate_claim(PLAIN | {"test": test})}, modeller)["x"]
    assert found.outcome == "outside"
    assert "reach" in found.missing


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"reading": "shine"}, "shine"),
        ({"head": "calf"}, "calf"),
        ({"by": float("nan")}, "by"),
        ({"less": ("a", "b")}, "as many"),
        ({"against": "brachialis"}, "against"),
        ({"less": (), "against": "brachialis"}, "same for every head"),
        ({"lens": "long_length"}, "lens"),
        ({"reading": "score"}, "lens"),
        ({"way": "sideways"}, "up"),
        ({"more": ()}, "more"),
        ({"more": ("chin-up~x",)}, "path=value"),
        ({"extra": 1}, "extra"),
    ],
)
def test_what_is_no_claim_is_refused_by_name(change: dict[str, Any], says: str) -> None:
    with pytest.raises(BadInputError, match=says):
        validate_claim(PLAIN | {"test": PLAIN["test"] | change})


def test_a_claim_has_a_test_or_says_what_is_missing() -> None:
    for change in ({"missing": "Luck."}, {"test": None}, {"sides": ("one",)}, {"name": "a\u202eb"}):
        with pytest.raises(BadInputError):
            validate_claim(PLAIN | change)
    with pytest.raises(BadInputError, match="extensors"):
        asked_of(
            validate_claim(PLAIN | {"test": PLAIN["test"] | {"head": "triceps_long"}}), resolve, lenses()
        )


def test_words_say_how_many_arms_how_much_and_what_would_turn_it() -> None:
    claim = validate_claim(PLAIN)
    assert claim.test
    told = Verdict("fails", 0.23, Spread(-4.2, -9.0, 1.0))
    assert probability_words(told) == "in this physics, in 77 arms of 100"
    words = size_words(told, claim.test, all_readings()["load"])
    assert words == "Working load: 4.2 kg less (−1.0 to 9.0 kg). The claim asks for more."
    assert turn_words(Turn("setup.trunk", -2.0)) == "how the trunk is set, 2.0 spreads lower (−10°)"
    assert (
        turn_words(Turn("heads.biceps_long.peak_force", 1.5))
        == "Biceps long head: peak force, 1.5 spreads higher (+30 %)"
    )
