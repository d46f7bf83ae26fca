"""A reserve that was only planned is known from one that was said; a strength can be confirmed."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "logged_sets", sa.Column("as_planned", sa.Boolean(), nullable=False, server_default=sa.false())
    )
    op.add_column("training_states", sa.Column("confirmed", sa.Double(), nullable=True))


def downgrade() -> None:
    op.drop_column("training_states", "confirmed")
    op.drop_column("logged_sets", "as_planned")
