"""The documentation that Sphinx writes, read out of the one file in which `make docs` packs it."""

from __future__ import annotations

import zipfile
from importlib.resources import files

from curve_rank.errors import UnknownNameError

PACKED = files("curve_rank.web") / "documentation.zip"
"""Part of a wheel that was made after `make docs`; a plain checkout has none."""
WITHOUT = "none here: `make docs` writes it, and a wheel made after that brings it along"


def is_here() -> bool:
    """Whether this installation has the documentation."""
    return PACKED.is_file()


def read(page: str) -> bytes:
    """One of its pages, or a file that such a page needs.

    Raises
    ------
    UnknownNameError
        Where there is no such page, or no documentation at all.
    """
    if not is_here():
        raise UnknownNameError("documentation", page, WITHOUT)
    with PACKED.open("rb") as file, zipfile.ZipFile(file) as packed:
        if page not in packed.namelist():
            raise UnknownNameError("documentation", page, "index.html, or a page it leads to")
        return packed.read(page)
