"""A part of a page, for a script that puts it in its place."""

from __future__ import annotations

from flask import Response, after_this_request, request

PART = "X-Part"


def asks_for(part: str) -> bool:
    """Whether only this part is asked for; the answer is kept apart from the whole page's."""
    after_this_request(_varied)
    return request.headers.get(PART) == part


def _varied(response: Response) -> Response:
    response.vary.add(PART)
    return response
