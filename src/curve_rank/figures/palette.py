"""Colours, strokes and patterns: as tokens and rules for a page's style sheet, and as literal values."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from typing import Literal

from curve_rank.data_files import read_toml

Theme = Literal["light", "dark"]
FONT = "Atkinson, system-ui, sans-serif"
HALO = ".3em"
"""Width of the stroke that sets letters off from what lies below them."""


@dataclass(frozen=True)
class HeadInk:
    """A head's hues, the pattern that stands in where there is no colour, and the dash of its curves."""

    key: str
    light: str
    dark: str
    pattern: str
    slant: float
    dash: str

    def hue(self, theme: Theme) -> str:
        """Its colour on light or dark paper."""
        return self.light if theme == "light" else self.dark


@dataclass(frozen=True)
class Role:
    """How shapes of a role are painted; colours are tokens, "" leaves a thing as it is."""

    fill: str = ""
    stroke: str = ""
    width: float | None = None
    dash: str = ""
    opacity: float | None = None
    size: float | None = None
    weight: int | None = None
    halo: str = ""
    round: bool = False
    patterned: bool = False


@dataclass(frozen=True)
class Palette:
    """The whole file."""

    light: dict[str, str]
    dark: dict[str, str]
    heads: dict[str, HeadInk]
    roles: dict[str, Role]

    def colour(self, token: str, theme: Theme) -> str:
        """A token's colour on light or dark paper."""
        return (self.light if theme == "light" else self.dark)[token]


@cache
def palette() -> Palette:
    """The shipped palette.

    Raises
    ------
    KeyError
        When a role names a token that there is not.
    """
    table = read_toml("curve_rank.figures", "palette.toml")
    heads = {
        key: HeadInk(key=key, slant=entry.pop("slant", 0), **entry) for key, entry in table["heads"].items()
    }
    roles = {key: Role(**entry) for key, entry in table["roles"].items()}
    for role in roles.values():
        for token in filter(None, (role.fill, role.stroke, role.halo)):
            table["light"][token], table["dark"][token]
    return Palette(table["light"], table["dark"], heads, roles)


def style_sheet() -> str:
    """Tokens for light and dark paper, and a rule for every role and head."""
    known = palette()
    light, dark = (_tokens(theme) for theme in ("light", "dark"))
    rules = [f".{key} {{ {_rule(role)} }}" for key, role in known.roles.items() if _rule(role)]
    for head in known.heads.values():
        name = _css_name(head.key)
        rules.append(f".head-{head.key} {{ fill: var({name}); color: var({name}); }}")
        dash = f" stroke-dasharray: {head.dash};" if head.dash else ""
        rules.append(f".curve.head-{head.key} {{ fill: none; stroke: var({name});{dash} }}")
    return "\n".join(
        (
            f":root {{ color-scheme: light; {light} }}",
            "@media (prefers-color-scheme: dark) {",
            f':root:not([data-theme="light"]) {{ color-scheme: dark; {dark} }} }}',
            f':root[data-theme="dark"] {{ color-scheme: dark; {dark} }}',
            *rules,
            "",
        )
    )


def _tokens(theme: Theme) -> str:
    known = palette()
    colours = (known.light if theme == "light" else known.dark).items()
    heads = ((head.key, head.hue(theme)) for head in known.heads.values())
    return " ".join(f"{_css_name(name)}: {colour};" for name, colour in (*colours, *heads))


def _css_name(token: str) -> str:
    return "--" + token.replace("_", "-")


def _rule(role: Role) -> str:
    filled = f"fill: var({_css_name(role.fill)});" if role.fill else "fill: none;" if role.stroke else ""
    halo = f"paint-order: stroke; stroke: var({_css_name(role.halo)}); stroke-width: {HALO};"
    parts = [
        filled,
        f"stroke: var({_css_name(role.stroke)});" if role.stroke else "",
        f"stroke-width: {role.width:g};" if role.width is not None else "",
        f"stroke-dasharray: {role.dash};" if role.dash else "",
        f"{'fill-opacity' if not role.stroke else 'opacity'}: {role.opacity:g};" if role.opacity else "",
        f"font-size: {role.size:g}px;" if role.size else "",
        f"font-weight: {role.weight};" if role.weight else "",
        halo if role.halo else "",
        "stroke-linecap: round;" if role.round else "",
    ]
    return " ".join(part for part in parts if part)
