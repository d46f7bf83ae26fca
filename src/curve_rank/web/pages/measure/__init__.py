"""Measure: from pictures, from a load cell and an angle sensor, and from a file."""

from __future__ import annotations

from flask import Blueprint

from curve_rank.web.pages.measure import captures, files, overview, pictures, profiles

blueprint = Blueprint("measure", __name__, url_prefix="/measure")

for part in (overview, captures, files, pictures, profiles):
    part.register(blueprint)
