"""Pictures as they come: turned upright, freed of metadata; what is none is refused without being opened."""

from __future__ import annotations

import io
import resource
import struct
import zipfile
import zlib

import numpy as np
import pytest
from PIL import Image, ImageFile

from curve_rank.errors import BadInputError
from curve_rank.exchange.uploads import LARGEST, MOST_SIDE, upright
from tests.photographs import Scene, as_jpeg, found_discs


@pytest.mark.parametrize("orientation", [1, 3, 6, 8])
def test_a_picture_turned_by_its_metadata_is_kept_upright_and_without_them(orientation: int) -> None:
    scene = Scene(elbow=75, upper_arm=15, trunk=8)
    kept = upright(as_jpeg(scene.image(discs=True), orientation))
    found = found_discs(kept.jpeg, list(scene.marks))
    for name, at in scene.marks.items():
        assert found[name] == pytest.approx(at, abs=1.5), name
    opened = Image.open(io.BytesIO(kept.jpeg))
    assert opened.size == (kept.width, kept.height) == scene.size
    assert not opened.getexif()
    assert b"camera" not in kept.jpeg


def test_large_pictures_are_made_small_enough() -> None:
    out = io.BytesIO()
    Image.new("RGB", (4000, 3000), "gray").save(out, "JPEG")
    kept = upright(out.getvalue())
    assert (kept.width, kept.height) == (MOST_SIDE, MOST_SIDE * 3 // 4)


@pytest.mark.parametrize("mode", ["L", "P", "RGBA", "LA", "CMYK", "1", "I;16"])
def test_every_kind_of_pixel_becomes_a_photograph(mode: str) -> None:
    picture = Image.new("RGB", (120, 100), (200, 30, 30)).convert("L" if mode == "I;16" else mode)
    picture = picture.convert("I").convert("I;16") if mode == "I;16" else picture
    out = io.BytesIO()
    picture.save(out, "JPEG" if mode == "CMYK" else "PNG")
    assert Image.open(io.BytesIO(upright(out.getvalue()).jpeg)).mode == "RGB"


def png_header(width: int, height: int) -> bytes:
    """A PNG that claims a size, and holds nothing."""
    body = b"IHDR" + struct.pack(">IIBBBBB", width, height, 8, 6, 0, 0, 0)
    chunk = struct.pack(">I", 13) + body + struct.pack(">I", zlib.crc32(body))
    return (
        b"\x89PNG\r\n\x1a\n" + chunk + struct.pack(">I", 0) + b"IDAT" + struct.pack(">I", zlib.crc32(b"IDAT"))
    )


def bomb(side: int = 4800) -> bytes:
    """A picture of one colour: few bytes, many pixels."""
    out = io.BytesIO()
    Image.fromarray(np.zeros((side, side), np.uint8)).save(out, "PNG", optimize=True)
    return out.getvalue()


def archive() -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as made:
        made.writestr("../../picture.jpg", b"0" * 5_000_000)
    return out.getvalue()


WHOLE = as_jpeg(Scene().image())
HOSTILE = {
    "nothing": b"",
    "text": b"just text",
    "NUL bytes": b"\x00" * 1000,
    "script in a picture": b'<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>',
    "an archive": archive(),
    "cut off": WHOLE[: len(WHOLE) // 3],
    "only the head": WHOLE[:30],
    "huge by its word": png_header(60_000, 60_000),
    "wide by its word": png_header(10_000_000, 1),
    "empty by its word": png_header(0, 0),
    "a bomb": bomb(6000),
    "too large a file": WHOLE + b"\x00" * LARGEST,
    "an animation": b"GIF89a\x10\x00\x10\x00\x80\x00\x00",
    "too small": as_jpeg(Image.new("RGB", (20, 20))),
}


@pytest.mark.parametrize("name", HOSTILE)
def test_what_is_no_photograph_is_refused_with_what_would_be(
    name: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)  # as printing asks for
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    with pytest.raises(BadInputError) as refused:
        upright(HOSTILE[name], "picture 2")
    assert refused.value.field == "picture 2"
    assert resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before < 200_000  # kB


def test_damaged_pictures_are_refused_or_opened_never_more() -> None:
    chance = np.random.default_rng(3)
    for _ in range(60):
        damaged = bytearray(WHOLE)
        for place in chance.integers(0, len(damaged), 40):
            damaged[place] = int(chance.integers(256))
        try:
            upright(bytes(damaged))
        except BadInputError:
            continue
