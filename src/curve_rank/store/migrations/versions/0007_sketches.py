"""Sketches and quick answers, with what they were worth."""

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "sketches",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(16), nullable=False),
        sa.Column("item", sa.String(160), nullable=False),
        sa.Column("family", sa.String(40), nullable=False),
        sa.Column("answer", sa.Text(), nullable=False),
        sa.Column("points", sa.Double(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["owner_id"], ["people.id"], name="fk_sketches_owner_id_people", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_sketches"),
    )
    op.create_index("ix_sketches_owner_id", "sketches", ["owner_id"])
    op.create_index("ix_sketches_owner_id_kind", "sketches", ["owner_id", "kind"])


def downgrade() -> None:
    op.drop_table("sketches")
