"""Cuts out of requirements-dev.lock what the extra `cluster` needs: the same versions, with their hashes.

`python -m scripts.cut_cluster_lock` writes requirements-cluster.lock; all of it has to be installed.
"""

from __future__ import annotations

import re
from importlib.metadata import requires
from pathlib import Path

from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

WANTED = "distributed"
HERE = Path(__file__).parents[1]
ENTRY = re.compile(r"^(?=[A-Za-z0-9])", re.M)


def needed(name: str, found: dict[str, None]) -> dict[str, None]:
    """A package and all that it needs, by name."""
    found[canonicalize_name(name)] = None
    for text in requires(name) or ():
        one = Requirement(text)
        wanted = one.marker is None or one.marker.evaluate({"extra": ""})
        if wanted and canonicalize_name(one.name) not in found:
            needed(one.name, found)
    return found


def main() -> None:
    """Write it."""
    entries = ENTRY.split((HERE / "requirements-dev.lock").read_text(encoding="utf-8"))[1:]
    by_name = {canonicalize_name(entry.partition("==")[0]): entry.rstrip() for entry in entries}
    lines = [by_name[name] for name in sorted(needed(WANTED, {}))]
    (HERE / "requirements-cluster.lock").write_text("\n".join(lines) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
