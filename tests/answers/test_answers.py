"""Pages' twins, CSV files and commands give the numbers they gave before."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

from tests.answers import answers, differences, recorded, run_command


@pytest.mark.usefixtures("shell_draws_in_threads")
def test_nothing_answers_otherwise_than_it_did(client: FlaskClient) -> None:
    was, now = recorded(), answers(client, run_command)
    assert was.keys() <= now.keys()
    found = [difference for key in was for difference in differences(was[key], now[key], key)]
    assert found == []


def test_a_changed_number_or_word_would_be_noticed() -> None:
    was = {"a": [1.0, 2.0, {"why": "first"}]}
    assert list(differences(was, {"a": [1.0001, 2.0, {"why": "first"}], "new": 1})) == []
    for rows in ([1.01, 2.0, {"why": "first"}], [1.0, 2.0], [1.0, 2.0, {"why": "last"}], [1.0, 2.0, {}]):
        assert list(differences(was, {"a": rows}))
