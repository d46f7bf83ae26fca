"""`curve-rank measure`: a machine's profile from a file, and what marks on pictures read."""

from __future__ import annotations

import json
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

import click

from curve_rank.catalogue.profiles import with_profile
from curve_rank.cli.options import (
    data_option,
    json_option,
    library,
    print_json,
    read_text,
    say_errors,
    write_file,
)
from curve_rank.errors import BadInputError
from curve_rank.measure.columns import UNITS, ColumnChoice, guess, read_sheet, samples
from curve_rank.measure.marks import INTERVAL as PICTURE_INTERVAL
from curve_rank.measure.marks import MarkReading, PictureReading, all_read, read_marks, validate_marks
from curve_rank.measure.profile import INTERVAL, fold

LARGEST = 20 * 1024 * 1024
"""The largest file that is read [bytes]."""
SHOWN = 10
COLUMNS = ("angle", "torque", "force", "lever")
PICTURE_FIELDS = {
    "elbow": "elbow_deg",
    "upper_arm": "upper_arm_deg",
    "shoulder": "shoulder_deg",
    "trunk": "trunk_deg",
    "lever": "lever_cm",
    "forearm": "forearm_cm",
    "upper_arm_length": "upper_arm_cm",
    "floor": "pulley_over_floor_cm",
    "slope": "floor_slope_deg",
}


@click.group()
def measure() -> None:
    """Measurements from the outside world."""


@measure.command(name="csv")
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--angle", help="Its column, by title or number; else guessed.")
@click.option("--torque", help="Its column.")
@click.option("--force", help="Its column, with --lever, where there is no torque.")
@click.option("--lever", help="Its column, or one number.")
@click.option("--angle-unit", type=click.Choice(tuple(UNITS["angle"])))
@click.option("--torque-unit", type=click.Choice(tuple(UNITS["torque"])))
@click.option("--force-unit", type=click.Choice(tuple(UNITS["force"])))
@click.option("--lever-unit", type=click.Choice(tuple(UNITS["lever"])))
@click.option("--good-only", is_flag=True, help="Leave bad rows out; else they are refused.")
@click.option("--stack", type=float, help="Stack it was measured with [kg], for --into.")
@click.option("--into", "variant", help="A machine variant that takes the profile.")
@click.option(
    "--out", type=click.Path(path_type=Path, dir_okay=False), help="Where --into writes the variant."
)
@json_option
@data_option
@say_errors
def csv_command(
    file: Path,
    good_only: bool,
    stack: float | None,
    variant: str | None,
    out: Path | None,
    as_json: bool,
    data: Path | None,
    **named: str | None,
) -> None:
    """Fold FILE, one sample a row, into one smooth profile with an interval."""
    sheet = read_sheet(read_text(file, "FILE", f"a text file of at most {LARGEST // 2**20} MB", LARGEST))
    choice = _choice(guess(sheet), named)
    found = samples(sheet, choice)
    if found.problems and not good_only:
        told = "; ".join(
            f"row {p.row}, {p.column}: {p.value!r}, not {p.right}" for p in found.problems[:SHOWN]
        )
        raise BadInputError(str(file), told, f"good rows, or --good-only to leave {len(found.problems)} out")
    profile = fold(found.angle, found.torque)
    if variant is not None:
        if stack is None or out is None:
            raise BadInputError("--into", variant, "--stack and --out with it")
        made = with_profile(
            library(data).variant(variant), profile.angle.tolist(), (profile.torque / stack).tolist()
        )
        write_file(out, made.model_dump_json(indent=2))
    view: dict[str, Any] = {
        "columns": asdict(choice),
        "rows": len(sheet.rows),
        "left_out": [asdict(problem) for problem in found.problems],
        "interval": INTERVAL,
        "noise_nm": round(profile.noise, 4),
        "profile": {
            "angle_deg": profile.angle.round(3).tolist(),
            "torque_nm": profile.torque.round(4).tolist(),
            "low": profile.low.round(4).tolist(),
            "high": profile.high.round(4).tolist(),
        },
    }
    if as_json:
        print_json(view)
        return
    click.echo(
        f"{profile.samples} samples, {len(found.problems)} rows left out, noise {profile.noise:.2f} N·m"
    )
    rows = zip(profile.angle, profile.torque, profile.low, profile.high, strict=True)
    for angle, torque, low, high in rows:
        click.echo(f"{angle:6.1f}°  {torque:7.2f} N·m  ({low:.2f} to {high:.2f})")


@measure.command(name="marks")
@click.argument("file", type=click.Path(path_type=Path))
@json_option
@say_errors
def marks_command(file: Path, as_json: bool) -> None:
    """Read FILE, marks on pictures as JSON: angles and levers with what is unsure of them."""
    text = read_text(file, "FILE", "a JSON document of marks")
    try:
        data = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise BadInputError("FILE", "unreadable", f"a JSON document of marks ({error})") from error
    readings = read_marks(validate_marks(data))
    all_read(readings)
    if as_json:
        pictures = [None if one is None else _picture_view(one) for one in readings]
        print_json({"interval": PICTURE_INTERVAL, "pictures": pictures})
        return
    for number, one in enumerate(readings, 1):
        if one is None:
            click.echo(f"Picture {number}: shoulder, elbow and grip are not all marked")
            continue
        click.echo(f"Picture {number}" + "".join(f"; {problem}" for problem in one.problems))
        for name, value in _picture_view(one).items():
            if isinstance(value, dict):
                told = "{:>8.1f} ± {:.1f} (turned ± {:.1f})".format(*value.values())
                click.echo(f"  {name:24} {told}")


def _picture_view(reading: PictureReading) -> dict[str, Any]:
    """What one picture reads, with units in the names."""
    view: dict[str, Any] = {}
    for field, name in PICTURE_FIELDS.items():
        found = getattr(reading, field)
        view[name] = None if found is None else _measured_view(found)
    forward, up = reading.pulley or (None, None)
    view["pulley_forward_cm"] = None if forward is None else _measured_view(forward)
    view["pulley_up_cm"] = None if up is None else _measured_view(up)
    return view | {"lever_foot_px": [round(v, 2) for v in reading.foot], "problems": list(reading.problems)}


def _measured_view(found: MarkReading) -> dict[str, float]:
    return {name: round(value, 3) for name, value in asdict(found).items()}


def _choice(guessed: ColumnChoice, named: dict[str, str | None]) -> ColumnChoice:
    """What was guessed, with what was said instead; a force or lever that is named takes a torque's place."""
    said = {key: value for key, value in named.items() if value is not None}
    if said.keys() & {"force", "lever"}:
        guessed = replace(guessed, torque="")
    if "torque" in said:
        guessed = replace(guessed, force="", lever="")
    return replace(guessed, **said)
