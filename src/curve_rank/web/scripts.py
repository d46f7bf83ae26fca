"""A page's scripts as one file, so that one request brings them all.

Every module that a page imports stands in it once, in the order in which a browser would run them, each in a
function of its own that gives back what it exports. What is vendored stays a file of its own.
"""

from __future__ import annotations

import re
from functools import cache

from flask import Flask, Response
from flask.typing import ResponseReturnValue

from curve_rank.rating.targets import known
from curve_rank.web.access import ANYONE, allowed
from curve_rank.web.serving import STATIC

EVERYWHERE = ("parts/theme.js", "parts/waiting.js", "parts/take.js")
FOLDER = STATIC / "js"
SCRIPTS: dict[str, tuple[str, ...]] = {
    path.stem: (f"pages/{path.name}",) for path in FOLDER.glob("pages/*.js")
} | {
    "plain": (),
    "bench": ("pages/bench.js", "parts/inside.js"),
    "capture": ("pages/measure/capture.js",),
    "drawing": ("parts/drawing.js",),
    "marking": ("pages/measure/marking.js",),
    "pictures": ("pages/measure/pictures.js",),
    "sets": ("parts/folds.js",),
}
"""What each kind of page runs beside what every page does; by its own name where there is a module of it."""
IMPORT = re.compile(r'^import\s+(?:([^";]+?)\s+from\s+)?"([^"]+)";\n', re.MULTILINE)
EXPORT = re.compile(r"^export ((?:async )?(?:function\*?|const|class) )(\w+)", re.MULTILINE)


def register(app: Flask) -> None:
    """Serve them beside the static files, so that what is vendored lies where it does for each."""
    app.add_url_rule(f"{app.static_url_path}/js/<script>-script.js", "scripted", scripted)


@allowed(ANYONE)
def scripted(script: str) -> ResponseReturnValue:
    """One of them.

    Raises
    ------
    UnknownNameError
    """
    known("script", script, SCRIPTS)
    return Response(script_of(script), mimetype="text/javascript")


@cache
def script_of(script: str) -> str:
    """The text of all modules that a kind of page runs."""
    vendored: dict[str, None] = {}
    modules: dict[str, str] = {}
    for name in (*EVERYWHERE, *SCRIPTS[script]):
        _take_in(name, modules, vendored)
    return "\n".join([*vendored, "const made = {};", *modules.values()])


def _take_in(name: str, modules: dict[str, str], vendored: dict[str, None]) -> None:
    """A module behind those that it imports, unless it is there already."""
    if name in modules:
        return
    path = FOLDER / name

    def bound(found: re.Match[str]) -> str:
        names, where = found.groups()
        there = (path.parent / where).resolve().relative_to(STATIC).as_posix()
        if not there.startswith("js/"):
            vendored[f'import {names} from "../{there}";'] = None
            return ""
        other = there.removeprefix("js/")
        _take_in(other, modules, vendored)
        if names is None:
            return ""
        wanted = names.removeprefix("* as ") if names.startswith("*") else names.replace(" as ", ": ")
        return f'const {wanted} = made["{other}"];\n'

    text = IMPORT.sub(bound, path.read_text("utf-8"))
    exported = ", ".join(one.group(2) for one in EXPORT.finditer(text))
    body = EXPORT.sub(r"\1\2", text)
    modules[name] = f'made["{name}"] = (() => {{\n{body}return {{ {exported} }};\n}})();'
