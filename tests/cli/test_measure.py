"""Measurements from a shell: a profile out of a file, and a variant that uses it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from tests.cli.test_main import run, run_json

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
