"""The web application: a page in the address bar is a module, a template folder, a script and a test."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from urllib.parse import urlencode

from flask import Flask, request
from jinja2 import StrictUndefined, pass_context
from markupsafe import Markup
from werkzeug.routing import IntegerConverter

from curve_rank import __version__
from curve_rank.answers.desk import Desk
from curve_rank.answers.drawn import strip_of
from curve_rank.answers.edition import made_now
from curve_rank.background.checks import size_shown
from curve_rank.background.draws import Draws
from curve_rank.catalogue.glossary import glossary, term_of
from curve_rank.catalogue.library import built_in
from curve_rank.exchange.paper import FILTERS
from curve_rank.figures.bars import part_bar, swatch
from curve_rank.figures.shapes import Picture
from curve_rank.figures.svg import page_patterns, svg
from curve_rank.practice.profile import day_in_words, month_in_words
from curve_rank.practice.units import (
    MASS_UNITS,
    amount_in,
    both_masses_in,
    in_pounds,
    kg_per,
    lengths_in,
    mass_shown,
    masses_of,
    unit_in,
)
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.targets import Target, targets
from curve_rank.rating.words import load_words
from curve_rank.settings import Settings
from curve_rank.store.house.accounts import SIGNED_IN_FOR, everyone
from curve_rank.web import (
    access,
    current,
    dresses,
    logbook,
    notices,
    pages,
    problems,
    scripts,
    security,
    serving,
)
from curve_rank.web.access import may_enter
from curve_rank.web.door import Door, Turnstile
from curve_rank.web.pages import place_here, rooms, spoken, who


class RowNumber(IntegerConverter):
    """A row's number in an address: as many digits as the database can hold."""

    regex = r"[0-9]{1,18}"


HALL = 20
"""So many people's requests may come from the one address of a hall."""


def create_app(
    settings: Settings,
    *,
    draws: Draws | None = None,
    modeller: Modeller | None = None,
    demo: bool = False,
) -> Flask:
    """The application over the data in a folder.

    Parameters
    ----------
    settings : Settings
        Its data folder is made, with its database, when it is not there yet.
    draws : Draws, optional
        What models draws in the background, where it is not all cores or the settings' cluster.
    modeller : Modeller, optional
        What models variants, where it is shared with another application.
    demo : bool
        Everything in it is made up: one click signs in as anybody.
    """
    built_in(), lenses()  # a mistake in what ships is told of now, with its name, not on somebody's page
    version_of_static = serving.static_version()
    app = Flask(__name__, static_url_path=f"/static/{version_of_static}")
    app.config.update(
        SECRET_KEY=security.secret_key(settings.data),
        MAX_CONTENT_LENGTH=serving.LARGEST_REQUEST,
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Lax",
        SESSION_COOKIE_SECURE=settings.https,
        WTF_CSRF_TIME_LIMIT=None,
        PERMANENT_SESSION_LIFETIME=SIGNED_IN_FOR,
        SESSION_REFRESH_EACH_REQUEST=False,  # what is the same for everyone carries no cookie
    )
    kept = Desk.over(settings, draws=draws, modeller=modeller, demo=demo)
    door = Door(kept.store, app.config["SECRET_KEY"], https=settings.https)
    app.extensions[current.EXTENSION] = current.WebDesk(
        **vars(kept),
        door=door,
        turnstile=Turnstile(settings.requests_a_minute),
        many=Turnstile(HALL * settings.requests_a_minute),
    )
    app.json.sort_keys = False  # type: ignore[attr-defined]
    app.url_map.converters["row"] = RowNumber
    logbook.register(app)
    security.register(app)
    access.register(app)
    security.Forgery(app)
    serving.register(app)
    dresses.register(app)
    scripts.register(app)
    app.after_request(current.write_down_look)
    app.teardown_appcontext(current.close_session)
    problems.register(app)
    pages.register(app, with_patterns=settings.patterns)
    _prepare_templates(app, version_of_static)
    return app


def _prepare_templates(app: Flask, version_of_static: str) -> None:
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    app.jinja_env.undefined = StrictUndefined  # a name that is none is a mistake, not an empty place
    app.jinja_env.globals.update(
        picture=picture,
        strip=row_strip,
        part_bar=part_bar,
        swatch=lambda head: picture(swatch(head)),
        patterns=Markup(page_patterns()),
        load_words=lambda loaded, load=None: current.masses(load_words(loaded, load)),
        my_unit=current.unit,
        targets=targets,
        glossary=glossary,
        term_of=term_of,
        notices=notices.told,
        rooms=rooms,
        place_here=place_here,
        may_enter=may_enter,
        who=who,
        spoken=spoken,
        cast=lambda: everyone(current.session()),
        same_query=same_query,
        made_now=made_now,
        version=__version__,
        static_version=version_of_static,
        kg_per=kg_per,
        mass_units=MASS_UNITS,
    )
    app.jinja_env.filters |= FILTERS
    app.jinja_env.filters["kilograms"] = mass_shown
    app.jinja_env.filters |= {name: _of_the_reader(one) for name, one in READ.items()}
    app.jinja_env.filters["size"] = size_shown
    app.jinja_env.filters["day"] = day_in_words
    app.jinja_env.filters["month"] = month_in_words
    app.jinja_env.filters["zip_names"] = lambda keys, named: [
        (key, one.name) for key, one in zip(keys, named, strict=True)
    ]
    app.context_processor(
        lambda: {
            "theme": security.chosen_theme(request),
            "open_to_others": current.desk().settings.open_to_others,
            "is_demo": current.desk().demo,
        }
    )


def same_query(address: str) -> str:
    """An address with what the present one asks, whatever stands there."""
    query = urlencode(list(request.args.items(multi=True)))
    return f"{address}?{query}" if query else address


def _of_the_reader(read: Callable[..., Any]) -> Callable[..., Any]:
    """A filter that hangs on who reads: worked out at each reading, also of what stands in a template."""
    return pass_context(lambda _context, *given, **named: read(*given, **named))


def mass_typed(kilograms: float, unit: str = "") -> str:
    """A mass for a field that it is typed into, in the reader's unit unless another is named."""
    return f"{kilograms / kg_per(unit or current.unit()):.4g}"


def mass(kilograms: float, digits: int = 1) -> str:
    """A mass for a place that says the unit elsewhere: in pounds to the nearest half."""
    shown = f"{in_pounds(kilograms):g}" if current.unit() == "lb" else f"{kilograms:.{digits}f}"
    return shown.replace("-", "−")


READ: dict[str, Callable[..., Any]] = {
    "masses": current.masses,
    "both_masses": lambda text: type(text)(both_masses_in(text, current.unit())),
    "lengths": lambda text, unit="": type(text)(lengths_in(text, unit or current.length_unit())),
    "masses_of": lambda data: masses_of(data, current.unit()),
    "mass": mass,
    "mass_typed": mass_typed,
    "amount": lambda value, of: amount_in(current.unit(), value, of),
    "unit": lambda of: unit_in(current.unit(), of),
}
"""How masses are read: a text, one with both units, a script's data, a number, one to type, a reading's; how
lengths of a tape are, in the reader's unit or a named one."""


def picture(shown: Picture) -> Markup:
    """A picture in a page, its masses in the reader's unit."""
    return current.masses(Markup(svg(shown)))  # the writer escapes whatever stands in it


def row_strip(modelled: VariantModel, target: Target, size: str = "row") -> Markup:
    """A rep strip in a page."""
    return strip_of(current.modeller(), modelled, target, size)
