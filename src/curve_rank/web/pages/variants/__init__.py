"""Variants: the whole catalogue, ordered and filtered, a page about each, and handouts of one or several."""

from curve_rank.web.pages.variants import booklet, catalogue, own_words, scratch
from curve_rank.web.pages.variants.variant import blueprint

__all__ = ["blueprint", "booklet", "catalogue", "own_words", "scratch"]
