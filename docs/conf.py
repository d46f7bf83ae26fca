"""How Sphinx writes the documentation: `make docs`, without a network."""

from __future__ import annotations

import re
from pathlib import Path

from sphinx.application import Sphinx

from curve_rank import __version__
from curve_rank.figures.palette import style_sheet

project, author, release = "Curve Rank", "the founders of Curve Rank", __version__
extensions = ["myst_parser", "sphinx.ext.autodoc", "sphinx.ext.autosummary", "sphinx.ext.napoleon"]
source_suffix = {".md": "markdown", ".rst": "restructuredtext"}
exclude_patterns = ["notebooks", "screenshots", "validation.md", "_templates"]
root_doc = "index"

myst_enable_extensions = ["colon_fence"]
myst_heading_anchors = 3
# Links to the application's own pages and to files beside the documents are no pages of these, and a word in
# backticks may be the name of several things.
suppress_warnings = ["myst.xref_missing", "myst.header", "ref.python"]

autosummary_generate = True
autodoc_member_order = "bysource"
autodoc_typehints = "signature"
autodoc_type_aliases = {"Array": "array"}
napoleon_google_docstring = False
napoleon_use_rtype = False

templates_path = ["_templates"]
html_theme = "basic"
VENDOR = "../src/curve_rank/web/static/vendor"
html_static_path = [
    "_static",
    f"{VENDOR}/fontsource-variable-atkinson-hyperlegible-next",
    f"{VENDOR}/fontsource-variable-brygada-1918",
]
html_css_files = ["palette.css", "docs.css"]
html_show_copyright = False
html_title = f"Curve Rank {release}"
html_copy_source = False
html_show_sphinx = False

SHAPE = re.compile(r"(?<![\w*])\*(?=\w)")
"""In a shape "(*S, 3)" a star stands for axes, and in a docstring it begins no emphasis."""
WITHIN = re.compile(r"<script>.*?</script>|(?<=\") style=\"[^\"]*\"")
PICTURE = re.compile(r"\]\((?:\.\./)+screenshots/")


def _as_written(
    _app: object, _what: str, _name: str, _of: object, _options: object, lines: list[str]
) -> None:
    """Docstrings say shapes and absolute values as papers do."""
    lines[:] = [SHAPE.sub(r"\\*", line).replace("|", r"\|") for line in lines]


def _from_here(_app: object, _name: str, source: list[str]) -> None:
    """The guide stands in the application's folder, its pictures beside these documents."""
    source[0] = PICTURE.sub("](/screenshots/", source[0])


def _in_colours(app: Sphinx, _problem: Exception | None) -> None:
    """The application's colours stand once, in its palette; it serves no styles or scripts within a page."""
    out = Path(app.outdir)
    (out / "_static" / "palette.css").write_text(style_sheet(), encoding="utf-8")
    for page in out.rglob("*.html"):
        text = page.read_text(encoding="utf-8")
        page.write_text(WITHIN.sub("", text), encoding="utf-8")


def setup(app: Sphinx) -> None:
    """Docstrings are read before numpydoc's sections are; the colours come last."""
    app.connect("autodoc-process-docstring", _as_written, priority=100)
    app.connect("source-read", _from_here)
    app.connect("build-finished", _in_colours)
