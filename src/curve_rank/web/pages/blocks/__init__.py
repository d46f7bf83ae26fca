"""Blocks: made in one step from a set, edited by hand, shared by clients, handed over, printed."""

from flask import Blueprint

blueprint = Blueprint("blocks", __name__)

from curve_rank.web.pages.blocks import editing, making, members, printing  # noqa: E402, F401
