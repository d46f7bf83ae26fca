"""Curve Rank: the arm as physics, exercise variants ranked for a purpose."""

__version__ = "0.1.0"
