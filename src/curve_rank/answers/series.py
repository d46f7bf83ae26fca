"""Change one thing: a set-up along the steps of one field, with a reading as its thread."""

from __future__ import annotations

from dataclasses import dataclass
from math import copysign
from typing import Annotated, Any
from urllib.parse import urlencode

from pydantic import Field, PlainSerializer

from curve_rank.answers.client import Client
from curve_rank.answers.means import Means
from curve_rank.answers.plain import SHAPES, Shown, by_key
from curve_rank.answers.requests import MOST_SETTINGS, Names, Number, RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.controls import Control, controls
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import setting_text
from curve_rank.exchange.json_views import spread
from curve_rank.figures.shapes import Picture
from curve_rank.figures.strip import strips
from curve_rank.figures.thread import thread
from curve_rank.rating.readings import Reading, all_readings
from curve_rank.rating.spreads import Spread
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import load_words
from curve_rank.study.series import parse_steps, series

FEW_STEPS = 6


@dataclass(frozen=True)
class SeriesQuestion:
    """Which field of a set-up is changed through which values, and what is read.

    Attributes
    ----------
    variant : Variant
        The set-up that is changed.
    field : str
        Dotted path of the document.
    values : tuple
        What the field is given, in turn.
    names : tuple of str
        How each value is called.
    name, label : str
        How the field is called, and with what its ends mean.
    reading : Reading
    target : Target
        Whose reading it is.
    client : Client
    reps : int
        To failure.
    """

    variant: Variant
    field: str
    values: tuple[float | str, ...]
    names: tuple[str, ...]
    name: str
    label: str
    reading: Reading
    target: Target
    client: Client
    reps: int


@dataclass(frozen=True)
class AddressedSeries:
    """A series as it stands in the address: in steps of a control, as shown beside it."""

    question: SeriesQuestion
    saved: Variant
    settings: tuple[str, ...]
    control: Control
    start: float
    end: float
    step: float

    def address(self, **replaced: object) -> str:
        """The question as a query string, with some of it replaced."""
        asked = self.question
        values: dict[str, object] = {
            "set": self.settings,
            "field": self.control.field,
            "from": f"{self.start:g}",
            "to": f"{self.end:g}",
            "step": f"{self.step:g}",
            "reading": asked.reading.key,
            "target": asked.target.key,
            "for": asked.client.person,
            "reps": None if asked.reps == DEFAULT_EFFORT_REPS else asked.reps,
        }
        values |= replaced
        return urlencode({k: v for k, v in values.items() if v not in (None, ())}, doseq=True)

    def setup_at(self, value: float | str) -> str:
        """The set-up at a step, as a line."""
        at = f"{value:g}" if isinstance(value, float | int) else value
        return "~".join((self.saved.id, *self.settings, f"{self.control.field}={at}"))


class SeriesRequest(RequestForm):
    """One thing changed in steps, as shown beside its control, and the reading along them."""

    settings: Annotated[Names, Field(max_length=MOST_SETTINGS, alias="set")] = ()
    field: str = ""
    start: Number | None = Field(default=None, alias="from")
    end: Number | None = Field(default=None, alias="to")
    step: Number | None = None
    reading: str = "long_tension"
    target: str = ""
    person: Whole | None = Field(default=None, alias="for")
    reps: Whole = DEFAULT_EFFORT_REPS

    def of(self, saved: Variant, client: Client) -> AddressedSeries:
        """What it asks of a variant, for somebody.

        Raises
        ------
        CurveRankError
            For a setting, field or reading that is none, and steps that lead nowhere.
        """
        changes = tuple(parse_setting(text) for text in self.settings)
        variant = changed(saved, changes) if changes else saved
        there = {control.field: control for control in controls(variant)}
        control = known("field", self.field, there) if self.field else next(iter(there.values()))
        low, high = _reach(control)
        start, end = low if self.start is None else self.start, high if self.end is None else self.end
        step = _step(control, low, high) if self.step is None else self.step
        target = targets().get(self.target)
        shown = [float(v) for v in parse_steps(f"{start:g}:{end:g}:{copysign(step, end - start):g}")]
        question = SeriesQuestion(
            variant=variant,
            field=control.field,
            values=tuple(control.field_value(one) for one in shown),
            names=tuple(map(control.words, shown)),
            name=control.name,
            label=control.label,
            reading=known("reading", self.reading, all_readings()),
            target=target if target is not None and target.group == saved.group else long_head(saved.group),
            client=client,
            reps=self.reps,
        )
        settings = tuple(setting_text(change) for change in changes)
        return AddressedSeries(question, saved, settings, control, start, end, step)


