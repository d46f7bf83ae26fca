"""A leaflet: what of an answer leaves the house, and the files and pages it is written as.

Whatever it is written as says the same: the question in full, how much of the answer stands there, what must
be read with it, cautions, what was left out and why, by which edition it was made, and the way back.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any, Literal

from markupsafe import Markup, escape

from curve_rank.errors import UnknownNameError
from curve_rank.exchange.images import as_png
from curve_rank.exchange.paper import code_for, on_paper
from curve_rank.exchange.pdf import pdf
from curve_rank.exchange.tables import Table, table_in, to_csv, to_markdown
from curve_rank.figures.palette import palette
from curve_rank.figures.shapes import Picture
from curve_rank.figures.svg import ByColour, svg
from curve_rank.practice.units import masses_in

Ending = Literal["pdf", "csv", "md", "json", "svg", "png"]
Paper = Literal["light", "dark", "clear"]
Size = Literal["slide", "print", "preview"]
SIZES: dict[Size, tuple[int, int]] = {"slide": (1920, 1080), "print": (2480, 1748), "preview": (1200, 630)}
"""Of a picture [px]: a slide of 16:9; half a sheet of A4 at 300 dots an inch; what stands beside a link."""
SLIDE_CAUTIONS = 2
"""So many cautions stand on a slide in full."""
NAMES = re.compile(r"[^a-z0-9]+")


@dataclass(frozen=True)
class Leaflet:
    """One answer as it leaves the house.

    Attributes
    ----------
    kind, title : str
    asks : str
        The question in full.
    holds : str
        How much of the answer stands here.
    told : tuple of str
        What must be read with it.
    cautions, left_out : tuple of str
    table : Table
        The numbers, rounded as pages print them.
    pictures : dict
        By name, the one that stands for all first.
    data : dict or list
        All of it, for programs.
    made : str
        When, and by which edition of the model.
    shown : dict
        What its page is made of beside this.
    unit : str
        In which its masses are read, "kg" or "lb"; its data stay in kilograms, as their keys say.
    """

    kind: str
    title: str
    asks: str
    holds: str
    told: tuple[str, ...]
    cautions: tuple[str, ...]
    left_out: tuple[str, ...]
    table: Table
    pictures: dict[str, Picture]
    data: Any
    made: str
    shown: dict[str, Any] = field(default_factory=dict)
    unit: str = "kg"

    @property
    def file(self) -> str:
        """The name of its files, without an ending."""
        return NAMES.sub("-", self.title.lower()).strip("-")[:60].strip("-") or self.kind

    def said(self, link: str = "") -> tuple[tuple[str, str], ...]:
        """Everything that stands beside the numbers, each with its name, in the order of reading."""
        lines = [("Question", self.asks), ("Holds", self.holds)]
        lines += [("To be read with it", text) for text in self.told]
        lines += [("Take care", text) for text in self.cautions]
        lines += [("Left out", text) for text in self.left_out]
        lines += [("Made", self.made), ("Back", link)]
        return tuple((name, " ".join(text.split())) for name, text in lines if text)


def read_in(one: Leaflet, unit: str) -> Leaflet:
    """A leaflet as somebody reads masses; its title is a person's own words."""

    def read(texts: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(masses_in(text, unit) for text in texts)

    return replace(
        one,
        asks=masses_in(one.asks, unit),
        holds=masses_in(one.holds, unit),
        told=read(one.told),
        cautions=read(one.cautions),
        left_out=read(one.left_out),
        table=table_in(one.table, unit),
        unit=unit,
    )


def made_words(when: datetime, model: str, parameters: str) -> str:
    """When something was made, and by which edition of the model and its numbers."""
    return (
        f"Made with Curve Rank on {when:%-d %B %Y}, edition {model[:8]} of the model and {parameters[:8]}"
        " of its numbers."
    )


def as_csv(one: Leaflet, link: str = "") -> str:
    """Its numbers as a table, below lines that begin with # and say what they are."""
    said = "".join(f"# {name}: {text}\n" for name, text in ((one.kind, one.title), *one.said(link)))
    return said + to_csv(one.table)


def as_markdown(one: Leaflet, link: str = "") -> str:
    """Its numbers as a table, with headings around it."""

    def listed(heading: str, lines: tuple[str, ...]) -> str:
        return f"\n## {heading}\n\n" + "".join(f"- {line}\n" for line in lines) if lines else ""

    told = "".join(f"\n{text}\n" for text in (one.asks, *one.told, one.holds) if text)
    return (
        f"# {one.title}\n{told}\n{to_markdown(one.table)}{listed('Take care', one.cautions)}"
        f"{listed('Left out', one.left_out)}\n{one.made}\n{link}\n"
    )


def as_json(one: Leaflet, link: str = "") -> str:
    """All of it, and what it is."""
    about = {
        "kind": one.kind,
        "title": one.title,
        "question": one.asks,
        "holds": one.holds,
        "read_with": one.told,
        "cautions": one.cautions,
        "left_out": one.left_out,
        "made": one.made,
        "link": link,
    }
    return json.dumps({"about": about, "answer": one.data}, ensure_ascii=False, indent=1)


def as_page(one: Leaflet) -> str:
    """The body of its page, which needs nothing but a style sheet."""
    return on_paper(f"publish/{one.kind}", leaflet=one, title=one.title, mass_unit=one.unit, **one.shown)


def as_pdf(one: Leaflet, link: str, *, body: str | None = None, paper: str = "A4") -> bytes:
    """Its page on paper, with the link and, where others can follow it, its code."""
    html = on_paper(
        "print/published",
        title=one.title,
        body=Markup(as_page(one) if body is None else body),
        link=link,
        code=code_for(link),
        paper=paper,
    )
    return pdf(html)


def as_svg(one: Leaflet, name: str, paper: Paper = "light", link: str = "") -> str:
    """One of its pictures, which tells whoever opens it what it shows."""
    drawn = masses_in(svg(one.pictures[name], ByColour("dark" if paper == "dark" else "light")), one.unit)
    told = escape(" ".join(f"{head}: {text}" for head, text in one.said(link)))
    start = drawn.index(">") + 1
    return f"{drawn[:start]}<title>{escape(one.title)}</title><desc>{told}</desc>{drawn[start:]}"


def as_slide(one: Leaflet, name: str, paper: Paper = "light", size: Size = "slide", link: str = "") -> bytes:
    """One of its pictures under its title and question, as PNG; `clear` is for light slides of one's own."""
    theme: Literal["light", "dark"] = "dark" if paper == "dark" else "light"
    width, height = SIZES[size]
    html = on_paper(
        "print/slide",
        title=one.title,
        asks=one.asks,
        told=one.told[:1] if size != "preview" else (),
        cautions=_few(one.cautions) if size != "preview" else (),
        made=one.made,
        link=link,
        # the writer escapes whatever stands in it
        picture=Markup(masses_in(svg(one.pictures[name], ByColour(theme)), one.unit)),
        width=width,
        height=height,
        unit=min(width / 1920, height / 1080),
        ground="transparent" if paper == "clear" else palette().colour("paper", theme),
        ink=palette().colour("ink", theme),
        soft=palette().colour("ink-soft", theme),
    )
    return as_png(html, clear=paper == "clear")


def _few(cautions: tuple[str, ...]) -> tuple[str, ...]:
    """As many as a slide holds, and how many more there are."""
    more = len(cautions) - SLIDE_CAUTIONS
    return (*cautions[:SLIDE_CAUTIONS], *((f"And {more} more, on the page.",) if more > 0 else ()))


KINDS: dict[Ending, str] = {
    "pdf": "application/pdf",
    "csv": "text/csv",
    "md": "text/markdown",
    "json": "application/json",
    "svg": "image/svg+xml",
    "png": "image/png",
}
"""What kind of file each ending is."""
WRITERS: dict[Ending, Callable[[Leaflet, str], str | bytes]] = {
    "pdf": as_pdf,
    "csv": as_csv,
    "md": as_markdown,
    "json": as_json,
}
"""What writes the files that hold all of it."""


def written(
    one: Leaflet,
    ending: Ending,
    link: str = "",
    *,
    picture: str = "",
    paper: Paper = "light",
    size: Size = "slide",
) -> str | bytes:
    """A leaflet as a file of any kind.

    Parameters
    ----------
    one : Leaflet
        What is written.
    ending : str
        Of `KINDS`.
    link : str
        Where it came from.
    picture : str
        For svg and png, which of its pictures; the one that stands for all where none is named.
    paper, size : str
        Of a picture.

    Raises
    ------
    UnknownNameError
        For a picture that it has not.
    """
    if ending in WRITERS:
        return WRITERS[ending](one, link)
    name = picture or next(iter(one.pictures), "")
    if name not in one.pictures:
        raise UnknownNameError("picture", name, "one of: " + (", ".join(one.pictures) or "none here"))
    if ending == "svg":
        return as_svg(one, name, paper, link)
    return as_slide(one, name, paper, size, link)
