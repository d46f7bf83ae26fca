"""Headers on every response, the signing key, and the theme cookie."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

from flask import Request, Response

POLICY = "; ".join(
    (
        "default-src 'none'",
        "script-src 'self'",
        "style-src 'self'",
        "img-src 'self' data:",
        "font-src 'self'",
        "connect-src 'self'",
        "form-action 'self'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
    )
)


def set_headers(response: Response) -> Response:
    """The content security policy and its companions."""
    response.headers.setdefault("Content-Security-Policy", POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "same-origin")
    response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
    response.headers.setdefault("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
    return response


def secret_key(folder: Path) -> bytes:
    """The key that signs sessions and forms; made once, readable by its owner alone."""
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / "secret-key"
    try:
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        return path.read_bytes()
    key = secrets.token_bytes(32)
    with os.fdopen(descriptor, "wb") as out:
        out.write(key)
    return key


def chosen_theme(request: Request) -> str:
    """ "light", "dark", or "" to follow the device."""
    theme = request.cookies.get("theme", "")
    return theme if theme in ("light", "dark") else ""
