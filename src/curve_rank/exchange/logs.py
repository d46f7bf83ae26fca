"""Logs as CSV: columns chosen, exercises matched by name, rows that cannot be read told of; and out again."""

from __future__ import annotations

import hashlib
import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from difflib import get_close_matches
from typing import Any

from curve_rank.catalogue.schema import Variant
from curve_rank.errors import BadInputError
from curve_rank.exchange.tables import FORMULA, Table
from curve_rank.measure.columns import RowProblem, Sheet, number_in, read_sheet
from curve_rank.practice.units import kg_per
from curve_rank.rating.joints import joints
from curve_rank.training.log import LoggedSet, checked_set

TITLES = ("date", "variant", "side", "set", "load_kg", "reps", "reserve", "pain_joint", "pain", "note")
ALSO = ("kind", "gave_out", "soreness", "sharp", "guessed", "instead_of")
"""Columns of a file that was written here; they are read where all of them stand."""
OWN = (*ALSO, "as_planned", "done")
"""The same with those that older files lack."""
NEEDED = ("date", "variant", "load_kg", "reps")
WORDS: dict[str, tuple[str, ...]] = {
    "date": ("date", "day", "datum", "when"),
    "variant": ("variant", "exercise", "movement", "lift"),
    "side": ("side", "arm", "hand"),
    "set": ("set no", "set_no", "set number", "set"),
    "load_kg": ("load", "weight", "kg", "lb"),
    "reps": ("reps", "repetition", "rep"),
    "reserve": ("reserve", "left", "rir", "rpe"),
    "pain_joint": ("pain_joint", "joint", "where"),
    "pain": ("pain", "hurt"),
    "note": ("note", "comment", "remark"),
}
"""By which words in its title a column is known."""
ORDERS = ("ymd", "dmy", "mdy")
LARGEST = 10 * 1024 * 1024
"""The largest file [bytes]."""
MOST_ROWS = 100_000
DATE = re.compile(r"\s*(\d{1,4})[-./ ](\d{1,2})[-./ ](\d{1,4})(?:[T ].*)?")
SIDES = {"": "", "l": "left", "left": "left", "r": "right", "right": "right", "both": ""}
BOUNDS = {"set": (1, 60), "reps": (0, 200), "reserve": (0, 20), "pain": (0, 10)}


@dataclass(frozen=True)
class LogChoice:
    """How a file is read.

    Attributes
    ----------
    columns : mapping
        Per name of `TITLES` the title of its column; what is left out is not there.
    load_unit : str
        "kg" or "lb".
    order : str
        Of a date's parts, of `ORDERS`.
    reserve_as : str
        "left" for repetitions left; "of_ten" for effort of ten, of which what is missing is left.
    names : mapping
        Which variant an exercise of the file is, where its own name does not say.
    """

    columns: Mapping[str, str]
    load_unit: str = "kg"
    order: str = "ymd"
    reserve_as: str = "left"
    names: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class LogPreview:
    """What would be kept, and what cannot be.

    Attributes
    ----------
    sets : tuple of LoggedSet
    problems : tuple of RowProblem
    unknown : dict
        Per exercise whose name says nothing, the nearest variants' ids.
    matched : dict
        Per exercise of the file, the variant it is.
    unsure_dates : bool
        Whether days and months could be either.
    doubles : tuple of int
        Rows that say the same set, with its number, as one before them: they are kept once.
    unit : str
        In which loads were read.
    """

    sets: tuple[LoggedSet, ...]
    problems: tuple[RowProblem, ...]
    unknown: Mapping[str, tuple[str, ...]]
    matched: Mapping[str, str]
    unsure_dates: bool
    doubles: tuple[int, ...] = ()
    unit: str = "kg"


def sheet_of(text: str) -> Sheet:
    """The rows of a log.

    Raises
    ------
    BadInputError
    """
    return read_sheet(text, fewest=1, most=MOST_ROWS)


def guess(sheet: Sheet) -> LogChoice:
    """How a file is probably meant: its columns by their titles, the order of its dates by the dates."""
    found: dict[str, str] = {}
    for name, words in WORDS.items():
        taken = set(found.values())
        titles = [title for title in sheet.titles if title not in taken]
        exact = next((title for title in titles if title.strip().lower() == name), "")
        near = next((title for word in words for title in titles if word in title.lower()), "")
        if exact or near:
            found[name] = exact or near
    load, reserve = (found.get(name, "").lower() for name in ("load_kg", "reserve"))
    cells = _cells(sheet, found["date"]) if "date" in found else []
    return LogChoice(
        found,
        "lb" if "lb" in load or "pound" in load else "kg",
        _order(cells),
        "of_ten" if "rpe" in reserve else "left",
    )


