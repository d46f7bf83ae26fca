"""The person in a figure, over all variants: joints and heads where the model has them, outlines whole."""

from __future__ import annotations

import gzip
import re
from collections.abc import Callable
from functools import cache

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.catalogue.library import built_in
from curve_rank.catalogue.line_kinds import WeightLine
from curve_rank.figures.bellies import drawn_bellies, heads_of, path_of, sizes
from curve_rank.figures.figure import Figure, figure
from curve_rank.figures.framing import WORDS
from curve_rank.figures.implement import BARS, LEAST_LINE
from curve_rank.figures.person import FEET_ON_BENCH
from curve_rank.figures.projection import VIEWS, Projection
from curve_rank.figures.shapes import Path
from curve_rank.figures.silhouette import silhouette
from curve_rank.figures.svg import svg
from curve_rank.rating.modelling import Modeller, VariantModel
from tests.helpers import corners

OUTLINES = ("trunk", "upper", "fore", "hand-0", "skull", "neck", "leg-0", "leg-1", "leg-2")


@pytest.fixture(scope="module")
def models() -> tuple[VariantModel, ...]:
    return Modeller().able(built_in(), Body(), effort=usual_effort())


@pytest.fixture(scope="module")
def figure_of() -> Callable[[VariantModel, str], Figure]:
    """Figures, each made once for all tests."""
    return cache(figure)


def frames(drawn: Figure, key: str) -> list[np.ndarray]:
    """A shape's points in the frames that are told."""
    shape = next(s for s in drawn.shapes if s.key == key)
    return [corners(shape.at(n)) for n in drawn.told]


