"""A published page says what it answers, and has a picture for where its link is shown."""

import sqlalchemy as sa
from alembic import op

revision = "0021"
down_revision = "0020"
branch_labels = None
depends_on = None


def upgrade() -> None:
    with op.batch_alter_table("publications") as batch:
        batch.add_column(sa.Column("says", sa.Text(), nullable=False, server_default=""))
        batch.add_column(sa.Column("preview", sa.LargeBinary(), nullable=True))


def downgrade() -> None:
    with op.batch_alter_table("publications") as batch:
        batch.drop_column("preview")
        batch.drop_column("says")
