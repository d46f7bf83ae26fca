"""What the words on the pages mean, from `glossary.toml`."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

from curve_rank.data_files import read_toml


@dataclass(frozen=True)
class Term:
    """A word, what it means, and which readings it explains."""

    key: str
    name: str
    says: str
    also: tuple[str, ...] = ()

    @property
    def anchor(self) -> str:
        """Where it stands on the page of all."""
        return self.key.replace("_", "-")


@cache
def glossary() -> dict[str, Term]:
    """All terms by key, in the order of a first reading."""
    found = read_toml("curve_rank.catalogue", "glossary.toml")["terms"]
    return {
        key: Term(key, one["name"], one["says"], tuple(one.get("also", ()))) for key, one in found.items()
    }


def term_of(reading: str) -> Term | None:
    """The word that explains a reading, by the reading's name."""
    return next((one for one in glossary().values() if reading in one.also), None)


def glossary_text() -> str:
    """All terms as Markdown."""
    lines = [f"**{one.name}.** {one.says}" for one in glossary().values()]
    return "# Glossary\n\n" + "\n\n".join(lines) + "\n"
