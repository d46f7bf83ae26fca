"""A profile from a file: which column is which, what is wrong in which row, mended in place, and kept."""

from __future__ import annotations

from codecs import BOM_UTF16_BE, BOM_UTF16_LE
from dataclasses import dataclass, replace
from pathlib import PurePath

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.errors import BadInputError
from curve_rank.figures.profile import profile_picture
from curve_rank.figures.svg import svg
from curve_rank.measure.columns import (
    UNITS,
    ColumnChoice,
    RowProblem,
    Samples,
    Sheet,
    guess,
    read_sheet,
    samples,
    sheet_text,
    with_cells,
)
from curve_rank.measure.profile import INTERVAL, Profile, fold
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms.measuring import FileForm, TorqueProfileForm, mended_cells
from curve_rank.web.pages.measure.profiles import keep_profile

LARGEST = 2 * 1024 * 1024
"""The largest file that a page takes [bytes]; the shell takes larger ones."""
SHOWN, MENDED_AT_ONCE = 8, 40
"""Rows that are previewed, and bad rows that can be mended at once."""


@dataclass(frozen=True)
class FileView:
    """A file as it was read so far."""

    form: FileForm
    keeping: TorqueProfileForm
    sheet: Sheet | None = None
    choice: ColumnChoice | None = None
    found: Samples | None = None
    profile: Profile | None = None
    problem: str = ""

    @property
    def text(self) -> str:
        """The sheet, mended so far."""
        return sheet_text(self.sheet) if self.sheet else self.form.text

    @property
    def bad(self) -> tuple[tuple[RowProblem, tuple[str, ...]], ...]:
        """Bad rows with their cells, as many as can be mended at once."""
        if self.sheet is None or self.found is None:
            return ()
        shown = self.found.problems[:MENDED_AT_ONCE]
        return tuple((problem, self._padded(problem.row)) for problem in shown)

    @property
    def picture(self) -> Markup:
        """The profile over its samples."""
        assert self.profile is not None
        assert self.found is not None
        spots = (self.found.angle.tolist(), self.found.torque.tolist())
        return Markup(svg(profile_picture(self.profile, spots)))

    def _padded(self, row: int) -> tuple[str, ...]:
        assert self.sheet is not None
        width = len(self.sheet.titles)
        return (*self.sheet.rows[row - 2], *[""] * width)[:width]


def register(blueprint: Blueprint) -> None:
    """The routes."""
    blueprint.add_url_rule("/file", "file", allowed(*TEACHING)(begin))
    blueprint.add_url_rule(
        "/file", "read_file", allowed(*TEACHING, upload=2 * LARGEST)(read), methods=["POST"]
    )


def begin() -> ResponseReturnValue:
    """Choose a file."""
    return _page(FileView(FileForm(), TorqueProfileForm()))


def read() -> ResponseReturnValue:
    """What a file holds, by the columns chosen so far; and keep it when that is asked."""
    form, keeping = FileForm.read(request.form), TorqueProfileForm()
    view = FileView(form, keeping)
    try:
        keeping = TorqueProfileForm.read(request.form)
        keeping = keeping.model_copy(update={"name": keeping.name or _name_of_file()})
        view = _read(form, keeping)
        if form.do == "keep" and view.profile is not None and not view.problem:
            slug = keep_profile(view.profile, keeping, "file")
            return redirect(url_for("measure.profile", slug=slug), 303)
    except BadInputError as error:
        view = replace(view, keeping=keeping, problem=str(error))
    refused = view.problem and (form.do == "keep" or view.sheet is None)
    return _page(view), 400 if refused else 200


def _read(form: FileForm, keeping: TorqueProfileForm) -> FileView:
    """As far as the file can be read; what keeps it from being a profile is the view's problem."""
    file = request.files.get("file")
    text = _text_of(file.read(LARGEST + 1)) if file is not None and file.filename else form.text
    if not text.strip():
        raise BadInputError("file", "nothing was chosen", "a text file with a row for each sample")
    sheet = with_cells(read_sheet(text), mended_cells(request.form))
    choice = form.choice(guess(sheet))
    view = FileView(form, keeping, sheet, choice)
    try:
        found = samples(sheet, choice)
        view = replace(view, found=found)
        view = replace(view, profile=fold(found.angle, found.torque))
        if form.do == "keep" and found.problems and not form.good_only:
            count = len(found.problems)
            raise BadInputError("rows", f"{count} cannot be read", "mend them, or tick that they be left out")
    except BadInputError as error:
        return replace(view, problem=str(error))
    return view


def _name_of_file() -> str:
    """What a file that is brought is called, as the name to begin with."""
    file = request.files.get("file")
    return PurePath(file.filename or "").stem[:80] if file is not None else ""


def _text_of(data: bytes) -> str:
    if len(data) > LARGEST:
        largest = f"at most {LARGEST // 2**20} MB here; `curve-rank measure csv` takes 20 MB"
        raise BadInputError("file", f"over {LARGEST // 2**20} MB", largest)
    try:
        return data.decode("utf-16" if data[:2] in (BOM_UTF16_LE, BOM_UTF16_BE) else "utf-8-sig")
    except UnicodeDecodeError as error:
        right = "a text file in UTF-8, as “CSV UTF-8” is saved"
        raise BadInputError("file", "no text", right) from error


def _page(view: FileView) -> str:
    return render_template(
        "pages/measure/file.html",
        view=view,
        units=UNITS,
        shown=SHOWN,
        interval=INTERVAL,
        most_mended=MENDED_AT_ONCE,
    )
