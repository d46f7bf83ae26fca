"""Writes pictures as SVG: painted by class for a page, or by literal colour for print and export."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import Protocol
from xml.etree import ElementTree as ET

from curve_rank.figures.palette import FONT, HALO, HeadInk, Theme, palette
from curve_rank.figures.shapes import Circle, Group, Label, Path, Picture, Rect, Shape, number

NAMESPACE = "http://www.w3.org/2000/svg"
INK = 1.6
"""Width of a pattern's stripes."""


class Paint(Protocol):
    """How a shape gets its looks."""

    def attributes(self, role: str) -> dict[str, str]:
        """What its role says."""

    def patterned(self, role: str) -> str:
        """The head whose pattern fills it, or nothing."""

    def halo(self, role: str) -> dict[str, str]:
        """What sets its letters off from what lies below them, where another text has to do so."""

    def definitions(self, heads: Iterable[str]) -> ET.Element | None:
        """Patterns that the picture brings along."""


@dataclass(frozen=True)
class ByClass:
    """The page's style sheet paints; patterns stand once on the page."""

    def attributes(self, role: str) -> dict[str, str]:
        return {"class": role} if role else {}

    def patterned(self, role: str) -> str:  # noqa: ARG002
        return ""

    def halo(self, role: str) -> dict[str, str]:  # noqa: ARG002
        return {}

    def definitions(self, heads: Iterable[str]) -> ET.Element | None:  # noqa: ARG002
        return None


@dataclass(frozen=True)
class ByColour:
    """Literal colours and patterns of its own, so that it looks the same anywhere."""

    theme: Theme = "light"

    def attributes(self, role: str) -> dict[str, str]:
        found: dict[str, str] = {}
        names = role.split()
        for name in names:
            found |= (
                self._of_head(name, is_curve="curve" in names)
                if name.startswith("head-")
                else self._of_role(name)
            )
        return found

    def patterned(self, role: str) -> str:
        names = role.split()
        if not any(n in palette().roles and palette().roles[n].patterned for n in names):
            return ""
        return next((name.removeprefix("head-") for name in names if name.startswith("head-")), "")

    def halo(self, role: str) -> dict[str, str]:
        found = palette().roles.get(role)
        if found is None or not found.halo:
            return {}
        stroke = palette().colour(found.halo, self.theme)
        return {"stroke": stroke, "stroke-width": HALO, "stroke-linejoin": "round"}

    def definitions(self, heads: Iterable[str]) -> ET.Element:
        return _definitions(heads, self._hue, palette().colour("paper", self.theme))

    def _hue(self, head: HeadInk) -> dict[str, str]:
        return {"fill": head.hue(self.theme)}

    def _of_head(self, name: str, *, is_curve: bool) -> dict[str, str]:
        head = palette().heads[name.removeprefix("head-")]
        if is_curve:
            dash = {"stroke-dasharray": head.dash} if head.dash else {}
            return {"stroke": head.hue(self.theme)} | dash
        return {"fill": head.hue(self.theme)}

    def _of_role(self, name: str) -> dict[str, str]:
        role = palette().roles.get(name)
        if role is None:
            return {}
        found = {}
        if role.fill or role.stroke:
            found["fill"] = palette().colour(role.fill, self.theme) if role.fill else "none"
        if role.stroke:
            found["stroke"] = palette().colour(role.stroke, self.theme)
        if role.width is not None:
            found["stroke-width"] = f"{role.width:g}"
        if role.opacity is not None:
            found["opacity" if role.stroke else "fill-opacity"] = f"{role.opacity:g}"
        if role.size is not None:
            found["font-size"] = f"{role.size:g}"
        if role.weight is not None:
            found["font-weight"] = str(role.weight)
        if role.dash:
            found["stroke-dasharray"] = role.dash
        if role.round:
            found["stroke-linecap"] = "round"
        return found


BY_CLASS = ByClass()


def svg(picture: Picture, paint: Paint = BY_CLASS) -> str:
    """A picture as SVG text; parameters as of `element`."""
    return ET.tostring(element(picture, paint), encoding="unicode")


def element(picture: Picture, paint: Paint = BY_CLASS) -> ET.Element:
    """A picture as an SVG element.

    Parameters
    ----------
    picture : Picture
        The shapes.
    paint : Paint
        `ByClass` for a page that has the style sheet, `ByColour` for anything that stands alone.
    """
    root = ET.Element("svg", _frame(picture, paint))
    defined = paint.definitions(dict.fromkeys(_patterns(picture.shapes, paint)))
    if defined is not None and len(defined):
        root.append(defined)
    for shape in picture.shapes:
        root.append(_element(shape, paint))
    return root


