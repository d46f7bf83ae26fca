"""`curve-rank export` and `import`: all documents of one's own in a file, and a file taken in."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.cli.options import (
    data_option,
    json_option,
    modeller_for,
    print_json,
    read_text,
    say_errors,
    say_written,
    shell_viewer,
    store_in,
    write_file,
)
from curve_rank.errors import BadInputError
from curve_rank.exchange.bundles import LARGEST, bundle_text, preview, read_bundle, take_in
from curve_rank.settings import read_settings
from curve_rank.store.database import open_store


@click.command(name="export")
@click.option(
    "--out", type=click.Path(path_type=Path, dir_okay=False), required=True, help="The bundle's file."
)
@json_option
@data_option
@say_errors
def export_command(out: Path, as_json: bool, data: Path | None) -> None:
    """Write variants, lenses, faults, claims, profiles and lectures of one's own to a bundle."""
    with store_in(data).reading() as session:
        text = bundle_text(session, shell_viewer(session))
    write_file(out, text)
    count = len(read_bundle(text).items)
    say_written(out, f"{count} items", as_json=as_json, items=count)


@click.command(name="import")
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--dry-run", is_flag=True, help="Only say what would be done.")
@click.option("--replace", is_flag=True, help="Also take in what differs from here, as next versions.")
@click.option("--only", multiple=True, metavar="ID", help="Take in these alone.")
@json_option
@data_option
@say_errors
def import_command(
    file: Path, dry_run: bool, replace: bool, only: tuple[str, ...], as_json: bool, data: Path | None
) -> None:
    """Take a bundle in: what is new here; with --replace also what differs."""
    bundle = read_bundle(
        read_text(file, "FILE", f"a bundle's file of at most {LARGEST // 2**20} MB", LARGEST)
    )
    unknown = set(only) - {item.id for item in bundle.items}
    if unknown:
        raise BadInputError("--only", ", ".join(sorted(unknown)), "ids of items in the bundle")
    settings = read_settings(data=data)
    store = open_store(settings.data, settings.unit)
    with store.writing() as session:
        viewer = shell_viewer(session)
        found = preview(session, viewer, bundle, modeller_for(data))
        wanted = [
            one.item
            for one in found
            if one.can_be_taken and (one.status == "new" or replace) and (not only or one.item.id in only)
        ]
        taken = 0 if dry_run else take_in(session, viewer, wanted)
    chosen = {(item.kind, item.id) for item in wanted}
    rows = [
        {
            "kind": one.item.kind,
            "id": one.item.id,
            "name": one.item.name,
            "status": one.status,
            "problem": one.problem,
            "take": (one.item.kind, one.item.id) in chosen,
        }
        for one in found
    ]
    if as_json:
        print_json({"items": rows, "taken": taken})
        return
    for row in rows:
        why = f" ({row['problem']})" if row["problem"] else ""
        click.echo(f"{row['kind']:8} {row['id']:44} {row['status']}{why}{'  <-' if row['take'] else ''}")
    click.echo(f"{taken} taken in" if not dry_run else f"{len(wanted)} would be taken in")
