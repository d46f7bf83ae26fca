"""`curve-rank anatomy`, `model` and `figures`: the model from a shell."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps, usual_effort
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import parse_variant
from curve_rank.cli.anatomy import anatomy_view, sweep
from curve_rank.cli.options import (
    Mass,
    body_from,
    body_option,
    data_option,
    json_option,
    library,
    modeller_for,
    print_json,
    read_text,
    say,
    say_errors,
    write_file,
)
from curve_rank.errors import BadInputError
from curve_rank.exchange.json_views import model_view
from curve_rank.figures.sheet import sheet
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller, VariantModel, model_variants
from curve_rank.rating.readings import all_readings
from curve_rank.rating.spreads import middle, spread_of
from curve_rank.rating.targets import targets
from curve_rank.rating.words import limit_words, load_words, lower_first, printed, upper_first, why


@click.command()
@click.option("--elbow", default="0:145:5", show_default=True, help="Angle, or from:to:step.")
@click.option("--shoulder", default="0", show_default=True, help="Angle, or from:to:step.")
@click.option("--forearm", default="0", show_default=True, help="Angle, or from:to:step; −90 is palm up.")
@json_option
@say_errors
def anatomy(elbow: str, shoulder: str, forearm: str, as_json: bool) -> None:
    """Moment arms and lengths of every head over a sweep of one joint."""
    view = anatomy_view(sweep("elbow", elbow), sweep("shoulder", shoulder), sweep("forearm", forearm))
    if as_json:
        print_json(view)
        return
    for key, head in view["heads"].items():
        say(f"\n{key}  (virtual work differs by {head['virtual_work_error_mm']:g} mm)")
        say(f"{view['joint']:>9}°  arm mm  change mm  length  % of range")
        columns = ("moment_arm_mm", "length_change_mm", "length_norm", "length_pct")
        for i, angle in enumerate(view["angles_deg"]):
            arm, change, norm, percent = (head[c][i] for c in columns)
            say(f"{angle:10.1f}  {arm:6.1f}  {change:9.1f}  {norm:6.3f}  {percent:10.1f}")


@click.command()
@click.argument("variant", required=False)
@click.option("--file", "file", type=click.Path(path_type=Path), help="A variant document instead.")
@body_option
@click.option("--load", type=Mass(), help="Load, instead of the working load.")
@click.option("--reps", type=int, default=DEFAULT_EFFORT_REPS, show_default=True)
@click.option("--set", "settings", multiple=True, metavar="PATH=VALUE", help="Change the set-up first.")
@json_option
@data_option
@say_errors
def model(
    variant: str | None,
    file: Path | None,
    body_text: str | None,
    load: float | None,
    reps: int,
    settings: tuple[str, ...],
    as_json: bool,
    data: Path | None,
) -> None:
    """Model one variant: where it is hard, how long each head is there, who does the work."""
    if (variant is None) == (file is None):
        raise BadInputError("VARIANT", variant, "either a variant's id or --file with a document")
    document = (
        parse_variant(read_text(file), name=file.name) if file else library(data).variant(variant or "")
    )
    document = changed(document, tuple(parse_setting(text) for text in settings))
    effort = effort_for_reps(reps)
    modelled = model_variants((document,), body_from(body_text), effort=effort, load=load)[0]
    drawn = None
    if load is None:
        (drawn,) = fixed_draws((document,), modelled.body, effort, modeller_for(data))
    if as_json:
        print_json(model_view(modelled, drawn))
        return
    _print_model(modelled, drawn)


@click.command()
@click.argument("out", type=click.Path(path_type=Path, dir_okay=False))
@click.option("--view", type=click.Choice(["side", "front", "top"]), help="Else the best.")
@click.option("--dark", is_flag=True, help="On dark paper.")
@json_option
@data_option
@say_errors
def figures(out: Path, view: str | None, dark: bool, as_json: bool, data: Path | None) -> None:
    """Draw every variant at its hard spot into one HTML file."""
    effort = usual_effort()
    modelled = Modeller().able(library(data).variants, Body(), effort=effort)
    write_file(out, sheet(modelled, view or "", "dark" if dark else "light"), field="OUT")
    if as_json:
        print_json({"file": str(out), "figures": len(modelled)})
    else:
        say(f"{len(modelled)} figures in {out}")


def _print_model(modelled: VariantModel, drawn: Readings | None) -> None:
    """As pages print it: medians of the fixed draws; at a load of one's own, the middle arm's readings."""
    variant, group = modelled.variant, targets()[modelled.variant.group]

    def read(key: str, head: str = "") -> str:
        one = all_readings()[key]
        value = middle(one.values(modelled.readings if drawn is None else drawn, head))
        return f"{lower_first(one.name)} {printed(value, one.digits)} {one.unit}"

    load = load_words(modelled, None if drawn is None else drawn.load_median)
    say(f"{variant.name}: {load}, limited by {limit_words(modelled)}")
    if drawn is not None:
        spread = spread_of(drawn.load)
        low, high = printed(spread.low, 1), printed(spread.high, 1)
        say(f"Medians of drawn arms; eight loads in ten {low} to {high} kg")
    say(why(modelled, group, drawn))
    say(f"{upper_first(read('evenness'))}, {read('slack_share')}")
    for key in group.heads:
        told = ", ".join(
            read(one, key) for one in ("work_share", "length_at_hard_spot", "long_tension", "short_tension")
        )
        say(f"  {targets()[key].name:24} {told}")
