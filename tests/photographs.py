"""Photographs rendered from known postures: a lifter from the side, a floor, a stick of known length."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass, field

import numpy as np
from PIL import Image, ImageDraw

Place = tuple[float, float]
UPPER_ARM, FOREARM, TRUNK, KNOWN = 31.0, 30.0, 55.0, 45.0
"""Lengths [cm]."""
ORIENTATION = 0x0112


@dataclass(frozen=True)
class Scene:
    """A posture [degrees] and a camera: its tilt [degrees], scale [px/cm], and where the lifter faces.

    `pulley` is where the cable comes from, forward of the shoulder and up from the floor [cm].
    """

    elbow: float = 60.0
    upper_arm: float = 10.0
    trunk: float = 0.0
    tilt: float = 0.0
    per_cm: float = 5.0
    facing: str = "right"
    pulley: Place | None = None
    size: tuple[int, int] = field(default=(1000, 900))

    @property
    def marks(self) -> dict[str, Place]:
        """Where everything is on the picture [px]."""
        shoulder = np.array([0.0, 130.0])

        def hanging(angle: float) -> np.ndarray:
            return np.array([math.sin(math.radians(angle)), -math.cos(math.radians(angle))])

        elbow = shoulder + UPPER_ARM * hanging(self.upper_arm)
        places = {
            "shoulder": shoulder,
            "elbow": elbow,
            "grip": elbow + FOREARM * hanging(self.upper_arm + self.elbow),
            "hip": shoulder + TRUNK * hanging(-self.trunk),
            "scale_a": np.array([-75.0, 60.0]),
            "scale_b": np.array([-75.0, 60.0 + KNOWN]),
            "level_a": np.array([-85.0, 0.0]),
            "level_b": np.array([85.0, 0.0]),
        }
        if self.pulley is not None:
            places["pull"] = np.array(self.pulley)
        return {name: self.seen(place) for name, place in places.items()}

    def seen(self, place: np.ndarray) -> Place:
        """A place forward of the shoulder and up from the floor [cm] on the picture [px]."""
        way, turn = (1 if self.facing == "right" else -1), math.radians(self.tilt)
        across, down = way * place[0], 75.0 - place[1]
        turned = (
            across * math.cos(turn) - down * math.sin(turn),
            across * math.sin(turn) + down * math.cos(turn),
        )
        return (
            self.size[0] / 2 + self.per_cm * turned[0],
            self.size[1] / 2 + self.per_cm * turned[1],
        )

    def image(self, noise: float = 0.0, discs: bool = False) -> Image.Image:
        """The photograph; with discs in pure colours where the marks belong."""
        picture = Image.new("RGB", self.size, (196, 190, 178))
        pen, at = ImageDraw.Draw(picture), self.marks
        floor = [self.seen(np.array(p)) for p in ((-300, 0), (300, 0), (300, -300), (-300, -300))]
        pen.polygon(floor, fill=(134, 120, 104))
        width = round(self.per_cm)

        def limb(start: str, end: str, thick: int, colour: tuple[int, int, int]) -> None:
            pen.line([at[start], at[end]], fill=colour, width=thick * width)
            for x, y in (at[start], at[end]):
                half = thick * width / 2
                pen.ellipse((x - half, y - half, x + half, y + half), fill=colour)

        knee, foot = (self.seen(np.array(p)) for p in ((3.0, 40.0), (0.0, -2.0)))
        pen.line([at["hip"], knee, foot], fill=(58, 62, 74), width=13 * width, joint="curve")
        limb("hip", "shoulder", 22, (92, 108, 120))
        neck = np.array(at["shoulder"]) + (np.array(at["shoulder"]) - np.array(at["hip"])) * 0.4
        half = 10 * width
        pen.ellipse(
            (neck[0] - half, neck[1] - 1.3 * half, neck[0] + half, neck[1] + 1.3 * half), fill=(176, 136, 112)
        )
        limb("shoulder", "elbow", 10, (184, 142, 118))
        limb("elbow", "grip", 7, (190, 148, 124))
        x, y = at["grip"]
        if self.pulley is None:
            pen.rounded_rectangle(
                (x - 4 * width, y - 8 * width, x + 4 * width, y + 8 * width), width, fill=(40, 40, 44)
            )
        else:
            pen.line([at["grip"], at["pull"]], fill=(30, 30, 30), width=max(2, width // 2))
        pen.line([at["scale_a"], at["scale_b"]], fill=(222, 190, 60), width=2 * width)
        if discs:
            for n, (mx, my) in enumerate(at.values()):
                pen.ellipse((mx - 9, my - 9, mx + 9, my + 9), fill=disc_colour(n))
        if noise:
            grain = np.random.default_rng(1).normal(0, noise, (*picture.size[::-1], 3))
            picture = Image.fromarray(np.clip(np.asarray(picture) + grain, 0, 255).astype(np.uint8))
        return picture


def disc_colour(n: int) -> tuple[int, int, int]:
    """A colour of its own for each mark, far from everything else on the picture."""
    return (255, 0, 40 + 22 * n) if n % 2 else (0, 255, 40 + 22 * n)


def as_jpeg(picture: Image.Image, orientation: int = 1) -> bytes:
    """A JPEG that a viewer turns by its metadata, with a place and a camera in them."""
    turned = {
        1: None,
        3: Image.Transpose.ROTATE_180,
        6: Image.Transpose.ROTATE_90,
        8: Image.Transpose.ROTATE_270,
    }
    way = turned[orientation]
    exif = Image.Exif()
    exif[ORIENTATION] = orientation
    exif[0x010F] = "A camera that tells"
    exif.get_ifd(0x8825)[1] = "N"
    out = io.BytesIO()
    (picture if way is None else picture.transpose(way)).save(out, "JPEG", quality=95, exif=exif)
    return out.getvalue()


def found_discs(jpeg: bytes, names: list[str]) -> dict[str, Place]:
    """Where the discs are on a picture [px]."""
    pixels = np.asarray(Image.open(io.BytesIO(jpeg)).convert("RGB")).astype(int)
    found = {}
    for n, name in enumerate(names):
        near = np.abs(pixels - np.array(disc_colour(n))).sum(axis=2) < 30
        rows, columns = np.nonzero(near)
        found[name] = (float(np.median(columns)), float(np.median(rows)))
    return found
