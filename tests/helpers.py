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
from werkzeug.test import TestResponse

from curve_rank.arm.actuators import Actuators, actuators
from curve_rank.arm.body import Body
from curve_rank.arm.draws import FIXED
from curve_rank.arm.joint_path import ANGLES
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.arm.posture import Posture, arm_frame
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.rating.draws import DrawTask, model_draws
from curve_rank.rating.modelling import VariantModel, model_variants
from curve_rank.web.current import Desk, desk

LIMIT = 300.0
"""How long a test waits for what must come at last [s]: a busy machine is no fault."""
ONE_OF_A_KIND = (
    "standing-dumbbell-curl", "standing-turning-curl", "reclined-60-dumbbell-curl", "pad-45-cable-curl",
    "cable-curl-arm-behind", "double-shoulder-height-cable-curl", "dumbbell-band-curl",
    "band-overhead-extension", "machine-pad-curl", "chin-up", "push-up-hands-close", "bench-press-narrow",
    "dumbbell-pullover", "straight-arm-pull-down", "side-lying-one-arm", "bar-up-the-body-curl",
)  # fmt: skip
"""A variant of each kind of support, load, line and movement."""
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


def posture(**given_angles: object) -> Posture:
    """Postures along samples: angles given by name [°], the others 0."""
    full = {name: np.asarray(given_angles.get(name, 0.0), dtype=float) for name in ANGLES}
    shape = np.broadcast_shapes(*(v.shape for v in full.values()), (1,))
    return Posture(**{name: np.broadcast_to(v, shape).copy() for name, v in full.items()})


def random_columns(count: int, rng: np.random.Generator) -> Actuators:
    """Actuators at random postures and grips."""
    angles = {
        "elbow": rng.uniform(0, 145, count),
        "forearm": rng.uniform(-90, 90, count),
        "shoulder": rng.uniform(-60, 180, count),
        "abduction": rng.uniform(-20, 100, count),
    }
    anatomy, frame = default_anatomy(), arm_frame(posture(**angles), Body())
    acting = actuators(
        anatomy,
        head_geometry(anatomy, **angles),
        forearm=angles["forearm"],
        upper_arm=frame.upper_arm,
        body=Body(),
    )
    return acting.gripping(rng.choice([1.0, 2.0, 6.0, 8.0], count))


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
    """Ask an address of a run again and again until it has ended; what it told last."""
    found: dict[str, object] = asked_until(
        client, address, lambda answer: answer.get_json()["state"] != "running"
    ).get_json()
    return found


def once_drawn(client: FlaskClient, address: str) -> str:
    """A page, once it has the arms that it stands on."""
    return asked_until(client, address, lambda answer: "data-drawing" not in answer.text).text


def asked_until(client: FlaskClient, address: str, done: Callable[[TestResponse], bool]) -> TestResponse:
    """An address, asked again and again until its answer is what is waited for."""
    until = time.monotonic() + LIMIT
    while not done(answer := client.get(address)):
        if time.monotonic() > until:
            raise TimeoutError(address)
        time.sleep(0.05)
    return answer


class Resting(Executor):
    """Takes work and leaves it, but for the fixed draws that pages stand on: no core is busy with others."""

    def submit(self, fn: Callable[..., Any], /, *args: Any, **_named: Any) -> Future[Any]:
        future: Future[Any] = Future()
        if args and getattr(args[0], "seed", None) == FIXED:
            future.set_result(fn(*args))
        return future
