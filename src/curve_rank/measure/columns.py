"""Columns of a measurement as text: which is which, in which units, and what is wrong in which row."""

from __future__ import annotations

import csv
import io
import math
import re
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.parameters import parameter_set
from curve_rank.errors import BadInputError

MOST_ROWS, MOST_COLUMNS, FEWEST_ROWS = 200_000, 64, 8
DELIMITERS = ";\t,|"
NUMBER = re.compile(r"[-+−]?(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?")
UNITS: dict[str, dict[str, float]] = {
    "angle": {"deg": 1.0, "rad": 180 / math.pi},
    "torque": {"N·m": 1.0, "kgf·m": 9.80665, "lbf·ft": 1.3558179},
    "force": {"N": 1.0, "kg": 9.80665, "lbf": 4.4482216},
    "lever": {"m": 1.0, "cm": 0.01, "mm": 0.001, "in": 0.0254},
}
"""Per quantity the units it may be in, and how much of its own unit (°, N·m, N, m) one of them is."""
DEGREES = "deg|grad|stopni|stupn|aste|°"
WORDS = {
    "angle": (
        "angle|angolo|angulo|winkel|hoek|vinkel|kulma|uhel|szog|\\bkat\\b|угол|кут|角",
        "elbow|ellenbogen|coude|codo|gomito|elleboog|armbag|lokiec|cotovelo|theta",
        f"{DEGREES}|\\brad",
    ),
    "torque": ("torque|moment|couple|coppia|koppel|\\bpar\\b|momentti|момент", "n ?[·.*]? ?m\\b"),
    "force": (
        "force|forza|fuerza|forca|kraft|kracht|voima|\\bsila\\b|сила",
        "load|\\blast\\b|carga|carico|charge|cell|newton|\\[n]|\\(n\\)|\\bkg\\b|lbf",
    ),
    "lever": (
        "lever|levier|hebel|leva\\b|palanca|hefboom|havarm|havstang|bras de|braccio|brazo",
        "distance|abstand|distanz|radius|\\barm\\b",
    ),
}
"""Words that name a quantity in a title, in several languages without accents; what is sure comes first."""
RADIANS = re.compile(r"\brad(ian\w*|\.)?(?![a-z])")
MOST_RADIANS = 3.3
"""No elbow bends further [rad]: an angle without a unit that stays below is in radians."""
UNIT_WORDS = {
    "torque": {"lbf": "lbf·ft", "ft": "lbf·ft", "kgf": "kgf·m", "kg": "kgf·m"},
    "force": {"lb": "lbf", "kg": "kg"},
    "lever": {"mm": "mm", "cm": "cm", "[in]": "in", "inch": "in"},
}


BEYOND = "an elbow angle from"
DOUBT = "most rows of “{}” lie beyond what an elbow does: is it in {}, and is a straight elbow 0 and not 180?"


@dataclass(frozen=True)
class Sheet:
    """A table as it stands in a file: titles, rows of text, and whether numbers have a decimal comma."""

    titles: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    comma: bool

    def column(self, title: str) -> int:
        """The place of a column by its title, or by its number counted from 1.

        Raises
        ------
        BadInputError
        """
        if title in self.titles:
            return self.titles.index(title)
        if title.isascii() and title.isdigit() and 1 <= int(title) <= len(self.titles):
            return int(title) - 1
        raise BadInputError("column", title, "one of: " + ", ".join(self.titles))


@dataclass(frozen=True)
class ColumnChoice:
    """Which column is which, and its unit: torque, or force with a lever, a column or one number."""

    angle: str
    angle_unit: str = "deg"
    torque: str = ""
    torque_unit: str = "N·m"
    force: str = ""
    force_unit: str = "N"
    lever: str = ""
    lever_unit: str = "m"


@dataclass(frozen=True)
class RowProblem:
    """What is wrong in one row, counted as a reader of the file counts, titles included."""

    row: int
    column: str
    value: str
    right: str


