"""Whether a page says kilograms, and a gym whose people use pounds."""

from __future__ import annotations

import html
import re

from flask import Flask
from sqlalchemy import select

from curve_rank.practice.rooms import room_in_pounds
from curve_rank.store.rooms import save_room
from curve_rank.store.tables import ClientProfileRow, Room
from curve_rank.store.viewers import viewer_of
from tests.helpers import desk_of

KILOGRAMS = re.compile(r"\bkgs?\b|kilogram")
ALONE = re.compile(r"\d kg\b(?! \([^)]*lb\))")
"""Kilograms without pounds beside them."""
CHOOSER = re.compile(r"<option [^>]*>\s*(?:kg|kilograms)\s*</option>")
SCRIPTS = re.compile(r"<(script|style)\b(?![^>]*application/json).*?</\1>", re.DOTALL)
HEARD = re.compile(r'(?:aria-label|title|alt|placeholder|aria-valuetext)="([^"]*)"')
KEY = re.compile(r'"[\w ]*_kg"|"kg"')


def read(page: str) -> str:
    """All that a page shows or says aloud, with what its script shows."""
    shown = CHOOSER.sub("", KEY.sub("", SCRIPTS.sub("", page)))
    return html.unescape(" ".join([re.sub(r"<[^>]+>|\s+", " ", shown), *HEARD.findall(shown)]))


def said_of(sign: re.Pattern[str], page: str) -> list[str]:
    """Where a page says something, each with what stands around it."""
    text = read(page)
    return [text[max(0, one.start() - 40) : one.end() + 10] for one in sign.finditer(text)]


def in_pounds(app: Flask) -> Flask:
    """The demo, whose people and gyms are where pounds are used."""
    with desk_of(app).store.writing() as db:
        for profile in db.scalars(select(ClientProfileRow)):
            profile.content = re.sub(r'"mass_unit": ?"kg"', '"mass_unit":"lb"', profile.content)
        for room in db.scalars(select(Room)):
            there = room_in_pounds(room.name).model_copy(update={"equipment": tuple(room.equipment)})
            owner = viewer_of(db, room.owner_id)
            assert owner is not None
            save_room(db, owner, there, room.id, room.person_id)
    return app
