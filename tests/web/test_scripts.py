"""A page's scripts are one file: all that it imports, once, behind what it needs."""

from __future__ import annotations

import re

import pytest
from flask.testing import FlaskClient

from curve_rank.web.scripts import FOLDER, SCRIPTS, script_of
from curve_rank.web.serving import STATIC

TEMPLATES = STATIC.parent / "templates"
PHONE = "phone_room"
"""In a lecture's room on a phone, where nothing else runs."""


@pytest.mark.parametrize("script", SCRIPTS)
def test_each_module_stands_once_behind_what_it_needs(script: str) -> None:
    text = script_of(script)
    made = re.findall(r'^made\["([^"]+)"\] = ', text, re.M)
    assert len(set(made)) == len(made)
    for at, name in enumerate(made):
        body = text.split(f'made["{name}"] = ')[1].split('\nmade["')[0]
        needs = re.findall(r'^const .+ = made\["([^"]+)"\];$', body, re.M)
        assert set(needs) <= set(made[:at]), name
    assert not re.search(r"^export ", text, re.M)
    assert set(re.findall(r"^import .*", text, re.M)) <= {
        'import Alpine from "../vendor/alpinejs-csp/alpine-csp.js";'
    }


def test_every_module_is_run_by_some_page_and_every_page_names_one_that_there_is() -> None:
    run = {
        name for script in SCRIPTS for name in re.findall(r'^made\["([^"]+)"\] = ', script_of(script), re.M)
    }
    assert run | {"worker.js"} == {path.relative_to(FOLDER).as_posix() for path in FOLDER.rglob("*.js")}
    named = [
        name
        for path in TEMPLATES.rglob("*.html")
        for name in re.findall(r'set page_script = "(\w+)"', path.read_text("utf-8"))
    ]
    assert set(named) | {"plain", PHONE} == set(SCRIPTS)


def test_a_script_is_kept_for_a_year_and_one_that_there_is_not_is_not_found(client: FlaskClient) -> None:
    page = client.get("/board").text
    (address,) = re.findall(r'src="(/static/[^"]+/js/board-script\.js)"', page)
    answer = client.get(address)
    assert (answer.status_code, answer.mimetype) == (200, "text/javascript")
    assert "immutable" in answer.headers["Cache-Control"]
    assert "Vary" not in answer.headers or "Cookie" not in answer.headers["Vary"]
    assert client.get(address.replace("board-script", "nothing-script")).status_code == 404
