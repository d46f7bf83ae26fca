"""What a document may hold: refused in our own words, within a time, and by the published schema as well."""

from __future__ import annotations

import copy
import json
import time
from pathlib import Path
from typing import Any

import pytest
from jsonschema import Draft202012Validator

from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant, parse_variant
from curve_rank.errors import BadInputError

SCHEMA = json.loads(
    (Path(__file__).parents[2] / "docs" / "variant-1.schema.json").read_text(encoding="utf-8")
)
CURL, PRESS, MACHINE = (
    find_variant(name, built_in()).model_dump(mode="json", exclude_none=True)
    for name in ("standing-dumbbell-curl", "bench-press-narrow", "machine-pad-curl")
)
THEIRS = (
    "Input should",
    "Extra inputs",
    "Field required",
    "as given",
    "valid ",
    "String should",
    "Value error",
)


def having(document: dict[str, Any], path: str, value: Any) -> dict[str, Any]:
    """The document with something else in one place; `...` takes it out."""
    made = copy.deepcopy(document)
    *parents, last = (int(step) if step.isdigit() else step for step in path.split("."))
    place: Any = made
    for step in parents:
        place = place[step]
    if value is ...:
        del place[last]
    else:
        place[last] = value
    return made


WRONG = [
    (CURL, "posture.trunk_pich", 3, "posture.trunk_pich", "trunk_pitch"),
    (CURL, "summery", "x", "summery", "summary"),
    (CURL, "summary", ..., "summary", "missing"),
    (CURL, "name", "", "name", "at least 1 character"),
    (CURL, "name", "x" * 81, "name", "at most 80"),
    (CURL, "posture.wrist", 61, "posture.wrist", "at most 60"),
    (CURL, "posture.wrist", "up", "posture.wrist", "a number"),
    (CURL, "posture.wrist", [1], "a list of 1", "a number"),
    (CURL, "equipment.hands", 1.5, "equipment.hands", "a whole number"),
    (CURL, "equipment.handle", "hook", "equipment.handle", "rope"),
    (CURL, "equipment.smallest_step_kg", 5e-324, "smallest_step_kg", "at least 0.01"),
    (CURL, "support.trunk", "perhaps", "support.trunk", "true or false"),
    (CURL, "lines.0.kind", "magnet", "lines.0", "one of"),
    (CURL, "lines", [], "lines", "at least 1"),
    (CURL, "path", [{"elbow": 5}], "", "two key postures"),
    (CURL, "faults.0.changes.0", {"field": "posture.wrist"}, "", "either add or set"),
    (CURL, "faults.0.changes.0", {"field": "posture.wrist", "add": 1, "set": 2}, "", "either add or set"),
    (CURL, "guide.lift_s", 0, "guide.lift_s", "more than 0"),
    (CURL, "id", "Not An Id", "id", "text of the form"),
    (PRESS, "path", CURL["path"], "", "either path or hand_path"),
    (PRESS, "posture.wrist", 10, "posture.wrist", "must be 0"),
    (MACHINE, "support.upper_arm", False, "support.upper_arm", "true with a machine"),
]


@pytest.mark.parametrize(("document", "path", "value", "named", "right"), WRONG, ids=lambda p: str(p)[:30])
def test_what_the_application_refuses_the_schema_refuses_and_the_words_are_ours(
    document: dict[str, Any], path: str, value: Any, named: str, right: str
) -> None:
    wrong = having(document, path, value)
    with pytest.raises(BadInputError) as caught:
        parse_variant(json.dumps(wrong), name="doc")
    said = str(caught.value)
    assert named in said
    assert right in said
    assert not any(words in said for words in THEIRS), said
    assert not Draft202012Validator(SCHEMA).is_valid(wrong)


def test_the_schema_takes_every_built_in_document_and_describes_every_field() -> None:
    check = Draft202012Validator(SCHEMA)
    for variant in built_in():
        for plain in (
            variant.model_dump(mode="json"),
            variant.model_dump(mode="json", exclude_defaults=True),
        ):
            errors = [f"{variant.id}: {e.message}" for e in check.iter_errors(plain)]
            assert errors == []
    bare = [
        f"{name}.{field}"
        for name, part in {"": SCHEMA, **SCHEMA["$defs"]}.items()
        for field, told in part.get("properties", {}).items()
        if not told.get("description") and not any(o.get("description") for o in told.get("anyOf", ()))
    ]
    assert bare == []


@pytest.mark.parametrize(
    "text",
    [
        "a." * 30_000 + "a = 1",
        "[" + "a." * 30_000 + "a]",
        f"schema_version = {'9' * 5000}",
        json.dumps(CURL | {"schema_version": 1})[:-1] + f', "x": {"9" * 5000}}}',
        json.dumps(having(CURL, "posture.wrist", 10**400)),
        json.dumps(having(CURL, "guide.reps_from", 10**400)),
        json.dumps(having(CURL, "equipment.smallest_step_kg", 1e-300)),
        "[" * 60_000,
        '"""' + "\\n" * 30_000,
    ],
    ids=lambda t: t[:12],
)
def test_hostile_text_is_refused_soon(text: str) -> None:
    begun = time.thread_time()  # its own work, however busy the machine is
    with pytest.raises(BadInputError) as caught:
        parse_variant(text, name="doc")
    assert time.thread_time() - begun < 2
    assert len(str(caught.value)) < 600


@pytest.mark.parametrize("character", ["\x00", "\x1b", "\u202e", "\u2067", "\ufeff", "\ud800", "\u200f"])
def test_what_cannot_be_seen_has_no_place_in_names(character: str) -> None:
    for path in ("name", "summary", "setup.0", "faults.0.name"):
        with pytest.raises(BadInputError, match=f"U\\+{ord(character):04X}|halves"):
            parse_variant(json.dumps(having(CURL, path, f"a{character}b")), name="doc")


def test_a_byte_order_mark_before_a_document_is_passed_over() -> None:
    assert parse_variant("\ufeff" + json.dumps(CURL), name="doc").id == CURL["id"]


def test_a_digest_follows_the_content() -> None:
    one = find_variant(CURL["id"], built_in())
    assert one.digest == one.model_copy().digest == parse_variant(json.dumps(CURL), name="doc").digest
    assert one.model_copy(update={"name": "Other"}).digest != one.digest
    assert changed(one, (parse_setting("posture.wrist=-9"),)).digest != one.digest


@pytest.mark.parametrize("path", ["path.99999999999999999.elbow", "path.٣.elbow", "path.-9.elbow", "name.x"])
def test_a_step_that_leads_nowhere_is_named(path: str) -> None:
    with pytest.raises(BadInputError):
        changed(find_variant(CURL["id"], built_in()), (parse_setting(f"{path}=4"),))
