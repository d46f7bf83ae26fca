"""Verdicts on claims, kept with what they stand on."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "verdicts",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("claim", sa.String(60), nullable=False),
        sa.Column("setups", sa.String(16), nullable=False),
        sa.Column("parameters", sa.String(16), nullable=False),
        sa.Column("model", sa.String(16), nullable=False),
        sa.Column("content", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["owner_id"], ["people.id"], name="fk_verdicts_owner_id_people", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_verdicts"),
    )
    op.create_index("ix_verdicts_owner_id", "verdicts", ["owner_id"])
    op.create_index("ix_verdicts_owner_id_claim", "verdicts", ["owner_id", "claim"])


def downgrade() -> None:
    op.drop_table("verdicts")
