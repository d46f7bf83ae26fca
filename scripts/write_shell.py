"""Write what a shell has of the command: a man page, and completion for three shells.

python -m scripts.write_shell
"""

from __future__ import annotations

from pathlib import Path

import click

from curve_rank import __version__
from curve_rank.cli.entry import COMPLETE, NAME
from curve_rank.cli.main import COMMANDS, main

FOLDER = Path(__file__).parents[1] / "shell"
COMPLETIONS = {"bash": NAME, "zsh": f"_{NAME}", "fish": f"{NAME}.fish"}
"""Per shell, the file that it looks for."""
DASH = (
    "Where a file is read or written, a dash stands for standard input or output. With --json a command"
    " prints one JSON document."
)
CODES = (
    ("2", "what was typed makes no sense; the message names it, and what would be right"),
    ("74", "the output cannot be written, as on a full disk"),
    ("130", "ended by Ctrl-C"),
    ("141", "whoever read the output went away"),
)


def _plain(text: str) -> str:
    """Text as roff takes it."""
    shown = text.replace("\\", "\\e").replace("-", "\\-")
    return "\n".join(f"\\&{line}" if line.startswith((".", "'")) else line for line in shown.splitlines())


def _options(command: click.Command, context: click.Context) -> list[str]:
    lines = []
    for parameter in command.get_params(context):
        record = parameter.get_help_record(context)
        if record:
            lines += [".TP", f"\\fB{_plain(record[0])}\\fR", _plain(record[1])]
    return lines


def _command(name: str, command: click.Command, above: click.Context) -> list[str]:
    context = click.Context(command, info_name=name, parent=above)
    usage = " ".join(command.collect_usage_pieces(context))
    lines = [f".SS {_plain(context.command_path)} {_plain(usage)}", _plain(command.help or "")]
    lines += _options(command, context)
    if isinstance(command, click.Group):
        for inner, one in command.commands.items():
            lines += _command(inner, one, context)
    return lines


def man_page() -> str:
    """The man page of the command and everything under it."""
    context = main.make_context(NAME, [], resilient_parsing=True)
    lines = [
        f'.TH CURVE\\-RANK 1 "" "curve\\-rank {__version__}" "User commands"',
        ".SH NAME",
        f"curve\\-rank \\- {_plain((main.help or '').rstrip('.').lower())}",
        ".SH SYNOPSIS",
        "\\fBcurve\\-rank\\fR [OPTIONS] COMMAND [ARGS]...",
        ".SH DESCRIPTION",
        _plain(DASH),
        ".SH OPTIONS",
        *_options(main, context),
        ".SH COMMANDS",
    ]
    for name in sorted(COMMANDS):
        command = main.get_command(context, name)
        assert command is not None
        lines += _command(name, command, context)
    lines.append(".SH EXIT STATUS")
    for code, words in CODES:
        lines += [".TP", code, _plain(words)]
    return "\n".join(lines) + "\n"


def completion(shell: str) -> str:
    """What a shell reads in to complete the command."""
    from click.shell_completion import get_completion_class

    kind = get_completion_class(shell)
    assert kind is not None
    made = kind(main, {}, NAME, COMPLETE)
    return made.source_template % made.source_vars()


def files() -> dict[Path, str]:
    """Every file, with what stands in it."""
    made = {FOLDER / f"{NAME}.1": man_page()}
    return made | {FOLDER / name: completion(shell) for shell, name in COMPLETIONS.items()}


if __name__ == "__main__":
    FOLDER.mkdir(exist_ok=True)
    for path, text in files().items():
        path.write_text(text, encoding="utf-8")
