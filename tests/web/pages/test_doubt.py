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


def test_several_numbers_are_doubted_together_on_page_in_data_and_in_a_shell(
    client: FlaskClient, tmp_path: Path
) -> None:
    besides = "heads.brachialis.peak_force"
    told = client.get(f"/doubt.json?{ASKED}&also={besides}:1.5").get_json()
    assert told["besides"] == {besides: 1.5}
    assert told["rows"] != client.get(f"/doubt.json?{ASKED}").get_json()["rows"]
    typed = [
        "doubt",
        NUMBER,
        "--spreads",
        "-2",
        "--also",
        f"{besides}:1.5",
        "--target",
        "brachialis",
        "--json",
    ]
    shell = CliRunner().invoke(main, [*typed, "--data", str(tmp_path / "data")])
    plain = client.get(
        f"/doubt.json?number={NUMBER}&spreads=-2&target=brachialis&also={besides}:1.5"
    ).get_json()
    assert json.loads(shell.stdout) == plain
    page = client.get(f"/doubt?{ASKED}&more={besides}&by=1.5").text
    assert "Off besides it" in page
    assert f'name="also" value="{besides}:1.5"' in page, "it stays when the dial moves"
    alone = client.get(f"/doubt.json?also={NUMBER}:-2&also={besides}:1.5&target=brachialis").get_json()
    assert (alone["number"], alone["spreads"], alone["besides"]) == (NUMBER, -2, {besides: 1.5})
    for wrong in ("also=made.up:1", f"also={besides}", f"also={besides}:9", f"more={besides}&by=much"):
        answer = client.get(f"/doubt?number={NUMBER}&{wrong}")
        assert answer.status_code in (400, 404), wrong
