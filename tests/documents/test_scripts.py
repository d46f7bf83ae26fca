"""The script of the documents, run as a stranger would: another process, over a socket, with a token."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from typing import Any

import pytest
from flask import Flask
from waitress.server import create_server

from curve_rank.store.house import access_tokens
from curve_rank.store.viewers import local_educator
from tests.documents.blocks import blocks
from tests.helpers import Resting, desk_of


@pytest.fixture
def served(make_app: Callable[..., Flask]) -> Iterator[tuple[str, str]]:
    """Where an installation answers, and a token of its educator's."""
    app = make_app(Resting, local_viewer=False)
    app.config["WTF_CSRF_ENABLED"] = True
    with desk_of(app).store.writing() as db:
        educator = local_educator(db)
        assert educator is not None
        token = access_tokens.make(db, educator, "the document's", "write")
    server = create_server(app, host="127.0.0.1", port=0)
    threading.Thread(target=server.run, daemon=True).start()
    yield f"http://127.0.0.1:{server.effective_port}", token
    server.close()


def test_the_documents_script_ranks_publishes_and_fetches(served: tuple[str, str]) -> None:
    at, token = served
    (script,) = (block.text for block in blocks("docs/scripts.md") if block.language == "python")
    environment = {**os.environ, "CURVE_RANK_AT": at, "CURVE_RANK_TOKEN": token}
    told = subprocess.run(
        [sys.executable, "-c", script],
        env=environment,
        capture_output=True,
        text=True,
        check=False,
        timeout=300,
    )
    assert told.returncode == 0, told.stderr
    lines = told.stdout.splitlines()
    assert [line.split()[0] for line in lines[:3]] == ["1", "2", "3"]
    assert "/p/" in lines[3]
    assert lines[4] == "%PDF-"


def test_the_client_that_is_made_of_the_document_calls_twenty_routes(served: tuple[str, str]) -> None:
    at, token = served
    with urllib.request.urlopen(f"{at}/api/client.py") as answer:
        text = answer.read().decode()
    made: dict[str, Any] = {}
    exec(compile(text, "curve_rank_client.py", "exec"), made)
    client = made["Client"](token, at)
    page = {"page": "/variants/chin-up"}
    found = [
        client.board(target="biceps_long", with_=["dumbbell", "cable"])["rows"][0]["rank"],
        client.compare(with_=["chin-up", "pull-up-palms-away"]),
        client.compare_one_thing_of(
            "chin-up", field="posture.forearm", from_=-90, to=90, step=90
        ),
        client.bench_of("chin-up", load=20), client.bench_of_document("chin-up")["id"] == "chin-up",
        client.variants(), client.variants_of("chin-up"), client.faults(family="standing"),
        client.heads_of("biceps_long"), client.schools(), client.claims(words="chin"),
        client.claims_of("lower_bench_longer"), client.evidence(), client.stretches(head=["biceps_long"]),
        client.loads(variant="standing-dumbbell-curl", load=12), client.sources(),
        client.sets(target=["biceps_long"], with_=["dumbbell"]), client.doubt(target="biceps_long"),
        client.take(**page), client.take_csv(**page).decode().count(","),
        client.take_md(**page).startswith(b"#"), client.take_publish(**page)["link"],
    ]  # fmt: skip
    assert len(found) >= 20
    assert all(found)
    with pytest.raises(urllib.error.HTTPError) as refused:
        client.board(target="calf")
    assert "target" in json.loads(refused.value.read())["error"]
    with pytest.raises(urllib.error.HTTPError, match="401"):
        made["Client"]("nobody-was-given-this", at).board()
