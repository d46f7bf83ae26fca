"""The script of the documents, run as a stranger would: another process, over a socket, with a token."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections.abc import Callable, Iterator

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
