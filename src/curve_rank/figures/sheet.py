"""Sheets of figures in one file that stands on its own, for looking at many set-ups at once."""

from __future__ import annotations

from typing import Literal
from xml.etree import ElementTree as ET

from curve_rank.figures.figure import figure
from curve_rank.figures.palette import FONT, Theme, palette
from curve_rank.figures.svg import ByColour, element
from curve_rank.rating.modelling import VariantModel

Moment = Literal["stretched", "hard", "short"]
MOMENTS: tuple[Moment, ...] = ("stretched", "hard", "short")

STYLE = (
    "body {{ margin: 12px; background: {paper}; color: {ink}; font-family: {font}; filter: {filter}; }} "
    ".sheet {{ display: grid; grid-template-columns: repeat(auto-fill, {width}px); gap: 14px; }} "
    "figure {{ margin: 0; }} svg {{ display: block; width: {width}px; height: {height}px; }} "
    "figcaption {{ font-size: 11px; line-height: 1.2; }}"
)


def sheet(
    modelled: tuple[VariantModel, ...],
    view: str = "",
    theme: Theme = "light",
    *,
    moments: tuple[Moment, ...] = ("hard",),
    whole: bool = True,
    width: int = 220,
    grey: bool = False,
) -> str:
    """An HTML page of figures with their names.

    Parameters
    ----------
    modelled : tuple of VariantModel
        The set-ups, modelled.
    view : str
        "side", "front", "top", or empty for each figure's best.
    theme : str
        "light" or "dark".
    moments : tuple of str
        Of each rep, the ends and the hard spot that are shown.
    whole : bool
        The whole body, instead of arm and load.
    width : int
        Of a figure [px].
    grey : bool
        Without colour, as a printer has it.
    """
    html = ET.Element("html", {"lang": "en"})
    head, body = ET.SubElement(html, "head"), ET.SubElement(html, "body")
    ET.SubElement(head, "meta", {"charset": "utf-8"})
    ET.SubElement(head, "title").text = "Figures"
    ET.SubElement(head, "style").text = STYLE.format(
        paper=palette().colour("paper", theme),
        ink=palette().colour("ink", theme),
        font=FONT,
        filter="grayscale(1)" if grey else "none",
        width=width,
        height=round(width / 1.12),
    )
    cells = ET.SubElement(body, "div", {"class": "sheet"})
    for m in modelled:
        drawn = figure(m, view)
        for moment in moments:
            frame = {"stretched": 0, "hard": m.hard, "short": len(drawn.angle) - 1}[moment]
            cell = ET.SubElement(cells, "figure")
            cell.append(element(drawn.at(frame, whole=whole), ByColour(theme)))
            ET.SubElement(cell, "figcaption").text = m.variant.name
    return "<!doctype html>\n" + ET.tostring(html, encoding="unicode", method="html") + "\n"