@dataclass(frozen=True)
class Samples:
    """Angles [degrees] and torques [N·m] of the good rows, and what is wrong with the others.

    `doubt` is what may be wrong with the column itself, where most of its rows would be.
    """

    angle: Array
    torque: Array
    problems: tuple[RowProblem, ...]
    doubt: str = ""


def read_sheet(text: str, fewest: int = FEWEST_ROWS, most: int = MOST_ROWS) -> Sheet:
    """A table from text of so many rows: the delimiter, the titles and the decimal sign are found.

    Raises
    ------
    BadInputError
        When there is no table of numbers in it.
    """
    if "\x00" in text:
        raise BadInputError("file", "NUL bytes", "text with a row for each sample")
    first = next((line for line in text.splitlines() if line.strip()), "")
    counts = {mark: first.count(mark) for mark in DELIMITERS}
    delimiter = max(DELIMITERS, key=lambda mark: counts[mark])
    if not counts[delimiter]:
        raise BadInputError("file", first[:40], "columns with , ; | or a tab between them")
    found: list[tuple[str, ...]] = []
    try:
        for row in csv.reader(io.StringIO(text), delimiter=delimiter):
            if any(cell.strip() for cell in row):
                found.append(tuple(cell.strip() for cell in row))
            if len(found) > most:
                raise BadInputError("file", f"over {most} rows", f"at most {most}")
    except csv.Error as error:
        raise BadInputError("file", "unreadable", f"rows of columns ({error})") from error
    width = len(found[0])
    if width > MOST_COLUMNS:
        raise BadInputError("file", f"{width} columns", f"at most {MOST_COLUMNS}")
    titled = not any(NUMBER.fullmatch(cell) for cell in found[0])
    titles = found[0] if titled else tuple(f"column {n}" for n in range(1, width + 1))
    rows = tuple(found[titled:])
    if len(rows) < fewest:
        raise BadInputError("file", f"{len(rows)} rows", f"at least {fewest}")
    cells = [cell for row in rows[:200] for cell in row if NUMBER.fullmatch(cell)]
    comma = delimiter != "," and sum("," in cell for cell in cells) > sum("." in cell for cell in cells)
    return Sheet(titles, rows, comma)


def with_cells(sheet: Sheet, cells: Mapping[tuple[int, int], str]) -> Sheet:
    """A sheet with some cells written anew: by row as a reader counts, and by column from 0."""
    rows = list(sheet.rows)
    for (row, column), text in cells.items():
        if not (2 <= row < len(rows) + 2 and 0 <= column < len(sheet.titles)):
            raise BadInputError("row", f"{row}, column {column + 1}", "a cell of the file")
        mended = [*rows[row - 2], *[""] * len(sheet.titles)][: len(sheet.titles)]
        mended[column] = text.strip()
        rows[row - 2] = tuple(mended)
    return replace(sheet, rows=tuple(rows))


def sheet_text(sheet: Sheet) -> str:
    """A sheet as text that is read as the same sheet."""
    out = io.StringIO()
    csv.writer(out, delimiter=";", lineterminator="\n").writerows((sheet.titles, *sheet.rows))
    return out.getvalue()


def guess(sheet: Sheet) -> ColumnChoice:
    """Which columns are what, by their titles; else the first is the angle and the second the torque."""
    named = {what: _named(sheet.titles, what) for what in WORDS}
    angle = named["angle"] or sheet.titles[0]
    torque, force, lever = named["torque"], named["force"], named["lever"]
    if torque or not force:
        others = [title for title in sheet.titles if title != angle]
        torque = torque or (others[0] if others else "")
        return ColumnChoice(angle, _angle_unit(sheet, angle), torque, _unit(torque, "torque"))
    return ColumnChoice(
        angle,
        _angle_unit(sheet, angle),
        force=force,
        force_unit=_unit(force, "force"),
        lever=lever,
        lever_unit=_unit(lever, "lever"),
    )


