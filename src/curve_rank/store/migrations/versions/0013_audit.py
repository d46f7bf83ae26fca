"""Who looked at whose data, and who changed it."""

import sqlalchemy as sa
from alembic import op

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "audit_entries",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("actor", sa.Integer(), nullable=False),
        sa.Column("act", sa.String(8), nullable=False),
        sa.Column("page", sa.String(120), nullable=False),
        sa.Column("request", sa.String(32), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["owner_id"], ["people.id"], name="fk_audit_entries_owner_id_people", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_audit_entries"),
    )
    op.create_index("ix_audit_entries_owner_id", "audit_entries", ["owner_id"])
    op.create_index("ix_audit_entries_at", "audit_entries", ["at"])


def downgrade() -> None:
    op.drop_table("audit_entries")
