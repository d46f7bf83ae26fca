"""People, bodies, rooms, own variants with versions, saved questions."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def _owned(
    name: str,
    *columns: sa.Column[Any],
    constraints: tuple[sa.Constraint, ...] = (),
    owner_required: bool = True,
) -> None:
    op.create_table(
        name,
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column(
            "owner_id",
            sa.Integer(),
            sa.ForeignKey("people.id", name=f"fk_{name}_owner_id_people", ondelete="CASCADE"),
            nullable=not owner_required,
        ),
        *columns,
        sa.Column("created_at", sa.DateTime(), nullable=False),
        *constraints,
    )
    op.create_index(f"ix_{name}_owner_id", name, ["owner_id"])


def upgrade() -> None:
    _owned(
        "people",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("role", sa.String(16), nullable=False),
        owner_required=False,
    )
    _owned(
        "bodies",
        sa.Column(
            "person_id",
            sa.Integer(),
            sa.ForeignKey("people.id", name="fk_bodies_person_id_people", ondelete="CASCADE"),
            nullable=False,
        ),
        sa.Column("height_m", sa.Double(), nullable=False),
        sa.Column("mass_kg", sa.Double(), nullable=False),
        sa.Column("strength", sa.Double(), nullable=False),
        sa.Column("sore_joints", sa.JSON(), nullable=False),
    )
    op.create_index("ix_bodies_person_id", "bodies", ["person_id"])
    _owned(
        "rooms",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("equipment", sa.JSON(), nullable=False),
    )
    _owned(
        "own_variants",
        sa.Column("slug", sa.String(60), nullable=False),
        sa.Column("made_from", sa.String(60)),
        sa.Column("removed_at", sa.DateTime()),
        constraints=(sa.UniqueConstraint("slug", name="uq_own_variants_slug"),),
    )
    _owned(
        "own_variant_versions",
        sa.Column(
            "variant_id",
            sa.Integer(),
            sa.ForeignKey(
                "own_variants.id", name="fk_own_variant_versions_variant_id_own_variants", ondelete="CASCADE"
            ),
            nullable=False,
        ),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("document", sa.JSON(), nullable=False),
        constraints=(sa.UniqueConstraint("variant_id", "number", name="uq_own_variant_versions_variant_id"),),
    )
    op.create_index("ix_own_variant_versions_variant_id", "own_variant_versions", ["variant_id"])
    _owned(
        "saved_questions",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("address", sa.String(400), nullable=False),
    )


def downgrade() -> None:
    for table in ("saved_questions", "own_variant_versions", "own_variants", "rooms", "bodies", "people"):
        op.drop_table(table)
