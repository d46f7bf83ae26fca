"""How what is asked is read, from an address, a form or a shell: typed, checked, and kept as it was typed."""

from __future__ import annotations

import math
from datetime import date
from typing import Annotated, Any, Protocol, Self, get_args, get_origin
from urllib.parse import parse_qsl

from pydantic import BaseModel, BeforeValidator, ConfigDict, ValidationError
from pydantic.fields import FieldInfo

from curve_rank.errors import BadInputError
from curve_rank.practice.units import height_of, mass_of
from curve_rank.validation import from_validation

MOST_FIELDS = 60
MOST_SETTINGS = 40
"""Changes to a set-up in one address."""
LONGEST_WHOLE = 10
"""Digits of a whole number that is typed; the database holds all of them."""


def _whole(value: Any) -> Any:
    if isinstance(value, str) and not (value.isascii() and value.isdigit() and len(value) <= LONGEST_WHOLE):
        raise ValueError("a whole number")
    return value


def number_of(value: Any) -> Any:
    if not isinstance(value, str):
        return value
    try:
        number = float(value.replace(",", "."))
    except ValueError:
        number = math.nan
    if not math.isfinite(number):
        raise ValueError("a number")
    return number


MASS = "mass"
"""What marks a field as one that holds a mass."""
TYPED_IN = "typed_in"
"""In which unit a form's masses are typed where none stands behind them; kilograms where it does not say."""


def _listed(values: Any) -> Any:
    return tuple(dict.fromkeys(v for v in values if v)) if isinstance(values, list | tuple) else values


Whole = Annotated[int, BeforeValidator(_whole)]
Number = Annotated[float, BeforeValidator(number_of)]
Mass = Annotated[float, BeforeValidator(mass_of), MASS]
Length = Annotated[float, BeforeValidator(height_of)]
Wholes = Annotated[tuple[Whole, ...], BeforeValidator(_listed)]
Names = Annotated[tuple[str, ...], BeforeValidator(_listed)]


class Values(Protocol):
    """Values by name, several of one name in their order: what an address or a form holds."""

    def get(self, key: str, default: str, /) -> str: ...
    def getlist(self, key: str, /) -> list[str]: ...


class Address:
    """The values of an address that nobody has sent: a page named in a shell.

    Parameters
    ----------
    query : str
        What stands behind the question mark.

    Raises
    ------
    BadInputError
        For more fields than an address holds.
    """

    def __init__(self, query: str) -> None:
        try:
            pairs = parse_qsl(query, keep_blank_values=True, max_num_fields=MOST_FIELDS)
        except ValueError as error:
            raise BadInputError("address", query, "a question's address") from error
        self._values: dict[str, list[str]] = {}
        for name, value in pairs:
            self._values.setdefault(name, []).append(value)

    def get(self, key: str, default: str, /) -> str:
        """The first value of a name."""
        return self._values.get(key, [default])[0]

    def getlist(self, key: str, /) -> list[str]:
        """All values of a name."""
        return self._values.get(key, [])


def _day(text: object) -> object:
    if not isinstance(text, str):
        return text
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise ValueError("a day, as in 2026-03-14") from error


Day = Annotated[date, BeforeValidator(_day)]


class RequestForm(BaseModel):
    """Values of one request. Fields left out or empty take their defaults; what is unknown is passed over."""

    model_config = ConfigDict(frozen=True, extra="ignore", validate_by_name=True, validate_by_alias=True)

    @classmethod
    def read(cls, values: Values) -> Self:
        """Read an address or a form.

        Raises
        ------
        BadInputError
            Naming the field, what stood there and what would be right.
        """
        data: dict[str, Any] = {}
        unit = values.get(TYPED_IN, "").strip()
        for name, field in cls.model_fields.items():
            key = field.alias or name
            if _takes_many(field.annotation):
                data[key] = [value.strip() for value in values.getlist(key)]
            elif text := values.get(key, "").strip():
                data[key] = f"{text} {unit}" if unit and _is_bare_mass(field, text) else text
        try:
            return cls.model_validate(data)
        except ValidationError as error:
            raise from_validation(error, "", cls) from error


def _is_bare_mass(field: FieldInfo, text: str) -> bool:
    """Whether a field holds a mass, and it is typed without a unit."""
    marks = (field.metadata, *(getattr(one, "__metadata__", ()) for one in get_args(field.annotation)))
    return any(MASS in some for some in marks) and not any(character.isalpha() for character in text)


def _takes_many(annotation: Any) -> bool:
    return get_origin(annotation) is tuple