def preview(sheet: Sheet, choice: LogChoice, variants: Sequence[Variant]) -> LogPreview:
    """Read every row; what cannot be read is told of, row by row.

    Raises
    ------
    BadInputError
        For columns that there are not, or that are needed.
    """
    for name in NEEDED:
        if not choice.columns.get(name):
            raise BadInputError("columns", f"no {name}", f"a column for each of {', '.join(NEEDED)}")
    at = {name: sheet.column(title) for name, title in choice.columns.items() if title and name in TITLES}
    if set(ALSO) <= set(sheet.titles):
        at |= {title: sheet.column(title) for title in OWN if title in sheet.titles}
    names = _names(variants)
    matched, unknown = _match(_cells(sheet, choice.columns["variant"]), names, choice.names)
    sets, problems, doubles = [], [], []
    counts: Counter[tuple[Any, ...]] = Counter()
    repeats: Counter[str] = Counter()
    for n, row in enumerate(sheet.rows, 2):
        told = {name: _cell(row, place) for name, place in at.items()}
        try:
            values = _values(told, choice, matched, unknown, comma=sheet.comma)
            numbered = "set" in values
            if not numbered:
                seen = (values["day"], values["variant"], values["side"])
                counts[seen] += 1
                values["set"] = min(counts[seen], BOUNDS["set"][1])
            one = checked_set(values | {"key": _key(values, repeats)})
            if numbered and not one.key.endswith("-1"):
                doubles.append(n)
            else:
                sets.append(one)
        except BadInputError as error:
            title = choice.columns.get(error.field, error.field)
            problems.append(RowProblem(n, title, str(error.value), error.expected))
    dates = _cells(sheet, choice.columns["date"])
    unsure = _unsure(dates)
    return LogPreview(
        tuple(sets), tuple(problems), unknown, matched, unsure, tuple(doubles), choice.load_unit
    )


def log_table(log: Iterable[LoggedSet]) -> Table:
    """A log as a table that is read back as the same log."""
    rows = [
        (
            one.day.isoformat(), one.variant, one.side, one.set, one.load_kg, one.reps,
            "" if one.reserve is None else one.reserve, one.pain_joint, one.pain, one.note,
            *(int(v) if isinstance(v := getattr(one, name), bool) else v for name in OWN),
        )
        for one in log
    ]  # fmt: skip
    return Table((*TITLES, *OWN), tuple(rows))


def log_json(log: Iterable[LoggedSet]) -> list[dict[str, Any]]:
    """A log as plain data."""
    return [one.model_dump(mode="json") for one in log]


def _cell(row: tuple[str, ...], place: int) -> str:
    text = row[place].strip() if place < len(row) else ""
    # What was marked as text so that no spreadsheet takes it for a formula is that text.
    return text[1:] if text.startswith("'") and text[1:2] in FORMULA else text


def _cells(sheet: Sheet, title: str) -> list[str]:
    place = sheet.column(title)
    return [_cell(row, place) for row in sheet.rows]


def _values(
    told: Mapping[str, str],
    choice: LogChoice,
    matched: Mapping[str, str],
    unknown: Mapping[str, tuple[str, ...]],
    *,
    comma: bool,
) -> dict[str, Any]:
    name = told["variant"]
    if name not in matched:
        near = unknown.get(name, ())
        right = (
            f"an exercise that is known; near it: {', '.join(near)}" if near else "an exercise that is known"
        )
        raise BadInputError("variant", name, right)
    side = told.get("side", "").lower()
    if side not in SIDES:
        raise BadInputError("side", side, "left, right or nothing")
    load = number_in(told["load_kg"], comma=comma)
    if load is None:
        raise BadInputError("load_kg", told["load_kg"], "a number")
    values: dict[str, Any] = {
        "day": _day(told["date"], choice.order),
        "variant": matched[name],
        "side": SIDES[side],
        "load_kg": round(load * kg_per(choice.load_unit), 3),
        "note": told.get("note", "")[:300],
    }
    for field_name in BOUNDS:
        text = told.get(field_name, "")
        if text:
            values[field_name] = _whole(field_name, text, choice, comma=comma)
    if "reps" not in values:
        raise BadInputError("reps", told["reps"], "a whole number")
    values |= _pain(told.get("pain_joint", ""), values.get("pain", 0))
    values |= {name: told[name] for name in OWN if told.get(name)}
    return values


