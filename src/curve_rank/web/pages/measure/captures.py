"""Captures: a device listened to live, zeroed, calibrated and swept; and the profile that comes of it."""

from __future__ import annotations

from dataclasses import dataclass

from flask import Blueprint, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.background.captures import TITLES, Capture, Rows, calibrated, folded
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.figures.profile import profile_picture
from curve_rank.figures.svg import svg
from curve_rank.measure.sweeps import Calibration, Swept
from curve_rank.rating import targets
from curve_rank.store import captures
from curve_rank.store.captures import KeptCapture
from curve_rank.web import current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms.measuring import DeviceForm, LiveQuery, PhaseForm, TorqueProfileForm
from curve_rank.web.pages.measure.profiles import keep_profile
from curve_rank.web.problems import status_of

FORGOTTEN_AFTER = 120.0
"""A capture that no page looks at for so long ends [s]."""


@dataclass(frozen=True)
class CaptureView:
    """A capture that has ended, and what its sweeps fold into; or why they do not."""

    kept: KeptCapture
    rows: Rows
    known: Calibration | None = None
    swept: Swept | None = None
    problem: str = ""

    @property
    def picture(self) -> Markup:
        """The profile over its samples."""
        assert self.swept is not None
        assert self.known is not None
        swept = self.rows.of("sweep")
        torque = (swept.counts - self.known.zero) * self.known.torque_per_count
        return Markup(svg(profile_picture(self.swept.profile, (swept.angle.tolist(), torque.tolist()))))


def register(blueprint: Blueprint) -> None:
    """The routes."""
    for rule, name, view, methods in (
        ("/device", "device", device, ["GET"]),
        ("/device", "capture_begin", begin, ["POST"]),
        ("/captures/<row:number>", "capture", show, ["GET"]),
        ("/captures/<row:number>.csv", "capture_rows", raw, ["GET"]),
        ("/captures/<row:number>/live.json", "capture_live", live, ["GET"]),
        ("/captures/<row:number>/phase", "capture_phase", phase, ["POST"]),
        ("/captures/<row:number>/stop", "capture_stop", stop, ["POST"]),
        ("/captures/<row:number>/keep", "capture_keep", keep, ["POST"]),
        ("/captures/<row:number>/remove", "capture_remove", remove, ["POST"]),
    ):
        blueprint.add_url_rule(rule, name, allowed(*TEACHING)(view), methods=methods)


def device() -> ResponseReturnValue:
    """Choose a device."""
    return _device_page(DeviceForm())


def begin() -> ResponseReturnValue:
    """Connect to a device, and begin a capture."""
    form, desk, viewer = DeviceForm.read(request.form), current.desk(), current.viewer()
    number = 0
    try:
        targets.known("device", form.device, dict.fromkeys(desk.settings.device_addresses))
        with current.writing() as session:
            number = captures.begin(session, viewer, name=form.name or "Capture", device=form.device)

        def keep_rows(rows: str) -> None:
            with desk.store.writing() as session:
                captures.add_part(session, viewer.person, number, rows)

        desk.captures.start(
            viewer.person, number, lambda: Capture(form.device, keep_rows, forgotten_after=FORGOTTEN_AFTER)
        )
    except CurveRankError as error:
        if number:
            with current.writing() as session:
                captures.remove(session, viewer, number)
        return _device_page(form, str(error)), status_of(error)
    return redirect(url_for("measure.capture", number=number), 303)


def show(number: int) -> ResponseReturnValue:
    """A capture: live while it is under way, then what it folds into."""
    return _page(number, TorqueProfileForm())


def live(number: int) -> ResponseReturnValue:
    """How it goes, and the points since those that the page has."""
    captures.one(current.session(), current.viewer(), number)
    under_way = _under_way(number)
    if under_way is None:
        return jsonify({"state": "ended", "points": [], "total": 0})
    return jsonify(under_way.live(LiveQuery.read(request.args).since))


def phase(number: int) -> ResponseReturnValue:
    """Read the zero, the known weight, or sweeps from now on."""
    captures.one(current.session(), current.viewer(), number)
    form, under_way = PhaseForm.read(request.form), _under_way(number)
    if under_way is None:
        raise BadInputError("capture", "ended", "one that is under way; begin another")
    under_way.begin(form.phase, form.weight, form.lever)
    _note(number, under_way)  # the weight is kept whatever happens to this server
    return redirect(url_for("measure.capture", number=number), 303)


def stop(number: int) -> ResponseReturnValue:
    """End it."""
    captures.one(current.session(), current.viewer(), number)
    under_way = _under_way(number)
    if under_way is not None:
        under_way.stop()
        _note(number, under_way)
    return redirect(url_for("measure.capture", number=number), 303)


def keep(number: int) -> ResponseReturnValue:
    """Keep what it folds into as a machine's profile."""
    form = TorqueProfileForm.read(request.form)
    try:
        view = _view(number)
        if view.swept is None:
            raise BadInputError("capture", "no profile", view.problem)
        slug = keep_profile(view.swept.profile, form, "capture")
    except BadInputError as error:
        return _page(number, form, str(error)), status_of(error)
    return redirect(url_for("measure.profile", slug=slug), 303)


def raw(number: int) -> ResponseReturnValue:
    """Every sample as it came."""
    text = captures.rows_text(current.session(), current.viewer(), number)
    return named_file(f"{TITLES}\n{text}", "text/csv", f"capture-{number}.csv")


def remove(number: int) -> ResponseReturnValue:
    """Delete a capture with its samples."""
    under_way = _under_way(number)
    if under_way is not None:
        under_way.stop()
    with current.writing() as session:
        name = captures.remove(session, current.viewer(), number)
    notices.tell(f"“{name}” and its samples are deleted. Profiles made from it stay.")
    return redirect(url_for("measure.show"), 303)


def _under_way(number: int) -> Capture | None:
    return current.desk().captures.find(current.viewer().person, number)


def _note(number: int, capture: Capture) -> None:
    with current.writing() as session:
        captures.note(
            session,
            current.viewer(),
            number,
            weight=capture.weight,
            lever=capture.lever,
            counts=capture.counts,
        )


def _view(number: int) -> CaptureView:
    session, viewer = current.session(), current.viewer()
    found = captures.one(session, viewer, number)
    rows = Rows.read(captures.rows_text(session, viewer, number))
    try:
        known = calibrated(rows, found.weight, found.lever)
        return CaptureView(found, rows, known, folded(rows, known))
    except BadInputError as error:
        return CaptureView(found, rows, problem=str(error))


def _page(number: int, form: TorqueProfileForm, problem: str = "") -> str:
    found = captures.one(current.session(), current.viewer(), number)
    under_way = _under_way(number)
    if under_way is not None and under_way.state != "ended":
        return render_template(
            "pages/measure/capture.html", kept=found, live=under_way.live(0), capture=under_way
        )
    if under_way is not None and found.counts != under_way.counts:
        _note(number, under_way)
    return render_template("pages/measure/captured.html", view=_view(number), form=form, problem=problem)


def _device_page(form: DeviceForm, problem: str = "") -> str:
    return render_template(
        "pages/measure/device.html",
        devices=current.desk().settings.device_addresses,
        form=form,
        problem=problem,
    )
