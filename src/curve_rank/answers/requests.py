"""How what is asked is read, from an address, a form or a shell: typed, checked, and kept as it was typed."""

from __future__ import annotations

import math
from typing import Annotated, Any, Protocol, Self, get_origin

from pydantic import BaseModel, BeforeValidator, ConfigDict, ValidationError

from curve_rank.validation import from_validation

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


def _listed(values: Any) -> Any:
    return tuple(dict.fromkeys(v for v in values if v)) if isinstance(values, list | tuple) else values


Whole = Annotated[int, BeforeValidator(_whole)]
Number = Annotated[float, BeforeValidator(number_of)]
Wholes = Annotated[tuple[Whole, ...], BeforeValidator(_listed)]
Names = Annotated[tuple[str, ...], BeforeValidator(_listed)]


class Values(Protocol):
    """Values by name, several of one name in their order: what an address or a form holds."""

    def get(self, key: str, default: str, /) -> str: ...
    def getlist(self, key: str, /) -> list[str]: ...


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
        for name, field in cls.model_fields.items():
            key = field.alias or name
            if _takes_many(field.annotation):
                data[key] = [value.strip() for value in values.getlist(key)]
            elif text := values.get(key, "").strip():
                data[key] = text
        try:
            return cls.model_validate(data)
        except ValidationError as error:
            raise from_validation(error, "", cls) from error


def _takes_many(annotation: Any) -> bool:
    return get_origin(annotation) is tuple
