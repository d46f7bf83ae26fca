"""Captures with their raw samples; pictures with their marks."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None


def _owned(table: str, *columns: sa.Column[object], parent: str = "") -> None:
    """A table of rows that have an owner, and go with it; and with their parent where they have one."""
    keys = [("owner_id", "people")] + ([(f"{parent}_id", f"{parent}s")] if parent else [])
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), nullable=False),
        *(sa.Column(column, sa.Integer(), nullable=False) for column, _ in keys),
        *columns,
        *(
            sa.ForeignKeyConstraint(
                [column], [f"{of}.id"], name=f"fk_{table}_{column}_{of}", ondelete="CASCADE"
            )
            for column, of in keys
        ),
        sa.PrimaryKeyConstraint("id", name=f"pk_{table}"),
    )
    for column, _ in keys:
        op.create_index(f"ix_{table}_{column}", table, [column])


def upgrade() -> None:
    _owned(
        "captures",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("device", sa.String(120), nullable=False),
        sa.Column("weight_kg", sa.Double(), nullable=False),
        sa.Column("lever_m", sa.Double(), nullable=False),
        sa.Column("counts", sa.Text(), nullable=False),
        sa.Column("begun_at", sa.DateTime(), nullable=False),
    )
    _owned("capture_parts", sa.Column("rows", sa.Text(), nullable=False), parent="capture")
    _owned(
        "picture_sets",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("marks", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
    )
    _owned(
        "pictures",
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
        parent="picture_set",
    )


def downgrade() -> None:
    for table in ("pictures", "picture_sets", "capture_parts", "captures"):
        op.drop_table(table)
