"""What stands in the documents to be run, or to be written into a file."""

from __future__ import annotations

import re
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[2]
BLOCK = re.compile(r"^```(\w+)(?: ([^\n]+))?\n(.*?)^```$", re.M | re.S)


@dataclass(frozen=True)
class Block:
    """Something in a document that is run, or written into a file."""

    language: str
    of: str
    text: str


def blocks(name: str) -> list[Block]:
    found = BLOCK.findall((ROOT / name).read_text(encoding="utf-8"))
    return [Block(*one) for one in found]


def commands(text: str) -> list[str]:
    return [line for raw in text.splitlines() if (line := re.sub(r"\s+# .*", "", raw).strip())]
