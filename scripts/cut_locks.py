"""Cuts two locks down: what the extra `cluster` needs, and what the documentation needs beside development.

`python -m scripts.cut_locks` writes requirements-cluster.lock out of requirements-dev.lock, the same versions
with their hashes, all of which has to be installed; and leaves in requirements-docs.lock only what stands in
no other.
"""

from __future__ import annotations

import re
from importlib.metadata import requires
from pathlib import Path

from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

WANTED = "distributed"
HERE = Path(__file__).parents[1]
ENTRY = re.compile(r"^(?=[A-Za-z0-9])", re.MULTILINE)


def needed(name: str, found: dict[str, None]) -> dict[str, None]:
    """A package and all that it needs, by name."""
    found[canonicalize_name(name)] = None
    for text in requires(name) or ():
        one = Requirement(text)
        wanted = one.marker is None or one.marker.evaluate({"extra": ""})
        if wanted and canonicalize_name(one.name) not in found:
            needed(one.name, found)
    return found


def entries_of(lock: str) -> dict[str, str]:
    """What a lock holds, by name."""
    entries = ENTRY.split((HERE / lock).read_text(encoding="utf-8"))[1:]
    return {canonicalize_name(entry.partition("==")[0]): entry.rstrip() for entry in entries}


def main() -> None:
    """Write both."""
    here = entries_of("requirements-dev.lock")
    cluster = [here[name] for name in sorted(needed(WANTED, {}))]
    docs = [entry for name, entry in entries_of("requirements-docs.lock").items() if name not in here]
    for lock, entries in (("requirements-cluster.lock", cluster), ("requirements-docs.lock", docs)):
        (HERE / lock).write_text("\n".join(entries) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
