"""Pages for paper and published copies: HTML from templates of their own, which need no request."""

from __future__ import annotations

from collections.abc import Callable
from functools import cache
from typing import Any
from urllib.parse import urlsplit

import segno
from jinja2 import Environment, PackageLoader, StrictUndefined, pass_context
from jinja2.runtime import Context
from markupsafe import Markup

from curve_rank.figures.shapes import Picture
from curve_rank.figures.svg import ByColour, svg
from curve_rank.practice.limits import fitted_words
from curve_rank.practice.units import amount_in, masses_in, unit_in
from curve_rank.rating.words import load_words, lower_first, printed, upper_first
from curve_rank.settings import LOOPBACK

FILTERS: dict[str, Callable[..., str]] = {
    "number": printed,
    "capitalize_first": upper_first,
    "lower_first": lower_first,
    "fitted": fitted_words,
}
"""How numbers and words are written, on pages and on paper."""


@cache
def _environment() -> Environment:
    made = Environment(
        loader=PackageLoader("curve_rank.exchange"),
        autoescape=True,
        undefined=StrictUndefined,  # a name that is none is a mistake, not an empty place
        trim_blocks=True,
        lstrip_blocks=True,
    )
    made.filters |= FILTERS
    made.filters |= {"masses": _masses, "amount": _amount, "unit": _unit}
    made.globals |= {"load_words": load_words, "frozen_svg": _frozen_svg}
    return made


@pass_context
def _masses(context: Context, text: str) -> str:
    """A text of the model's own, its masses in the unit in which the page is read."""
    return masses_in(text, context.get("mass_unit", "kg"))


@pass_context
def _amount(context: Context, value: float, of: str) -> float:
    return amount_in(context.get("mass_unit", "kg"), value, of)


@pass_context
def _unit(context: Context, of: str) -> str:
    return unit_in(context.get("mass_unit", "kg"), of)


def on_paper(template: str, **context: Any) -> str:
    """A page by the name of its template, as in "print/card"."""
    return _environment().get_template(f"{template}.html").render(**context)


def code_for(link: str) -> Markup:
    """A code that leads to a link; none where nobody but this machine can follow it."""
    if urlsplit(link).hostname in (None, *LOOPBACK):
        return Markup()
    return Markup(
        segno.make(link, error="m").svg_inline(scale=2, border=0, title="Code that leads to the page")
    )


def frozen_svg(picture: Picture) -> Markup:
    """A picture that stands alone, in colours of its own."""
    return Markup(svg(picture, ByColour("light")))  # the writer escapes whatever stands in it


@pass_context
def _frozen_svg(context: Context, picture: Picture) -> Markup:
    """The same, in the unit in which the page is read."""
    return Markup(_masses(context, frozen_svg(picture)))
