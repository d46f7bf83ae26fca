"""Kilograms and pounds: what is worked out is in kilograms, what is read in whichever somebody chose."""

from __future__ import annotations

from typing import Literal

Unit = Literal["kg", "lb"]
KG_PER_LB = 0.45359237
HALF_POUND = 0.12
"""Loads that differ by less read alike in pounds, which are shown to the nearest half [kg]."""


def kg_per(unit: str) -> float:
    """Kilograms in one of a unit."""
    return KG_PER_LB if unit == "lb" else 1.0


def mass_shown(kilograms: float, unit: str) -> str:
    """A load in a unit, in pounds to the nearest half."""
    shown = round(2 * kilograms / KG_PER_LB) / 2 if unit == "lb" else kilograms
    return f"{shown:.4g} {unit}".replace("-", "−")
