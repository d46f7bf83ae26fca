"""A record: what was done, corrected and noticed, what was learned, what was written; and logs from files."""

from flask import Blueprint

blueprint = Blueprint("record", __name__)

from curve_rank.web.pages.record import files, show  # noqa: E402, F401
