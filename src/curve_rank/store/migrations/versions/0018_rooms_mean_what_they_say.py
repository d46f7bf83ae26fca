"""Rooms and questions that named loads or benches alone meant all of the other kind: now they say so."""

import json
from urllib.parse import parse_qsl, urlencode

import sqlalchemy as sa
from alembic import op

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None

LOADS = ("dumbbell", "barbell", "angled_bar", "neutral_bar", "cable", "band", "machine", "body_weight")
BENCHES = (
    "incline_bench",
    "flat_bench",
    "pad_bench",
    "upright_seat",
    "pull_up_bar",
    "dip_bars",
    "low_bar",
)


def _whole(there: list[str]) -> list[str]:
    """What equipment stood for: loads alone brought every bench, benches alone every load."""
    loads, benches = set(there) & set(LOADS), set(there) & {*BENCHES, "no_bench"}
    if loads and not benches:
        return [*there, *BENCHES]
    if benches and not loads:
        return [*there, *LOADS]
    return there


def upgrade() -> None:
    bind = op.get_bind()
    equipment: sa.ColumnClause[list[str]] = sa.column("equipment", sa.JSON())
    rooms = sa.table("rooms", sa.column("id"), equipment, sa.column("steps", sa.Text()))
    for number, there, steps in bind.execute(sa.select(rooms.c.id, rooms.c.equipment, rooms.c.steps)).all():
        whole = _whole(there or [])
        if whole != there:
            kept = json.dumps(json.loads(steps) | {"equipment": whole}) if steps else None
            bind.execute(rooms.update().where(rooms.c.id == number).values(equipment=whole, steps=kept))
    asked = sa.table("saved_questions", sa.column("id"), sa.column("address", sa.Text()))
    for number, address in bind.execute(sa.select(asked.c.id, asked.c.address)).all():
        parts = parse_qsl(address, keep_blank_values=True)
        there = [value for name, value in parts if name == "with"]
        whole = _whole(there)
        if whole != there:
            at = next(n for n, (name, _) in enumerate(parts) if name == "with")
            rest = [part for part in parts if part[0] != "with"]
            parts = [*rest[:at], *(("with", one) for one in whole), *rest[at:]]
            bind.execute(asked.update().where(asked.c.id == number).values(address=urlencode(parts)))


def downgrade() -> None:
    """What was said in full stays said in full."""
