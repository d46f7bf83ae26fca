"""The draws that a page stands on: found, waited for, or told of how far they are."""

from __future__ import annotations

import time
from contextlib import suppress
from functools import partial

from flask import request

from curve_rank.answers.means import Means
from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART, FIXED
from curve_rank.arm.readings import Readings
from curve_rank.background.draws import ONESELF, DrawRun, once_each
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BusyError
from curve_rank.rating.draws import Draw, fixed_draws
from curve_rank.store.viewers import Viewer
from curve_rank.web import current

FILES = (".pdf", ".csv")
"""What is kept as a file; data for programs waits for its draws."""
LOOK, PATIENCE = 1.0, 20.0
"""How often a request that waits for draws says that it is still there, and how long it waits [s]."""
AT_ONCE = 0.8
"""A page whose draws are made within this is answered with them, else it tells how far they are [s]."""


class StillDrawingError(Exception):
    """The draws that a page stands on are being made."""

    def __init__(self, run: DrawRun) -> None:
        super().__init__(run.key)
        self.run = run


def means(viewer: Viewer | None = None, *, waits: bool = False) -> Means:
    """With what the request's answer is worked out, for whoever is here or another viewer.

    Who reads a page is told how far the arms are, as for a file; what was sent, and data, waits for them, and
    so does a page that needs few.
    """
    is_page = request.method == "GET" and "." not in request.path.rpartition("/")[2]
    library = current.library() if viewer is None else current.library_of(viewer)
    draw = drawn_soon if is_page and not waits else drawn
    return Means(library, current.modeller(), draw, partial(draw, seed=APART))


def drawing(variants: tuple[Variant, ...], body: Body, effort: float, seed: int = FIXED) -> DrawRun | None:
    """The run that makes the fixed draws which are missing, None where none are.

    Raises
    ------
    BusyError
    """
    here = current.viewer_or_none()
    person = here.person if here else ONESELF
    run = current.draws().fixed(person, variants, body, effort, current.modeller(), seed)
    if run is not None and current.desk().known.knows(body):
        run.patience = None  # a phone may be put away meanwhile
    return run


def drawn(
    variants: tuple[Variant, ...], body: Body, effort: float, seed: int = FIXED
) -> tuple[Readings, ...]:
    """The fixed draws of variants that can be modelled, S = (draws,).

    Missing ones are waited for; where others are drawn for first, or it takes too long, they are made here. A
    file says how far they are instead, as a page does.

    Raises
    ------
    StillDrawingError
    """
    make = drawn_soon if asks_for_file() else _drawn
    return make(variants, body, effort, seed)


def asks_for_file() -> bool:
    """Whether somebody asks for a file to keep: it need not come with the first answer."""
    return request.method == "GET" and request.path.endswith(FILES)


def _drawn(variants: tuple[Variant, ...], body: Body, effort: float, seed: int) -> tuple[Readings, ...]:
    asked = time.monotonic()
    with suppress(BusyError):
        while (run := drawing(once_each(variants), body, effort, seed)) is not None:
            if (run.wait(LOOK) and run.state != "finished") or time.monotonic() - asked > PATIENCE:
                break
    return fixed_draws(variants, body, effort, current.modeller(), seed)


def drawn_soon(
    variants: tuple[Variant, ...], body: Body, effort: float, seed: int = FIXED
) -> tuple[Readings, ...]:
    """The fixed draws of variants, where they are made soon enough for somebody to wait.

    Raises
    ------
    StillDrawingError
        Where they are not: the page then tells how far they are, and looks again.
    """
    run = drawing(once_each(variants), body, effort, seed)
    if run is not None and not run.wait(AT_ONCE):
        raise StillDrawingError(run)
    return _drawn(variants, body, effort, seed)


def draw_outside_requests(body: Body, effort: float) -> Draw:
    """Makes fixed draws as `drawn` does, in a thread that outlives the request."""
    here, person = current.desk(), current.viewer().person

    def draw(variants: tuple[Variant, ...]) -> tuple[Readings, ...]:
        with suppress(BusyError):
            run = here.draws.fixed(person, once_each(variants), body, effort, here.modeller)
            if run is not None:
                run.wait(PATIENCE)
        return fixed_draws(variants, body, effort, here.modeller)

    return draw
