"""Headers on every response, the signing key, and the theme cookie."""

from __future__ import annotations

import secrets
from pathlib import Path
from urllib.parse import urlsplit

from flask import Flask, Request, Response, request
from flask_wtf import CSRFProtect
from werkzeug.middleware.proxy_fix import ProxyFix

from curve_rank.errors import CurveRankError, UnavailableError
from curve_rank.store.safe.private import private_folder, whole_file
from curve_rank.web import current

KEY_BYTES = 32
FOR_EVERYONE = ("static", "dressed", "scripted", "palette.show")
"""Endpoints that answer everyone alike, under addresses that name their version."""
UNCOUNTED = (*FOR_EVERYONE, "plain_static", "home.healthz", "home.readyz")
ROOM = "/r/"
"""Where the phones of a lecture's room ask, many of them from one address."""
YEAR = 365 * 24 * 3600
POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data:",
        "media-src blob:",  # a clip that never leaves the browser
        "font-src 'self'",
        "connect-src 'self'",
        "worker-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    )
)


class UntrustedHostError(CurveRankError):
    """A request under a name that this application does not go by."""


class Forgery(CSRFProtect):  # type: ignore[misc]  # the package has no types
    """Asks every form for its token; a script that bears its owner's is no browser to be led astray."""

    def protect(self, **how: bool) -> None:
        """Refuse what another site may have sent; nobody is asked who they are for what is anyone's."""
        if not (current.bearer() and current.scope()):
            super().protect(**how)


def register(app: Flask) -> None:
    """Refuse requests under other names and too many of them, and set headers on every answer."""
    if current.of(app).settings.proxies:
        believed = current.of(app).settings.proxies
        app.wsgi_app = ProxyFix(  # type: ignore[method-assign]
            app.wsgi_app, x_for=believed, x_proto=believed, x_host=believed, x_port=0, x_prefix=0
        )
    app.before_request(check_host)
    app.before_request(count_request)
    app.after_request(set_headers)


def count_request() -> None:
    """Before every request but those for files: there may not be too many of one person.

    Raises
    ------
    BusyError
    """
    if request.path.startswith(ROOM):
        current.desk().many.pass_by("")
    elif request.endpoint not in UNCOUNTED:
        current.desk().turnstile.pass_by(current.token())


def check_host() -> None:
    """Before every request: the name it came under must be one of the settings'.

    Raises
    ------
    UntrustedHostError
    """
    name = urlsplit(f"//{request.host}").hostname or ""
    settings = current.desk().settings
    if name not in settings.trusted_hosts:
        raise UntrustedHostError("host", name, settings.right_host)


def set_headers(response: Response) -> Response:
    """The content security policy and its companions."""
    response.headers.setdefault("Content-Security-Policy", POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "same-origin")
    response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
    response.headers.setdefault("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
    if current.desk().settings.https:
        response.headers.setdefault("Strict-Transport-Security", f"max-age={YEAR}")
    return response


def secret_key(folder: Path) -> bytes:
    """The key that signs sessions and forms; made once, readable by its owner alone.

    Raises
    ------
    UnavailableError
    """
    path = private_folder(folder) / "secret-key"
    key = whole_file(path, secrets.token_bytes(KEY_BYTES))
    if len(key) < KEY_BYTES:
        right = f"{KEY_BYTES} random bytes; remove the file and a new one is made at the next start"
        raise UnavailableError("signing key", f"{path}: {len(key)} bytes", right)
    return key


def chosen_theme(request: Request) -> str:
    """ "light", "dark", or "" to follow the device."""
    theme = request.cookies.get("theme", "")
    return theme if theme in ("light", "dark") else ""
