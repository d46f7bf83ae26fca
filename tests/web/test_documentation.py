"""The documentation is served as it was packed, to anyone, and says where it is not."""

from __future__ import annotations

from pathlib import Path

import pytest
from flask.testing import FlaskClient
from scripts.pack_docs import pack

from curve_rank.web import documentation

INDEX = "/api/docs/index.html"


def test_what_was_written_is_served_and_nothing_beside_it(
    client: FlaskClient, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    packed, written = tmp_path / "documentation.zip", tmp_path / "docs"
    monkeypatch.setattr(documentation, "PACKED", packed)
    told = client.get(INDEX)
    assert told.status_code == 404
    assert "make docs" in told.text
    assert INDEX not in client.get("/api").text

    (written / "_static").mkdir(parents=True)
    (written / ".doctrees").mkdir()
    for name in ("index.html", "_static/docs.css", ".doctrees/index.doctree"):
        (written / name).write_text(f"<p>{name}")
    pack(written, packed)
    first = packed.read_bytes()
    pack(written, packed)
    assert packed.read_bytes() == first
    page, style = client.get(INDEX), client.get("/api/docs/_static/docs.css")
    assert (page.mimetype, page.text) == ("text/html", "<p>index.html")
    assert style.mimetype == "text/css"
    assert client.get(INDEX, headers={"If-None-Match": page.headers["ETag"]}).status_code == 304
    assert INDEX in client.get("/api").text
    for other in (
        ".doctrees/index.doctree",
        "../web/__init__.py",
        "%2e%2e/secret",
        "_static",
        "_static/",
        "",
    ):
        assert client.get(f"/api/docs/{other}").status_code == 404, other
