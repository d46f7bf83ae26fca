"""What pages' JSON twins, CSV files and commands answer, to be compared with what they answered before.

`python -m tests.answers.record` writes the record anew, after a change that is meant to change numbers.
"""

from __future__ import annotations

import csv
import gzip
import io
import json
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from click.testing import CliRunner
from flask.testing import FlaskClient

from curve_rank.cli.main import main

RECORD = Path(__file__).with_name("record.json.gz")
FEW = 8
"""Of a long row of numbers, about this many are kept."""

VARIANTS = (
    "standing-dumbbell-curl", "standing-turning-curl", "reclined-60-dumbbell-curl", "pad-45-dumbbell-curl",
    "chest-down-dumbbell-curl", "bar-up-the-body-curl", "cable-curl-arm-behind", "momentum-curl",
    "dumbbell-band-curl", "machine-pad-curl", "chin-up", "body-row-underhand", "rope-press-down",
    "overhead-rope-low-pulley", "lying-bar-to-forehead", "bent-over-pull-back", "dumbbell-pullover",
    "bench-press-narrow", "dip-upright", "side-lying-one-arm",
)  # fmt: skip
QUESTIONS = (
    "target=biceps_long&lens=long_length&with=dumbbell&with=cable&with=incline_bench",
    "target=biceps_short&lens=short_length",
    "target=brachialis&lens=even_tension&with=dumbbell&with=no_bench",
    "target=brachioradialis&lens=all_round&reps=5",
    "target=flexors&lens=heavy_basics",
    "target=triceps_long&lens=long_length&for=5",
    "target=triceps_lateral&lens=even_tension&spare=elbow&spare=shoulder",
    "target=triceps_medial&lens=short_length&reps=15",
    "target=extensors&lens=all_round&spare=elbow",
    "target=biceps&lens=own-lanternfield-house-blend",
)
ADDRESSES = (
    *(f"/bench/{name}.json" for name in VARIANTS),
    *(f"/bench/{name}.csv" for name in VARIANTS[::4]),
    *(f"/variants/{name}.json" for name in VARIANTS),
    *(f"/board.json?{question}" for question in QUESTIONS),
    "/bench/reclined-60-dumbbell-curl.json?set=posture.trunk_pitch%3D-45&load=8&for=4",
    "/bench/own-hayloft-deep-recline.json",
    "/loads.json?variant=standing-dumbbell-curl&load=12&to=chin-up",
    "/loads.json?for=6&variant=rope-press-down&load=20&reps=8&to=dip-upright&to_reps=6",
    "/evidence.json",
    "/sources.json",
    "/variants.json",
    "/lenses.json",
    "/lenses.json?target=triceps_long",
)
COMMANDS = (
    "variants",
    "anatomy --elbow 0:130:10 --shoulder 0 --forearm -90",
    "model pad-45-dumbbell-curl --body 1.9,97 --reps 6",
    "rank --target biceps_long --lens long_length --with dumbbell,cable --spare elbow",
    "rank --target triceps_long --with band --draws 40",
    "transfer standing-dumbbell-curl chin-up --load 12 --reps 10",
    "tempo pad-45-dumbbell-curl --tempo 3-1-1-0",
    "tempo dip-upright",
    "schemes pad-45-dumbbell-curl --then chin-up",
    "schemes bent-over-pull-back",
)


def answers(client: FlaskClient, run: Callable[[str], str]) -> dict[str, Any]:
    """Every address and command with its answer, long rows thinned out."""
    found = {address: thinned(_answer(client, address)) for address in ADDRESSES}
    return found | {command: thinned(json.loads(run(command))) for command in COMMANDS}


def run_command(text: str) -> str:
    """What a command prints as JSON, on built-in variants alone."""
    result = CliRunner(env={"CURVE_RANK_DATA": "/nowhere"}).invoke(main, [*text.split(), "--json"])
    assert result.exit_code == 0, result.output
    return result.stdout


def recorded() -> dict[str, Any]:
    """The answers as they were recorded."""
    result: dict[str, Any] = json.loads(gzip.decompress(RECORD.read_bytes()))
    return result


def differences(was: Any, now: Any, place: str = "") -> Iterator[str]:  # noqa: C901 — one case a kind of data
    """Where an answer is not what it was; what has been added is no difference."""
    if isinstance(was, dict) and isinstance(now, dict):
        for key, value in was.items():
            if key in now:
                yield from differences(value, now[key], f"{place}.{key}")
            else:
                yield f"{place}.{key} is gone"
    elif isinstance(was, list) and isinstance(now, list) and _keyed(was) and _keyed(now):
        yield from differences({one["key"]: one for one in was}, {one["key"]: one for one in now}, place)
    elif isinstance(was, list) and isinstance(now, list):
        if len(was) != len(now):
            yield f"{place} has {len(now)} entries, had {len(was)}"
        for n, (one, other) in enumerate(zip(was, now, strict=False)):
            yield from differences(one, other, f"{place}.{n}")
    elif isinstance(was, float) and isinstance(now, float | int):
        if abs(was - now) > 2e-3 * max(0.1, abs(was)):
            yield f"{place}: {now}, was {was}"
    elif was != now:
        yield f"{place}: {now!r}, was {was!r}"


def _keyed(rows: list[Any]) -> bool:
    return bool(rows) and all(isinstance(row, dict) and "key" in row for row in rows)


def thinned(value: Any) -> Any:
    """Plain data whose long rows of numbers keep only some."""
    if isinstance(value, dict):
        return {key: thinned(part) for key, part in value.items()}
    if isinstance(value, list):
        plain = all(isinstance(part, int | float) or part is None for part in value)
        if plain and len(value) > 2 * FEW:
            return value[:: len(value) // FEW]
        if value and all(isinstance(part, list) for part in value) and len(value) > 2 * FEW:
            return [thinned(part) for part in value[:: len(value) // FEW]]
        return [thinned(part) for part in value]
    return value


def _answer(client: FlaskClient, address: str) -> Any:
    response = client.get(address, follow_redirects=True)
    assert response.status_code == 200, (address, response.text[:200])
    if response.is_json:
        return response.get_json()
    titles, *rows = csv.reader(io.StringIO(response.text))
    return {"titles": titles, "rows": [[float(cell) if cell else None for cell in row] for row in rows]}
