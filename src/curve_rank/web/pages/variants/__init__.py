"""Variants: the whole catalogue, ordered and filtered, and a page about each."""

from curve_rank.web.pages.variants import catalogue
from curve_rank.web.pages.variants.variant import blueprint

__all__ = ["blueprint", "catalogue"]