def samples(sheet: Sheet, choice: ColumnChoice) -> Samples:
    """Angles and torques row by row; what is no number, or beyond what an elbow does, is told of.

    Parameters
    ----------
    sheet : Sheet
        The columns as they were read.
    choice : ColumnChoice
        Which column is what, in which unit.

    Raises
    ------
    BadInputError
        For columns or units that there are not.
    """
    wanted = {"angle": choice.angle} | (
        {"torque": choice.torque} if choice.torque else {"force": choice.force, "lever": choice.lever}
    )
    if not choice.torque and not (choice.force and choice.lever):
        given = choice.force or choice.lever or "no torque"
        raise BadInputError("columns", given, "a torque, or a force and its lever")
    factors = {what: _factor(what, getattr(choice, f"{what}_unit")) for what in wanted}
    constant = number_in(choice.lever, comma=sheet.comma) if "lever" in wanted else None
    places = {
        what: sheet.column(title) for what, title in wanted.items() if not (what == "lever" and constant)
    }
    low, high = parameter_set().row_of("ranges.elbow")
    angles, torques, problems = [], [], []
    for n, row in enumerate(sheet.rows, 2):
        read = {}
        for what, place in places.items():
            cell = row[place] if place < len(row) else ""
            value = number_in(cell, comma=sheet.comma)
            if value is None:
                problems.append(RowProblem(n, sheet.titles[place], cell, "a number"))
                break
            read[what] = value * factors[what]
        else:
            if not low <= read["angle"] <= high:
                right = f"{BEYOND} {low:g} to {high:g}°"
                problems.append(RowProblem(n, choice.angle, f"{read['angle']:g}°", right))
                continue
            lever = constant * factors["lever"] if constant else read.get("lever", 1.0)
            angles.append(read["angle"])
            torques.append(read["torque"] if "torque" in read else read["force"] * lever)
    beyond = sum(problem.right.startswith(BEYOND) for problem in problems)
    doubt = DOUBT.format(choice.angle, choice.angle_unit) if 2 * beyond > len(sheet.rows) else ""
    return Samples(np.array(angles), np.array(torques), tuple(problems), doubt)


def _named(titles: Sequence[str], what: str) -> str:
    plain = {title: _plain(title) for title in titles}
    return next((t for words in WORDS[what] for t in titles if re.search(words, plain[t])), "")


def _plain(title: str) -> str:
    """A title in small letters without accents."""
    parts = unicodedata.normalize("NFKD", title.casefold())
    return "".join(letter for letter in parts if not unicodedata.combining(letter))


def _angle_unit(sheet: Sheet, title: str) -> str:
    """Radians where the title says so and the values can be; degrees in any language, and what has no unit.

    An angle whose title has no unit is in radians where no value is beyond what an elbow bends in them.
    """
    place = sheet.column(title)
    cells = (number_in(row[place], comma=sheet.comma) for row in sheet.rows if place < len(row))
    found = [abs(value) for value in cells if value is not None]
    can_be = bool(found) and max(found) <= MOST_RADIANS
    plain = _plain(title)
    says_degrees = re.search(DEGREES, plain) is not None
    return "rad" if can_be and (RADIANS.search(plain) or not says_degrees) else "deg"


def _unit(title: str, what: str) -> str:
    lower = title.lower()
    found = next((unit for word, unit in UNIT_WORDS[what].items() if word in lower), "")
    return found or next(iter(UNITS[what]))


def _factor(what: str, unit: str) -> float:
    if unit not in UNITS[what]:
        raise BadInputError(f"{what} unit", unit, "one of: " + ", ".join(UNITS[what]))
    return UNITS[what][unit]


def number_in(cell: str, *, comma: bool) -> float | None:
    """A number as the sheet writes it; None where it is none, or not finite."""
    if not NUMBER.fullmatch(cell):
        return None
    text = cell.replace("−", "-")
    text = text.replace(",", ".") if comma else text
    try:
        value = float(text)
    except ValueError:
        return None
    return value if math.isfinite(value) else None
