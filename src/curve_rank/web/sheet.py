"""A sheet of all figures in one file, for looking at every set-up at once."""

from __future__ import annotations

from importlib.resources import files

from markupsafe import Markup, escape

from curve_rank.rating.modelling import Modelled
from curve_rank.web.figure import figure
from curve_rank.web.scenery import best_view

STYLE = (
    "body { margin: 1rem; } .sheet { display: grid; grid-template-columns: repeat(auto-fill, 220px); "
    "gap: 14px; } .sheet figure { margin: 0; } .sheet svg { width: 220px; height: 190px; } "
    ".sheet figcaption { font-size: 11px; line-height: 1.2; }"
)


def figure_svg(modelled: Modelled, view: str = "", at: int | None = None) -> Markup:
    """One frame of a figure as SVG: the hard spot's unless another sample is named, in its best view."""
    view = view or best_view(modelled.variant)
    drawn = figure(modelled, view)
    frame = int(modelled.along("demand").argmax()) if at is None else at
    paths = []
    for shape in drawn["shapes"]:
        key = shape["key"]
        data = drawn["frames"][frame].get(key) or drawn["fixed"][key]
        opacity = drawn["opacity"].get(key)
        dense = f' fill-opacity="{opacity[frame]}"' if opacity else ""
        paths.append(f'<path class="{shape["css"]}" d="{data}"{dense}/>')
    box = " ".join(str(v) for v in drawn["box"])
    label = f"{modelled.variant.name}, {view} view, at {modelled.along('angle')[frame]:.0f}°"
    return Markup(
        f'<svg class="figure" viewBox="{box}" role="img" aria-label="{escape(label)}">{"".join(paths)}</svg>'
    )


def sheet_page(modelled: tuple[Modelled, ...], view: str) -> str:
    """A page that stands on its own: every figure at its hard spot, with its name."""
    css = files("curve_rank.web").joinpath("static/css/app.css").read_text(encoding="utf-8")
    cells = "".join(
        f"<figure>{figure_svg(m, view)}<figcaption>{escape(m.variant.name)}</figcaption></figure>"
        for m in modelled
    )
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Figures</title>'
        f'<style>{css}\n{STYLE}</style></head><body><div class="sheet">{cells}</div></body></html>\n'
    )
