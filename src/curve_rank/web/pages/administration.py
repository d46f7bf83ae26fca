"""Administration, for whoever runs this: is all well, people, backups, work, and who has seen whose data."""

from __future__ import annotations

import platform
import shutil
import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import flask
from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank import __version__
from curve_rank.background.checks import Finding, findings
from curve_rank.background.runs import Run
from curve_rank.background.schedule import NAME, KeptBackup, backups_in
from curve_rank.errors import BadInputError, NotAllowedError, UnknownNameError
from curve_rank.exchange.personal import everything_of
from curve_rank.settings import DATABASE
from curve_rank.store.database import DbSession
from curve_rank.store.house import administration, audit, endings, leaving
from curve_rank.store.revisions import known_revisions
from curve_rank.store.safe.shelf import FOLDER
from curve_rank.web import current, ending, notices
from curve_rank.web.access import OWNER, allowed
from curve_rank.web.auditing import request_id
from curve_rank.web.files import named_file
from curve_rank.web.forms.people import AddressForm, RoleForm

blueprint = Blueprint("administration", __name__)
NO_RUN = "one that is under way; it may have ended meanwhile"


@dataclass(frozen=True)
class WorkLine:
    """One piece of long work under way."""

    what: str
    person: str
    run: Run


@dataclass(frozen=True)
class AdministrationView:
    """What the page tells.

    Attributes
    ----------
    findings : list of Finding
    sizes : dict
        Bytes on the disk, by what takes them.
    free : int
        Bytes that are free.
    backups : tuple of KeptBackup
    next_backup : datetime, optional
        None where none are made by themselves.
    work : tuple of WorkLine
    versions : dict
    """

    findings: list[Finding]
    sizes: dict[str, int]
    free: int
    backups: tuple[KeptBackup, ...]
    next_backup: datetime | None
    work: tuple[WorkLine, ...]
    versions: dict[str, str]

    @property
    def wrong(self) -> list[Finding]:
        """What is wrong."""
        return [one for one in self.findings if one.state == "wrong"]


@blueprint.get("/administration")
@allowed(OWNER)
def show() -> ResponseReturnValue:
    """Is all well; backups; work under way; versions."""
    return render_template("pages/administration/administration.html", view=_view())


@blueprint.get("/administration.json")
@allowed(OWNER)
def show_json() -> ResponseReturnValue:
    """The same as data."""
    view = _view()
    return {
        "well": not view.wrong,
        "findings": [vars(one) for one in view.findings],
        "bytes": view.sizes | {"free": view.free},
        "backups": [
            {"name": one.path.name, "made_at": one.made_at.isoformat(), "bytes": one.size}
            for one in view.backups
        ],
        "work": [{"what": one.what, "person": one.person} | one.run.told for one in view.work],
        "versions": view.versions,
    }


@blueprint.get("/administration/people")
@allowed(OWNER)
def show_people() -> ResponseReturnValue:
    """Everybody, and where they are signed in."""
    session, viewer = current.session(), current.viewer()
    return render_template(
        "pages/administration/people.html",
        people=administration.everybody(session, viewer),
        sign_ins=administration.all_sign_ins(session, viewer),
    )


@blueprint.get("/administration/people/<row:person>/data.zip")
@allowed(OWNER, confirmed=True)
def data(person: int) -> ResponseReturnValue:
    """Everything of somebody who cannot take it along themselves."""
    whose = administration.without_account(current.session(), current.viewer(), person)
    packed = everything_of(leaving.all_of(current.session(), whose))
    return named_file(packed, "application/zip", f"curve-rank-person-{person}.zip")


@blueprint.post("/administration/people/<row:person>/leave")
@allowed(OWNER, confirmed=True)
def leave(person: int) -> ResponseReturnValue:
    """Have somebody deleted after the time of grace."""
    try:
        with current.writing() as session:
            whose = administration.somebody(session, current.viewer(), person)
            when = leaving.leave(session, whose)
    except NotAllowedError as error:
        notices.tell(str(error))
    else:
        notices.tell(
            f"{whose.name} will be deleted on {when:%-d %B %Y}. Until then that can be taken back here."
        )
    return redirect(url_for("administration.show_people"), 303)


@blueprint.post("/administration/people/<row:person>/stay")
@allowed(OWNER)
def stay(person: int) -> ResponseReturnValue:
    """Take it back."""
    with current.writing() as session:
        whose = administration.somebody(session, current.viewer(), person)
        leaving.stay(session, whose)
    notices.tell(f"{whose.name} stays. Nothing is deleted.")
    return redirect(url_for("administration.show_people"), 303)


@blueprint.post("/administration/people/<row:person>/lock")
@allowed(OWNER)
def lock(person: int) -> ResponseReturnValue:
    """Keep somebody out."""
    return _locked(person, locked=True)


@blueprint.post("/administration/people/<row:person>/let-back")
@allowed(OWNER)
def let_back(person: int) -> ResponseReturnValue:
    """Let them back in."""
    return _locked(person, locked=False)


