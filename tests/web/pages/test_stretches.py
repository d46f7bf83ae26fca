"""Stretches: for whoever is here, for a client within their joints, as data, in the shell."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path

from click.testing import CliRunner
from flask import Flask

from curve_rank.cli.main import main
from tests.helpers import Resting
from tests.web.pages.test_sign_in import as_anybody


def test_stretches_are_one_answer_for_page_data_and_shell(
    make_app: Callable[..., Flask], tmp_path: Path
) -> None:
    house = make_app(Resting, demo=True)
    coach, ines = as_anybody(house, "Tamsin Brackwater"), as_anybody(house, "Ines Quarrie")
    mine = ines.get("/stretches.json?head=triceps_long&head=biceps_long").get_json()
    asked = f"/stretches.json?head=triceps_long&head=biceps_long&for={mine['for']}"
    assert coach.get(asked).get_json() == mine
    shell = CliRunner().invoke(
        main,
        ["stretches", "--heads", "triceps_long,biceps_long", "--client", str(mine["for"]), "--json", "--data",
         str(tmp_path / "data")],
    )  # fmt: skip
    assert json.loads(shell.output) == mine
    spared = {one["stretch"] for one in mine["left_out"] if "spared" in one["why"]}
    assert "overhead-other-hand" in spared  # Ines spares a shoulder
    page = " ".join(ines.get("/stretches?head=triceps_long").text.split())
    for one in mine["first"]:
        if one["target"] == "extensors":
            assert one["name"] in page
            assert one["cautions"][0] in page
    assert "licensed clinician" in page
    plain = coach.get("/stretches").text
    assert "Elbow overhead, other hand behind it" in plain


def test_a_stretch_of_somebody_else_is_not_shown_and_bad_heads_are_refused(
    make_app: Callable[..., Flask],
) -> None:
    house = make_app(Resting, demo=True)
    wren, osric = as_anybody(house, "Wren Achterberg"), as_anybody(house, "Osric Vayle")
    own = wren.get("/stretches.json").get_json()["for"]
    assert osric.get(f"/stretches?for={own}").status_code == 400
    assert wren.get("/stretches?for=999999").status_code == 400
    refused = wren.get("/stretches?head=nose")
    assert refused.status_code == 400
    assert "nose" in refused.text


def test_heads_and_a_card_show_them(make_app: Callable[..., Flask]) -> None:
    coach = as_anybody(make_app(Resting, demo=True), "Tamsin Brackwater")
    assert "Held long" in coach.get("/heads/triceps_long").text
