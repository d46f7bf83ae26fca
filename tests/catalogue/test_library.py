"""The built-in documents, the published schema, and documents that are not variants."""

from __future__ import annotations

import json
from collections import Counter
from pathlib import Path
from typing import get_args

import pytest
from scripts.write_schema import SCHEMAS, schema_text

from curve_rank.arm.body import Body
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant, parse_variant
from curve_rank.catalogue.schema import Family
from curve_rank.errors import BadInputError
from curve_rank.rating.modelling import Modeller, model_variants
from curve_rank.rating.ranking import question, rank

ROOT = Path(__file__).parents[2]
GOOD = find_variant("standing-dumbbell-curl", built_in()).model_dump(mode="json")
HAND = {"keys": [{"forward": 0.2, "up": -0.9, "out": 0}, {"forward": 0.3, "up": -0.4, "out": 0}]}
BAND = {"kind": "band", "forward": 0, "up": 0, "slack_m": 0.6}
HOSTILE = [
    ({"schema_version": 2}, "schema_version"),
    ({"target": "calves"}, "target"),
    ({"path": []}, "hand_path"),
    ({"coordinate": "shoulder"}, "upper arm angles"),
    ({"path": [], "hand_path": HAND | {"keys": HAND["keys"][:1]}}, "hand_path.keys"),
    ({"path": [], "hand_path": HAND | {"elbow_towards": [0, 0, 0]}}, "elbow_towards"),
    ({"path": [], "hand_path": HAND | {"start": 0.6, "end": 0.65}}, "start"),
    ({"lines": [BAND | {"slack_m": 0}]}, "slack_m"),
    ({"lines": [BAND | {"curve": [[0, 0], [1, 1], [0.5, 2]]}]}, "curve"),
    ({"lines": [BAND | {"curve": [[0, 0.5], [1, 1]]}]}, "curve"),
    ({"lines": [{"kind": "machine", "profile": [[90, -1], [0, -2]]}]}, "profile"),
    ({"lines": [{"kind": "machine", "profile": [[0, -1], [90, float("inf")]]}]}, "profile"),
    ({"lines": [{"kind": "body_weight", "carried": 1.4}]}, "carried"),
    ({"path": [{"elbow": 5}, {"elbow": 5}]}, "elbow"),
    ({"path": [{"elbow": 5}, {"elbow": 150}]}, "elbow"),
    ({"path": [{"elbow": 90}, {"elbow": 10}]}, "elbow angles"),
    ({"path": [{"elbow": "wide"}, {"elbow": 90}]}, "elbow"),
    ({"path": [{"elbow": float("nan")}, {"elbow": 90}]}, "elbow"),
    ({"posture": {"trunk_pitch": float("inf")}}, "trunk_pitch"),
    ({"posture": {"forearm": 100}}, "forearm"),
    ({"lines": [{"kind": "weight", "share": 0.5}]}, "shares add up"),
    ({"lines": [{"kind": "cable", "forward": 1, "up": 99}]}, "up"),
    ({"guide": {"reps_from": 12, "reps_to": 8}}, "reps_to"),
    ({"cautions": ["nonsense"]}, "cautions"),
]


def test_the_catalogue_covers_both_groups_and_every_family() -> None:
    groups = Counter(v.group for v in built_in())
    assert groups["flexors"] >= 60
    assert groups["extensors"] >= 60
    assert {v.family for v in built_in()} == set(get_args(Family))
    assert len({v.id for v in built_in()}) == len(built_in())


@pytest.mark.parametrize("variant", built_in(), ids=lambda v: v.id)
def test_every_fault_of_every_variant_can_be_modelled(variant) -> None:  # type: ignore[no-untyped-def]
    assert variant.setup
    assert variant.cues
    faulty = tuple(changed(variant, fault.changes) for fault in variant.faults)
    right, *wrong = model_variants((variant, *faulty), Body(), effort=0.75)
    assert -80 < right.readings.load < 200
    assert right.readings.feasible_share == 1
    assert all(m.readings.feasible_share > 0.9 for m in wrong)
    assert all(f != variant for f in faulty)


@pytest.mark.parametrize("name", SCHEMAS)
def test_the_published_schemas_are_those_in_use(name: str) -> None:
    assert (ROOT / "docs" / name).read_text(encoding="utf-8") == schema_text(name)


def test_a_document_survives_a_round_trip() -> None:
    for variant in built_in():
        assert parse_variant(variant.model_dump_json(), name="x") == variant


@pytest.mark.parametrize(("change", "named"), HOSTILE, ids=lambda p: str(p)[:50])
def test_a_bad_document_is_refused_naming_the_field(change: dict[str, object], named: str) -> None:
    with pytest.raises(BadInputError) as caught:
        parse_variant(json.dumps(GOOD | change), name="doc")
    assert named in str(caught.value)
    assert caught.value.expected


@pytest.mark.parametrize(
    "text", ["", "{", "[1]", "a = ", "{" * 5000, '{"id": ' * 2000, "x" * 70_000, "id = 1979-05-27"]
)
def test_text_that_is_no_document_is_refused(text: str) -> None:
    with pytest.raises(BadInputError):
        parse_variant(text, name="doc")


def test_the_readmes_example_is_a_variant_that_ranks() -> None:
    readme = (ROOT / "README.md").read_text(encoding="utf-8")
    example = readme.partition("```toml\n")[2].partition("```")[0]
    variant = parse_variant(example, name="README")
    ranking = rank(question("biceps_long"), (*built_in(), variant), Modeller())
    assert variant.id in {row.variant.id for row in ranking.rows}
