"""Wrong tries outlive a restart, accounts can be locked, a password is asked again."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "wrong_tries",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("tried_by", sa.String(64), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_wrong_tries"),
    )
    op.create_index("ix_wrong_tries_tried_by", "wrong_tries", ["tried_by"])
    op.create_index("ix_wrong_tries_at", "wrong_tries", ["at"])
    op.add_column("accounts", sa.Column("locked_at", sa.DateTime(), nullable=True))
    op.add_column("sign_ins", sa.Column("confirmed_at", sa.DateTime(), nullable=True))


def downgrade() -> None:
    op.drop_column("sign_ins", "confirmed_at")
    op.drop_column("accounts", "locked_at")
    op.drop_table("wrong_tries")
