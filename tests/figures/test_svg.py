"""One writer, two paints: classes for a page, literal colours and patterns of its own for everything else."""

from __future__ import annotations

import re
from xml.etree import ElementTree as ET

import pytest

from curve_rank.figures.bars import part_bar, score_bar, shares, swatch
from curve_rank.figures.curves import curves
from curve_rank.figures.figure import figure
from curve_rank.figures.palette import palette, style_sheet
from curve_rank.figures.shapes import Label, Picture, Rect
from curve_rank.figures.sheet import sheet
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import ByColour, page_patterns, svg
from curve_rank.figures.whisker import whisker
from curve_rank.rating.lenses import lenses
from curve_rank.rating.scoring import score_variant
from curve_rank.rating.targets import targets
from tests.helpers import modelled

NAMESPACE = "{http://www.w3.org/2000/svg}"


@pytest.fixture(scope="module")
def pictures() -> dict[str, Picture]:
    """One of everything that is drawn."""
    m, target = modelled("pad-45-dumbbell-curl"), targets()["biceps_long"]
    parts = score_variant(m, target, lenses()["all_round"])[1]
    return {
        "strip": strip(m, target),
        "large strip": strip(m, target, "large"),
        "shares": shares("flexors", {h: m.of_head("work_share", h) for h in targets()["flexors"].heads}),
        "score": score_bar(parts),
        "strain": part_bar("strain", 0.4),
        "weight": part_bar("weight", 0.4),
        "swatch": swatch("brachialis"),
        "whisker": whisker(3, 17, 6, 80),
        "figure": figure(m).at(m.hard, ghosts=(figure(modelled("chin-up")),)),
        "curves": curves(m, (modelled("pad-30-dumbbell-curl"),)).picture,
    }


def test_every_role_and_token_is_known_to_the_palette(pictures: dict[str, Picture]) -> None:
    """Nothing is drawn that has no looks: what is not in the file comes out black in print."""
    known = palette().roles.keys() | {f"head-{key}" for key in palette().heads}
    for name, picture in pictures.items():
        found = {r for r in re.findall(r'class="([^"]+)"', svg(picture).partition(">")[2]) for r in r.split()}
        assert found <= known | {"curve-demand", "curve-effort"}, name
    assert palette().light.keys() == palette().dark.keys()


def test_a_stand_alone_picture_needs_nothing_of_a_page(pictures: dict[str, Picture]) -> None:
    for name, picture in pictures.items():
        for theme in ("light", "dark"):
            text = svg(picture, ByColour(theme))  # type: ignore[arg-type]
            root = ET.fromstring(text)
            assert root.tag == f"{NAMESPACE}svg"
            assert "class=" not in text, name
            assert "var(" not in text, name
            wanted = set(re.findall(r"url\(#([^)]+)\)", text))
            defined = {p.get("id") for p in root.iter(f"{NAMESPACE}pattern")}
            assert wanted == defined, name
            for element in root.iter():
                tag = element.tag.removeprefix(NAMESPACE)
                if tag in ("path", "rect", "circle", "text"):
                    assert element.get("fill") or element.get("stroke"), (name, ET.tostring(element))


def test_a_stand_alone_lever_is_written_over_its_own_halo(pictures: dict[str, Picture]) -> None:
    root = ET.fromstring(svg(pictures["figure"], ByColour("dark")))
    below, above = (text for text in root.iter(f"{NAMESPACE}text") if (text.text or "").startswith("lever"))
    assert (below.get("stroke"), above.get("stroke")) == (palette().colour("paper", "dark"), None)
    assert below.get("fill") == above.get("fill") == palette().colour("force", "dark")


def test_what_stands_in_a_picture_is_escaped() -> None:
    wild = "<script>\"&'</script>"
    picture = Picture(
        wild, 10, 10, (Label("strip-text", 0, 0, wild), Rect("score-got", 0, 0, 1, 1, title=wild)), wild
    )
    for text in (svg(picture), svg(picture, ByColour())):
        assert "<script>" not in text
        root = ET.fromstring(text)
        assert root.get("aria-label") == wild
        assert wild in {element.text for element in root.iter()}


def test_a_picture_without_words_is_hidden_from_readers_and_one_with_words_is_an_image() -> None:
    assert 'aria-hidden="true"' in svg(part_bar("strain", 0.3))
    named = svg(shares("flexors", dict.fromkeys(targets()["flexors"].heads, 0.2)))
    assert 'role="img"' in named
    assert "Biceps long head" in named


def test_the_style_sheet_has_every_role_head_and_token_in_both_themes() -> None:
    css = style_sheet()
    for role in palette().roles:
        assert f".{role} {{" in css or palette().roles[role].patterned
    for key in palette().heads:
        assert css.count(f"--{key.replace('_', '-')}:") == 3
        assert f'id="pat-{key}"' in page_patterns()
    assert css.count("{") == css.count("}")


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_a_sheet_stands_on_its_own_in_its_own_colours(theme: str) -> None:
    text = sheet((modelled("chin-up"), modelled("rope-press-down")), theme=theme)  # type: ignore[arg-type]
    assert text.count("<figure>") == 2
    assert palette().heads["biceps_long"].hue(theme) in text  # type: ignore[arg-type]
    assert palette().heads["triceps_long"].hue(theme) in text  # type: ignore[arg-type]
    assert "nan" not in text
    assert 'class="fig' not in text
