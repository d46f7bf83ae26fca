"""`curve-rank serve` and `demo`: the web application, from a start to a quiet end.

It stands above shell and web, which know nothing of each other.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from importlib import import_module
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from curve_rank.cli.options import HERE, data_option, drawing_with, say_errors
from curve_rank.settings import Settings, read_settings

if TYPE_CHECKING:
    from curve_rank.answers.desk import Desk

PUBLISHED_RANKING = "/board?target=biceps_long&lens=long_length&with=dumbbell&with=incline_bench"
DEMO_FOLDER = Path("instance/demo")
OPEN = """\
WARNING: CURVE_RANK_LOCAL_VIEWER is on. Whoever reaches %s sees and changes all of the first educator's.
         It answers under the names %s; CURVE_RANK_HOSTS adds more."""
FIRST = """\
There is no account yet. Make the first one at %sfirst
with the code %s (it is good until somebody has used it, or this is stopped)."""


def _address(command: Callable[..., Any]) -> Callable[..., Any]:
    host = click.option("--host", default="127.0.0.1", show_default=True, help="Address to serve at.")
    port = click.option("--port", type=click.IntRange(0, 65535), default=8137, show_default=True)
    return host(port(command))


@click.command()
@_address
@data_option
@say_errors
def serve(host: str, port: int, data: Path | None) -> None:
    """Serve the web application over your own data."""
    _serve(host, port, read_settings(data=data), with_demo=False)


@click.command()
@_address
@data_option
@say_errors
def demo(host: str, port: int, data: Path | None) -> None:
    """Serve the web application with made-up demo data, in instance/demo unless a folder is named."""
    settings = read_settings(data=data)
    named = "data" in settings.model_fields_set
    _serve(host, port, settings if named else read_settings(data=DEMO_FOLDER), with_demo=True)


def _publish_ranking(kept: Desk, at: str) -> None:
    """Give the demo a published ranking, where nothing was published yet."""
    from curve_rank.answers.leaflets import leaflet_from
    from curve_rank.answers.means import Library, Means
    from curve_rank.answers.published import freeze
    from curve_rank.store.publications import publish, published
    from curve_rank.store.viewers import local_educator

    with kept.store.reading() as session:
        viewer = local_educator(session)
        if viewer is None or published(session, viewer):
            return
        means = Means(Library(session, viewer), kept.modeller, drawing_with(kept.modeller))
        made = leaflet_from(session, viewer, means, PUBLISHED_RANKING)
    token, frozen = freeze(made, lambda token: f"{at}/p/{token}")
    with kept.store.writing() as session:
        publish(session, viewer, token, frozen)


def _serve(host: str, port: int, settings: Settings, *, with_demo: bool) -> None:
    from curve_rank.store.safe.restore import in_use
    from curve_rank.web.logbook import set_up

    said = "log" in settings.model_fields_set
    set_up("off" if with_demo and not said else settings.log)
    with in_use(settings.data):
        _serve_folder(host, port, settings.bound_to(host), with_demo=with_demo)


def _warm(kept: Desk, port: int) -> None:
    """Draw what pages will ask for, publish the demo's ranking, and begin with the known people."""
    from curve_rank.background.handover import take_up

    drawing = kept.draws.warm(kept.modeller)
    if kept.demo:
        if drawing:
            click.echo("Drawing arms for the default body; pages say how far it is. Kept for the next start.")
        for run_of_draws in drawing:
            run_of_draws.wait()
        try:
            _publish_ranking(kept, f"http://127.0.0.1:{port}" if port else HERE)
        except Exception:
            if not kept.stopping.is_set():  # it may have been stopped meanwhile
                raise
    take_up(kept.draws, kept.modeller, kept.settings.data)
    kept.known.start()


def _serve_folder(host: str, port: int, settings: Settings, *, with_demo: bool) -> None:
    from curve_rank.background.handover import hand_over
    from curve_rank.store.demo import fill_demo
    from curve_rank.store.demo_house import fill_demo_house
    from curve_rank.store.house.accounts import has_accounts
    from curve_rank.web import create_app
    from curve_rank.web.current import of
    from curve_rank.web.serving import run

    if with_demo:
        settings = settings.at_home()
    app = create_app(settings, demo=with_demo)
    kept = of(app)

    def tell(where: str) -> None:
        if settings.open_to_others:
            click.echo(OPEN % (where, ", ".join(settings.trusted_hosts)), err=True)
        click.echo(f"Curve Rank at {where}  (Ctrl-C to stop)")
        with kept.store.reading() as session:
            if not settings.local_viewer and not has_accounts(session):
                click.echo(FIRST % (where, kept.door.code_in_groups))

    try:
        if with_demo:
            fill_demo(kept.store)
            fill_demo_house(kept.store)
        threading.Thread(target=_warm, args=(kept, port), daemon=True).start()
        # The first page in print would have to read a second of code in.
        threading.Thread(target=import_module, args=("weasyprint",), daemon=True).start()
        kept.schedule.start()
        run(app, host, port, tell)
    finally:
        hand_over(kept.draws, settings.data)
        kept.close()
