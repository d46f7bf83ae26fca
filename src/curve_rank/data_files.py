"""Packaged TOML files: each stands beside the module that reads it."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path
from typing import Any

import tomli


def read_bytes(package: str, name: str) -> bytes:
    """A file of a package as it is.

    Parameters
    ----------
    package : str
        Dotted name of the package it stands in ("curve_rank.rating").
    name : str
        File name, or a path below the package with forward slashes.
    """
    return files(package).joinpath(name).read_bytes()


def read_toml(package: str, name: str) -> dict[str, Any]:
    """A TOML file of a package as plain data."""
    return tomli.loads(read_bytes(package, name).decode("utf-8"))


def folder_of(package: str, name: str) -> Path:
    """A folder of a package, as a path: the packages lie unpacked."""
    return Path(str(files(package).joinpath(name)))
