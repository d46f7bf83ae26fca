"""What `import curve_rank` offers: its surface stays, and its answers are those of pages and shell."""

from __future__ import annotations

import doctest
import importlib
import inspect
import json
import pkgutil
import subprocess
import sys
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from flask.testing import FlaskClient

import curve_rank as cr
import curve_rank.interface
from curve_rank.interface.here import means
from tests.answers import run_command

CURL = "standing-dumbbell-curl"
SURFACE = {
    "Arm": "height_m mass_kg known strength upper_arm_m forearm_m name",
    "KnownSet": "variant load_kg reps",
    "claim": "key",
    "claims": "",
    "compare": "setups target lens arm reps",
    "draws": "count on seed",
    "learn": "log arm today variants",
    "rank": "target lens arm equipment spare reps draws",
    "transfer": "known to reps arm",
    "variant": "text",
    "variants": "group",
}
"""Public names that are called, and what they take: nothing of it goes away."""
HELD = {
    "CarriedLoad": "high_kg limited_by load_kg low_kg rounded_kg says variant",
    "ComparedValue": "chance difference first high low name reading says second unit",
    "Comparison": "answer between readings to_arrow to_dict to_pandas",
    "DrawPlan": "count of on seed",
    "Learned": "factors facts found loads_kg strength why_not",
    "RankedRow": "beats_next load_high_kg load_kg load_low_kg name rank rank_high rank_low says score"
    " score_high score_low tie variant",
    "Ranking": "answer deciding left_out rows sure to_arrow to_dict to_pandas",
    "Rep": "angle_deg demand_nm drive effort effort_allowed elbow_deg force_n hard_spot_deg is_at_own_load"
    " length_pct lever_m load_drawn_kg load_kg modelled moment_arm_m plot reps says setup strength_nm svg"
    " to_arrow to_dict to_pandas",
    "Setup": "address document fields heads name rep text to_dict with_",
    "Verdict": "entry outcome probability says size to_dict",
}
"""What the answers hold."""
ERRORS = {"BadInputError", "CurveRankError", "Spread", "UnavailableError", "UnknownNameError"}


def plainly(data: Any) -> Any:
    """As JSON brings it back."""
    return json.loads(json.dumps(data))


def test_the_surface_stays() -> None:
    assert set(cr.__all__) == SURFACE.keys() | HELD.keys() | ERRORS
    assert set(dir(cr)) == {*cr.__all__, "__version__"}
    taken = {name: " ".join(inspect.signature(getattr(cr, name)).parameters) for name in SURFACE}
    assert taken == SURFACE
    for name, held in HELD.items():
        kind = getattr(cr, name)
        there = {*getattr(kind, "__dataclass_fields__", ()), *(n for n in dir(kind) if not n.startswith("_"))}
        assert " ".join(sorted(there)) == held, name
    for name in (*SURFACE, *HELD):
        assert getattr(cr, name).__doc__
    with pytest.raises(AttributeError, match="no attribute 'rnk'"):
        _ = cr.rnk


@pytest.mark.parametrize(
    "module",
    [
        "curve_rank",
        *(f"curve_rank.interface.{m.name}" for m in pkgutil.iter_modules(curve_rank.interface.__path__)),
    ],
)
def test_what_the_docstrings_show_is_so(module: str) -> None:
    assert doctest.testmod(importlib.import_module(module)).failed == 0


def test_what_the_guide_shows_is_so() -> None:
    guide = Path(__file__).parents[2] / "docs" / "interface.md"
    found = doctest.testfile(str(guide), module_relative=False, optionflags=doctest.ELLIPSIS)
    assert found.attempted > 15
    assert found.failed == 0


def test_importing_costs_nothing() -> None:
    look = "import curve_rank, sys; print([m for m in ('numpy', 'pydantic', 'flask') if m in sys.modules])"
    assert subprocess.check_output([sys.executable, "-c", look], text=True).strip() == "[]"


def test_a_rep_has_its_curves_and_they_agree() -> None:
    rep = cr.variant(CURL).rep(reps=8)
    assert rep.demand_nm.shape == rep.strength_nm.shape == rep.lever_m.shape == rep.drive("brachialis").shape
    np.testing.assert_allclose(rep.effort, rep.demand_nm / rep.strength_nm, rtol=1e-6, atol=1e-9)
    assert rep.angle_deg[rep.demand_nm.argmax()] == pytest.approx(rep.hard_spot_deg, abs=4)
    lighter = cr.variant(CURL).rep(load_kg=rep.load_kg / 2)
    assert lighter.load_kg == pytest.approx(rep.load_kg / 2)
    assert lighter.effort.max() < rep.effort.max()
    drawn = rep.load_drawn_kg
    assert drawn.low < drawn.median < drawn.high
    assert rep.svg().startswith("<svg")
    assert "the middle arm" in repr(rep)
    assert "<svg" in rep._repr_html_()
    assert rep.to_dict()["load_kg"] == pytest.approx(rep.load_kg, abs=1e-3)


def test_a_change_is_the_same_however_it_is_written() -> None:
    curl = cr.variant(CURL)
    made = {
        one.text
        for one in (
            curl.with_(posture__forearm=0),
            curl.with_({"posture.forearm": 0.0}),
            curl.with_(posture__forearm=45).with_(posture__forearm=0),
            cr.variant(f"{CURL}~posture.forearm=0"),
        )
    }
    assert made == {f"{CURL}~posture.forearm=0"}
    assert curl.fields["posture.forearm"] == -90
    with pytest.raises(cr.BadInputError, match="elbw"):
        curl.with_({"path.0.elbw": 5})
    with pytest.raises(cr.UnknownNameError, match="standing-dumbbell-curl"):
        cr.variant("standing-dumbell-curl")


