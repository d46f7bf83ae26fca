"""Administration: a backup from the page that restores to the same, sign-ins, work, the trail."""

from __future__ import annotations

import io
import re
import zipfile
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

from flask import Flask

from curve_rank.background.runs import Run
from curve_rank.settings import Settings
from curve_rank.store.safe.restore import restore
from curve_rank.store.safe.shelf import FOLDER
from curve_rank.store.tables import Person, now
from curve_rank.web import create_app
from tests.helpers import LIMIT, Resting, desk_of
from tests.web.pages.test_sign_in import as_anybody

SAME = (
    "/board.json?target=biceps_long&lens=own-lanternfield-house-blend", "/variants.json", "/blocks",
    "/record/4/log.csv", "/people", "/measure", "/published", "/bench/own-hayloft-deep-recline.json",
    "/clients/4",
)  # fmt: skip


def plain(page: str) -> str:
    """A page without what differs at every look."""
    return re.sub(r'(name="csrf_token" value|name="csrf" content|of=|/static/)[^ >]*', r"\1", page)


def test_a_backup_made_on_the_page_restores_to_the_same_installation(
    make_app: Callable[..., Flask], tmp_path: Path
) -> None:
    app = make_app()
    client = app.test_client()
    before = {address: client.get(address) for address in SAME}
    assert {one.status_code for one in before.values()} == {200}
    assert client.post("/administration/backups/make").status_code == 303
    page = client.get("/administration").text
    assert "Nothing is wrong" in page
    (name,) = set(re.findall(r"curve-rank-\d{8}-\d{6}\.zip", page))
    taken = client.get(f"/administration/backups/{name}")
    assert taken.headers["Cache-Control"] == "private, no-store"
    (tmp_path / "taken.zip").write_bytes(taken.data)
    restore(tmp_path / "taken.zip", tmp_path / "restored")
    again = create_app(Settings(data=tmp_path / "restored"), modeller=desk_of(app).modeller)
    again.config["WTF_CSRF_ENABLED"] = False
    for address, answer in before.items():
        assert plain(again.test_client().get(address).text) == plain(answer.text), address
    desk_of(again).close()
    for other in ("../curve-rank.sqlite3", "curve-rank-20200101-000000.zip", "curve-rank.sqlite3", FOLDER):
        assert client.get(f"/administration/backups/{other}").status_code == 404


def test_a_full_disk_is_told_of_and_nothing_half_made_is_left(
    make_app: Callable[..., Flask], tmp_path: Path
) -> None:
    (tmp_path / "file").touch()
    client = make_app(Resting, backups=tmp_path / "file" / "below").test_client()
    client.post("/administration/backups/make")
    page = client.get("/administration").text
    assert "The backup could not be made." in page
    assert "Something is wrong" in page
    assert client.get("/administration.json").get_json()["well"] is False


def test_somebody_is_signed_out_from_the_page_and_work_is_cancelled(make_app: Callable[..., Flask]) -> None:
    app = make_app(Resting, demo=True, local_viewer=False)
    maude, wren = as_anybody(app, "Maude Ellerby"), as_anybody(app, "Wren Achterberg")
    assert wren.get("/today").status_code == 200
    page = maude.get("/administration/people").text
    (number,) = re.findall(r'sign-ins/(\d+)/end"(?:(?!sign-ins/).)*?Sign Wren Achterberg', page, re.S)
    maude.post(f"/administration/sign-ins/{number}/end")
    assert wren.get("/today").status_code == 401

    run = desk_of(app).backups.runs.start(Run(4, "slow", 10), lambda one: one._cancelled.wait(LIMIT) and None)
    assert "backups for Wren Achterberg" in maude.get("/administration").text
    assert maude.post(f"/administration/work/{run.name}/cancel").status_code == 303
    assert run.wait(LIMIT)
    assert run.state == "cancelled"
    assert maude.post(f"/administration/work/{run.name}/cancel").status_code == 404
    assert "Who saw what" in maude.get("/administration/trail").text


def test_what_is_kept_of_somebody_is_handed_out_and_deleted_for_them(make_app: Callable[..., Flask]) -> None:
    app = make_app(Resting)
    client = app.test_client()
    packed = zipfile.ZipFile(io.BytesIO(client.get("/administration/people/4/data.zip").data))
    assert "Wren Achterberg" in packed.read("people.json").decode()
    assert "logged_sets.csv" in packed.namelist()
    assert "will be deleted on" in client.post("/administration/people/4/leave", follow_redirects=True).text
    assert "stays" in client.post("/administration/people/4/stay", follow_redirects=True).text
    client.post("/administration/people/4/leave")
    with desk_of(app).store.writing() as session:
        session.get_one(Person, 4).leaving_at = now() - timedelta(days=1)
    desk_of(app).schedule.do_what_is_due()
    client.get("/administration/people")  # tells what was done
    assert "Wren" not in client.get("/administration/people").text
    assert client.get("/administration/people/4/data.zip").status_code == 404
    assert "someone else" in client.post("/administration/people/1/leave", follow_redirects=True).text
