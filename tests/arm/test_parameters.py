"""Every number has a unit, a spread and a source; every one is used; none stands elsewhere."""

from __future__ import annotations

import io
import re
import tokenize
from pathlib import Path

import pytest

import curve_rank
from curve_rank.arm.parameters import parameter_set

SOURCE = Path(curve_rank.__file__).parent
BY_TABLE = tuple(
    f"{name}."
    for name in ("heads", "hips", "joint_notes", "cautions", "helpers", "muscle", "body", "ranges", "press")
)
"""Sections whose keys are put together from parts, each read by the module named for it."""


def test_every_parameter_has_a_known_source_and_fitted_ones_say_so() -> None:
    parameters = parameter_set()
    names = {name for name, _ in parameters.sources}
    assert all(set(p.sources) <= names and p.unit for p in parameters)
    assert parameters.get("heads.biceps_long.shoulder_arm").sources == ("fitted",)  # type: ignore[union-attr]
    assert {name for p in parameters for name in p.sources} >= names - {"wu2005"}


def test_every_parameter_is_used_somewhere() -> None:
    code = "\n".join(path.read_text(encoding="utf-8") for path in SOURCE.rglob("*.py"))
    for parameter in parameter_set():
        last = parameter.key.rpartition(".")[2]
        named = f'"{parameter.key}"' in code
        in_parts = parameter.key.startswith(BY_TABLE) and (
            re.search(rf"\b{last}\b", code) or last.startswith(("grip_", "force_scale_", "sideways_"))
        )
        assert named or in_parts, parameter.key


# Not the model's: shapes, quadrature, conversion, sentinels, and limits of what may be typed in.
PLAIN = {
    "0", "1", "2", "3", "4", "5", "6", "8", "10", "10.0", "12", "15", "16", "20", "30", "32", "40", "41",
    "45", "60", "90", "100", "145", "146", "180", "270", "360", "1000", "0.5", "0.0", "1.0", "2.0",
    "60.0", "90.0", "91.0", "146.0", "180.0", "181.0", "1000.0", "2000.0", "0.98", "1.30", "2.20",
    "35.0", "200.0", "0.2", "3.0", "0.20", "0.50", "0.15", "0.45", "0.03", "0.12", "1.78", "80.0",
}  # fmt: skip


@pytest.mark.parametrize(
    "module", ["force", "body", "muscle", "rep", "readings", "strength", "balance", "posture", "rep_setup"]
)
def test_no_number_of_the_physics_stands_outside_the_file(module: str) -> None:
    text = (SOURCE / "arm" / f"{module}.py").read_text(encoding="utf-8")
    numbers = {
        t.string for t in tokenize.generate_tokens(io.StringIO(text).readline) if t.type == tokenize.NUMBER
    }
    assert {n for n in numbers - PLAIN if "e-" not in n} == set()
