"""Shapes with roles: what a picture is made of, before anything is said of its colours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field


@dataclass(frozen=True)
class Path:
    """SVG path data.

    Attributes
    ----------
    role : str
        What it is: one or several names of `palette.toml`'s roles, the later ones win.
    d : str
    key : str
        A name by which a script finds it again.
    opacity : float, optional
        Of its fill.
    """

    role: str
    d: str
    key: str = ""
    opacity: float | None = None


@dataclass(frozen=True)
class Rect:
    """A rectangle; `pattern` names a head whose hue and pattern fill it; `title` is told on hover."""

    role: str
    x: float
    y: float
    width: float
    height: float
    pattern: str = ""
    title: str = ""


@dataclass(frozen=True)
class Circle:
    """A circle."""

    role: str
    x: float
    y: float
    radius: float
    key: str = ""


@dataclass(frozen=True)
class Label:
    """Words at a place; `size` in the picture's units where it is not the role's own."""

    role: str
    x: float
    y: float
    text: str
    anchor: str = "start"
    size: float | None = None
    key: str = ""


@dataclass(frozen=True)
class Group:
    """Shapes that belong together; with `href`, they lead there together, and `title` says where."""

    shapes: tuple[Shape, ...] = ()
    role: str = ""
    key: str = ""
    href: str = ""
    title: str = ""


Shape = Path | Rect | Circle | Label | Group


@dataclass(frozen=True)
class Picture:
    """A picture: its size, what it shows in words, and its shapes from back to front.

    Attributes
    ----------
    role : str
    width, height : float
        Of the paper, in its own units, which are CSS pixels unless it is scaled.
    shapes : tuple of Shape
    label : str
        What it shows; empty for one that only repeats what stands beside it in words.
    left, top : float
        Where the paper begins.
    key : str
    scaled : bool
        Fills the room it is given instead of standing at its own size.
    """

    role: str
    width: float
    height: float
    shapes: tuple[Shape, ...] = field(default=())
    label: str = ""
    left: float = 0.0
    top: float = 0.0
    key: str = ""
    scaled: bool = False


def line(role: str, x1: float, y1: float, x2: float, y2: float, *, key: str = "") -> Path:
    """A straight stroke."""
    return Path(role, f"M{number(x1)} {number(y1)}L{number(x2)} {number(y2)}", key)


def number(value: float) -> str:
    """A coordinate with one decimal, without a needless one."""
    text = f"{value:.1f}"
    return text.removesuffix(".0") if text != "-0.0" else "0"


def true_minus(text: str) -> str:
    """A number's text as pictures write it."""
    return text.replace("-", "−")


def scale_line(value: float, y: float, left: float, right: float) -> tuple[Path, Label]:
    """A line of a panel's scale, and its value at the left."""
    return (
        line("curve-axis", left, y, right, y),
        Label("curve-text", left - 5, y + 4, true_minus(f"{value:g}"), "end"),
    )


def kept_apart(heights: Sequence[float], space: float) -> list[float]:
    """Places down the paper from the top on, each pushed below the one before where they would touch."""
    at: list[float] = []
    for height in heights:
        at.append(max(height, at[-1] + space) if at else height)
    return at
