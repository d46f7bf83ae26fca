"""An answer is plain data: frozen, complete when it is made, and handed out by what its fields say."""

from __future__ import annotations

import ast
import json
from dataclasses import FrozenInstanceError, dataclass, fields, is_dataclass
from pathlib import Path
from typing import Annotated, Any

import pytest

import curve_rank.web
from curve_rank.answers.board import BoardRequest, board
from curve_rank.answers.claims import claim_answer, weighed
from curve_rank.answers.client import Client
from curve_rank.answers.compare import CompareRequest, side_by_side
from curve_rank.answers.heads import HeadRequest, head_map_of
from curve_rank.answers.loads import loads_elsewhere
from curve_rank.answers.means import Library, Means
from curve_rank.answers.plain import Shown, plain, to_digits
from curve_rank.answers.series import SeriesRequest, stepped
from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.keeping import Keeping
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.spreads import Spread
from curve_rank.study.claims import built_in_claims
from curve_rank.study.transfer import KnownSet
from tests.conftest import KEPT

LIBRARY = Library()


@pytest.fixture(scope="module")
def means() -> Means:
    return Means(LIBRARY, KEPT, lambda some, body, effort: fixed_draws(some, body, effort, KEPT))


@pytest.fixture(scope="module")
def made(means: Means) -> tuple[object, ...]:
    asked = BoardRequest(target="biceps_long", equipment=("dumbbell",)).of(Client(), LIBRARY)
    compared = CompareRequest().of(Client(), LIBRARY)
    curl, chin = (find_variant(name, built_in()) for name in ("standing-dumbbell-curl", "chin-up"))
    along = SeriesRequest(field="posture.trunk_pitch").of(curl, Client())
    weight = {"pad_short_head": built_in_claims()["pad_short_head"]}
    (entry,) = weighed(LIBRARY, weight, KEPT)
    return (
        board(means, asked.question),
        stepped(means, along.question),
        head_map_of(means, HeadRequest().of("triceps_long", LIBRARY)),
        entry,
        claim_answer(means, entry),
        side_by_side(means, compared),
        loads_elsewhere(means, Body(), KnownSet(curl, 12.0, 10), chin, 10),
    )


def test_an_answer_asks_nothing_more_once_it_is_made(
    made: tuple[object, ...], monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*_args: object, **_named: object) -> None:
        raise AssertionError("an answer asked for more")

    for owner, name in ((Modeller, "model"), (Modeller, "drawn"), (Keeping, "once"), (Keeping, "all")):
        monkeypatch.setattr(owner, name, refuse)
    for answer in made:
        assert json.loads(json.dumps(plain(answer), allow_nan=False))


def parts(value: Any) -> list[Any]:
    """Everything within an answer."""
    if is_dataclass(value) and not isinstance(value, type):
        inner = [getattr(value, one.name) for one in fields(value)]
    elif isinstance(value, dict):
        inner = list(value.values())
    else:
        inner = list(value) if isinstance(value, tuple | list) else []
    return [value, *(part for one in inner for part in parts(one))]


def test_an_answer_holds_no_model_and_cannot_be_changed(made: tuple[Any, ...]) -> None:
    for answer in made:
        assert not any(isinstance(part, Modeller | VariantModel) for part in parts(answer))
        with pytest.raises(FrozenInstanceError):
            setattr(answer, fields(answer)[0].name, None)


@dataclass(frozen=True)
class Told:
    value: Annotated[float, to_digits(1)]
    spread: Annotated[Spread, to_digits(2)]
    by_head: Annotated[dict[str, float], to_digits(0)]
    seen: Shown[str]


def test_a_field_says_to_how_many_digits_it_is_handed_out_and_what_is_only_shown() -> None:
    one = Told(-0.04, Spread(1.005, 0.994, 1.016), {"a": 2.6, "b": -0.2}, "on a page")
    assert plain(one) == {
        "value": 0.0, "spread": {"median": 1.0, "low": 0.99, "high": 1.02}, "by_head": {"a": 3.0, "b": 0.0},
    }  # fmt: skip
    assert "-0.0" not in json.dumps(plain(one))


def test_what_is_asked_is_one_however_it_is_written() -> None:
    asked = BoardRequest(target="biceps", reps=5, spare=("elbow",)).of(Client(person=3), LIBRARY)
    assert asked.address == "target=biceps&lens=long_length&for=3&spare=elbow&reps=5"
    with pytest.raises(UnknownNameError, match="lens"):
        BoardRequest(lens="moon").of(Client(), LIBRARY)
    two = CompareRequest(setups=("chin-up",)).of(Client(), LIBRARY)
    assert [one.variant for one in two.setups] == ["chin-up", "reclined-60-dumbbell-curl"]
    assert two.first(1).startswith("with=reclined-60-dumbbell-curl&with=chin-up")
    assert two.without(0) == "with=reclined-60-dumbbell-curl&target=biceps_long"
    five = tuple(v.id for v in built_in()[:5])
    with pytest.raises(BadInputError, match="2 to 4"):
        CompareRequest(setups=five).of(Client(), LIBRARY)


def test_a_page_hands_its_template_one_answer() -> None:
    pages = sorted((Path(curve_rank.web.__file__).parent / "pages").rglob("*.py"))
    calls = [
        node
        for page in pages
        for node in ast.walk(ast.parse(page.read_text(encoding="utf-8")))
        if isinstance(node, ast.Call) and getattr(node.func, "id", "") == "render_template"
    ]
    handed = [{word.arg for word in call.keywords} & {"answer", "view"} for call in calls]
    assert sum("answer" in one for one in handed) >= 12
    assert max(map(len, handed)) == 1
