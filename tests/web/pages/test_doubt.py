"""Doubt a number: page, data and shell say one thing, and refuse what is no number."""

from __future__ import annotations

import json
from pathlib import Path

from click.testing import CliRunner
from flask.testing import FlaskClient

from curve_rank.cli.main import main
from tests.answers.surfaces import printed, words_of

NUMBER = "heads.brachialis.elbow_arm"
ASKED = f"number={NUMBER}&spreads=-2&target=brachialis&lens=even_tension&with=dumbbell"


def test_page_and_data_say_one_thing(client: FlaskClient) -> None:
    told = client.get(f"/doubt.json?{ASKED}").get_json()
    page = words_of(client.get(f"/doubt?{ASKED}").text)
    assert told["spreads"] == -2
    assert told["says"] in page
    for row in told["rows"]:
        assert f"{row['name']} {printed(row['score'])} {printed(row['score_then'])}" in page
    assert client.get(f"/doubt?{ASKED}", headers={"X-Part": "answer"}).text.lstrip().startswith("<section")


def test_shell_and_data_say_one_thing(client: FlaskClient, tmp_path: Path) -> None:
    typed = ["doubt", NUMBER, "--spreads", "-2", "--claims", "--json", "--data", str(tmp_path / "data")]
    told = CliRunner().invoke(main, typed)
    assert told.exit_code == 0, told.output
    assert json.loads(told.stdout) == client.get(f"/doubt/claims.json?number={NUMBER}&spreads=-2").get_json()
    page = client.get(f"/doubt/claims?number={NUMBER}&spreads=-2").text
    for one in json.loads(told.stdout)["turned"]:
        assert f'href="/claims/{one["key"]}"' in page


def test_what_is_no_number_is_named(client: FlaskClient) -> None:
    for asked, words in (
        ("number=setup.trunk&spreads=9", "spreads: '9'"),
        ("number=setup.trunk&spreads=nan", "spreads"),
        ("number=made.up", "made.up"),
    ):
        for address in ("/doubt", "/doubt.json", "/doubt/claims", "/doubt/claims.json"):
            answer = client.get(f"{address}?{asked}")
            assert answer.status_code in (400, 404), address
            assert words in answer.text.replace("&#39;", "'"), address
