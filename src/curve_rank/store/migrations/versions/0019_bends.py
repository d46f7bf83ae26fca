"""How each of those who share a block bends it."""

import sqlalchemy as sa
from alembic import op

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("plan_clients", sa.Column("bends", sa.JSON(), nullable=False, server_default="{}"))


def downgrade() -> None:
    op.drop_column("plan_clients", "bends")
