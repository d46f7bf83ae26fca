"""The triceps' part of the upper arm, as a person's setting."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("people", sa.Column("triceps_part", sa.Double()))


def downgrade() -> None:
    op.drop_column("people", "triceps_part")
