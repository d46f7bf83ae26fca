"""`curve-rank check`, `backup`, `restore`, `people` and `sessions`: for whoever runs an installation."""

from __future__ import annotations

import shutil
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import asdict
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import click

from curve_rank.background.checks import Finding, findings_in, size_shown
from curve_rank.background.schedule import back_up_now
from curve_rank.cli.options import (
    data_option,
    is_pipe,
    json_option,
    print_json,
    say_errors,
    shell_viewer,
    store_in_folder,
)
from curve_rank.data_files import read_bytes
from curve_rank.errors import BadInputError
from curve_rank.settings import installed_settings
from curve_rank.store.database import DbSession
from curve_rank.store.house import administration, endings
from curve_rank.store.safe import closing
from curve_rank.store.safe.backup import COUNTED, back_up
from curve_rank.store.safe.private import private_folder
from curve_rank.store.safe.restore import RestorePreview, preview, restore
from curve_rank.store.viewers import Viewer

OUTCOMES = ("Nothing is wrong.", "It can start; look at what is marked with ?.", "It cannot start.")
SIGNS = {"well": "  ", "look": "? ", "wrong": "! "}


@click.command(name="check")
@click.option(
    "--example", is_flag=True, help="Print a file of settings to begin with, each with what it does."
)
@click.option("--start", is_flag=True, help="Only whether it can start: for what stands before a start.")
@json_option
@data_option
@say_errors
def check_command(example: bool, start: bool, as_json: bool, data: Path | None) -> None:
    """Say how settings, folder, database, disk and backups are.

    Exit code 2 where it cannot start, 1 where something is to be looked at.
    """
    if example:
        click.echo(read_bytes("curve_rank", "settings.env").decode(), nl=False)
        return
    found = findings_in(data)
    states = {one.state for one in found}
    code = 2 if "wrong" in states else 1 if "look" in states else 0
    if as_json:
        print_json({"ok": code < 2, "findings": [asdict(one) for one in found]})
    else:
        for one in found:
            click.echo(_in_words(one))
        click.echo(OUTCOMES[code])
    if code == 2 or not start:
        sys.exit(code)


def _in_words(one: Finding) -> str:
    right = f" — {one.right}" if one.right else ""
    return f"{SIGNS[one.state]}{one.what}: {one.says}{right}"


@click.command(name="backup")
@click.option(
    "--out",
    type=click.Path(path_type=Path, dir_okay=False, allow_dash=True),
    help="Else into the folder of backups; - for standard output.",
)
@json_option
@data_option
@say_errors
def backup_command(out: Path | None, as_json: bool, data: Path | None) -> None:
    """Write everything into one new file, while it is served or not."""
    settings = installed_settings(data=data)
    if out is None:
        file, manifest = back_up_now(settings)
    elif is_pipe(out):
        with _passing_through(settings.backup_folder) as file:
            manifest = back_up(settings.data, file)
            with file.open("rb") as made:
                shutil.copyfileobj(made, sys.stdout.buffer)
        click.echo(f"Holds {_counted(manifest.counts)}.", err=True)
        return
    else:
        file, manifest = out, back_up(settings.data, out)
    if as_json:
        print_json(
            {"file": str(file), "bytes": file.stat().st_size, "manifest": manifest.model_dump(mode="json")}
        )
        return
    click.echo(f"{file}  {size_shown(file.stat().st_size)}")
    click.echo(f"Holds {_counted(manifest.counts)}.")


@contextmanager
def _passing_through(folder: Path | None) -> Iterator[Path]:
    """A file for what goes through a pipe, beside the backups, where there is room, or on the way only.

    Nobody else reads it.
    """
    with TemporaryDirectory(dir=None if folder is None else private_folder(folder)) as name:
        yield Path(name, "standard input or output")


@contextmanager
def _given(file: Path, folder: Path | None) -> Iterator[Path]:
    """A file that was named, or what comes through standard input as one."""
    if not is_pipe(file):
        yield file
        return
    with _passing_through(folder) as passing:
        with passing.open("wb") as kept:
            shutil.copyfileobj(sys.stdin.buffer, kept)
        yield passing


@click.command(name="restore")
@click.argument("file", type=click.Path(path_type=Path, dir_okay=False, allow_dash=True))
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
    """Put a backup in the place of what the data folder holds; what stands there is backed up first.

    FILE is - for standard input.
    """
    settings = installed_settings(data=data)
    folder = settings.data
    with _given(file, None if dry_run else settings.backup_folder) as given:
        if dry_run:
            found, before = preview(given, folder, keep_sign_ins=keep_sign_ins), None
        else:
            found, before = restore(given, folder, keep_sign_ins=keep_sign_ins)
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


def _of_restore(found: RestorePreview, folder: Path, before: Path | None, *, dry_run: bool) -> list[str]:
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
@click.option("--lock", type=int, metavar="ID", help="Keep somebody out.")
@click.option("--let-back", type=int, metavar="ID", help="Let somebody back in.")
@click.option("--take-role", nargs=2, metavar="ID ROLE", help="Take one role of several away.")
@click.option("--part", nargs=2, type=int, metavar="COACH CLIENT", help="Let a coach and a client part.")
@click.option("--address", nargs=2, metavar="ID EMAIL", help="Let somebody sign in with another address.")
@json_option
@data_option
@say_errors
def people_command(as_json: bool, data: Path | None, **asked: Any) -> None:
    """List everybody: roles, address, when last seen; or end something, which the audit then shows."""
    store, endings_asked = store_in_folder(installed_settings(data=data).data), _endings(**asked)
    if endings_asked:
        with store.writing() as session:
            told = [end(session, shell_viewer(session)) for end in endings_asked]
        if as_json:
            print_json({"done": told})
        else:
            click.echo("\n".join(told))
        return
    with store.reading() as session:
        found = administration.everybody(session, shell_viewer(session))
    _print(found, as_json, "{id:6}  {name:28} {roles:24} {email}")


End = Callable[[DbSession, Viewer], str]


def _endings(
    lock: int | None,
    let_back: int | None,
    take_role: tuple[str, str] | None,
    part: tuple[int, int] | None,
    address: tuple[str, str] | None,
) -> list[End]:
    """What is asked to be ended, each with what is said of it.

    Raises
    ------
    BadInputError
    """
    found: list[End] = []
    if lock is not None:
        found.append(lambda s, v: f"{endings.set_locked(s, v, lock, locked=True)} is kept out from now on.")
    if let_back is not None:
        found.append(lambda s, v: f"{endings.set_locked(s, v, let_back, locked=False)} may sign in again.")
    if take_role:
        who, role = _number(take_role[0]), take_role[1]
        found.append(lambda s, v: f"{endings.take_role(s, v, who, role)} is no {role} any more.")
    if part:
        found.append(
            lambda s, v: "{0.coach_name} and {0.client_name} part.".format(endings.part(s, v, *part))
        )
    if address:
        whose, email = _number(address[0]), address[1]
        found.append(
            lambda s, v: f"Changed; {endings.change_email(s, v, whose, email)} was the address before."
        )
    return found


def _number(text: str) -> int:
    if not (text.isascii() and text.isdigit() and len(text) <= 10):
        raise BadInputError("ID", text, "a number as `curve-rank people` lists it")
    return int(text)


@click.command(name="sessions")
@click.option("--end", type=int, metavar="ID", help="Sign out there.")
@json_option
@data_option
@say_errors
def sessions_command(end: int | None, as_json: bool, data: Path | None) -> None:
    """List where everybody is signed in, or end one sign-in."""
    store = store_in_folder(installed_settings(data=data).data)
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
