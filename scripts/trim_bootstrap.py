"""Keep of Bootstrap what the pages use: a part of `make assets`, which brings the whole of it.

A rule stays where every class it names stands in a template or a script, a variable where something that
stays reads it. Who uses another class of Bootstrap's runs `make assets` again.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from pathlib import Path

import tinycss2
from tinycss2 import ast

WEB = Path(__file__).parents[1] / "src" / "curve_rank" / "web"
KEPT = WEB / "static" / "vendor" / "bootstrap" / "bootstrap.css"
CLASSES = re.compile(r'class(?:Name)?="([^"]*)"')
NOT = re.compile(r":not\([^()]*\)")
CLASS, WORD = re.compile(r"\.([A-Za-z][\w-]*)"), re.compile(r"[\w-]+")
READ = re.compile(r"var\((--[\w-]+)")
VARIABLE, EMPTY = re.compile(r"(--[\w-]+):[^;{}]*(?:;|(?=\}))"), re.compile(r"[^{};]+\{\}")


def used_classes() -> set[str]:
    """Every word that stands in a class of a template or of markup in a script."""
    files = [*WEB.rglob("templates/**/*.html"), *WEB.rglob("static/js/**/*.js")]
    named = (found for path in files for found in CLASSES.findall(path.read_text("utf-8")))
    return {word for found in named for word in WORD.findall(found)}


def trimmed(sheet: str, used: set[str]) -> str:
    """A style sheet without rules of other classes, and without variables that nothing reads."""
    text = "".join(_kept(tinycss2.parse_stylesheet(sheet, skip_comments=False, skip_whitespace=True), used))
    while (less := _without_unread(text)) != text:
        text = less
    return text


def _without_unread(text: str) -> str:
    read = set(READ.findall(text))
    less = VARIABLE.sub(lambda found: found[0] if found[1] in read else "", text)
    return EMPTY.sub("", less)


def _kept(nodes: Iterable[ast.Node], used: set[str]) -> Iterator[str]:
    for node in nodes:
        if node.type == "comment":
            yield f"/*{node.value}*/\n"
        elif node.type == "qualified-rule":
            names = tinycss2.serialize(node.prelude).split(",")
            kept = [one for one in names if used.issuperset(CLASS.findall(NOT.sub("", one)))]
            if kept:
                yield f"{','.join(kept)}{{{tinycss2.serialize(node.content)}}}"
        elif node.type == "at-rule" and node.at_keyword == "media":
            inner = "".join(_kept(tinycss2.parse_rule_list(node.content, skip_whitespace=True), used))
            if inner:
                yield f"@media{tinycss2.serialize(node.prelude)}{{{inner}}}"


def main() -> None:
    """Trim the file where it lies."""
    KEPT.write_text(trimmed(KEPT.read_text("utf-8"), used_classes()), encoding="utf-8")


if __name__ == "__main__":
    main()
