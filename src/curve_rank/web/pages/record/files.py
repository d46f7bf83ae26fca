"""Logs from files and into them: columns chosen, exercises matched, looked at before anything is kept."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask import jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.answers.log_files import begin_to_bring, import_words, unit_in_doubt
from curve_rank.background.imports import ImportRun
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.exchange.logs import (
    LARGEST,
    NEEDED,
    ORDERS,
    TITLES,
    LogChoice,
    LogPreview,
    guess,
    log_json,
    log_table,
    preview,
    sheet_of,
)
from curve_rank.exchange.tables import to_csv
from curve_rank.measure.columns import Sheet
from curve_rank.store import logs, people
from curve_rank.store.database import DbSession
from curve_rank.store.house import audit
from curve_rank.store.viewers import Viewer
from curve_rank.web import arms, auditing, current, notices
from curve_rank.web.access import EVERYONE, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms.training import LogFileForm, RunQuery
from curve_rank.web.pages.record import blueprint
from curve_rank.web.problems import status_of
from curve_rank.web.serving import LARGEST_UPLOAD

SHOWN = 40
"""Rows, and problems, that a page shows."""
PATIENCE = 1.0
"""So long a request waits for a file to be kept before it shows how far it is [s]."""
WRITTEN = {"ymd": "year, month, day", "dmy": "day, month, year", "mdy": "month, day, year"}


@blueprint.get("/record/<row:person>/log.csv")
@allowed(*EVERYONE)
def table(person: int) -> ResponseReturnValue:
    """Everything that was logged, as CSV."""
    found = logs.log_of(current.session(), current.viewer(), person)
    return named_file(to_csv(log_table(found)), "text/csv", "curve-rank-log.csv")


@blueprint.get("/record/<row:person>/log.json")
@allowed(*EVERYONE)
def data(person: int) -> ResponseReturnValue:
    """The same as JSON."""
    return jsonify(log_json(logs.log_of(current.session(), current.viewer(), person)))


@blueprint.get("/record/<row:person>/import")
@allowed(*EVERYONE)
def choose(person: int) -> ResponseReturnValue:
    """Bring a file."""
    return _page(person)


@blueprint.post("/record/<row:person>/import")
@allowed(*EVERYONE, upload=LARGEST_UPLOAD)
def bring(person: int) -> ResponseReturnValue:
    """Look at a file, or keep what it holds."""
    people.known_person(current.session(), current.viewer(), person)
    text = ""
    try:
        text = _text()
        form = LogFileForm.read(request.form)
        sheet = sheet_of(text)
        choice = _choice(form) if request.form.get("column.date") else guess(sheet)
        found = preview(sheet, choice, current.library().variants)
        viewer, means = current.viewer(), arms.means(current.viewer())
        doubt = unit_in_doubt(current.session(), viewer, person, means, found.sets, choice.load_unit)
        unsure = bool(doubt) and form.sure != choice.load_unit
        if form.step == "look" or unsure:
            page = _page(person, sheet, choice, found, text, doubt=doubt)
            return page, 422 if form.step == "keep" else 200
        if not found.sets:
            raise BadInputError("file", "no row that can be read", "at least one")
        run = begin_to_bring(current.desk(), viewer, person, found, means, _signature(viewer))
    except BadInputError as error:
        return _page(person, text=text, problem=str(error)), status_of(error)
    return _watch(person, run)


@blueprint.get("/record/<row:person>/import/run")
@allowed(*EVERYONE)
def bringing(person: int) -> ResponseReturnValue:
    """How far a file is; once it is kept, the record."""
    known = people.known_person(current.session(), current.viewer(), person)
    run = _run(RunQuery.read(request.args))
    if run.state != "running":
        return _ended(person, run)
    return render_template("pages/record/bringing.html", person=known, run=run)


@blueprint.get("/record/<row:person>/import/run.json")
@allowed(*EVERYONE)
def bringing_data(person: int) -> ResponseReturnValue:
    """The same as JSON."""
    people.known_person(current.session(), current.viewer(), person)
    return jsonify(_run(RunQuery.read(request.args)).told)


@blueprint.post("/record/<row:person>/import/stop")
@allowed(*EVERYONE)
def stop_bringing(person: int) -> ResponseReturnValue:
    """Stop keeping a file: nothing of it is kept."""
    people.known_person(current.session(), current.viewer(), person)
    run = _run(RunQuery.read(request.form))
    run.cancel()
    return _watch(person, run)


def _watch(person: int, run: ImportRun) -> ResponseReturnValue:
    if run.wait(PATIENCE):
        return _ended(person, run)
    return redirect(url_for("record.bringing", person=person, key=run.key, run=run.name), 303)


def _ended(person: int, run: ImportRun) -> ResponseReturnValue:
    notices.tell(import_words(run))
    where = "record.show" if run.state == "finished" else "record.choose"
    return redirect(url_for(where, person=person), 303)


def _run(query: RunQuery) -> ImportRun:
    """The viewer's own run of that name.

    Raises
    ------
    UnknownNameError
        Where there is none, or no more.
    """
    run = current.desk().imports.runs.find(current.viewer().person, query.key, query.run)
    if run is None:
        raise UnknownNameError("import", query.run, "one that was begun a moment ago")
    return run


def _signature(viewer: Viewer) -> Callable[[DbSession], None]:
    """What writes down, from whatever thread, whose data this request changes."""
    page, number = auditing.page_name(), auditing.request_id()

    def sign(db: DbSession) -> None:
        audit.note(db, viewer, audit.others_reached(db), audit.CHANGED, page, number)

    return sign


def _text() -> str:
    """The file that was sent, or the text of the one that was looked at.

    Raises
    ------
    BadInputError
    """
    sent = request.files.get("file")
    if sent is None or not sent.filename:
        text = request.form.get("text", "")
        if not text.strip():
            raise BadInputError("file", None, "a CSV file with a row for each set")
        return text
    raw = sent.stream.read(LARGEST + 1)
    if len(raw) > LARGEST:
        raise BadInputError("file", sent.filename, f"at most {LARGEST // 2**20} MB; split it")
    for kind in ("utf-8-sig", "cp1252"):
        try:
            return raw.decode(kind)
        except UnicodeDecodeError:
            continue
    raise BadInputError("file", sent.filename, "text")


def _choice(form: LogFileForm) -> LogChoice:
    columns = {name: request.form.get(f"column.{name}", "") for name in TITLES}
    names = {
        key.removeprefix("name."): value
        for key, value in request.form.items()
        if key.startswith("name.") and value
    }
    return LogChoice(
        {name: title for name, title in columns.items() if title},
        form.load_unit,
        form.order,
        form.reserve_as,
        names,
    )


def _page(
    person: int,
    sheet: Sheet | None = None,
    choice: LogChoice | None = None,
    found: LogPreview | None = None,
    text: str = "",
    problem: str = "",
    doubt: str = "",
) -> str:
    known: Any = people.known_person(current.session(), current.viewer(), person)
    return render_template(
        "pages/record/import.html",
        person=known,
        sheet=sheet,
        choice=choice,
        found=found,
        text=text,
        problem=problem,
        doubt=doubt,
        titles=TITLES,
        needed=NEEDED,
        orders={order: WRITTEN[order] for order in ORDERS},
        shown=SHOWN,
        variants=current.library().variants,
        names=current.library().names,
        largest=LARGEST // 2**20,
    )
