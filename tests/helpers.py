"""What many tests need: a variant modelled in a line, draws by variant, a desk to look behind a page."""

from __future__ import annotations

import re
import time
from collections.abc import Callable
from concurrent.futures import Executor, Future
from typing import Any

import numpy as np
from flask import Flask
from flask.testing import FlaskClient

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.rating.draws import DrawTask, model_draws
from curve_rank.rating.modelling import VariantModel, model_variants
from curve_rank.web.current import Desk, desk

CORNER = re.compile(r"([A-Z])([^A-Z]*)")
ALONG = np.linspace(0, 1, 9)[1:, None]


def corners(path: str) -> np.ndarray:
    """Points along a figure's path data; an arc is its end, a curve is followed."""
    found: list[np.ndarray] = []
    for letter, text in CORNER.findall(path):
        numbers = np.array([float(v) for v in text.split()])
        if letter == "C":
            a, (b, c, d) = found[-1], numbers.reshape(3, 2)
            t, u = ALONG, 1 - ALONG
            found.extend(u**3 * a + 3 * u**2 * t * b + 3 * u * t**2 * c + t**3 * d)
        elif letter != "Z":
            found.append(numbers[-2:])
    return np.array(found)


def modelled(variant: Variant | str, body: Body | None = None, **settings: object) -> VariantModel:
    """A variant (or a built-in one's id) modelled at effort 0.75, after settings ("posture__wrist"=…)."""
    document = find_variant(variant, built_in()) if isinstance(variant, str) else variant
    changes = tuple(
        Change(field=name.replace("__", ".").replace("last", "-1"), set=value)
        for name, value in settings.items()
    )
    return model_variants((changed(document, changes),), body or Body(), effort=0.75)[0]


def drawn_parts(variants: tuple[Variant, ...], seed: int, draws: int) -> dict[str, Readings]:
    """Draws of variants by id."""
    whole = model_draws(DrawTask(variants, Body(), 0.75, seed, 0, draws))
    return {v.id: whole.of(i) for i, v in enumerate(variants)}


def desk_of(app: Flask) -> Desk:
    """What an application keeps between requests."""
    with app.app_context():
        return desk()


def wait_for_run(client: FlaskClient, address: str) -> dict[str, object]:
    """Ask a certainty address again and again until its run has ended; what it told last."""
    for _ in range(600):
        told: dict[str, object] = client.get(address).get_json()
        if told["state"] != "running":
            return told
        time.sleep(0.05)
    raise TimeoutError(address)


class Resting(Executor):
    """Takes work and leaves it: a run tells its first draws, and no core is busy with the others."""

    def submit(self, _fn: Callable[..., Any], /, *_args: Any, **_named: Any) -> Future[Any]:
        return Future()
