"""`curve-rank check`, `backup`, `restore`, `people` and `sessions`: for whoever runs an installation."""

from __future__ import annotations

import sys
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import click

from curve_rank.background.checks import Finding, findings_in, size_shown
from curve_rank.background.schedule import back_up_now
from curve_rank.cli.options import data_option, json_option, print_json, say_errors, shell_viewer, store_in
from curve_rank.data_files import read_bytes
from curve_rank.settings import read_settings
from curve_rank.store import administration, closing
from curve_rank.store.backup import COUNTED, back_up
from curve_rank.store.restore import Preview, preview, restore

SIGNS = {"well": "  ", "look": "? ", "wrong": "! "}


@click.command(name="check")
@click.option(
    "--example", is_flag=True, help="Print a file of settings to begin with, each with what it does."
)
@json_option
@data_option
@say_errors
def check_command(example: bool, as_json: bool, data: Path | None) -> None:
    """Say what is wrong with settings, folder, database, disk and backups; exit code 1 where anything is."""
    if example:
        click.echo(read_bytes("curve_rank", "settings.env").decode(), nl=False)
        return
    found = findings_in(data)
    wrong = any(one.state == "wrong" for one in found)
    if as_json:
        print_json({"ok": not wrong, "findings": [asdict(one) for one in found]})
    else:
        for one in found:
            click.echo(_in_words(one))
        click.echo("Something is wrong." if wrong else "Nothing is wrong.")
    if wrong:
        sys.exit(1)


def _in_words(one: Finding) -> str:
    right = f" — {one.right}" if one.right else ""
    return f"{SIGNS[one.state]}{one.what}: {one.says}{right}"


@click.command(name="backup")
@click.option(
    "--out", type=click.Path(path_type=Path, dir_okay=False), help="Else into the folder of backups."
)
@json_option
@data_option
@say_errors
def backup_command(out: Path | None, as_json: bool, data: Path | None) -> None:
    """Write everything into one new file, while it is served or not."""
    settings = read_settings(data=data)
    if out is None:
        file, manifest = back_up_now(settings)
    else:
        file, manifest = out, back_up(settings.data, out)
    if as_json:
        print_json(
            {"file": str(file), "bytes": file.stat().st_size, "manifest": manifest.model_dump(mode="json")}
        )
        return
    click.echo(f"{file}  {size_shown(file.stat().st_size)}")
    click.echo(f"Holds {_counted(manifest.counts)}.")


@click.command(name="restore")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--dry-run", is_flag=True, help="Only look through it and say what would be done.")
@click.option(
    "--keep-sign-ins",
    is_flag=True,
    help="For moving house: sign-ins, invitations and resets go on, but for those that have ended since.",
)
@json_option
@data_option
@say_errors
def restore_command(file: Path, dry_run: bool, keep_sign_ins: bool, as_json: bool, data: Path | None) -> None:
    """Put a backup in the place of what the data folder holds; what stands there is backed up first."""
    folder = read_settings(data=data).data
    if dry_run:
        found, before = preview(file, folder, keep_sign_ins=keep_sign_ins), None
    else:
        found, before = restore(file, folder, keep_sign_ins=keep_sign_ins)
    if as_json:
        print_json({
            "restored": not dry_run,
            "manifest": found.manifest.model_dump(mode="json"),
            "present": found.present,
            "before": str(before) if before else None,
            "closes": found.closes,
        })  # fmt: skip
        return
    for line in _of_restore(found, folder, before, dry_run=dry_run):
        click.echo(line)


def _of_restore(found: Preview, folder: Path, before: Path | None, *, dry_run: bool) -> list[str]:
    manifest = found.manifest
    lines = [
        f"The backup is whole. Made {manifest.made_at:%-d %B %Y, %H:%M} UTC by version {manifest.version}.",
        f"It holds {_counted(manifest.counts)}.",
    ]
    if found.present is not None:
        there = _counted(found.present) if found.present else "a database that cannot be read"
        lines.append(f"In {folder} {'stands' if dry_run else 'stood'} {there}.")
    lines += [f"Closed: {count} {closing.WORDS[what]}." for what, count in found.closes.items()]
    if dry_run:
        lines.append("Nothing was changed.")
        return lines
    if before is not None:
        lines.append(f"What stood there before: {before}")
    lines.append(f"Restored into {folder}. The next start brings its tables up to date.")
    return lines


def _counted(counts: dict[str, int]) -> str:
    return ", ".join(f"{counts.get(table, 0)} {name}" for table, name in COUNTED.items())


@click.command(name="people")
@json_option
@data_option
@say_errors
def people_command(as_json: bool, data: Path | None) -> None:
    """List everybody: roles, address, when last seen."""
    with store_in(data).reading() as session:
        found = administration.everybody(session, shell_viewer(session))
    _print(found, as_json, "{id:6}  {name:28} {roles:24} {email}")


@click.command(name="sessions")
@click.option("--end", type=int, metavar="ID", help="Sign out there.")
@json_option
@data_option
@say_errors
def sessions_command(end: int | None, as_json: bool, data: Path | None) -> None:
    """List where everybody is signed in, or end one sign-in."""
    store = store_in(data)
    if end is not None:
        with store.writing() as session:
            name = administration.end_sign_in(session, shell_viewer(session), end)
        if as_json:
            print_json({"ended": end, "person": name})
        else:
            click.echo(f"{name} is signed out there.")
        return
    with store.reading() as session:
        found = administration.all_sign_ins(session, shell_viewer(session))
    _print(found, as_json, "{id:6}  {person:28} {browser:28} {last_seen}")


def _print(rows: Any, as_json: bool, line: str) -> None:
    plain = [{name: _plain(value) for name, value in asdict(row).items()} for row in rows]
    if as_json:
        print_json(plain)
        return
    for row in plain:
        shown = {
            name: ", ".join(value) if isinstance(value, tuple) else value or "" for name, value in row.items()
        }
        click.echo(line.format(**shown).rstrip())


def _plain(value: Any) -> Any:
    return value.replace(tzinfo=UTC).isoformat() if isinstance(value, datetime) else value
