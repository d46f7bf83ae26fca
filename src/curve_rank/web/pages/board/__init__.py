"""The board: a question in a sentence, answered with ranked rows."""

from curve_rank.web.pages.board.answer import blueprint
from curve_rank.web.pages.board.certainty import blueprint as certainty

blueprint.register_blueprint(certainty)

__all__ = ["blueprint"]
