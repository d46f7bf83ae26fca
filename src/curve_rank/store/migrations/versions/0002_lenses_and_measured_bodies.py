"""Own lenses with versions; measured segments and a known set on bodies."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

MEASURED: dict[str, sa.types.TypeEngine[Any]] = {
    "upper_arm_m": sa.Double(),
    "forearm_m": sa.Double(),
    "known_variant": sa.String(60),
    "known_load_kg": sa.Double(),
    "known_reps": sa.Integer(),
}


def upgrade() -> None:
    for name, kind in MEASURED.items():
        op.add_column("bodies", sa.Column(name, kind))
    op.create_table(
        "own_lenses",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owner("own_lenses"),
        sa.Column("slug", sa.String(60), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime()),
        sa.UniqueConstraint("slug", name="uq_own_lenses_slug"),
    )
    op.create_index("ix_own_lenses_owner_id", "own_lenses", ["owner_id"])
    op.create_table(
        "own_lens_versions",
        sa.Column("id", sa.Integer(), primary_key=True),
        _owner("own_lens_versions"),
        sa.Column(
            "lens_id",
            sa.Integer(),
            sa.ForeignKey(
                "own_lenses.id", name="fk_own_lens_versions_lens_id_own_lenses", ondelete="CASCADE"
            ),
            nullable=False,
        ),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("lens_id", "number", name="uq_own_lens_versions_lens_id"),
    )
    for column in ("owner_id", "lens_id"):
        op.create_index(f"ix_own_lens_versions_{column}", "own_lens_versions", [column])


def downgrade() -> None:
    op.drop_table("own_lens_versions")
    op.drop_table("own_lenses")
    for name in MEASURED:
        op.drop_column("bodies", name)


def _owner(table: str) -> sa.Column[int]:
    return sa.Column(
        "owner_id",
        sa.Integer(),
        sa.ForeignKey("people.id", name=f"fk_{table}_owner_id_people", ondelete="CASCADE"),
        nullable=False,
    )
