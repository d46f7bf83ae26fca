"""The command line: its JSON, its exit codes and its messages."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner, Result
from flask.testing import FlaskClient

from curve_rank.catalogue.library import built_in
from curve_rank.cli.main import main

INSIDE = "--set lines.0.forward=0 --set lines.0.up=1.1 --set lines.0.right=0"


def run(*arguments: str) -> Result:
    return CliRunner().invoke(main, list(arguments))


def run_json(*arguments: str) -> Any:
    result = run(*arguments, "--json")
    assert result.exit_code == 0, result.output
    return json.loads(result.stdout)


def test_variants_lists_all() -> None:
    assert len(run_json("variants")) == len(built_in())
    assert len(run("variants").output.splitlines()) == len(built_in())


def test_json_lines_are_the_rows_of_the_same_json() -> None:
    question = ("rank", "--target", "triceps_long", "--with", "band")
    for asked, rows in (
        (("variants",), run_json("variants")),
        (question, run_json(*question)["rows"]),
        (("claims", "sits_up"), [run_json("claims", "sits_up")]),
    ):
        lines = run(*asked, "--json-lines").output.splitlines()
        assert [json.loads(line) for line in lines] == rows


def test_model_reports_what_it_promises() -> None:
    view = run_json("model", "standing-dumbbell-curl", "--body", "1.7,65", "--set", "path.-1.elbow=120")
    samples = len(view["rep"]["elbow_deg"])
    assert {"load_kg", "limited_by", "rep", "heads", "readings"} <= view.keys()
    for row in ("elbow_deg", "shoulder_deg", "demand_nm", "strength_nm", "effort", "lever_m"):
        assert len(view["rep"][row]) == samples
    assert view["rep"]["elbow_deg"][-1] == 120
    heads = "biceps_long biceps_short brachialis brachioradialis triceps_long triceps_lateral triceps_medial"
    assert list(view["heads"]) == heads.split()
    for head in view["heads"].values():
        assert set(head) == {"drive", "force_n", "moment_arm_mm", "length_norm", "length_pct", "share"}
        assert {len(values) for values in head.values()} == {samples}
    assert view["readings"]["hard_spot_third"] in ("first", "middle", "last")
    loaded = run_json("model", "standing-dumbbell-curl", "--load", "6")
    assert loaded["load_kg"] == 6
    assert "kg in both hands, limited by" in run("model", "rope-press-down").output


def test_anatomy_agrees_with_its_own_virtual_work_check() -> None:
    view = run_json("anatomy", "--elbow", "0:130:10", "--shoulder", "30", "--forearm", "-90")
    assert view["angles_deg"] == [10.0 * n for n in range(14)]
    assert all(head["virtual_work_error_mm"] < 1e-2 for head in view["heads"].values())
    assert all(head["length_change_mm"][0] == 0 for head in view["heads"].values())
    swept = run_json("anatomy", "--elbow", "60", "--shoulder", "-30:150:5")
    assert swept["joint"] == "shoulder"


def test_a_variant_from_a_document_written_by_hand(tmp_path: Path) -> None:
    path = tmp_path / "mine.json"
    path.write_text(built_in()[0].model_dump_json(), encoding="utf-8")
    assert run_json("model", "--file", str(path))["variant"] == built_in()[0].id


def test_rank_gives_the_boards_order_and_scores(client: FlaskClient, tmp_path: Path) -> None:
    for query, options in (
        ("target=biceps_long&lens=long_length&with=dumbbell&with=cable", "--with dumbbell,cable"),
        ("target=biceps_long&lens=even_tension&spare=elbow", "--lens even_tension --spare elbow"),
    ):
        board = client.get(f"/board.json?{query}").get_json()
        shell = run_json("rank", *options.split(), "--data", str(tmp_path / "data"))
        assert board["rows"] == shell["rows"]
        assert len(shell["rows"]) > 5
    assert "left out" in run("rank").output


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        ("model nothing-like-it", "nothing-like-it"),
        ("model", "VARIANT"),
        ("model standing-dumbbell-curl --load nan", "load"),
        ("model standing-dumbbell-curl --load 90", "no drive holds it"),
        ("model standing-dumbbell-curl --load heavy", "load"),
        ("model standing-dumbbell-curl --body tall", "--body"),
        ("model standing-dumbbell-curl --body 9,80", "body height"),
        ("model standing-dumbbell-curl --reps 40", "reps"),
        ("model standing-dumbbell-curl --set posture.upper_arm=190", "shoulder"),
        (f"model cable-curl-arm-behind {INSIDE}", "outside the body"),
        ("model --file /nowhere/at-all.toml", "--file"),
        ("rank --target calf", "target"),
        ("rank --draws 3", "draws"),
        ("rank --draws 30 --seed -4", "seed"),
        ("transfer standing-dumbbell-curl chin-up --load nan", "load"),
        ("transfer standing-dumbbell-curl chin-up --load 300", "strength"),
        ("tempo chin-up --tempo 3-1", "--tempo"),
        ("tempo chin-up --tempo 3-1-0-0", "tempo lift"),
        ("tempo chin-up --load -500", "load"),
        ("figures /nowhere/at/all.html", "OUT"),
        ("anatomy --elbow 0:130", "--elbow"),
        ("anatomy --elbow 0:130:0", "--elbow"),
        ("anatomy --elbow 0:90:5 --shoulder 0:90:5", "--shoulder"),
        ("anatomy --forearm palm", "--forearm"),
    ],
)
def test_bad_input_ends_with_a_message_and_code_2(arguments: str, says: str) -> None:
    result = run(*arguments.split())
    assert result.exit_code == 2, result.output
    assert says in result.output
    assert "Traceback" not in result.output
    assert "—" in result.output or "Invalid value" in result.output


def test_transfer_tempo_and_schemes_report_what_they_promise() -> None:
    answer = run_json("transfer", "standing-dumbbell-curl", "pad-45-barbell-curl", "--load", "12")
    assert answer["interval_kg"][0] <= answer["load_kg"] <= answer["interval_kg"][1]
    assert answer["rounded_kg"] % 2.5 == 0
    timed = run_json("tempo", "chin-up", "--tempo", "3-0-1-1")
    assert timed["tempo_s"] == {"lower": 3, "pause": 0, "lift": 1, "squeeze": 1}
    assert len(timed["time_s"]) == len(timed["effort"]) == len(timed["inertial_nm"])
    schemes = run_json("schemes", "pad-45-dumbbell-curl", "--then", "chin-up")
    assert {s["scheme"] for s in schemes} >= {"straight", "thirds_low_first", "drop_set", "pair"}
    assert set(schemes[0]["tension_s"]["biceps_long"]) == {"long", "middle", "short"}
    assert "full tension" in run("schemes", "chin-up").output
    assert "over 20 % effort" in run("tempo", "chin-up").output
    assert "eight in ten" in run("transfer", "chin-up", "chin-up", "--load", "0").output


@pytest.mark.usefixtures("shell_draws_in_threads")
def test_draws_from_the_shell_say_how_sure() -> None:
    view = run_json("rank", "--with", "band", "--draws", "30")
    rows = view["certainty"]["rows"]
    assert [row["variant"] for row in rows] == [row["variant"] for row in view["rows"]]
    assert view["certainty"]["draws"] == 30
    assert all(row["rank_interval"][0] <= row["rank_interval"][1] for row in rows)
    first, second = rows[0]["variant"], rows[1]["variant"]
    beaten = run_json("rank", "--with", "band", "--draws", "30", "--beats", f"{second}, {first}")
    assert beaten["chance"] == pytest.approx(1 - rows[0]["beats_next"], abs=1e-3)
    for wrong in ("one", "one,two", f"{first},none"):
        assert "--beats" in run("rank", "--with", "band", "--draws", "30", "--beats", wrong).output


def test_every_figure_in_one_file(tmp_path: Path) -> None:
    out = tmp_path / "figures.html"
    assert run_json("figures", str(out))["figures"] == len(built_in())
    text = out.read_text(encoding="utf-8")
    assert text.count("<figure>") == len(built_in())
    assert "nan" not in text.lower()
