"""The notebooks run from the first cell to the last, and are kept without what they print."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

NOTEBOOKS = sorted((Path(__file__).parents[2] / "docs" / "notebooks").glob("*.ipynb"))


def run(notebook: Path) -> dict[str, Any]:
    """What is there after the last cell."""
    there: dict[str, Any] = {"__name__": "__main__"}
    for cell in json.loads(notebook.read_text(encoding="utf-8"))["cells"]:
        if cell["cell_type"] == "code":
            assert cell["outputs"] == []
            assert cell["execution_count"] is None
            exec(compile("".join(cell["source"]), notebook.name, "exec"), there)
    return there


def test_there_are_three() -> None:
    assert [one.stem for one in NOTEBOOKS] == [
        "arm-from-zero",
        "learning-a-lifter",
        "ranking-with-its-uncertainty",
    ]


@pytest.mark.parametrize("notebook", NOTEBOOKS, ids=lambda one: one.stem)
def test_a_notebook_runs_and_finds_what_it_says(notebook: Path) -> None:
    there = run(notebook)
    if notebook.stem == "arm-from-zero":
        assert there["shift"]["biceps_long"] < 0 < there["shift"]["brachioradialis"]
        assert abs(there["rep"].elbow_deg[there["level"]] - there["rep"].hard_spot_deg) < 6
    elif notebook.stem == "learning-a-lifter":
        pad = there["found"]["pad-45-dumbbell-curl"]
        assert pad.median < there["found"]["standing-dumbbell-curl"].median
        assert pad.low < 0.95 / 1.0 < pad.high
    else:
        assert [row.variant for row in there["surer"].rows] == [row.variant for row in there["ranking"].rows]
        assert there["surer"].sure.draws == 60
