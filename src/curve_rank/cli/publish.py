"""`curve-rank publish`: a page frozen behind a link, from a shell; and the links there are."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from curve_rank.cli.options import data_option, json_option, print_json, say_errors, shell_viewer
from curve_rank.errors import BadInputError
from curve_rank.settings import Settings, read_settings
from curve_rank.store import publications

if TYPE_CHECKING:
    from flask import Flask

HERE = "http://127.0.0.1:8137"
PUBLISHED = "a page with “Publish this”, as in /board?target=biceps_long or /variants/chin-up"


@contextmanager
def whole_app(settings: Settings) -> Iterator[Flask]:
    """The application over a data folder, for one command."""
    from curve_rank.web import create_app
    from curve_rank.web.current import desk

    app = create_app(settings.at_home())
    with app.app_context():
        kept = desk()
    try:
        yield app
    finally:
        kept.draws.close()
        kept.store.engine.dispose()


def publish_page(app: Flask, page: str, at: str = HERE) -> None:
    """Freeze a page by its address, as its own button does.

    Raises
    ------
    BadInputError
    """
    path, _, query = page.partition("?")
    with app.test_client() as client:
        token = re.search(r'name="csrf" content="([^"]+)"', client.get("/safety", base_url=at).text)
        answer = client.post(
            f"/{path.strip('/')}/publish?{query}",
            base_url=at,
            headers={"Accept": "application/json", "X-CSRFToken": token[1] if token else "", "Referer": at},
        )
    if answer.status_code != 303:
        told = answer.get_json(silent=True) or {}
        raise BadInputError("PAGE", page, f"{PUBLISHED} ({told.get('error', answer.status)})")


@click.command(name="publish")
@click.argument("page", required=False)
@click.option("--title", help="What it is called, where that is not the page’s own title.")
@click.option("--at", default=HERE, show_default=True, help="Where others reach this installation.")
@click.option("--withdraw", metavar="LINK", help="Take a published page back, by its link or its last part.")
@json_option
@data_option
@say_errors
def publish_command(
    page: str | None, title: str | None, at: str, withdraw: str | None, as_json: bool, data: Path | None
) -> None:
    """Freeze PAGE, an address of the application, behind a link; without PAGE, list the links there are."""
    with whole_app(read_settings(data=data)) as app:
        if page is not None:
            publish_page(app, page, at)
        store = app.extensions["curve_rank"].store
        with store.writing() as session:
            viewer = shell_viewer(session)
            listed = publications.published(session, viewer)
            if page is not None and title:
                publications.rename(session, viewer, listed[0].id, title)
            if withdraw is not None:
                token = withdraw.rstrip("/").rpartition("/")[2]
                found = next((one for one in listed if one.token == token), None)
                if found is None:
                    raise BadInputError("--withdraw", withdraw, "the link of a page that was published here")
                publications.set_withdrawn(session, viewer, found.id, withdrawn=True)
            listed = publications.published(session, viewer)
    shown = listed[:1] if page is not None else listed
    views = [_view(one, at) for one in shown]
    if as_json:
        print_json(views[0] if page is not None else views)
        return
    for view in views:
        gone = "  (withdrawn)" if view["withdrawn"] else ""
        click.echo(f"{view['link']}  {view['title']}, opened {view['opened']} times{gone}")


def _view(one: publications.Listed, at: str) -> dict[str, Any]:
    return {
        "link": f"{at.rstrip('/')}/p/{one.token}",
        "kind": one.kind,
        "title": one.title,
        "created_at": one.created_at.isoformat(),
        "withdrawn": one.withdrawn_at is not None,
        "opened": one.opened,
    }
