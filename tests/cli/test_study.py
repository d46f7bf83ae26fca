"""Studies from a shell: compare, series, faults, improve and atlas, their JSON and their refusals."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest

from tests.cli.test_main import run, run_json

TWO = ("standing-dumbbell-curl", "reclined-60-dumbbell-curl")


def test_compare_tells_readings_differences_and_chances() -> None:
    view = run_json("compare", *TWO)
    assert [one["id"] for one in view["variants"]] == list(TWO)
    (pair,) = view["differences"]
    assert (pair["first"], pair["second"]) == TWO
    assert pair["readings"].keys() == view["readings"].keys()
    for key, told in pair["readings"].items():
        a, b = (column["nominal"] for column in view["readings"][key]["columns"])
        assert told["nominal"] == pytest.approx(b - a, abs=2e-4)
        assert told["low"] <= told["median"] <= told["high"]
        assert 0 <= told["chance"] <= 1
    assert pair["readings"]["long_tension"]["median"] > 0
    assert "B − A" in run("compare", *TWO).output


def test_series_faults_and_improve_tell_what_they_promise() -> None:
    view = run_json(
        "series", TWO[1], "--field", "posture.trunk_pitch", "--steps", "0:-75:-15",
        "--reading", "length_at_hard_spot",
    )  # fmt: skip
    assert [step["value"] for step in view["steps"]] == [0, -15, -30, -45, -60, -75]
    assert all({"median", "low", "high"} <= step.keys() or step["problem"] for step in view["steps"])
    faults = run_json("faults", TWO[0])
    assert [fault["score"]["median"] for fault in faults] == sorted(f["score"]["median"] for f in faults)
    (both,) = run_json("faults", TWO[0], "--together", ",".join(f["faults"][0]["key"] for f in faults[:2]))
    assert len(both["faults"]) == 2
    found = run_json("improve", TWO[0], "--aim", "long_tension up", "--head", "biceps_long", "--keep", "load")
    for change in found["changes"]:
        assert {"field", "from", "to", "gain", "low", "high", "costs"} <= change.keys()
        assert change["gain"] > 0
    assert "costs" in run("improve", TWO[0], "--aim", "long_tension up").output


def test_atlas_tells_grids() -> None:
    view = run_json("atlas", "triceps_long")
    shape = (len(view["shoulder_deg"]), len(view["elbow_deg"]))
    for name in ("moment_arm_mm", "length_pct", "moment_nm"):
        assert (len(view[name]), len(view[name][0])) == shape
    assert max(map(max, view["moment_arm_mm"])) < 0
    sideways = run_json("atlas", "triceps_long", "--across", "forearm", "--held", "160")
    assert sideways["held_deg"] == {"shoulder": 160}
    assert "strongest" in run("atlas", "biceps_long").output


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        ("compare standing-dumbbell-curl", "2 to 4 variants"),
        ("compare standing-dumbbell-curl no-such-curl", "variant: 'no-such-curl'"),
        ("compare " + "standing-dumbbell-curl " * 5, "2 to 4 variants"),
        ("compare standing-dumbbell-curl rope-press-down", "variants"),
        ("compare standing-dumbbell-curl reclined-60-dumbbell-curl --target triceps_long", "target"),
        ("series standing-dumbbell-curl --field nose --steps 1,2", "nose"),
        ("series standing-dumbbell-curl --field posture.trunk_pitch --steps 5:1:1", "steps"),
        ("series standing-dumbbell-curl --field posture.trunk_pitch --steps 0:9:3 --reading x", "reading"),
        ("improve standing-dumbbell-curl --aim up", "aim"),
        ("improve standing-dumbbell-curl --aim slack_share --fields nose", "field"),
        ("faults standing-dumbbell-curl --together nose", "fault"),
        ("atlas nose", "head"),
        ("atlas biceps_long --step 0", "step"),
    ],
)
def test_what_makes_no_sense_is_one_line(arguments: str, says: str) -> None:
    result = run(*arguments.split())
    assert result.exit_code == 2
    assert says in result.stderr
    assert len(result.stderr.strip().splitlines()) == 1


def test_claims_tell_their_verdicts_and_bundles_go_from_one_folder_to_another(
    demo_folder: Path, tmp_path: Path
) -> None:
    told = run_json("claims", "sits_up")
    assert (told["verdict"], told["id"]) == ("holds", "sits_up")
    assert {"probability", "size", "hangs_on", "turns"} <= told.keys()
    assert "Holds in" in run("claims", "sits_up").output
    assert run("claims", "nobody_says_so").exit_code == 2
    here, there, file = tmp_path / "here", str(tmp_path / "there"), str(tmp_path / "bundle.json")
    shutil.copytree(demo_folder, here)
    assert run("export", "--out", file, "--data", str(here)).exit_code == 0
    dry = run_json("import", file, "--dry-run", "--data", there)
    assert [row["status"] for row in dry["items"]] == ["new"] * 9
    assert dry["taken"] == 0
    assert run_json("import", file, "--only", "own-steep-pad-palms-in", "--data", there)["taken"] == 1
    assert run_json("import", file, "--data", there)["taken"] == 8
    assert run_json("import", file, "--replace", "--data", there)["taken"] == 0
    for bad in (("import", str(tmp_path)), ("import", file, "--only", "x"), ("export", "--out", "/no/where")):
        assert run(*bad, "--data", there).exit_code == 2


def test_a_set_is_chosen_from_a_shell(demo_folder: Path) -> None:
    asked = ("choose", "--targets", "biceps_long,triceps_long", "--with", "dumbbell,cable", "--at-most", "4")
    view = run_json(*asked)
    assert view["optimal"] is True
    assert 1 <= len(view["picks"]) <= 4
    assert all({"variant", "why", "swaps"} <= pick.keys() for pick in view["picks"])
    assert isinstance(view["uncovered"], list)
    assert view["picks"][0]["variant"] in run(*asked).output
    client = run_json(*asked, "--client", "4", "--data", str(demo_folder), "--spare", "elbow")
    assert client["picks"] != view["picks"] or client["minutes"] == view["minutes"]
    for bad in (("--at-most", "0"), ("--targets", "nose"), ("--client", "1"), ("--pin", "nothing")):
        assert run("choose", *bad).exit_code == 2, bad
