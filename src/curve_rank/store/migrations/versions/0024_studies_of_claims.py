"""Trials over people belong to claims, and what other houses told is kept."""

import sqlalchemy as sa
from alembic import op

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("house_trials", sa.Column("claim", sa.String(120), nullable=False, server_default=""))
    op.create_table(
        "other_houses",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("claim", sa.String(120), nullable=False),
        sa.Column("content", sa.Text(), nullable=False),
        sa.Column("read_at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_other_houses"),
        sa.ForeignKeyConstraint(
            ["owner_id"], ["people.id"], ondelete="CASCADE", name="fk_other_houses_owner_id_people"
        ),
        sa.UniqueConstraint("owner_id", "digest", name="uq_other_houses_owner_id"),
    )
    op.create_index("ix_other_houses_owner_id", "other_houses", ["owner_id"])


def downgrade() -> None:
    op.drop_table("other_houses")
    op.drop_column("house_trials", "claim")
