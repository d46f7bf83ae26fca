"""What the commands share: options, errors to exit codes, and reading what was typed."""

from __future__ import annotations

import errno
import json
import sys
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from datetime import date
from functools import wraps
from pathlib import Path
from typing import TYPE_CHECKING, Any, cast

import click

from curve_rank.catalogue.library import LARGEST_DOCUMENT, built_in
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError, CurveRankError, UnavailableError
from curve_rank.practice.units import CM_PER_M, MASS_UNITS, height_of, mass_of, masses_in
from curve_rank.settings import DATABASE, read_settings

if TYPE_CHECKING:  # what a command does not need is not read in
    from curve_rank.answers.means import Library, Means
    from curve_rank.answers.people import Trainee
    from curve_rank.arm.body import Body
    from curve_rank.arm.readings import Readings
    from curve_rank.practice.profile import ClientProfile
    from curve_rank.practice.rooms import Room
    from curve_rank.practice.sets import Draw
    from curve_rank.rating.modelling import Modeller
    from curve_rank.store.database import DbSession, Store
    from curve_rank.store.viewers import Viewer
    from curve_rank.training.planning import Planner

UNIT, INSTALLED = "curve_rank.unit", "curve_rank.unit.installed"
"""Where a command's context says in which unit masses are: as it was asked, as the installation has it."""
NO_ROOM = (errno.ENOSPC, errno.EDQUOT)
"""The system's words for a full disk."""
HERE = "http://127.0.0.1:8137"
"""Where the application answers unless somebody says otherwise."""


def say_errors(command: Callable[..., None]) -> Callable[..., None]:
    """The project's own errors become one line on standard error and exit code 2."""

    @wraps(command)
    def wrapped(*args: Any, **kwargs: Any) -> None:
        try:
            command(*args, **kwargs)
        except CurveRankError as error:
            click.echo(f"curve-rank: {masses_in(str(error), unit_asked())}", err=True)
            sys.exit(2)

    return wrapped


json_option = click.option("--json", "as_json", is_flag=True, help="Print JSON.")
lines_option = click.option("--json-lines", "as_lines", is_flag=True, help="Print JSON, a line for each row.")
data_option = click.option(
    "--data", type=click.Path(path_type=Path, file_okay=False), help="Data folder (or CURVE_RANK_DATA)."
)
unit_option = click.option(
    "--unit",
    type=click.Choice(tuple(MASS_UNITS)),
    expose_value=False,
    is_eager=True,
    callback=lambda context, _, unit: context.meta.update({UNIT: unit} if unit else {}),
    help="Of masses, typed and printed; else the installation's. JSON stays in kg, as its keys say.",
)


def body_option(command: Callable[..., None]) -> Callable[..., None]:
    """Whose size: of a command that says masses, so that it takes a unit as well."""
    size = "Height [m] and mass, as in 1.78,80 or 5ft10,176lb."
    return unit_option(click.option("--body", "body_text", metavar="H,M", help=size)(command))


class Mass(click.ParamType[float]):
    """A mass, in the command's unit or with its own behind it [kg]."""

    name = "mass"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> float:
        """The mass that is typed."""
        try:
            return mass_typed(value)
        except ValueError as error:
            self.fail(f"{value!r} is not {error}.", param, ctx)


def unit_here(usual: str = "") -> str:
    """In which unit masses are typed and printed: as the command says, else as is usual for whom it is."""
    return unit_asked() or usual or _unit_installed()


def _unit_installed() -> str:
    """The installation's, read once a command: it is asked for with every line that is printed."""
    context = click.get_current_context(silent=True)
    if context is None:
        return read_settings().unit
    if INSTALLED not in context.meta:
        context.meta[INSTALLED] = read_settings().unit
    return str(context.meta[INSTALLED])


def unit_asked() -> str:
    """The unit that the command names; empty where it names none."""
    context = click.get_current_context(silent=True)
    return str(context.meta.get(UNIT, "")) if context else ""


def mass_typed(value: object) -> float:
    """A mass in the command's unit, or with its own behind it [kg].

    Raises
    ------
    ValueError
    """
    return cast(float, mass_of(value, unit_here()))


