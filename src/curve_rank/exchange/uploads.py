"""Pictures as they are sent: looked at first, turned upright, and freed of what a camera wrote."""

from __future__ import annotations

import io
import threading
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from curve_rank.errors import BadInputError

LARGEST = 9 * 1024 * 1024
"""The largest file of a picture [bytes]."""
FORMATS = ("JPEG", "PNG", "WEBP")
MOST_PIXELS = {"JPEG": 64_000_000, "PNG": 24_000_000, "WEBP": 24_000_000}
"""Width times height; a JPEG is read at a part of its size, the others whole."""
LEAST_SIDE, MOST_SIDE = 80, 2000
"""The shorter side that can still be marked, and the longer side that is kept [px]."""
QUALITY = 86
_LOADING = threading.Lock()
"""One picture is opened at a time: together they would need several times the memory."""


@dataclass(frozen=True)
class Upright:
    """A picture as it is kept."""

    jpeg: bytes
    width: int
    height: int


def upright(data: bytes, name: str = "picture") -> Upright:
    """A picture turned as its metadata say, made small enough, without any metadata.

    Raises
    ------
    BadInputError
        For what is no picture, is too large, or does not open.
    """
    right = "a photograph as JPEG, PNG or WebP"
    if len(data) > LARGEST:
        raise BadInputError(name, f"{len(data) // 2**20} MB", f"at most {LARGEST // 2**20} MB")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # our own limits are lower, and what is damaged is refused
            with _whole_only(), Image.open(io.BytesIO(data), formats=FORMATS) as opened:
                return _made(opened, name)
    except (UnidentifiedImageError, Image.DecompressionBombError) as error:
        raise BadInputError(name, "no picture", right) from error
    except BadInputError:
        raise
    except Exception as error:  # damaged bytes make decoders raise whatever they like
        raise BadInputError(name, "does not open", f"{right}, whole ({error})") from error


@contextmanager
def _whole_only() -> Iterator[None]:
    """Refuse what is cut off, whoever has asked in this process that it be taken as it is."""
    with _LOADING:
        before, ImageFile.LOAD_TRUNCATED_IMAGES = ImageFile.LOAD_TRUNCATED_IMAGES, False
        try:
            yield
        finally:
            ImageFile.LOAD_TRUNCATED_IMAGES = before


def _made(opened: Image.Image, name: str) -> Upright:
    width, height = opened.size
    most = MOST_PIXELS[opened.format or "PNG"]
    if width * height > most:
        raise BadInputError(name, f"{width} × {height}", f"at most {most // 1_000_000} million pixels")
    if min(width, height) < LEAST_SIDE:
        raise BadInputError(name, f"{width} × {height}", f"at least {LEAST_SIDE} pixels either way")
    opened.draft("RGB", (MOST_SIDE, MOST_SIDE))
    opened.thumbnail((MOST_SIDE, MOST_SIDE))
    turned = ImageOps.exif_transpose(opened)
    plain = Image.new("RGB", turned.size, "white")
    plain.paste(turned, mask=turned.getchannel("A") if turned.mode in ("RGBA", "LA") else None)
    out = io.BytesIO()
    plain.save(out, format="JPEG", quality=QUALITY, optimize=True)
    return Upright(out.getvalue(), *plain.size)
