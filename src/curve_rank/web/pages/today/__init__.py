"""Today: the session, set by set; what devices send; and what lets it work without a connection."""

from flask import Blueprint

blueprint = Blueprint("today", __name__)

from curve_rank.web.pages.today import sending, session  # noqa: E402, F401
