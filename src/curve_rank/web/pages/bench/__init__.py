"""The bench: one set-up studied, changed, and saved as one's own."""

from curve_rank.web.pages.bench import search
from curve_rank.web.pages.bench.study import blueprint

search.register(blueprint)

__all__ = ["blueprint"]