@blueprint.post("/administration/people/<row:person>/take-role")
@allowed(OWNER)
def take_role(person: int) -> ResponseReturnValue:
    """Take one role of several away."""
    role = RoleForm.read(request.form).role
    return _ended(
        lambda session: endings.take_role(session, current.viewer(), person, role, request=request_id()),
        f"{{}} is no {role} any more.",
    )


@blueprint.post("/administration/people/<row:person>/address")
@allowed(OWNER, confirmed=True)
def change_address(person: int) -> ResponseReturnValue:
    """Let somebody sign in with another address; the old one is told."""
    email = AddressForm.read(request.form).email
    return _ended(
        lambda session: ending.change_address(session, person, email),
        "Changed; {} was the address before, and is told.",
    )


def _locked(person: int, *, locked: bool) -> ResponseReturnValue:
    return _ended(
        lambda session: endings.set_locked(
            session, current.viewer(), person, locked=locked, request=request_id()
        ),
        "{} is kept out from now on." if locked else "{} may sign in again.",
    )


def _ended(end: Callable[[DbSession], str], says: str) -> ResponseReturnValue:
    """Back on the page of people, with what came of it."""
    try:
        with current.writing() as session:
            name = end(session)
    except (BadInputError, NotAllowedError) as error:
        notices.tell(str(error))
    else:
        notices.tell(says.format(name))
    return redirect(url_for("administration.show_people"), 303)


@blueprint.post("/administration/sign-ins/<row:number>/end")
@allowed(OWNER)
def end(number: int) -> ResponseReturnValue:
    """Sign somebody out of one browser."""
    with current.writing() as session:
        name = administration.end_sign_in(session, current.viewer(), number)
    notices.tell(f"{name} is signed out there.")
    return redirect(url_for("administration.show_people"), 303)


@blueprint.get("/administration/trail")
@allowed(OWNER)
def show_trail() -> ResponseReturnValue:
    """Who has seen or changed whose data."""
    lines = audit.trail(current.session(), current.viewer())
    return render_template("pages/administration/trail.html", lines=lines, days=audit.KEPT_FOR.days)


@blueprint.post("/administration/backups/make")
@allowed(OWNER)
def make_backup() -> ResponseReturnValue:
    """Begin a backup."""
    run = current.desk().backups.start(current.viewer().person)
    if run.wait(1.0) and run.state == "finished":
        notices.tell("The backup is made.")
    elif run.state == "failed":
        notices.tell(f"The backup could not be made. {run.problem}")
    else:
        notices.tell("The backup is being made.")
    return redirect(url_for("administration.show"), 303)


@blueprint.get("/administration/backups/<name>")
@allowed(OWNER, confirmed=True)
def fetch_backup(name: str) -> ResponseReturnValue:
    """Take a backup along."""
    if not NAME.fullmatch(name) or not (_backup_folder() / name).is_file():
        raise UnknownNameError("backup", name, "one that is listed; old ones are let go")
    answer = flask.send_from_directory(_backup_folder().resolve(), name, as_attachment=True)
    answer.headers["Cache-Control"] = "private, no-store"
    return answer


@blueprint.post("/administration/work/<name>/cancel")
@allowed(OWNER)
def cancel(name: str) -> ResponseReturnValue:
    """Cancel a piece of long work, whoever's it is."""
    for line in _work():
        if line.run.name == name:
            line.run.cancel()
            notices.tell("It stops.")
            return redirect(url_for("administration.show"), 303)
    raise UnknownNameError("work", name, NO_RUN)


def _backup_folder() -> Path:
    return current.desk().settings.backup_folder


def _view() -> AdministrationView:
    settings = current.desk().settings
    backups = backups_in(settings.backup_folder)
    data = settings.data
    return AdministrationView(
        findings=findings(settings, deep=False),
        sizes={
            "database": sum(one.stat().st_size for one in data.glob(f"{DATABASE}*")),
            "backups": _size(settings.backup_folder),
            "kept draws": _size(settings.shelf / FOLDER),
        },
        free=shutil.disk_usage(data).free,
        backups=backups,
        next_backup=_next_backup(backups, settings.backup_hours),
        work=_work(),
        versions={
            "Curve Rank": __version__,
            "tables": known_revisions()[-1],
            "Python": platform.python_version(),
            "SQLite": sqlite3.sqlite_version,
        },
    )


def _next_backup(backups: tuple[KeptBackup, ...], hours: int) -> datetime | None:
    if not hours:
        return None
    return (
        max(datetime.now(UTC), backups[0].made_at + timedelta(hours=hours)) if backups else datetime.now(UTC)
    )


def _work() -> tuple[WorkLine, ...]:
    names = {one.id: one.name for one in administration.everybody(current.session(), current.viewer())}
    return tuple(
        WorkLine(what, names.get(run.person, "the application itself"), run)
        for what, runs in current.desk().work.items()
        for run in runs.under_way()
    )


def _size(folder: Path) -> int:
    return sum(one.stat().st_size for one in folder.rglob("*") if one.is_file()) if folder.is_dir() else 0
