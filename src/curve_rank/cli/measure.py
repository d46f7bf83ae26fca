"""`curve-rank measure`: a machine's profile from a file of angles and torques."""

from __future__ import annotations

from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

import click

from curve_rank.catalogue.library import find_variant
from curve_rank.catalogue.profiles import with_profile
from curve_rank.cli.options import data_option, json_option, library, print_json, read_text, say_errors
from curve_rank.errors import BadInputError
from curve_rank.measure.columns import UNITS, Choice, guess, read_sheet, samples
from curve_rank.measure.profile import INTERVAL, fold

LARGEST = 20 * 1024 * 1024
"""The largest file that is read [bytes]."""
SHOWN = 10
COLUMNS = ("angle", "torque", "force", "lever")


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
            find_variant(variant, library(data)), profile.angle.tolist(), (profile.torque / stack).tolist()
        )
        out.write_text(made.model_dump_json(indent=2), encoding="utf-8")
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


def _choice(guessed: Choice, named: dict[str, str | None]) -> Choice:
    """What was guessed, with what was said instead; a force that is named takes the place of a torque."""
    said = {key: value for key, value in named.items() if value is not None}
    if "force" in said:
        guessed = replace(guessed, torque="")
    if "torque" in said:
        guessed = replace(guessed, force="", lever="")
    return replace(guessed, **said)
