"""Blocks from a shell."""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pypdfium2
import pytest
from click.testing import CliRunner
from flask import Flask

from curve_rank.answers.people import whose
from curve_rank.catalogue.equipment import lacking
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.cli.main import main
from curve_rank.store import logs, viewers
from curve_rank.store.database import open_store
from curve_rank.store.demo import fill_demo
from curve_rank.training.learning import Factor, LogFindings, learned_data
from tests.helpers import desk_of, once_drawn


@pytest.fixture
def folder(tmp_path: Path) -> str:
    store = open_store(tmp_path / "data")
    fill_demo(store)
    store.engine.dispose()
    return str(tmp_path / "data")


def run(*arguments: str) -> tuple[int, str]:
    done = CliRunner().invoke(main, list(arguments))
    return done.exit_code, done.output


PICKS = ("--picks", "standing-dumbbell-curl,rope-press-down")


def test_a_block_is_planned_kept_printed_and_dated(folder: str, tmp_path: Path) -> None:
    asked = ("plan", *PICKS, "--weeks", "3", "--per-week", "2", "--json", "--data", folder)
    code, text = run(*asked)
    assert code == 0, text
    view = json.loads(text)
    assert len(view["weeks"]) == 3
    sets = view["weeks"][0]["sessions"][0]["exercises"][0]["sets"]
    assert [t["reps"] for t in sets] == sorted((t["reps"] for t in sets), reverse=True)
    assert {"warnings", "weekly_sets"} <= set(view)
    assert run(*asked) == (code, text)  # the same for the same
    code, text = run(*asked, "--keep", "--start", "2026-03-02")
    number = str(json.loads(text)["number"])
    card, dates = tmp_path / "card.pdf", tmp_path / "block.ics"
    assert run("plan-card", number, "--out", str(card), "--data", folder)[0] == 0
    assert len(pypdfium2.PdfDocument(card)) >= 1
    assert run("calendar", number, "--out", str(dates), "--data", folder)[0] == 0
    assert dates.read_text().count("BEGIN:VEVENT") == 6
    for wrong in (
        ("plan", *PICKS, "--per-week", "4"),
        ("plan", "--picks", "flying-curl"),
        ("plan", *PICKS, "--name", "n" * 81),
        ("plan", *PICKS, "--start", "2026-03-03"),
        ("plan-card", "999", "--out", str(card)),
        ("plan", "--client", "999"),
    ):
        code, text = run(*wrong, "--data", folder)
        assert code == 2, text
        assert text.startswith("curve-rank: ")


def test_a_shell_plans_as_pages_do_with_what_was_learned(
    make_app: Callable[..., Flask], tmp_path: Path
) -> None:
    """One place knows whom a plan is for: a learned factor reaches page and shell alike."""
    app, wren, folder = make_app(demo=True), "4", str(tmp_path / "data")
    asked = ("plan", *PICKS, "--client", wren, "--weeks", "3", "--per-week", "2", "--json", "--data", folder)
    code, text = run(*asked)
    assert code == 0, text
    before = json.loads(text)
    with desk_of(app).store.writing() as session:
        stronger = LogFindings({"standing-dumbbell-curl": Factor(1.5, 1.4, 1.6)}, 400, 12, 3)
        logs.keep_learned(session, int(wren), json.dumps(learned_data(stronger)), "as it was")
    planned = json.loads(run(*asked, "--keep")[1])
    page = app.test_client().get(f"/blocks/{planned['number']}.json?for={wren}").get_json()
    assert loads(page) == loads(planned)
    assert loads(planned) != loads(before)


def test_a_set_for_a_client_is_done_in_their_room_in_shell_and_page_alike(
    make_app: Callable[..., Flask], tmp_path: Path
) -> None:
    app, wren, folder = make_app(demo=True), "4", str(tmp_path / "data")
    code, text = run("choose", "--client", wren, "--json", "--data", folder)
    assert code == 0, text
    with desk_of(app).store.reading() as session:
        viewer = viewers.local_educator(session)
        assert viewer is not None
        profile, _, room = whose(session, viewer, int(wren))
    assert room is not None
    assert room.equipment
    chosen = json.loads(text)
    for pick in chosen["picks"]:
        assert lacking(find_variant(pick["variant"], built_in()), room.equipment) == ""
    targets = "&".join(f"target={key}" for key in profile.aims)
    spare = "".join(f"&spare={key}" for key in profile.spare)
    asked, browser = f"for={wren}&{targets}{spare}", app.test_client()
    once_drawn(browser, f"/sets?{asked}")
    page = browser.get(f"/sets.json?{asked}").get_json()
    assert [pick["variant"] for pick in page["picks"]] == [pick["variant"] for pick in chosen["picks"]]


def loads(view: dict[str, Any]) -> list[tuple[str, float]]:
    """Every exercise of a block with the load of its first set."""
    return [
        (one["variant"], one["sets"][0]["load"])
        for week in view["weeks"] for session in week["sessions"] for one in session["exercises"]
    ]  # fmt: skip