def say(text: str) -> None:
    """Print a text of the model's own, its masses in the command's unit."""
    click.echo(masses_in(text, unit_here()))


def library(data: Path | None) -> Library:
    """What ships, and one's own where there is a data folder already."""
    from curve_rank.answers.means import Library

    folder = read_settings(data=data).data
    if not (folder / DATABASE).exists():
        return Library()
    from curve_rank.store.database import open_store
    from curve_rank.store.viewers import local_educator

    with open_store(folder).reading() as session:
        return Library(session, local_educator(session)).read()


def all_variants(data: Path | None) -> tuple[Variant, ...]:
    """What ships, and one's own where there is a data folder already; without one nothing else is read in."""
    if not (read_settings(data=data).data / DATABASE).exists():
        return built_in()
    return library(data).variants


def shell_viewer(session: DbSession) -> Viewer:
    """Whoever works from a shell: this machine's educator.

    Raises
    ------
    UnavailableError
    """
    from curve_rank.store.viewers import local_educator

    viewer = local_educator(session)
    if viewer is None:
        raise UnavailableError("data folder", "without an educator", "one that `serve` or `demo` has made")
    return viewer


def store_in(data: Path | None) -> Store:
    """The store of a data folder that is there already.

    Raises
    ------
    UnavailableError
    """
    settings = read_settings(data=data)
    return store_in_folder(settings.data, settings.unit)


def store_in_folder(folder: Path, unit: str = "kg") -> Store:
    """The store of a folder that holds one.

    Raises
    ------
    UnavailableError
    """
    from curve_rank.store.database import open_store

    if not (folder / DATABASE).exists():
        raise UnavailableError("data folder", str(folder), "one that `serve` or `demo` has made")
    return open_store(folder, unit)


def client_of(client: int | None, data: Path | None) -> tuple[ClientProfile, Body, Room | None]:
    """A client's profile, body and room, as this machine's educator sees them; without one, the usual ones.

    Raises
    ------
    BadInputError, UnknownNameError, UnavailableError
    """
    from curve_rank.answers.people import whose
    from curve_rank.arm.body import Body
    from curve_rank.practice.profile import usual_profile

    if client is None:
        return usual_profile(read_settings(data=data).unit), Body(), None
    with store_in(data).reading() as session:
        return whose(session, shell_viewer(session), client)


def means_for(data: Path | None, *, on_all_cores: bool = False) -> Means:
    """With what a command works: what there is; draws found, or made here, of many with progress."""
    from curve_rank.answers.means import Means

    there, modeller = library(data), modeller_for(data)
    draw = drawing_with(modeller)
    if not on_all_cores:
        return Means(there, modeller, draw)

    def draw_many(some: tuple[Variant, ...], body: Body, effort: float) -> tuple[Readings, ...]:
        from curve_rank.cli.draws import make_fixed_draws  # brings processes with it

        make_fixed_draws(some, body, effort, modeller)
        return draw(some, body, effort)

    return Means(there, modeller, draw_many)


def planner_of(client: int | None, data: Path | None, means: Means) -> Planner:
    """A planner for a client, as their pages have it; without one, for the default body in any gym.

    Raises
    ------
    UnknownNameError, UnavailableError
    """
    from curve_rank.answers.people import planner_for
    from curve_rank.arm.body import Body
    from curve_rank.practice.profile import usual_profile
    from curve_rank.practice.rooms import usual_room
    from curve_rank.training.planning import Planner

    if client is None:
        unit = read_settings(data=data).unit
        profile, room = usual_profile(unit), usual_room(unit)
        return Planner(profile, Body(), room, means.variants, means.modeller, means.draw)
    with store_in(data).reading() as db:
        return planner_for(db, shell_viewer(db), client, means)


@contextmanager
def trainee_in(client: int, data: Path | None, means: Means, day: date | None) -> Iterator[Trainee]:
    """A client who trains, as their pages have them, while the database is open.

    Raises
    ------
    UnknownNameError, UnavailableError
    """
    from curve_rank.answers.people import trainee

    with store_in(data).reading() as db:
        yield trainee(db, shell_viewer(db), client, means, day=day)


