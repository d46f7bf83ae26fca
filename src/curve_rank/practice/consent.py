"""The statement of consent and scope: its wording, and what may not begin without a clinician."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from functools import cache, cached_property

from curve_rank.data_files import read_toml


@dataclass(frozen=True)
class Statement:
    """What a client is asked to agree to.

    Attributes
    ----------
    lead : str
    says : tuple of str
        Its sentences.
    minor, injured, cleared : str
        What a client says about age, injury, and a clinician's word.
    """

    lead: str
    says: tuple[str, ...]
    minor: str
    injured: str
    cleared: str

    @property
    def text(self) -> str:
        """All of it, as it is kept with the answer."""
        return "\n".join((self.lead, *self.says, self.minor, self.injured, self.cleared))

    @cached_property
    def digest(self) -> str:
        """Changes with every word."""
        return hashlib.sha256(self.text.encode()).hexdigest()


@dataclass(frozen=True)
class HouseStatement:
    """What somebody is asked whose log the house would learn from: asked apart, and never a condition.

    Attributes
    ----------
    lead : str
    says : tuple of str
    """

    lead: str
    says: tuple[str, ...]

    @property
    def text(self) -> str:
        """All of it, as it is kept with the answer."""
        return "\n".join((self.lead, *self.says))

    @cached_property
    def digest(self) -> str:
        """Changes with every word."""
        return hashlib.sha256(self.text.encode()).hexdigest()


@cache
def house_statement() -> HouseStatement:
    """The present wording."""
    table = read_toml("curve_rank.practice", "consent.toml")["house"]
    return HouseStatement(table["lead"], tuple(table["says"]))


@cache
def statement() -> Statement:
    """The present wording."""
    table = read_toml("curve_rank.practice", "consent.toml")
    return Statement(
        lead=table["lead"],
        says=tuple(table["says"]),
        minor=table["minor"],
        injured=table["injured"],
        cleared=table["cleared"],
    )


def may_begin(*, minor: bool, injured: bool, cleared: bool) -> bool:
    """Whether somebody may train by a plan: minors and people back from injury are cleared first."""
    return cleared or not (minor or injured)
