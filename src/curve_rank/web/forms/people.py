"""What the pages about people read: sign-in, accounts, invitations, consent."""

from __future__ import annotations

from typing import Annotated, Literal
from urllib.parse import urlsplit

from pydantic import BeforeValidator, Field

from curve_rank.answers.requests import Day, Names, RequestForm, Whole
from curve_rank.practice.units import Unit


def _here(path: object) -> object:
    """A path of this application; anything else leads to the first page."""
    text = str(path)
    parts = urlsplit(text)
    plain = text.startswith("/") and not text.startswith("//") and "\\" not in text and text.isprintable()
    return text if plain and not parts.scheme and not parts.netloc else "/"


Path = Annotated[str, BeforeValidator(_here)]
Password = Annotated[str, Field(max_length=400)]


class SignInForm(RequestForm):
    """Who wants to come in, and where to."""

    email: Annotated[str, Field(max_length=254)] = ""
    password: Password = ""
    back: Path = "/"


class PickForm(RequestForm):
    """Whom the demo is entered as."""

    person: Whole
    back: Path = "/"


class FirstForm(RequestForm):
    """The first educator, and the code that was printed."""

    code: Annotated[str, Field(max_length=40)] = ""
    name: str = ""
    email: Annotated[str, Field(max_length=254)] = ""
    password: Password = ""


class JoinForm(RequestForm):
    """Who comes by an invitation."""

    name: str = ""
    password: Password = ""


class NewPasswordForm(RequestForm):
    """The present password, where somebody is signed in, and a new one."""

    old: Password = ""
    password: Password = ""


class BackForm(RequestForm):
    """Where to go on."""

    back: Path = "/"


class AddressForm(RequestForm):
    """Another address to sign in with."""

    email: Annotated[str, Field(max_length=254)] = ""


class TokenForm(RequestForm):
    """What a script's token is called, and what it is good for."""

    name: str = ""
    scope: Literal["read", "write"] = "read"


class UnitForm(RequestForm):
    """The unit in which somebody reads loads."""

    mass_unit: Unit = "kg"


class RoleForm(RequestForm):
    """A role that is taken away."""

    role: str = ""


class InviteForm(RequestForm):
    """Who is invited, and as what."""

    name: str = ""
    email: Annotated[str, Field(max_length=254)] = ""
    roles: Names = Field(default=(), alias="role")


class ConsentForm(RequestForm):
    """What a client says before the first plan."""

    agree: Literal["", "yes"] = ""
    minor: Literal["", "yes"] = ""
    injured: Literal["", "yes"] = ""
    cleared_on: Day | None = None
