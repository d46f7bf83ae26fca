"""Publishing from a shell: a frozen page, its link, withdrawn; refused where there is nothing to publish."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest

from curve_rank.settings import Settings
from curve_rank.web import create_app
from tests.cli.test_main import run, run_json
from tests.conftest import KEPT


@pytest.fixture
def data(tmp_path: Path, demo_folder: Path) -> str:
    shutil.copytree(demo_folder, tmp_path / "data")
    return str(tmp_path / "data")


def test_a_page_is_published_listed_and_withdrawn(data: str) -> None:
    made = run_json("publish", "/variants/chin-up", "--title", "Tuesday", "--data", data)
    assert (made["kind"], made["title"], made["withdrawn"]) == ("variant", "Tuesday", False)
    path = "/p/" + made["link"].rpartition("/")[2]
    client = create_app(Settings(data=Path(data)), modeller=KEPT).test_client()
    assert "Tuesday" in client.get(path).text
    assert client.get(path + ".pdf").data.startswith(b"%PDF")
    (listed,) = run_json("publish", "--data", data)
    assert listed["opened"] == 1
    run("publish", "--withdraw", made["link"], "--data", data)
    assert client.get(path).status_code == 404


@pytest.mark.parametrize(
    ("command", "says"),
    [
        (["/loads"], "Take with you"),
        (["/variants/nothing"], "nothing"),
        (["/variants/chin-up", "--at", "http://elsewhere.example"], "CURVE_RANK_HOSTS"),
        (["--withdraw", "http://127.0.0.1:8137/p/never"], "published here"),
    ],
)
def test_what_cannot_be_published_or_withdrawn_says_why(data: str, command: list[str], says: str) -> None:
    answer = run("publish", *command, "--data", data)
    assert answer.exit_code == 2
    assert says in answer.output