def page_patterns() -> str:
    """Every head's pattern, to stand once on a page that is painted by class."""
    root = ET.Element("svg", {"class": "patterns", "width": "0", "height": "0", "aria-hidden": "true"})
    root.append(_definitions(palette().heads, lambda head: {"class": f"head-{head.key}"}, ""))
    return ET.tostring(root, encoding="unicode")


def _frame(picture: Picture, paint: Paint) -> dict[str, str]:
    box = " ".join(number(v) for v in (picture.left, picture.top, picture.width, picture.height))
    frame = {"viewBox": box}
    if not picture.scaled:
        frame |= {"width": number(picture.width), "height": number(picture.height)}
    leads = any(isinstance(shape, Group) and shape.href for shape in picture.shapes)
    role = "group" if leads else "img"
    frame |= {"role": role, "aria-label": picture.label} if picture.label else {"aria-hidden": "true"}
    if picture.key:
        frame["data-key"] = picture.key
    if isinstance(paint, ByClass):
        return frame | paint.attributes(picture.role) | {"focusable": "false"}
    return frame | {"xmlns": NAMESPACE, "font-family": FONT}


def _element(shape: Shape, paint: Paint) -> ET.Element:  # noqa: C901 — one case a shape
    match shape:
        case Path():
            element = ET.Element("path", {"d": shape.d})
            if shape.opacity is not None:
                element.set("fill-opacity", f"{shape.opacity:g}")
        case Rect():
            sides = {"x": shape.x, "y": shape.y, "width": shape.width, "height": shape.height}
            element = ET.Element("rect", {name: number(value) for name, value in sides.items()})
            if shape.title:
                ET.SubElement(element, "title").text = shape.title
        case Circle():
            place = {"cx": number(shape.x), "cy": number(shape.y), "r": f"{shape.radius:g}"}
            element = ET.Element("circle", place)
        case Label():
            element = ET.Element("text", {"x": number(shape.x), "y": number(shape.y)})
            if shape.anchor != "start":
                element.set("text-anchor", shape.anchor)
            element.text = shape.text
        case Group():
            leads = {"href": shape.href, "aria-label": shape.title}
            element = ET.Element("a", leads) if shape.href else ET.Element("g")
            for part in shape.shapes:
                element.append(_element(part, paint))
    key = getattr(shape, "key", "")
    if key:
        element.set("data-key", key)
    for name, value in paint.attributes(shape.role).items():
        element.attrib.setdefault(name, value)
    if isinstance(shape, Label) and shape.size is not None:
        element.set("font-size", number(shape.size))
    pattern = _pattern_of(shape, paint)
    if pattern:
        element.set("fill", f"url(#pat-{pattern})")
    halo = paint.halo(shape.role) if isinstance(shape, Label) else {}
    return _over(halo, element) if halo else element


def _over(halo: dict[str, str], text: ET.Element) -> ET.Element:
    """A text above its own halo."""
    both = ET.Element("g")
    below = ET.SubElement(both, "text", text.attrib | halo)
    below.text = text.text
    both.append(text)
    return both


def _pattern_of(shape: Shape, paint: Paint) -> str:
    return getattr(shape, "pattern", "") or paint.patterned(shape.role)


def _patterns(shapes: Iterable[Shape], paint: Paint) -> Iterator[str]:
    for shape in shapes:
        if isinstance(shape, Group):
            yield from _patterns(shape.shapes, paint)
        elif pattern := _pattern_of(shape, paint):
            yield pattern


def _definitions(heads: Iterable[str], hue: Callable[[HeadInk], dict[str, str]], ink: str) -> ET.Element:
    """Patterns of heads: `hue` gives a head's fill as attributes, `ink` the colour of stripes and dots."""
    root = ET.Element("defs")
    stripe = {"stroke": ink, "stroke-width": f"{INK}"} if ink else {"class": "pattern-ink"}
    dot = {"fill": ink} if ink else {"class": "pattern-dot"}
    for key in heads:
        head = palette().heads[key]
        size = {"width": "6", "height": "6", "patternUnits": "userSpaceOnUse"}
        if head.slant:
            size["patternTransform"] = f"rotate({head.slant:g})"
        pattern = ET.SubElement(root, "pattern", {"id": f"pat-{key}"} | size)
        ET.SubElement(pattern, "rect", {"width": "6", "height": "6"} | hue(head))
        if head.pattern == "stripes":
            ET.SubElement(pattern, "path", {"d": "M0 0V6"} | stripe)
        elif head.pattern == "dots":
            ET.SubElement(pattern, "circle", {"cx": "3", "cy": "3", "r": "1.1"} | dot)
    return root