def _pain(where: str, pain: int) -> dict[str, Any]:
    if not where and not pain:
        return {"pain_joint": "", "pain": 0}
    lower = where.lower().replace(" ", "_")
    found = next(
        (k for k, joint in joints().items() if lower in (k, joint.name.lower().replace(" ", "_"))), ""
    )
    if not found:
        raise BadInputError("pain_joint", where, f"one of {', '.join(joints())}")
    return {"pain_joint": found, "pain": pain}


def _whole(name: str, text: str, choice: LogChoice, *, comma: bool) -> int:
    number = number_in(text, comma=comma)
    low, high = BOUNDS[name]
    if name == "reserve" and choice.reserve_as == "of_ten" and number is not None:
        number = 10 - number
        number = float(int(number))  # a half is not a whole repetition left
    if number is None or number != int(number) or not low <= number <= high:
        raise BadInputError(name, text, f"a whole number from {low} to {high}")
    return int(number)


def _day(text: str, order: str) -> date:
    found = DATE.fullmatch(text)
    right = f"a date, {' '.join({'y': 'year', 'm': 'month', 'd': 'day'}[part] for part in order)}"
    if not found:
        raise BadInputError("date", text, right)
    parts = dict(zip("ymd" if len(found[1]) == 4 else order, map(int, found.groups()), strict=True))
    year = parts["y"] + (2000 if parts["y"] < 100 else 0)
    try:
        day = date(year, parts["m"], parts["d"])
    except ValueError as error:
        raise BadInputError("date", text, right) from error
    if not date(1950, 1, 1) <= day <= date(2100, 1, 1):
        raise BadInputError("date", text, f"{right}, between 1950 and 2100")
    return day


def _dates(cells: Iterable[str]) -> list[tuple[str, ...]]:
    """The parts of what can be read as dates."""
    return [found.groups() for cell in cells if (found := DATE.fullmatch(cell))]


def _order(cells: Iterable[str]) -> str:
    """The order of dates, by those that can be read one way only; day before month where none tells."""
    rows = _dates(cells)
    if not rows or len(rows[0][0]) == 4:
        return "ymd"
    return "mdy" if any(int(row[1]) > 12 for row in rows) else "dmy"


def _unsure(cells: Iterable[str]) -> bool:
    rows = _dates(cells)
    told = any(len(row[0]) == 4 or int(row[0]) > 12 or int(row[1]) > 12 for row in rows)
    return bool(rows) and not told


def _names(variants: Sequence[Variant]) -> dict[str, str]:
    """Every name of every variant, in plain letters, with its id; a name of two is nobody's."""
    found: dict[str, set[str]] = {}
    for variant in variants:
        for name in (variant.id, variant.name, *variant.aliases, *variant.also_called):
            found.setdefault(_bare(name), set()).add(variant.id)
    return {name: next(iter(ids)) for name, ids in found.items() if len(ids) == 1}


def _bare(name: str) -> str:
    return " ".join(re.sub(r"[^a-z0-9]+", " ", name.lower()).split())


def _match(
    cells: Iterable[str], names: Mapping[str, str], chosen: Mapping[str, str]
) -> tuple[dict[str, str], dict[str, tuple[str, ...]]]:
    matched, unknown = {}, {}
    ids = set(names.values())
    for cell in dict.fromkeys(cells):
        own = chosen.get(cell, "")
        if own in ids:
            matched[cell] = own
        elif own:
            raise BadInputError("variant", own, "an exercise that is known")
        elif _bare(cell) in names:
            matched[cell] = names[_bare(cell)]
        else:
            unknown[cell] = suggestions(cell, names)
    return matched, unknown


def suggestions(name: str, names: Mapping[str, str], most: int = 4) -> tuple[str, ...]:
    """Ids of variants whose names come nearest: by the words they share, then by their letters."""
    words = set(_bare(name).split())
    shared = {
        known: len(words & set(known.split())) / max(len(words | set(known.split())), 1) for known in names
    }
    by_words = sorted((known for known in names if shared[known] > 0), key=lambda known: -shared[known])
    by_letters = get_close_matches(_bare(name), list(names), n=most, cutoff=0.6)
    return tuple(dict.fromkeys(names[known] for known in (*by_words[:most], *by_letters)))[:most]


def _key(values: Mapping[str, Any], repeats: Counter[str]) -> str:
    """The same row has the same key, so that a file read twice is kept once."""
    parts = [str(values.get(name, "")) for name in ("day", "variant", "side", "set", "load_kg", "reps")]
    digest = hashlib.sha256("|".join(parts).encode()).hexdigest()[:24]
    repeats[digest] += 1
    return f"csv-{digest}-{repeats[digest]}"
