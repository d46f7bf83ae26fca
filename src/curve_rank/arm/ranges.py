"""How far the joints go over which the tables hold [degrees]."""

from __future__ import annotations

from curve_rank.arm.parameters import parameter_set


def _range(joint: str) -> tuple[float, float]:
    low, high = parameter_set().row_of(f"ranges.{joint}")
    return low, high


ELBOW_RANGE = _range("elbow")
SHOULDER_RANGE = _range("shoulder")
SHOULDER_REACHED = _range("shoulder_reached")
"""What arms reach by themselves, over which a head's own range is taken."""
FOREARM_RANGE = _range("forearm")
OUT_TO_THE_SIDE = parameter_set().number("ranges.out_to_the_side")
"""Abduction from which the shoulder's flexion range no longer binds."""
