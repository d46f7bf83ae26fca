"""A sheet of all figures in one file that stands on its own, for looking at every set-up at once."""

from __future__ import annotations

from xml.etree import ElementTree as ET

from curve_rank.figures.figure import figure
from curve_rank.figures.palette import FONT, Theme, palette
from curve_rank.figures.svg import ByColour, element
from curve_rank.rating.modelling import VariantModel

STYLE = (
    "body { margin: 1rem; background: %s; color: %s; font-family: %s; } "
    ".sheet { display: grid; grid-template-columns: repeat(auto-fill, 220px); gap: 14px; } "
    "figure { margin: 0; } svg { width: 220px; height: 190px; } "
    "figcaption { font-size: 11px; line-height: 1.2; }"
)


def sheet(modelled: tuple[VariantModel, ...], view: str = "", theme: Theme = "light") -> str:
    """An HTML page: every figure at its hard spot, with its name.

    Parameters
    ----------
    modelled : tuple of VariantModel
        The set-ups, modelled.
    view : str
        "side", "front", "top", or empty for each figure's best.
    theme : str
        "light" or "dark".
    """
    html = ET.Element("html", {"lang": "en"})
    head, body = ET.SubElement(html, "head"), ET.SubElement(html, "body")
    ET.SubElement(head, "meta", {"charset": "utf-8"})
    ET.SubElement(head, "title").text = "Figures"
    colours = (palette().colour(token, theme) for token in ("paper", "ink"))
    ET.SubElement(head, "style").text = STYLE % (*colours, FONT)
    cells = ET.SubElement(body, "div", {"class": "sheet"})
    for m in modelled:
        cell = ET.SubElement(cells, "figure")
        picture = figure(m, view).at(m.hard, whole=True)
        cell.append(element(picture, ByColour(theme)))
        ET.SubElement(cell, "figcaption").text = m.variant.name
    return "<!doctype html>\n" + ET.tostring(html, encoding="unicode", method="html") + "\n"