def test_a_known_set_is_what_the_arm_lifts() -> None:
    arm = cr.Arm(height_m=1.62, mass_kg=58, known=cr.KnownSet(CURL, 8, 10))
    assert cr.variant(CURL).rep(reps=10, arm=arm).load_kg == pytest.approx(8, abs=1e-6)
    with pytest.raises(cr.BadInputError, match="height"):
        _ = cr.Arm(height_m=3).body


def test_rankings_comparisons_and_loads_are_those_of_pages_and_shell(client: FlaskClient) -> None:
    ranking = cr.rank("triceps_long", equipment=["cable"], spare=["elbow"])
    told = json.loads(run_command("rank --target triceps_long --with cable --spare elbow"))
    assert plainly(ranking.to_dict()) == told
    assert [row.rank for row in ranking.rows] == list(range(1, len(ranking.rows) + 1))
    assert all(row.score_low <= row.score <= row.score_high for row in ranking.rows)
    assert "<table>" in ranking._repr_html_()
    compared = cr.compare(CURL, "chin-up")
    page = client.get(f"/compare.json?with={CURL}&with=chin-up").get_json()
    assert plainly(compared.to_dict()) == page
    assert {one.says for one in compared.readings} <= {one.says for one in compared.between(0, 1)}
    carried = cr.transfer((CURL, 12, 10), "chin-up", reps=6)
    told = run_command(f"transfer {CURL} chin-up --load 12 --to-reps 6")
    assert f'"median": {round(carried.load_kg, 4)}' in told


def test_a_claim_is_weighed_as_in_the_ledger() -> None:
    verdict = cr.claim("lower_bench_longer")
    assert verdict.outcome in ("holds", "fails", "too_close")
    assert verdict.probability is not None
    assert verdict.says.startswith(cr.claims()["lower_bench_longer"])
    with pytest.raises(cr.UnknownNameError, match="claim"):
        cr.claim("nose")


def test_a_log_teaches_an_arm_and_a_bad_set_is_named() -> None:
    names = (CURL, "standing-barbell-curl", "reclined-60-dumbbell-curl", "pad-45-dumbbell-curl", "chin-up")
    loads = {name: cr.variant(name).rep(reps=10).load_drawn_kg.median for name in names}
    stronger = [
        {"day": str(date(2026, 9, 1) + timedelta(days=3 * n)), "variant": name, "reps": 10, "reserve": 0,
         "load_kg": round(1.1 * load if load > 0 else load, 1)}
        for n in range(8) for name, load in loads.items()
    ]  # fmt: skip
    found = cr.learn(stronger)
    assert found.why_not == ""
    assert found.factors[CURL].median == pytest.approx(1.1, abs=0.06)
    assert found.loads_kg(10)[CURL].low < 1.1 * loads[CURL] < found.loads_kg(10)[CURL].high
    assert cr.learn(stronger[:3]).why_not
    with pytest.raises(cr.BadInputError, match="set 2: load_kg"):
        cr.learn([stronger[0], stronger[1] | {"load_kg": "heavy"}])


@pytest.mark.parametrize("count", [0, 15, 5001])
def test_draws_are_planned_and_too_few_or_many_refused(count: int) -> None:
    assert (cr.draws(200, seed=3).count, cr.draws(20).on) == (200, "cores")
    with pytest.raises(cr.BadInputError, match="20 to 5000 draws"):
        cr.draws(count)


@pytest.mark.parametrize("missing", ["pandas", "pyarrow", "matplotlib"])
def test_an_extra_that_is_not_there_says_how_to_get_it(missing: str, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(sys.modules, missing, None)
    rep = cr.variant(CURL).rep()
    does = {"pandas": rep.to_pandas, "pyarrow": rep.to_arrow, "matplotlib": rep.plot}
    with pytest.raises(cr.UnavailableError, match="pip install"):
        does[missing]()


SCRIPT = """
import curve_rank as cr

arm = cr.Arm(height_m=1.7, mass_kg=70, known=("standing-dumbbell-curl", 12.5, 10))
rep: cr.Rep = cr.variant("standing-dumbbell-curl").with_(posture__forearm=0).rep(reps=8, arm=arm)
peak: float = float(rep.demand_nm.max()) / rep.load_kg
names: list[str] = [row.name for row in cr.rank("biceps_long", arm=arm, draws=cr.draws(500)).rows]
loads: dict[str, cr.Spread] = cr.learn([], arm=arm).loads_kg()
wrong: str = rep.load_kg
"""


def test_a_users_script_is_checked_strictly(tmp_path: Path) -> None:
    script = tmp_path / "script.py"
    script.write_text(SCRIPT, encoding="utf-8")
    command = [
        sys.executable,
        "-m",
        "mypy",
        "--strict",
        "--config-file",
        "",
        "--follow-imports=silent",
        str(script),
    ]
    told = subprocess.run(command, capture_output=True, text=True, check=False, cwd=tmp_path).stdout
    errors = [line for line in told.splitlines() if "script.py" in line]
    assert len(errors) == 1, told  # only what is wrong on purpose
    assert "wrong" in SCRIPT.splitlines()[int(errors[0].split(":")[1]) - 1]


def test_there_is_one_modeller_for_the_process() -> None:
    assert means() is means()
