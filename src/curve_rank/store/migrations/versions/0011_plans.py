"""Blocks with their states, and the clients who do them."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def _table(
    name: str, *columns: sa.Column[object], keys: dict[str, str], unique: tuple[str, ...] = ()
) -> None:
    """A table of rows that go with their owner and with whatever else they belong to."""
    op.create_table(
        name,
        sa.Column("id", sa.Integer(), nullable=False),
        *(sa.Column(key, sa.Integer(), nullable=False) for key in keys),
        *columns,
        *(
            sa.ForeignKeyConstraint([key], [f"{of}.id"], name=f"fk_{name}_{key}_{of}", ondelete="CASCADE")
            for key, of in keys.items()
        ),
        sa.PrimaryKeyConstraint("id", name=f"pk_{name}"),
        *([sa.UniqueConstraint(*unique, name=f"uq_{name}_{unique[0]}")] if unique else []),
    )
    for key in keys:
        op.create_index(f"ix_{name}_{key}", name, [key])


def upgrade() -> None:
    _table(
        "plans",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("at", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("removed_at", sa.DateTime(), nullable=True),
        keys={"owner_id": "people"},
    )
    _table(
        "plan_states",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("said", sa.String(160), nullable=False),
        sa.Column("content", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        keys={"owner_id": "people", "plan_id": "plans"},
        unique=("plan_id", "number"),
    )
    _table(
        "plan_clients",
        sa.Column("loads", sa.JSON(), nullable=False),
        sa.Column("handed_at", sa.DateTime(), nullable=True),
        sa.Column("feed", sa.String(64), nullable=True, unique=True),
        keys={"owner_id": "people", "plan_id": "plans", "client_id": "people"},
        unique=("plan_id", "client_id"),
    )


def downgrade() -> None:
    for table in ("plan_clients", "plan_states", "plans"):
        op.drop_table(table)
