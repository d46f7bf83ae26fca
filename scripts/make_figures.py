"""Contact sheets of all figures, as pictures in build/figures: both ends and the hard spot of each rep.

Without words all of them, side and front, light, dark and grey; else as asked, as in
`--view top --theme dark --width 450 --only chin-up dip-upright`.
"""

from __future__ import annotations

import argparse
import shutil
from collections.abc import Iterator
from pathlib import Path

from playwright.sync_api import sync_playwright

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.library import built_in
from curve_rank.figures.sheet import MOMENTS, sheet
from curve_rank.rating.modelling import Modeller, VariantModel

FOLDER = Path(__file__).parent.parent / "build" / "figures"
PAPER = 1500
"""Width of a sheet [px]."""
THEMES = ("light", "dark", "grey")


def main() -> None:
    """Draw the sheets and say where each is."""
    asked = _asked()
    named = [v for v in built_in() if not asked.only or v.id in asked.only]
    modelled = Modeller().able(tuple(named), Body(), effort=usual_effort())
    shutil.rmtree(FOLDER, ignore_errors=True)
    FOLDER.mkdir(parents=True)
    with sync_playwright() as playwright:
        path = shutil.which("chromium") or shutil.which("chromium-browser")
        browser = playwright.chromium.launch(executable_path=path, args=["--no-sandbox", "--disable-gpu"])
        page = browser.new_page(viewport={"width": PAPER, "height": 900})
        for theme in [asked.theme] if asked.theme else THEMES:
            for view in [asked.view] if asked.view else ("side", "front"):
                for n, some in enumerate(_sheets(modelled, asked.width, asked.moments), start=1):
                    page.set_content(
                        sheet(
                            some,
                            view,
                            "dark" if theme == "dark" else "light",
                            moments=asked.moments,
                            whole=not asked.near,
                            width=asked.width,
                            grey=theme == "grey",
                        )
                    )
                    file = FOLDER / f"{view}-{theme}-{asked.width}-{n}.png"
                    page.screenshot(path=file, full_page=True)
                    print(file)
        browser.close()


def _asked() -> argparse.Namespace:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--view", choices=("side", "front", "top"))
    parser.add_argument("--theme", choices=THEMES)
    parser.add_argument("--width", type=int, default=150, help="of a figure [px]")
    parser.add_argument("--near", action="store_true", help="arm and load instead of the whole body")
    parser.add_argument("--moments", nargs="*", choices=MOMENTS, default=MOMENTS)
    parser.add_argument("--only", nargs="*", default=[], help="ids of variants")
    return parser.parse_args()


def _sheets(
    modelled: tuple[VariantModel, ...], width: int, moments: tuple[str, ...]
) -> Iterator[tuple[VariantModel, ...]]:
    """The set-ups in lots that make a sheet about as high as wide, whole variants to a row."""
    in_a_row = max((PAPER - 24 + 14) // (width + 14), 1)
    rows = max(round(PAPER / (width / 1.12 + 28)), 1)
    lot = max(in_a_row * rows // len(moments), 1)
    for first in range(0, len(modelled), lot):
        yield modelled[first : first + lot]


if __name__ == "__main__":
    main()
