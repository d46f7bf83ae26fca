"""Published: what others can read behind a link, and bundles of one's own documents, out and in."""

from curve_rank.web.pages.published import bundles
from curve_rank.web.pages.published.links import blueprint

bundles.register(blueprint)

__all__ = ["blueprint"]
