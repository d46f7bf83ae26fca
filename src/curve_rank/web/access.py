"""Who may call what: every route says so by the one decorator here; one that says nothing answers nobody."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from flask import Flask, current_app, request

from curve_rank.errors import NotAllowedError
from curve_rank.store import viewers
from curve_rank.web import current

View = TypeVar("View", bound=Callable[..., Any])

ANYONE = "anyone"
EDUCATOR, COACH, CLIENT, OWNER = *viewers.ROLES, viewers.OWNER
TEACHING, EVERYONE = viewers.TEACHING, viewers.ROLES
READING = ("GET", "HEAD", "OPTIONS")
_RULE = "access_rule"


class NotSignedInError(NotAllowedError):
    """Nobody is here, and the route is not for anyone."""


class ConsentNeededError(NotAllowedError):
    """A client who has not agreed to the statement of consent and scope."""


class PasswordNeededError(NotAllowedError):
    """Something for which the password is asked again."""


@dataclass(frozen=True)
class Rule:
    """The roles that may call a route; `ANYONE` among them lets in those who are nobody.

    `upload` is the largest request it takes [bytes], where that is more than what every route takes.
    `before_consent` opens it to a client who has not agreed to the statement of consent and scope yet.
    `confirmed` asks for the password again, where it was not typed within the last minutes.
    """

    roles: frozenset[str]
    upload: int = 0
    before_consent: bool = False
    confirmed: bool = False

    @property
    def public(self) -> bool:
        """Whether anyone may call it."""
        return ANYONE in self.roles

    def lets_in(self, roles: frozenset[str]) -> bool:
        """Whether somebody with some roles may call it."""
        return self.public or bool(self.roles & roles)


def allowed(
    *roles: str, upload: int = 0, before_consent: bool = False, confirmed: bool = False
) -> Callable[[View], View]:
    """Say which roles may call a route, and the rest of its `Rule`."""

    def mark(view: View) -> View:
        setattr(view, _RULE, Rule(frozenset(roles), upload, before_consent, confirmed))
        return view

    return mark


def rule_of(app: Flask, endpoint: str) -> Rule | None:
    """What a route says, or None when it says nothing."""
    return getattr(app.view_functions[endpoint], _RULE, None)


def may_enter(endpoint: str) -> bool:
    """Whether a link leads whoever is here anywhere; nobody yet may sign in on the way."""
    rule, viewer = rule_of(current_app, endpoint), current.viewer_or_none()
    return viewer is None or (rule is not None and rule.lets_in(viewer.roles))


def guard() -> None:
    """Before every request: let in whom the route is for.

    Raises
    ------
    NotSignedInError, NotAllowedError, ConsentNeededError, PasswordNeededError, WrongSecretError
    """
    if request.endpoint is None:
        return
    rule = rule_of(current_app, request.endpoint)
    if rule is not None and rule.public:
        return
    if rule is not None and rule.upload:
        request.max_content_length = request.max_form_memory_size = rule.upload
    viewer = current.viewer_or_none()
    if viewer is None:
        raise NotSignedInError("sign-in", None, "someone who is signed in")
    if rule is None or not rule.lets_in(viewer.roles):
        whom = " or ".join(sorted(rule.roles)) if rule else "nobody"
        raise NotAllowedError(request.path, ", ".join(sorted(viewer.roles)), f"{whom}: this is for them")
    if not (viewer.may_begin or rule.before_consent):
        raise ConsentNeededError("consent", None, "the statement of consent and scope, agreed to first")
    _check_token(rule)
    if rule.confirmed and not current.is_confirmed():
        raise PasswordNeededError("present password", None, "typed again: this opens or ends what is private")


def _check_token(rule: Rule) -> None:
    """What a script may not do, whoever its token is of.

    Raises
    ------
    NotAllowedError
    """
    scope = current.scope()
    if scope and rule.confirmed:
        raise NotAllowedError("token", scope, "a browser: the password is asked for here")
    if scope == "read" and request.method not in READING:
        raise NotAllowedError("token", scope, "one that may write")


def register(app: Flask) -> None:
    """Guard every request; static files are anyone's."""
    allowed(ANYONE)(app.view_functions["static"])
    app.before_request(guard)
