"""Lectures: kept things in order, presented by keys, and followed by a room on phones."""

from curve_rank.web.pages.lectures import showing
from curve_rank.web.pages.lectures.editing import blueprint

showing.register(blueprint)

__all__ = ["blueprint"]
