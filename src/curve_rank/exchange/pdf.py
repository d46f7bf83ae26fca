"""A page as PDF, made by WeasyPrint from HTML that needs nothing but the fonts shipped here."""

from __future__ import annotations

import logging
import re
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import cache
from io import BytesIO

from curve_rank.data_files import folder_of
from curve_rank.errors import BadInputError

FONTS = (
    # family, style, weights, file below the shipped fonts
    ("Brygada", "normal", "400 700", "fontsource-variable-brygada-1918/brygada.woff2"),
    ("Atkinson", "normal", "200 800", "fontsource-variable-atkinson-hyperlegible-next/atkinson.woff2"),
)
PAGE = re.compile(r"Page ([0-9]+)")
TAG = re.compile(r"(<[^>]*>)")
DIGITS = re.compile(r"&#?\w+;|[0-9]+")
NOT_TEXT = ("style", "title", "script")


def pdf(html: str, *, tell: Callable[[int], None] | None = None) -> bytes:
    """A PDF of an HTML page; nothing outside it but the fonts is read.

    Parameters
    ----------
    html : str
        With its styles inside.
    tell : callable, optional
        Told how many pages are laid out; may raise to stop.

    Raises
    ------
    BadInputError
        When the libraries that WeasyPrint draws with are not on this machine.
    """
    try:
        import weasyprint
        from weasyprint.text.fonts import FontConfiguration
    except OSError as error:
        right = "the libraries that `scripts/setup` installs for it (Pango and its companions)"
        raise BadInputError("PDF", str(error).splitlines()[0], right) from error
    configuration = FontConfiguration()
    faces = "".join(
        f"@font-face {{ font-family: {family}; font-style: {style}; font-weight: {weights};"
        f" src: url('shipped:{file}'); }}"
        for family, style, weights, file in FONTS
    )
    faces += ".digits { font-family: Brygada; }"
    nothing = weasyprint.URLFetcher(allowed_protocols=())

    class Shipped(weasyprint.URLFetcher):  # type: ignore[misc]
        def fetch(self, url: str, headers: object = None) -> weasyprint.urls.URLFetcherResponse:  # noqa: ARG002
            return weasyprint.urls.URLFetcherResponse(url, _unpacked(url.removeprefix("shipped:")))

    sheet = weasyprint.CSS(string=faces, font_config=configuration, url_fetcher=Shipped())
    page = weasyprint.HTML(string=with_plain_digits(html), url_fetcher=nothing)
    with _watched(tell):
        made: bytes = page.write_pdf(stylesheets=[sheet], font_config=configuration, pdf_tags=True)
    return made


@cache
def _unpacked(file: str) -> bytes:
    """A shipped font as it was before its compression: to unpack both took 0.1 s of every PDF.

    Raises
    ------
    KeyError
        When it is none of the shipped fonts.
    """
    from fontTools.ttLib import woff2  # type: ignore[import-untyped]

    if file not in {shipped for *_, shipped in FONTS}:
        raise KeyError(file)
    plain = BytesIO()
    with folder_of("curve_rank.web", "static/vendor").joinpath(file).open("rb") as packed:
        woff2.decompress(packed, plain)
    return plain.getvalue()


@contextmanager
def _watched(tell: Callable[[int], None] | None) -> Iterator[None]:
    """Hear of every page that WeasyPrint lays out in this thread, where somebody wants to."""
    if tell is None:
        yield
        return
    log = logging.getLogger("weasyprint.progress")
    handler = _Pages(tell)
    level = log.level
    log.setLevel(logging.INFO)
    log.addHandler(handler)
    try:
        yield
    finally:
        log.removeHandler(handler)
        log.setLevel(level)


class _Pages(logging.Handler):
    """Tells the number of the page that is being laid out; what is told may raise."""

    def __init__(self, tell: Callable[[int], None]) -> None:
        super().__init__()
        self._tell, self._thread = tell, threading.get_ident()

    def emit(self, record: logging.LogRecord) -> None:
        found = PAGE.search(record.getMessage())
        if found and threading.get_ident() == self._thread:
            self._tell(int(found[1]))


def with_plain_digits(html: str) -> str:
    """The same HTML with every digit of its text in Brygada: Atkinson's zero is slashed, as on no page here.

    WeasyPrint cannot mix two faces of one name by their characters, as a browser does.
    """
    inside: list[str] = []
    found = []
    for part in TAG.split(html):
        if part.startswith("<"):
            name = part.strip("</> ").partition(" ")[0].lower()
            if part.startswith("</"):
                if inside and inside[-1] == name:
                    inside.pop()
            elif name in (*NOT_TEXT, "text") and not part.endswith("/>"):
                inside.append(name)
        elif not any(name in NOT_TEXT for name in inside):
            tag, style = ("tspan", "font-family") if "text" in inside else ("span", "class")
            opened = f'<{tag} {style}="{"Brygada" if tag == "tspan" else "digits"}">'
            part = DIGITS.sub(lambda m: m[0] if m[0][0] == "&" else f"{opened}{m[0]}</{tag}>", part)  # noqa: B023
        found.append(part)
    return "".join(found)
