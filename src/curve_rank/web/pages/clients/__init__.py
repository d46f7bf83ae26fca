"""Clients: who they are, how far their joints go, what fits them; and the rooms they train in."""

from flask import Blueprint

blueprint = Blueprint("clients", __name__)

from curve_rank.web.pages.clients import fitting, records, rooms  # noqa: E402, F401
