"""The `curve-rank` command. A command's code is read in only when it is asked for."""

from __future__ import annotations

from importlib import import_module

import click

from curve_rank import __version__

COMMANDS = {
    "variants": "modelling.variants",
    "anatomy": "modelling.anatomy",
    "model": "modelling.model",
    "rank": "modelling.rank_command",
    "figures": "modelling.figures",
    "transfer": "loads.transfer_command",
    "tempo": "loads.tempo_command",
    "stretches": "stretches.stretches_command",
    "schemes": "loads.schemes_command",
    "compare": "study.compare_command",
    "series": "study.series_command",
    "faults": "study.faults_command",
    "improve": "study.improve_command",
    "atlas": "study.atlas_command",
    "claims": "claims.claims_command",
    "doubt": "doubt.doubt_command",
    "calendar": "plan.calendar_command",
    "choose": "choose.choose_command",
    "plan-card": "plan.plan_card_command",
    "plan": "plan.plan_command",
    "export": "bundles.export_command",
    "import": "bundles.import_command",
    "handout": "handout.handout_command",
    "publish": "publish.publish_command",
    "take": "take.take_command",
    "log": "training.log_group",
    "progress": "training.progress_command",
    "personal": "training.personal_command",
    "review": "training.review_command",
    "measure": "measure.measure",
    "device": "capture.device_command",
    "capture": "capture.capture_command",
    "serve": ".serving.serve",
    "demo": ".serving.demo",
    "check": "running.check_command",
    "backup": "running.backup_command",
    "restore": "running.restore_command",
    "people": "running.people_command",
    "sessions": "running.sessions_command",
}
"""Where each command stands: its module, from here, and its name there."""


VERSION = "Say which version this is, and which state of the tables goes with it."


def _say_version(ctx: click.Context, _option: click.Parameter, asked: bool) -> None:
    if asked and not ctx.resilient_parsing:
        from curve_rank.store.revisions import known_revisions

        click.echo(f"curve-rank, version {__version__}, tables at {known_revisions()[-1]}")
        ctx.exit()


class Commands(click.Group):
    """Commands that are looked up by name."""

    def list_commands(self, ctx: click.Context) -> list[str]:  # noqa: ARG002
        """All of them."""
        return sorted(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:  # noqa: ARG002
        """One of them, None where there is none of that name."""
        if cmd_name not in COMMANDS:
            return None
        module, _, name = COMMANDS[cmd_name].rpartition(".")
        found: click.Command = getattr(import_module(f".{module}", "curve_rank.cli"), name)
        return found


@click.group(cls=Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.option(
    "--version", is_flag=True, is_eager=True, expose_value=False, callback=_say_version, help=VERSION
)
def main() -> None:
    """Model biceps and triceps exercises, and rank them for a stated purpose."""


if __name__ == "__main__":
    main()
