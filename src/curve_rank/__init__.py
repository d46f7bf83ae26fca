"""Curve Rank: the arm as physics, exercise variants ranked for a purpose."""

__version__ = "0.2.0"