def modeller_for(data: Path | None) -> Modeller:
    """A modeller that finds draws made before, where there is a folder for them already."""
    from curve_rank.rating.modelling import Modeller
    from curve_rank.store.safe.shelf import Shelf

    settings = read_settings(data=data)
    there = settings.draws is not None or (settings.data / DATABASE).exists()
    return Modeller(shelf=Shelf(settings.shelf) if there else None)


def body_from(text: str | None) -> Body:
    from curve_rank.arm.body import Body

    if text is None:
        return Body()
    try:
        tall, heavy = text.split(",")
        bare = not any(character.isalpha() or character in "'\"′″" for character in tall)
        height = float(tall) if bare else cast(float, height_of(tall)) / CM_PER_M
        return Body(height=height, mass=mass_typed(heavy))
    except BadInputError:
        raise
    except ValueError as error:
        right = "height in metres and mass, as in 1.78,80 or 5ft10,176lb"
        raise BadInputError("--body", text, right) from error


def listed(text: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split(",") if part.strip())


def is_pipe(file: Path) -> bool:
    """Whether a file is named by the dash that stands for standard input or output."""
    return str(file) == "-"


def read_text(
    file: Path,
    field: str = "--file",
    right: str = f"a readable text file of at most {LARGEST_DOCUMENT} bytes",
    largest: int = LARGEST_DOCUMENT,
) -> str:
    """The text of a file, or of standard input for "-", a byte-order mark left out.

    Parameters
    ----------
    file : Path
        Which file.
    field : str
        What it was named by.
    right : str
        What would be one.
    largest : int
        How large it may be [bytes].

    Raises
    ------
    BadInputError
        For what is no file, as a device or a pipe by its name, is too large, or is not text.
    """
    try:
        if is_pipe(file):
            data = sys.stdin.buffer.read(largest + 1)
            if len(data) > largest:
                raise BadInputError(field, "standard input", right)
            return data.decode("utf-8-sig")
        if not file.is_file() or file.stat().st_size > largest:
            raise BadInputError(field, str(file), right)
        return file.read_text(encoding="utf-8-sig")
    except (OSError, ValueError) as error:
        raise BadInputError(field, str(file), f"{right} ({error})") from error


def write_file(file: Path, content: str | bytes, field: str = "--out") -> None:
    """Write a file that was asked for, or to standard output for "-"; text as UTF-8.

    What could be written in part only is not left there, unless something was there before.

    Raises
    ------
    BadInputError
        For what cannot be written to.
    OSError
        Where there is no room for it.
    """
    data = content.encode() if isinstance(content, str) else content
    if is_pipe(file):
        sys.stdout.flush()
        sys.stdout.buffer.write(data)
        sys.stdout.buffer.flush()
        return
    is_new = not file.exists()
    try:
        file.write_bytes(data)
    except BaseException as error:
        if is_new:
            file.unlink(missing_ok=True)
        if not isinstance(error, OSError) or error.errno in NO_ROOM:
            raise
        raise BadInputError(field, str(file), f"a file that can be written ({error})") from error


def say_written(file: Path, words: str, *, as_json: bool, **data: Any) -> None:
    """Say what was written: beside standard output where the file itself went there."""
    told = json.dumps({"file": str(file)} | data, ensure_ascii=False) if as_json else f"{file}: {words}"
    click.echo(told, err=is_pipe(file))


def say_progress(words: str, *, over: bool = False) -> None:
    """How far something is, over what was said before; only where somebody looks on."""
    if sys.stderr.isatty():
        click.echo(f"\r{words} ", nl=over, err=True)


def drawing_with(modeller: Modeller) -> Draw:
    """Finds fixed draws, or makes them here."""
    from curve_rank.rating.draws import fixed_draws

    return lambda variants, body, effort: fixed_draws(variants, body, effort, modeller)


def print_json(view: Any) -> None:
    """One JSON text on one line."""
    click.echo(json.dumps(view, ensure_ascii=False, allow_nan=False))


def print_rows(rows: Iterable[Any]) -> None:
    """JSON Lines: each row as it comes, for whoever reads along."""
    for row in rows:
        print_json(row)
