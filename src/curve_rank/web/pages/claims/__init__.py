"""Claims: the ledger, one claim with what it stands on, and claims of one's own."""

from curve_rank.web.pages.claims import writing
from curve_rank.web.pages.claims.ledger import blueprint

writing.register(blueprint)

__all__ = ["blueprint"]