def _reach(control: Control) -> tuple[float, float]:
    """From where to where a control is stepped through unless somebody says otherwise."""
    steps = [step for step in control.grid if round(step / control.gym, 6).is_integer()]
    return (steps[0], steps[-1]) if steps else (control.low, control.high)


def _step(control: Control, low: float, high: float) -> float:
    """The gym's own step, or a multiple of it where that would be too many."""
    return control.gym * max(1, round((high - low) / control.gym / FEW_STEPS))


@dataclass(frozen=True)
class SeriesStep:
    """One step: what is read there, or why it cannot be."""

    value: float | str
    name: str
    spread: Spread | None
    load: str
    """The median load in words."""
    strip: Picture | None
    problem: str
    is_best: bool
    turns: bool


def _steps(steps: tuple[SeriesStep, ...]) -> list[dict[str, Any]]:
    return [
        {"value": one.value} | (spread(one.spread, 4) if one.spread else {"problem": one.problem})
        for one in steps
    ]


@dataclass(frozen=True)
class SeriesAnswer:
    """A reading step by step, with everything that is said of it anywhere."""

    __pydantic_config__ = SHAPES

    field: str
    reading: Annotated[Reading, by_key]
    name: str
    unit: str
    steps: Annotated[tuple[SeriesStep, ...], PlainSerializer(_steps)]
    best: float | str | None
    turns: tuple[float | str, ...]
    asked: Shown[SeriesQuestion]
    thread: Shown[Picture]

    @property
    def best_and_first(self) -> tuple[float | str, float | str] | None:
        """The best step's value and the first's; None where they are one, or none is best."""
        first = next(one.value for one in self.steps if one.spread)
        return None if self.best is None or self.best == first else (self.best, first)


def stepped(means: Means, asked: SeriesQuestion, unit: str = "kg") -> SeriesAnswer:
    """A set-up along the steps of one field, drawn for somebody who reads masses in a unit.

    Raises
    ------
    CurveRankError
        For values that the field cannot take, and where no step can be modelled.
    """
    body, effort = asked.client.body, effort_for_reps(asked.reps)
    found = series(
        asked.variant,
        asked.field,
        asked.values,
        asked.reading,
        asked.target.heads[0],
        body=body,
        effort=effort,
        modeller=means.modeller,
        draw=lambda variants: means.draw(variants, body, effort),
    )
    drawn = iter(strips([step.modelled for step in found.steps if step.modelled], asked.target))
    steps = tuple(
        SeriesStep(
            value=step.value,
            name=name,
            spread=step.spread,
            load=load_words(step.modelled, step.load) if step.modelled and step.load is not None else "",
            strip=next(drawn) if step.modelled else None,
            problem=step.problem,
            is_best=n == found.best,
            turns=n in found.turns,
        )
        for n, (name, step) in enumerate(zip(asked.names, found.steps, strict=True))
    )
    return SeriesAnswer(
        field=found.field,
        reading=found.reading,
        name=found.reading.name,
        unit=found.reading.unit,
        steps=steps,
        best=None if found.best is None else steps[found.best].value,
        turns=tuple(steps[n].value for n in found.turns),
        asked=asked,
        thread=thread(found, asked.names, asked.label, unit),
    )
