"""Pictures: brought in, marked, read, laid against a plan, and made into a variant."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from urllib.parse import urlencode

from flask import Blueprint, Response, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError, UnavailableError
from curve_rank.exchange.uploads import LARGEST, upright
from curve_rank.measure.marks import (
    INTERVAL,
    MOST_PICTURES,
    MarkReading,
    Marks,
    PictureMarks,
    PictureReading,
    all_read,
    read_marks,
)
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import long_head
from curve_rank.store import documents, pictures
from curve_rank.store.pictures import RepPictures
from curve_rank.study.compare import ComparedReading, Comparison, compare
from curve_rank.study.measured import Deviation, MeasuredField, as_measured, deviations
from curve_rank.study.trying import try_out
from curve_rank.web import arms, current, notices
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.files import named_file
from curve_rank.web.forms.measuring import POINTS, IntoForm, PicturesForm, PlanQuery, RemoveForm, marks_of
from curve_rank.web.problems import status_of

NAMES = {
    "shoulder": "Shoulder",
    "elbow": "Elbow",
    "grip": "Grip",
    "hip": "Hip",
    "pull": "Pulley or anchor",
    "scale_a": "Known length, one end",
    "scale_b": "its other end",
    "level_a": "Floor",
    "level_b": "another point of it",
    "plumb_a": "Plumb line, or a door’s edge",
    "plumb_b": "another point of that",
}
READ = {
    "elbow": ("Elbow", "°"),
    "upper_arm": ("Upper arm from hanging", "°"),
    "shoulder": ("Upper arm from the trunk", "°"),
    "trunk": ("Trunk, leaning forward", "°"),
    "lever": ("Lever of the pull", " cm"),
    "forearm": ("Elbow to grip", " cm"),
    "upper_arm_length": ("Shoulder to elbow", " cm"),
    "slope": ("Floor, up to the front", "°"),
}


@dataclass(frozen=True)
class PictureCheck:
    """Pictures against a plan: what differs, the set-up as it was done, and what that costs."""

    plan: VariantModel
    found: tuple[Deviation, ...]
    fields: tuple[MeasuredField, ...] = ()
    done: Variant | None = None
    comparison: Comparison | None = None
    problem: str = ""

    @property
    def score(self) -> ComparedReading:
        """The score of both."""
        assert self.comparison is not None
        return self.comparison.readings[0]

    @staticmethod
    def is_clear(reading: ComparedReading) -> bool:
        """Whether the two differ by enough, and surely enough, to be told."""
        return reading.is_told((0, 1))

    @property
    def load(self) -> ComparedReading:
        """The working load of both."""
        assert self.comparison is not None
        return next(one for one in self.comparison.readings if one.reading.key == "load")


@dataclass(frozen=True)
class SetView:
    """A set of pictures with its marks and what they read."""

    kept: RepPictures
    marks: Marks
    readings: tuple[PictureReading | None, ...]

    def place(self, picture: int, name: str) -> tuple[float, float] | None:
        """Where something is marked [px]."""
        marks = self.marks.pictures[picture]
        pair, _, end = name.partition("_")
        found: Any = getattr(marks, pair)
        place: tuple[float, float] | None = found if found is None or not end else found[end == "b"]
        return place

    def lines(self, reading: PictureReading) -> list[tuple[str, MarkReading, str]]:
        """What one picture reads, as a name, what was measured, and its unit."""
        told = ((name, getattr(reading, key), unit) for key, (name, unit) in READ.items())
        return [(name, value, unit) for name, value, unit in told if value is not None]

    @property
    def overlay(self) -> list[list[float] | None]:
        """Per picture, where the lever meets the line of pull [px]."""
        return [None if one is None else [round(v, 1) for v in one.foot] for one in self.readings]


def register(blueprint: Blueprint) -> None:
    """The routes."""
    most = MOST_PICTURES * LARGEST
    for rule, name, view, methods, upload in (
        ("/pictures", "pictures", begin, ["GET"], 0),
        ("/pictures", "pictures_keep", keep, ["POST"], most),
        ("/pictures/<row:number>", "picture_set", show, ["GET"], 0),
        ("/pictures/<row:number>/marks", "picture_marks", mark, ["POST"], 0),
        ("/pictures/<row:number>/marks.json", "picture_document", document, ["GET"], 0),
        ("/pictures/<row:number>/variant", "picture_variant", make, ["POST"], 0),
        ("/pictures/<row:number>/remove", "pictures_remove", remove, ["POST"], 0),
        ("/pictures/file/<row:number>.jpg", "picture_file", file, ["GET"], 0),
    ):
        blueprint.add_url_rule(rule, name, allowed(*TEACHING, upload=upload)(view), methods=methods)


def begin() -> ResponseReturnValue:
    """Bring pictures in."""
    return _begin_page(PicturesForm())


def keep() -> ResponseReturnValue:
    """Keep one to five pictures, upright and without metadata."""
    form = PicturesForm.read(request.form)
    files = [one for one in request.files.getlist("pictures") if one.filename]
    try:
        if not 1 <= len(files) <= MOST_PICTURES:
            raise BadInputError("pictures", len(files), f"1 to {MOST_PICTURES}")
        made = [upright(one.read(LARGEST + 1), f"picture {n}") for n, one in enumerate(files, 1)]
        empty = Marks(pictures=tuple(PictureMarks() for _ in made))
        with current.writing() as session:
            number = pictures.keep(
                session,
                current.viewer(),
                name=form.name or "A rep from the side",
                pictures=[(one.jpeg, one.width, one.height) for one in made],
                marks=empty,
            )
    except BadInputError as error:
        return _begin_page(form, str(error)), status_of(error)
    return redirect(url_for("measure.picture_set", number=number), 303)


def show(number: int) -> ResponseReturnValue:
    """The pictures, their marks, and the plan they are laid against."""
    return _page(_view(number), PlanQuery.read(request.args))


def mark(number: int) -> ResponseReturnValue:
    """Keep the marks, and say what they read."""
    kept = pictures.one(current.session(), current.viewer(), number)
    marks = marks_of(request.form, len(kept.pictures))
    with current.writing() as session:
        pictures.save_marks(session, current.viewer(), number, marks)
    if request.accept_mimetypes.best != "application/json":
        return redirect(url_for("measure.picture_set", number=number), 303)
    view = SetView(kept, marks, read_marks(marks))
    html = render_template("pages/measure/readings.html", view=view, interval=INTERVAL)
    return jsonify({"readings": html, "overlay": view.overlay})


def document(number: int) -> ResponseReturnValue:
    """The marks, as `curve-rank measure marks` reads them."""
    text = pictures.one(current.session(), current.viewer(), number).marks.model_dump_json(indent=1)
    return named_file(text, "application/json", f"marks-{number}.json")


def make(number: int) -> ResponseReturnValue:
    """Make a variant of a plan with what was measured in the place of its own, and lay it on the bench."""
    form, view = IntoForm.read(request.form), _view(number)
    try:
        before = current.library().variant(form.variant)
        made, _ = as_measured(before, all_read(view.readings))
        made = made.model_copy(update={"summary": f"{before.name}, as measured on pictures."})
        try_out(made, Body())
        with current.writing() as session:
            kept = documents.save_new(
                session, current.viewer(), "variant", made, name=form.name, made_from=view.kept.source
            )
    except UnavailableError:
        raise
    except CurveRankError as error:
        return _page(view, PlanQuery(plan=form.variant), str(error)), status_of(error)
    notices.tell(f"“{form.name}” stands as measured; “{before.name}” stands behind it as a ghost.")
    return redirect(f"{url_for('bench.show', variant_id=kept)}?{urlencode({'ghost': before.id})}", 303)


def remove(number: int) -> ResponseReturnValue:
    """Delete the pictures, alone or with everything made from them."""
    everything = RemoveForm.read(request.form).all == "yes"
    with current.writing() as session:
        name = pictures.remove(session, current.viewer(), number, with_documents=everything)
    notices.tell(f"“{name}” is deleted{', with the variants made from it' if everything else ''}.")
    return redirect(url_for("measure.show"), 303)


def file(number: int) -> ResponseReturnValue:
    """A picture itself."""
    return Response(pictures.jpeg(current.session(), current.viewer(), number), mimetype="image/jpeg")


def _view(number: int) -> SetView:
    kept = pictures.one(current.session(), current.viewer(), number)
    return SetView(kept, kept.marks, read_marks(kept.marks))


def _check(view: SetView, query: PlanQuery) -> PictureCheck | None:
    if not query.plan:
        return None
    lens = current.library().lens(query.lens)
    effort, body = usual_effort(), Body()
    plan = current.modeller().one(current.library().variant(query.plan), body, effort=effort)
    found = deviations(view.readings, plan)
    try:
        done, fields = as_measured(plan.variant, all_read(view.readings))
    except BadInputError as error:
        return PictureCheck(plan, found, problem=str(error))
    try:
        model = current.modeller().one(done, body, effort=effort)
        drawn = arms.drawn((plan.variant, done), body, effort)
        both = compare((plan, model), drawn, long_head(plan.variant.group), lens)
    except CurveRankError as error:
        return PictureCheck(plan, found, fields, done, problem=str(error))
    return PictureCheck(plan, found, fields, done, both)


def _page(view: SetView, query: PlanQuery, problem: str = "") -> str:
    check = None
    try:
        check = _check(view, query)
    except CurveRankError as error:
        problem = problem or str(error)
    made = pictures.made_from(current.session(), current.viewer(), view.kept.number)
    variants = [v for v in current.library().variants if v.coordinate == "elbow"]
    return render_template(
        "pages/measure/marking.html",
        view=view,
        check=check,
        query=query,
        points=POINTS,
        names=NAMES,
        variants=variants,
        lenses=current.library().lenses,
        made=made,
        suggested=f"{check.plan.variant.name}, as measured" if check else "",
        interval=INTERVAL,
        problem=problem,
    )


def _begin_page(form: PicturesForm, problem: str = "") -> str:
    return render_template(
        "pages/measure/pictures.html", form=form, problem=problem, most=MOST_PICTURES, largest=LARGEST
    )
