"""Draws on a shelf: found again, never half written, bounded, and drawn anew where they are damaged."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from curve_rank.arm.body import Body
from curve_rank.catalogue.library import built_in
from curve_rank.rating.draws import fixed_draws, undrawn
from curve_rank.rating.modelling import Modeller
from curve_rank.store.safe.shelf import Shelf

TWO = built_in()[:2]


def test_draws_are_found_after_a_restart_and_made_anew_where_damaged(tmp_path: Path) -> None:
    drawn = fixed_draws(TWO, Body(), 0.75, Modeller(shelf=Shelf(tmp_path)))
    later = Modeller(shelf=Shelf(tmp_path))
    assert undrawn(TWO, Body(), 0.75, later) == ()
    for was, now in zip(drawn, fixed_draws(TWO, Body(), 0.75, later), strict=True):
        for name, values in vars(was).items():
            np.testing.assert_array_equal(values, getattr(now, name))
    files = sorted(tmp_path.rglob("*.npy"))
    files[0].write_bytes(b"\x93NUMPY nothing")
    np.save(files[1], np.zeros((3, 5)))
    assert undrawn(TWO, Body(), 0.75, Modeller(shelf=Shelf(tmp_path))) == TWO


def test_the_longest_unused_go_first_and_a_folder_that_cannot_be_is_no_error(tmp_path: Path) -> None:
    small = Shelf(tmp_path, most_bytes=50_000)  # one variant’s draws take 41 kB
    for variant in TWO:
        fixed_draws((variant,), Body(), 0.75, Modeller(shelf=small))
    left = Modeller(shelf=Shelf(tmp_path))
    assert undrawn(TWO, Body(), 0.75, left) == TWO[:1]
    nowhere = Modeller(shelf=Shelf(Path("/proc/nowhere")))
    assert fixed_draws(TWO[:1], Body(), 0.75, nowhere)[0].load.shape == (64,)
