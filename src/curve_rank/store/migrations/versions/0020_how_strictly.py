"""How strictly a set was done."""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("logged_sets", sa.Column("done", sa.String(12), nullable=False, server_default="strictly"))


def downgrade() -> None:
    op.drop_column("logged_sets", "done")
