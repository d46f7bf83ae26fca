"""Compare: set-ups side by side, and one thing changed in steps."""

from curve_rank.web.pages.compare import one_thing
from curve_rank.web.pages.compare.side_by_side import blueprint

one_thing.register(blueprint)

__all__ = ["blueprint"]
