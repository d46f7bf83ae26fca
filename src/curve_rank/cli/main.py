"""The `curve-rank` command. A command's code is read in only when it is asked for."""

from __future__ import annotations

from importlib import import_module

import click
from click.shell_completion import CompletionItem

from curve_rank import __version__
from curve_rank.cli.entry import ends_at_once

COMMANDS = {
    "variants": ("variants.variants", "List the variants."),
    "anatomy": ("modelling.anatomy", "Moment arms and lengths of every head over a sweep of one joint."),
    "model": (
        "modelling.model",
        "Model one variant: where it is hard, how long each head is there, who does the work.",
    ),
    "rank": ("ranking.rank_command", "Rank variants for a target through a lens."),
    "figures": ("modelling.figures", "Draw every variant at its hard spot into one HTML file."),
    "transfer": (
        "loads.transfer_command",
        "How much a set on KNOWN is on WANTED, with an interval, rounded to the equipment's steps.",
    ),
    "tempo": ("loads.tempo_command", "One rep in time: inertia, force against velocity, time under tension."),
    "stretches": (
        "stretches.stretches_command",
        "Positions to hold for what was trained, each with how long the heads get.",
    ),
    "schemes": (
        "loads.schemes_command",
        "Where rep schemes place tension: long, middle and short, per head and per minute.",
    ),
    "compare": (
        "study.compare_command",
        "Readings of two to four VARIANTS, their differences, and how sure each difference is.",
    ),
    "series": (
        "study.series_command",
        "One reading of VARIANT while one field changes in steps: medians and intervals.",
    ),
    "faults": ("study.faults_command", "What each fault of VARIANT takes from its score, dearest first."),
    "improve": (
        "study.improve_command",
        "What changes to VARIANT further an aim most, and what they cost elsewhere.",
    ),
    "atlas": (
        "study.atlas_command",
        "Moment arm, length and strength of HEAD over the elbow and a second joint.",
    ),
    "claims": ("claims.claims_command", "Verdicts on all claims, or on one CLAIM by its id."),
    "house": ("house.house_command", "What the logs of whoever agreed say of the model together."),
    "doubt": (
        "doubt.doubt_command",
        "What a list stands on; with a NUMBER of the model named, what the list would be with it off.",
    ),
    "calendar": ("plan.calendar_command", "Write block NUMBER as an iCalendar file."),
    "choose": (
        "choose.choose_command",
        "Choose the fewest set-ups that load every target long and short, scoring best by the lens.",
    ),
    "plan-card": ("plan.plan_card_command", "Write the printable card of block NUMBER."),
    "plan": ("plan.plan_command", "Plan a block of weeks for somebody."),
    "export": (
        "bundles.export_command",
        "Write variants, lenses, faults, claims, profiles and lectures of one's own to a bundle.",
    ),
    "import": (
        "bundles.import_command",
        "Take a bundle in: what is new here; with --replace also what differs.",
    ),
    "handout": (
        "handout.handout_command",
        "Print VARIANTS to a PDF in their order: one on a page of its own, several behind their contents.",
    ),
    "publish": (
        "publish.publish_command",
        "Freeze PAGE, an address of the application, behind a link; without PAGE, list the links there are.",
    ),
    "take": (
        "take.take_command",
        "Take PAGE along, an address of the application, as a file that says all that the page says.",
    ),
    "log": ("training.log_group", "A client's log."),
    "progress": (
        "training.progress_command",
        "The next target of every exercise that was done, each with its reason.",
    ),
    "personal": (
        "training.personal_command",
        "Loads as a log corrects them: draws of the arm weighted by how well they predict what was lifted.",
    ),
    "review": (
        "training.review_command",
        "A block's end: what was planned and done, what it brought, what to keep and what to rotate.",
    ),
    "measure": ("measure.measure", "Measurements from the outside world."),
    "device": (
        "capture.device_command",
        "Run a simulated load cell and angle sensor on a machine that is swept to and fro.",
    ),
    "capture": (
        "capture.capture_command",
        "Zero, calibrate with a known weight, sweep, and fold the sweeps into one profile.",
    ),
    "serve": (".serving.serve", "Serve the web application over your own data."),
    "demo": (
        ".serving.demo",
        "Serve the web application with made-up demo data, in instance/demo unless a folder is named.",
    ),
    "check": ("running.check_command", "Say how settings, folder, database, disk and backups are."),
    "backup": ("running.backup_command", "Write everything into one new file, while it is served or not."),
    "restore": (
        "running.restore_command",
        "Put a backup in the place of what the data folder holds; what stands there is backed up first.",
    ),
    "people": (
        "running.people_command",
        "List everybody: roles, address, when last seen; or end something, which the audit then shows.",
    ),
    "sessions": ("running.sessions_command", "List where everybody is signed in, or end one sign-in."),
}
"""Where each command stands, its module from here and its name there; and what it does, so that the list of
all is told without reading any of them in."""


VERSION = "Say which version this is, and which state of the tables goes with it."


def _say_version(ctx: click.Context, _option: click.Parameter, asked: bool) -> None:
    if asked and not ctx.resilient_parsing:
        from curve_rank.store.newest import newest_revision

        click.echo(f"curve-rank, version {__version__}, tables at {newest_revision()}")
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
        module, _, name = COMMANDS[cmd_name][0].rpartition(".")
        with ends_at_once():
            found: click.Command = getattr(import_module(f".{module}", "curve_rank.cli"), name)
        return found

    def shell_complete(self, ctx: click.Context, incomplete: str) -> list[CompletionItem]:  # noqa: ARG002
        """Names that begin so, for a shell that completes them."""
        begun = [name for name in sorted(COMMANDS) if name.startswith(incomplete)]
        return [CompletionItem(name, help=COMMANDS[name][1]) for name in begun]

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:  # noqa: ARG002
        """All of them with what they do."""
        with formatter.section("Commands"):
            formatter.write_dl([(name, COMMANDS[name][1]) for name in sorted(COMMANDS)])


@click.group(cls=Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.option(
    "--version", is_flag=True, is_eager=True, expose_value=False, callback=_say_version, help=VERSION
)
def main() -> None:
    """Model biceps and triceps exercises, and rank them for a stated purpose."""


if __name__ == "__main__":
    main()
