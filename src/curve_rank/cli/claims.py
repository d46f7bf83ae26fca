"""`curve-rank claims`: the ledger, or one claim, with its verdicts."""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank.arm.body import Body
from curve_rank.arm.draws import APART
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.library import find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import parse_setup
from curve_rank.cli.options import data_option, everything, json_option, modeller_for, print_json, say_errors
from curve_rank.exchange.study_views import claim_view
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.targets import known
from curve_rank.study.claim_words import OUTCOMES, probability_words, size_words
from curve_rank.study.claims import built_in_claims
from curve_rank.study.verdicts import reading_of, verdicts


@click.command(name="claims")
@click.argument("claim", required=False)
@json_option
@data_option
@say_errors
def claims_command(claim: str | None, as_json: bool, data: Path | None) -> None:
    """Verdicts on all claims, or on one CLAIM by its id."""
    there = everything(data)
    ledger = there.claims | built_in_claims()
    asked = {claim: known("claim", claim, ledger)} if claim else ledger
    body, effort, modeller = Body(), usual_effort(), modeller_for(data)

    def resolve(line: str) -> Variant:
        setup = parse_setup(line)
        return setup.of(find_variant(setup.variant, there.variants))

    found = dict(
        verdicts(
            asked, resolve, there.lenses,
            draw=lambda variants: fixed_draws(variants, body, effort, modeller),
            draw_apart=lambda variants: fixed_draws(variants, body, effort, modeller, APART),
            modeller=modeller, body=body, effort=effort,
        )
    )  # fmt: skip
    views = [claim_view(key, one, found[key]) for key, one in asked.items()]
    if as_json:
        print_json(views[0] if claim else views)
        return
    for key, one in asked.items():
        verdict = found[key]
        sure = f" {probability_words(verdict)}" if verdict.probability is not None else ""
        click.echo(f"{key}: {OUTCOMES[verdict.outcome]}{sure}. {one.sides[0]}")
        if claim:
            measured = one.test and verdict.size
            click.echo(
                f"  {size_words(verdict, one.test, reading_of(one.test, there.lenses))}"
                if measured and one.test
                else f"  {verdict.missing}"
            )
