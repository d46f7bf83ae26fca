"""Change one thing: a set-up along the steps of one field, as small strips and a reading's thread."""

from __future__ import annotations

from dataclasses import dataclass
from math import copysign
from urllib.parse import urlencode

from flask import Blueprint, jsonify, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from curve_rank.answers.people import Client
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.controls import Control, controls
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import setting_text
from curve_rank.exchange.study_views import series_view
from curve_rank.exchange.tables import series_table
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strips
from curve_rank.figures.svg import svg
from curve_rank.figures.thread import thread
from curve_rank.rating.readings import Reading, all_readings
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.store import people
from curve_rank.study.series import MOST_STEPS, Series, parse_steps, series
from curve_rank.web import arms, current, files, publishing
from curve_rank.web.access import TEACHING, allowed
from curve_rank.web.forms import SeriesQuery
from curve_rank.web.question import client_for

FEW_STEPS = 6


@dataclass(frozen=True)
class SeriesQuestion:
    """What is changed about which set-up, from where to where, and what is read."""

    saved: Variant
    variant: Variant
    settings: tuple[str, ...]
    control: Control
    start: float
    end: float
    step: float
    reading: Reading
    target: Target
    client: Client
    reps: int

    @property
    def shown(self) -> tuple[float, ...]:
        """The steps, as shown beside the control; up or down as the ends say."""
        towards = copysign(self.step, self.end - self.start)
        steps = parse_steps(f"{self.start:g}:{self.end:g}:{towards:g}")
        return tuple(float(step) for step in steps)

    def address(self, **replaced: object) -> str:
        """The question as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "set": self.settings,
            "field": self.control.field,
            "from": f"{self.start:g}",
            "to": f"{self.end:g}",
            "step": f"{self.step:g}",
            "reading": self.reading.key,
            "target": self.target.key,
            "for": self.client.person,
            "reps": None if self.reps == DEFAULT_EFFORT_REPS else self.reps,
        }
        values |= replaced
        return urlencode({k: v for k, v in values.items() if v not in (None, ())}, doseq=True)


@dataclass(frozen=True)
class SeriesView:
    """The page."""

    asked: SeriesQuestion
    series: Series
    names: tuple[str, ...]

    @property
    def strips(self) -> list[Picture | None]:
        """A strip for each step, all on one scale; None where the step cannot be."""
        models = [step.modelled for step in self.series.steps]
        drawn = iter(strips([m for m in models if m], self.asked.target))
        return [next(drawn) if m else None for m in models]

    @property
    def best_and_first(self) -> tuple[str, str] | None:
        """The best step's set-up and the first's, as lines; None where they are one, or none is best."""
        there = [n for n, step in enumerate(self.series.steps) if step.spread]
        if self.series.best is None or self.series.best == there[0]:
            return None
        before = (self.asked.saved.id, *self.asked.settings)
        best, first = (
            "~".join((*before, f"{self.series.field}={self.series.steps[n].value:g}"))
            for n in (self.series.best, there[0])
        )
        return best, first


def register(blueprint: Blueprint) -> None:
    """The routes, beside those of the page they belong to."""
    endings = {"": show, ".json": data, ".csv": table, ".md": table}
    endings |= {"/thread.svg": picture, "/thread.png": picture}
    for ending, view in endings.items():
        name = f"series_{view.__name__}"
        blueprint.add_url_rule(f"/compare/one-thing/<variant_id>{ending}", name, allowed(*TEACHING)(view))
    blueprint.add_url_rule(
        "/compare/one-thing/<variant_id>/publish",
        "series_publish",
        allowed(*TEACHING)(publish),
        methods=["POST"],
    )


def show(variant_id: str) -> ResponseReturnValue:
    """The page."""
    view = _view(variant_id)
    return render_template(
        "pages/compare/one_thing.html",
        view=view,
        asked=view.asked,
        controls=controls(view.asked.variant),
        readings=all_readings(),
        most=MOST_STEPS,
        people=people.people_with_bodies(current.session(), current.viewer()),
        thread=Markup(svg(thread(view.series, view.names, view.asked.control.label))),
        strips=[Markup(svg(one)) if one else "" for one in view.strips],
    )


def data(variant_id: str) -> ResponseReturnValue:
    """The page's data."""
    return jsonify(series_view(_view(variant_id).series))


def table(variant_id: str) -> ResponseReturnValue:
    """The reading step by step as CSV or Markdown."""
    return files.table_file(series_table(_view(variant_id).series), f"{variant_id}-steps")


def picture(variant_id: str) -> ResponseReturnValue:
    """The thread on its own."""
    view = _view(variant_id)
    return files.picture_file(thread(view.series, view.names, view.asked.control.label))


def publish(variant_id: str) -> ResponseReturnValue:
    """Publish the series as it stands."""
    view = _view(variant_id)
    asked = view.asked
    return publishing.keep(
        "series",
        f"{asked.variant.name}: {asked.control.name.lower()} in steps",
        series_view(view.series),
        view=view,
        asked=asked,
        thread=thread(view.series, view.names, asked.control.label),
        strips=[(name, one) for name, one in zip(view.names, view.strips, strict=True) if one],
    )


def _view(variant_id: str) -> SeriesView:
    asked = _asked(variant_id, SeriesQuery.read(request.args))
    body, effort = asked.client.body, effort_for_reps(asked.reps)
    found = series(
        asked.variant,
        asked.control.field,
        tuple(asked.control.field_value(shown) for shown in asked.shown),
        asked.reading,
        asked.target.heads[0],
        body=body,
        effort=effort,
        modeller=current.modeller(),
        draw=lambda variants: arms.drawn(variants, body, effort),
    )
    names = tuple(f"{shown:g} {asked.control.unit}".replace(" °", "°") for shown in asked.shown)
    return SeriesView(asked, found, tuple(name.replace("-", "−") for name in names))


def _asked(variant_id: str, query: SeriesQuery) -> SeriesQuestion:
    saved = current.variant_named(variant_id)
    changes = tuple(parse_setting(text) for text in query.settings)
    variant = changed(saved, changes) if changes else saved
    there = {control.field: control for control in controls(variant)}
    control = known("field", query.field, there) if query.field else next(iter(there.values()))
    low, high = _reach(control)
    target = targets().get(query.target)
    return SeriesQuestion(
        saved=saved,
        variant=variant,
        settings=tuple(setting_text(change) for change in changes),
        control=control,
        start=low if query.start is None else query.start,
        end=high if query.end is None else query.end,
        step=_step(control, low, high) if query.step is None else query.step,
        reading=known("reading", query.reading, all_readings()),
        target=target if target is not None and target.group == saved.group else long_head(saved.group),
        client=client_for(query.person),
        reps=query.reps,
    )


def _reach(control: Control) -> tuple[float, float]:
    """From where to where a control is stepped through unless somebody says otherwise."""
    steps = [step for step in control.grid if round(step / control.gym, 6).is_integer()]
    return (steps[0], steps[-1]) if steps else (control.low, control.high)


def _step(control: Control, low: float, high: float) -> float:
    """The gym's own step, or a multiple of it where that would be too many."""
    return control.gym * max(1, round((high - low) / control.gym / FEW_STEPS))