def crossings(points: np.ndarray) -> int:
    """How often an outline crosses itself."""
    a, b = points, np.roll(points, -1, axis=0)

    def side(p: np.ndarray, q: np.ndarray, r: np.ndarray) -> np.ndarray:
        return np.sign(
            (q[..., 0] - p[..., 0]) * (r[..., 1] - p[..., 1])
            - (q[..., 1] - p[..., 1]) * (r[..., 0] - p[..., 0])
        )

    one, other = (a[:, None], b[:, None]), (a[None], b[None])
    apart = side(*one, other[0]) * side(*one, other[1]) < 0
    return int((apart & (side(*other, one[0]) * side(*other, one[1]) < 0)).sum() // 2)


@pytest.mark.parametrize("view", VIEWS)
def test_outlines_are_whole_and_cross_themselves_nowhere(
    models: tuple[VariantModel, ...], view: str, figure_of: Callable[[VariantModel, str], Figure]
) -> None:
    for m in models:
        drawn = figure_of(m, view)
        for key in OUTLINES:
            shape = next((s for s in drawn.shapes if s.key == key), None)
            if shape is None:
                continue
            assert shape.at(0).endswith("Z"), (m.variant.id, key)
            moments = drawn.told[:1] if shape.frames.is_still else drawn.told
            worst = max(crossings(corners(shape.at(n))) for n in moments)
            assert worst == 0, (m.variant.id, view, key)


@pytest.mark.parametrize("view", VIEWS)
def test_joints_and_grip_are_where_the_model_has_them(
    models: tuple[VariantModel, ...], view: str, figure_of: Callable[[VariantModel, str], Figure]
) -> None:
    for m in models:
        drawn, scene = figure_of(m, view), Projection.of_model(m, view)
        elbow, grip = scene.flat(scene.frame.elbow), scene.flat(scene.frame.grip)
        pivot = next(s for s in drawn.shapes if s.key == "pivot")
        force = next((s for s in drawn.shapes if s.key == "force"), None)
        for n in drawn.told:
            disc = corners(pivot.at(n))
            middle = disc[:2].mean(axis=0)
            assert abs(complex(*middle) - elbow[n]) < 1.5, m.variant.id
            if force is not None:
                a, b = (complex(*end) for end in corners(force.at(n)))
                off = ((grip[n] - a) * np.conj(b - a)).imag / max(abs(b - a), 1e-9)
                assert abs(b - a) < 5 or abs(off) < 1.5, (m.variant.id, n)
            hand = next(s for s in drawn.shapes if s.key == "hand-0")
            around = corners(hand.at(n))
            assert np.abs(around[:, 0] + 1j * around[:, 1] - grip[n]).min() < 95, m.variant.id


@pytest.mark.parametrize("view", VIEWS)
def test_head_lever_and_its_words_are_in_every_frame_and_words_lie_over_no_line(
    models: tuple[VariantModel, ...], view: str, figure_of: Callable[[VariantModel, str], Figure]
) -> None:
    for m in models:
        drawn = figure_of(m, view)
        for whole in (False, True):
            left, top, width, height = drawn.whole if whole else drawn.near
            size = drawn.text_size(whole=whole)
            for key in ("skull", "lever"):
                if not any(s.key == key for s in drawn.shapes):
                    continue
                points = np.concatenate(frames(drawn, key))
                low, high = points.min(axis=0), points.max(axis=0)
                held = (left, top) <= low, high <= (left + width, top + height)
                assert np.all(held), (m.variant.id, key, whole)
            if not any(s.key == "lever" for s in drawn.shapes):
                continue
            for n in drawn.told:
                x, y, _ = drawn.lever[n]
                x, y = x + drawn.words.across * size, y + drawn.words.down * size
                begins = x - {"start": 0, "middle": 0.5, "end": 1}[drawn.words.anchor] * (WORDS - 1) * size
                assert left <= begins <= left + width - (WORDS - 1) * size, (m.variant.id, whole, n)
                box = (begins, y - 0.72 * size, begins + (WORDS - 1) * size, y)
                assert top <= box[1], (m.variant.id, view, whole, n)
                assert y <= top + height, (m.variant.id, view, whole, n)
                straight = () if view == "side" or m.variant.equipment.handle == "angled_bar" else ("handle",)
                bar = straight if m.variant.equipment.loads[0] in BARS else ()
                for key in ("force", "lever", *bar):
                    line = corners(next(s for s in drawn.shapes if s.key == key).at(n))
                    assert not crosses(line, box), (m.variant.id, view, key, whole, n)


def test_a_weights_line_of_force_ends_at_the_floor_and_feet_stand_where_they_should(
    models: tuple[VariantModel, ...], figure_of: Callable[[VariantModel, str], Figure]
) -> None:
    for m in models:
        drawn = figure_of(m, "side")
        if isinstance(m.variant.lines[0], WeightLine):
            arrow = np.concatenate(frames(drawn, "arrow"))
            scene = Projection.of_model(m, "side")
            grip = scene.flat(scene.frame.grip)
            assert arrow[:, 1].max() <= max(0, grip.imag.max() + 1000 * LEAST_LINE) + 2, m.variant.id
        if m.variant.support.base in ("push_up", "bench_dip", "body_row"):
            soles = np.array([one[:, 1].max() for one in frames(drawn, "leg-2")])
            stands = -1000 * FEET_ON_BENCH if m.variant.id == "push-up-feet-raised" else 0
            assert np.abs(soles - stands).max() < 25, (m.variant.id, soles)


def crosses(line: np.ndarray, box: tuple[float, float, float, float]) -> bool:
    """Whether a straight line goes through a box."""
    along = line[0] + np.linspace(0, 1, 200)[:, None] * (line[1] - line[0])
    low, high = box[:2], box[2:]
    return bool(((along > low) & (along < high)).all(axis=1).any())


def test_a_heads_path_is_as_long_as_the_model_says(models: tuple[VariantModel, ...]) -> None:
    """Both over their range, in every posture of every variant, within 8 %."""
    for m in models:
        scene = Projection.of_model(m, "side")
        for head in heads_of(m.variant):
            one, percent = drawn_bellies()[head], scene.length_along(head)
            short, long = one.length
            told = 100 * (path_of(scene, one, percent).length - short) / (long - short)
            assert np.abs(told - percent).max() < 8, (m.variant.id, head)


def test_a_belly_keeps_its_area_from_its_shortest_to_its_longest() -> None:
    scene = Projection.of_model(Modeller().able(built_in()[:1], Body(), effort=usual_effort())[0], "side")
    for head, one in drawn_bellies().items():
        length = np.linspace(*one.length, 20)
        _, belly, half = sizes(scene, one, length, np.ones(20))
        area = belly * half
        assert np.ptp(area) / 2 < 0.15 * area.mean(), head
        assert np.all(np.diff(half) < 0), head


def test_a_silhouette_is_small_and_shows_the_arm_before_the_body(models: tuple[VariantModel, ...]) -> None:
    seen: dict[str, str] = {}
    for m in models:
        picture = silhouette(m)
        assert len(gzip.compress(svg(picture).encode())) < 1500, m.variant.id
        roles = [shape.role for shape in picture.shapes if isinstance(shape, Path)]
        assert roles.index("sil-body") < roles.index("sil-rim") < roles.index("sil-arm"), m.variant.id
        arm = next(s.d for s in picture.shapes if isinstance(s, Path) and s.role == "sil-arm")
        for x, y in re.findall(r"(-?\d+) (-?\d+)", arm):
            assert picture.left <= int(x) <= picture.left + picture.width, m.variant.id
            assert picture.top <= int(y) <= picture.top + picture.height, m.variant.id
        seen[m.variant.id] = svg(picture)
    assert len(set(seen.values())) > 0.9 * len(seen)
    assert "sil-room" in seen["pad-45-dumbbell-curl"]
    assert seen["bar-press-down"] != seen["pad-45-dumbbell-curl"]
