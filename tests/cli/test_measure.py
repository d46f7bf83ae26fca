"""Measurements from a shell: a profile out of a file, and a variant that uses it."""

from __future__ import annotations

import json
import threading
from pathlib import Path

import numpy as np
import pytest

from curve_rank.exchange.simulated_device import DeviceServer, SimulatedDevice, built_in_profile
from tests.cli.test_main import run, run_json
from tests.measure.test_marks import document
from tests.photographs import Scene

ANGLE = np.linspace(5, 130, 120)


@pytest.fixture
def sweep(tmp_path: Path) -> Path:
    chance = np.random.default_rng(4)
    torque = 40 + 20 * np.sin(np.radians(ANGLE)) + chance.normal(0, 0.5, ANGLE.size)
    file = tmp_path / "sweep.csv"
    lines = [f"{a:.2f};{t:.3f}".replace(".", ",") for a, t in zip(ANGLE, torque, strict=True)]
    file.write_text("\n".join(["Elbow °;Torque Nm", *lines]), encoding="utf-8")
    return file


def test_a_file_becomes_a_profile_and_a_variant_that_models_with_it(sweep: Path, tmp_path: Path) -> None:
    view = run_json("measure", "csv", str(sweep))
    profile = {name: np.array(values) for name, values in view["profile"].items()}
    true = 40 + 20 * np.sin(np.radians(profile["angle_deg"]))
    assert ((profile["low"] <= true) & (true <= profile["high"])).mean() >= 0.9
    assert view["noise_nm"] == pytest.approx(0.5, rel=0.3)
    out = tmp_path / "mine.json"
    into = ("--into", "machine-pad-curl", "--stack", "20", "--out", str(out))
    assert run("measure", "csv", str(sweep), *into).exit_code == 0
    ours, shipped = (run_json("model", *how) for how in (("--file", str(out)), ("machine-pad-curl",)))
    assert ours["rep"]["demand_nm"] != shipped["rep"]["demand_nm"]
    asked = 2 * np.array(ours["rep"]["demand_nm"]) / ours["load_kg"]  # two arms share the stack
    at = np.interp(ours["rep"]["elbow_deg"], profile["angle_deg"], profile["torque_nm"] / 20)
    hard = int(np.argmax(asked))
    assert asked[hard] == pytest.approx(at[hard], rel=0.1)


def test_bad_rows_are_refused_unless_left_out_and_the_rest_is_said(sweep: Path) -> None:
    sweep.write_text(sweep.read_text(encoding="utf-8") + "\nfast;12,0\n", encoding="utf-8")
    refused = run("measure", "csv", str(sweep))
    assert refused.exit_code == 2
    assert "row 122" in refused.output
    assert "--good-only" in refused.output
    assert len(run_json("measure", "csv", str(sweep), "--good-only")["left_out"]) == 1
    for bad in (
        ("--torque", "9"),
        ("--into", "chin-up", "--stack", "20", "--out", "x", "--good-only"),
        ("--into", "machine-pad-curl", "--good-only"),
    ):
        assert run("measure", "csv", str(sweep), *bad).exit_code == 2
    assert run("measure", "csv", str(sweep.parent)).exit_code == 2


def test_marks_are_read_with_what_is_unsure_of_them(tmp_path: Path) -> None:
    scene = Scene(elbow=72, upper_arm=18, tilt=4)
    file = tmp_path / "marks.json"
    file.write_text(json.dumps(document(scene)), encoding="utf-8")
    view = run_json("measure", "marks", str(file))
    (picture,) = view["pictures"]
    assert view["interval"] == 0.8
    assert picture["elbow_deg"]["value"] == pytest.approx(72, abs=0.01)
    assert 1 < picture["elbow_deg"]["error"] < 6
    assert picture["lever_cm"]["value"] == pytest.approx(30.0, abs=0.01)
    assert "elbow_deg" in run("measure", "marks", str(file)).output
    for bad in ("{", "[]", "{}", '{"pictures": [{}]}', '{"pictures": [{"elbow": "high"}]}'):
        file.write_text(bad, encoding="utf-8")
        refused = run("measure", "marks", str(file))
        assert refused.exit_code == 2, bad
        assert refused.output.startswith("curve-rank: ")


def test_a_capture_from_a_shell_tells_what_was_lost_and_the_profile(tmp_path: Path) -> None:
    known, out = built_in_profile(), tmp_path / "raw.csv"
    simulated = SimulatedDevice(known, noise=0.5, faults=("drop", "garble", "lag"), hurry=10)
    with DeviceServer(0, simulated) as server:
        threading.Thread(target=server.serve_forever, args=(0.02,), daemon=True).start()
        address = f"127.0.0.1:{server.port}"
        view = run_json("capture", address, "--seconds", "3", "--out", str(out))
        server.shutdown()
    assert view["samples"] > 2500
    assert view["lost"] > view["garbled"] > 0
    profile = view["profile"]
    assert set(profile) >= {"angle_deg", "torque_nm", "low", "high"}
    true = np.array([known.at(angle) for angle in profile["angle_deg"]])
    assert ((np.array(profile["low"]) <= true) & (true <= profile["high"])).mean() >= 0.9
    assert out.read_text(encoding="utf-8").startswith("phase,counter,ms,angle_deg,counts\nempty,")
    for bad in (("127.0.0.1",), (address, "--seconds", "1"), (address, "--weight", "0")):
        assert run("capture", *bad).exit_code == 2


def test_a_device_is_started_only_with_what_it_can_be(tmp_path: Path) -> None:
    wrong = tmp_path / "profile.json"
    wrong.write_text('{"angle_deg": [90, 10], "torque_nm": [1, 2]}', encoding="utf-8")
    for bad in (("--faults", "fire"), ("--noise", "-1"), ("--profile", str(wrong)), ("--profile", "nowhere")):
        refused = run("device", "--port", "0", *bad)
        assert refused.exit_code == 2, bad
        assert refused.output.startswith("curve-rank: ")
