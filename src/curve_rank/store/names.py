"""What people call things."""

from __future__ import annotations

import hashlib
import re
import unicodedata

from curve_rank.catalogue.equipment import OWN
from curve_rank.errors import BadInputError
from curve_rank.validation import seen

LONGEST_NAME = 80
"""How the keys of what people make begin."""
LONGEST_SLUG, HASH_LENGTH = 60, 8


def is_own(key: str) -> bool:
    """Whether a key is that of a document somebody here made, not a built-in one's."""
    return key.startswith(OWN)


def plain_name(text: str) -> str:
    """A name with single spaces.

    Raises
    ------
    BadInputError
        When it is empty, too long, or holds what cannot be seen.
    """
    name = " ".join(text.split())
    if not 1 <= len(name) <= LONGEST_NAME:
        raise BadInputError("name", name, f"1 to {LONGEST_NAME} characters")
    try:
        return seen(name)
    except ValueError as error:
        raise BadInputError("name", name, str(error)) from error


def slug_of(name: str) -> str:
    """The key of a document of one's own, from its name.

    Where letters are lost on the way to plain ones, or the name is too long, a hash of it keeps two names
    apart.
    """
    plain = unicodedata.normalize("NFKD", name)
    bare = "".join(c for c in plain if not unicodedata.combining(c)).lower()
    slug = re.sub(r"[^a-z0-9]+", "-", bare).strip("-")
    lost = any(not c.isascii() and c.isalnum() for c in bare) or len(OWN + slug) > LONGEST_SLUG or not slug
    if not lost:
        return OWN + slug
    mark = hashlib.sha256(" ".join(name.casefold().split()).encode()).hexdigest()[:HASH_LENGTH]
    room = LONGEST_SLUG - len(OWN) - HASH_LENGTH - 1
    return "-".join(part for part in (OWN.rstrip("-"), slug[:room].strip("-"), mark) if part)
