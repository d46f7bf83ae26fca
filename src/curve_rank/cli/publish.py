"""`curve-rank publish`: a page frozen behind a link, from a shell; and the links there are."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import click

from curve_rank.cli.options import (
    HERE,
    data_option,
    json_option,
    means_for,
    print_json,
    say_errors,
    shell_viewer,
    store_in,
    unit_asked,
    unit_option,
)
from curve_rank.errors import BadInputError
from curve_rank.settings import read_settings
from curve_rank.store import publications


@click.command(name="publish")
@click.argument("page", required=False)
@click.option("--title", help="What it is called, where that is not the page’s own title.")
@click.option("--at", default=HERE, show_default=True, help="Where others reach this installation.")
@click.option("--withdraw", metavar="LINK", help="Take a published page back, by its link or its last part.")
@unit_option
@json_option
@data_option
@say_errors
def publish_command(
    page: str | None, title: str | None, at: str, withdraw: str | None, as_json: bool, data: Path | None
) -> None:
    """Freeze PAGE, an address of the application, behind a link; without PAGE, list the links there are."""
    from curve_rank.answers.leaflets import leaflet_from  # brings all that can be published
    from curve_rank.answers.published import freeze

    _check_host(at, data)
    means, store = means_for(data), store_in(data)
    with store.reading() as session:
        made = (
            leaflet_from(session, shell_viewer(session), means, page, unit_asked())
            if page is not None
            else None
        )
    frozen = (
        freeze(replace(made, title=title or made.title), lambda token: _link(at, token)) if made else None
    )
    with store.writing() as session:
        viewer = shell_viewer(session)
        if frozen is not None:
            publications.publish(session, viewer, *frozen)
        listed = publications.published(session, viewer)
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


def _check_host(at: str, data: Path | None) -> None:
    """Refuse a name under which the application does not answer."""
    settings = read_settings(data=data)
    if urlsplit(at).hostname not in settings.trusted_hosts:
        raise BadInputError("--at", at, f"an address under {settings.right_host}")


def _link(at: str, token: str) -> str:
    return f"{at.rstrip('/')}/p/{token}"


def _view(one: publications.PublicationLine, at: str) -> dict[str, Any]:
    return {
        "link": _link(at, one.token),
        "kind": one.kind,
        "title": one.title,
        "created_at": one.created_at.isoformat(),
        "withdrawn": one.withdrawn_at is not None,
        "opened": one.opened,
    }
