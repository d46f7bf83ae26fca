"""What is looked at to see whether an installation is well, one small function a thing."""

from __future__ import annotations

import os
import shutil
import socket
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from difflib import get_close_matches
from pathlib import Path
from urllib.parse import urlsplit

from curve_rank.background.schedule import backups_in
from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.settings import DATABASE, PREFIX, Settings, installed_settings, unknown_names
from curve_rank.store.revisions import known_revisions
from curve_rank.store.safe.private import private_folder
from curve_rank.store.safe.restore import in_use
from curve_rank.store.safe.troubles import told

LEAST_FREE, GOOD_FREE = 64 * 1024**2, 1024**3
"""With less room it cannot run, with less it should not [bytes]."""
CONNECT_SECONDS = 3


@dataclass(frozen=True)
class Finding:
    """One thing that was looked at, and what would be right.

    It is "well", to be looked at ("look"), or "wrong": then nothing can be served with it.
    """

    what: str
    state: str
    says: str
    right: str = ""


def size_shown(size: float) -> str:
    """A number of bytes in words."""
    for unit, name in ((1e9, "GB"), (1e6, "MB")):
        if size >= unit:
            return f"{size / unit:.1f} {name}"
    return f"{size / 1e3:.0f} kB"


def findings_in(data: Path | None) -> list[Finding]:
    """Everything that is looked at; without settings that can be read there is nothing else to look at."""
    try:
        settings = installed_settings(data=data)
    except CurveRankError as error:
        return [*_names(data), Finding(error.field, "wrong", str(error.value), error.expected)]
    return [*findings(settings, names=_names(data)), *_served(settings)]


def findings(
    settings: Settings, *, deep: bool = True, names: Iterable[Finding] | None = None
) -> list[Finding]:
    """Everything that is looked at; without `deep` the database is opened, and not read through."""
    return [
        *(_names(settings.data) if names is None else names),
        *_settings(settings),
        *_folder(settings),
        *_database(settings, deep=deep),
        *_backups(settings),
    ]


def _served(settings: Settings) -> Iterator[Finding]:
    """Whether anybody serves the folder: what nobody serves is well only for who knows that."""
    if not (settings.data / DATABASE).is_file() or not os.access(settings.data, os.W_OK):
        return  # whether a folder is served is seen by who may write to it
    right = "`curve-rank serve`, or the folder that is served, by --data"
    found = Finding("served", "look", f"nobody serves {settings.data} just now", right)
    try:
        with in_use(settings.data, alone=True):
            pass  # let go at once: a start must not meet it
    except UnavailableError:
        found = Finding("served", "well", f"{settings.data} is being served")
    yield found


def _names(data: Path | None) -> Iterator[Finding]:
    known = [PREFIX + name.upper() for name in Settings.model_fields]
    for name in unknown_names(data):
        near = get_close_matches(name, known, 1)
        right = f"{near[0]}, if that is meant" if near else "left out; it does nothing"
        yield Finding(name, "look", "is no setting", right)


def _settings(settings: Settings) -> Iterator[Finding]:
    yield Finding("settings", "well", f"data in {settings.data}, {settings.threads} pages at once")
    if settings.open_to_others:
        right = "CURVE_RANK_LOCAL_VIEWER=0, so that everybody signs in"
        yield Finding("sign-in", "look", "others may ask, and whoever comes is the first educator", right)
    beyond = len(settings.trusted_hosts) > len(Settings(hosts="").trusted_hosts)
    if beyond and not settings.https:
        right = "a proxy that serves https, and CURVE_RANK_HTTPS=1 so that cookies travel over it only"
        yield Finding(
            "https", "look", "it is asked under other names than this machine's, without https", right
        )
    if settings.https and not settings.proxies:
        right = "CURVE_RANK_PROXIES=1 behind one proxy; else everybody counts as one address"
        yield Finding("proxies", "look", "https comes from a proxy, and none is believed", right)
    if settings.scheduler:
        yield _scheduler(settings.scheduler)


def _scheduler(address: str) -> Finding:
    place = urlsplit(address)
    try:
        socket.create_connection((place.hostname or "", place.port or 0), timeout=CONNECT_SECONDS).close()
    except (OSError, ValueError) as error:
        right = "tcp://host:port of a running Dask scheduler, or left out for this machine's cores"
        return Finding("CURVE_RANK_SCHEDULER", "look", f"{address} ({error})", right)
    return Finding("CURVE_RANK_SCHEDULER", "well", f"{address} answers")


def _folder(settings: Settings) -> Iterator[Finding]:
    for what, folder in (("data folder", settings.data), ("folder of backups", settings.backup_folder)):
        nearest = next(one for one in (folder, *folder.parents) if one.exists())
        try:
            private_folder(nearest)
        except CurveRankError as error:
            yield Finding(what, "wrong", str(error.value), error.expected)
            continue
        free = shutil.disk_usage(nearest).free
        state = "wrong" if free < LEAST_FREE else "look" if free < GOOD_FREE else "well"
        right = "" if state == "well" else f"at least {GOOD_FREE / 1e9:.0f} GB free"
        yield Finding(what, state, f"{folder}, {size_shown(free)} free", right)


def _database(settings: Settings, *, deep: bool) -> Iterator[Finding]:
    file = settings.data / DATABASE
    if not file.exists():
        yield Finding("database", "look", "not there yet", "the first start makes it")
        return
    try:
        with closing(sqlite3.connect(f"file:{file}?mode=ro", uri=True)) as connection:
            found = connection.execute("PRAGMA quick_check(1)").fetchone()[0] if deep else "ok"
            (revision,) = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.Error as error:
        trouble = told(error, file) if isinstance(error, sqlite3.OperationalError) else None
        damaged = "a sound one; `curve-rank restore` puts a backup in place"
        yield Finding("database", "wrong", str(error), trouble.expected if trouble else damaged)
        return
    if found != "ok":
        yield Finding("database", "wrong", found, "a sound one; `curve-rank restore` puts a backup in place")
    elif revision not in known_revisions():
        yield Finding("database", "wrong", f"at “{revision}”", "the newer version that has changed it")
    elif revision != known_revisions()[-1]:
        yield Finding(
            "database", "look", f"sound, at “{revision}”", "the next start upgrades it, after a copy"
        )
    else:
        yield Finding("database", "well", f"{'sound' if deep else 'answers'}, at “{revision}”")


def _backups(settings: Settings) -> Iterator[Finding]:
    if not settings.backup_hours:
        right = "CURVE_RANK_BACKUP_HOURS, or a timer of the system that runs `curve-rank backup`"
        yield Finding("backups", "look", "none are made by themselves", right)
        return
    there = backups_in(settings.backup_folder)
    if not there:
        yield Finding("backups", "look", "none yet", "`serve` makes the first within a minute")
        return
    age = datetime.now(UTC) - there[0].made_at
    late = age > timedelta(hours=2 * settings.backup_hours + 1)
    says = f"{len(there)}, the newest {age.total_seconds() / 3600:.0f} h old, {size_shown(there[0].size)}"
    yield Finding(
        "backups", "look" if late else "well", says, "one made again; the log says why not" if late else ""
    )
    if settings.backups is None:
        yield Finding("backups", "look", "on the disk of the data", "CURVE_RANK_BACKUPS in another place")
