"""What of a client a coach has seen already, until something new is there."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "seen_marks",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("marks", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.PrimaryKeyConstraint("id", name="pk_seen_marks"),
        sa.ForeignKeyConstraint(
            ["owner_id"], ["people.id"], ondelete="CASCADE", name="fk_seen_marks_owner_id_people"
        ),
        sa.ForeignKeyConstraint(
            ["person_id"], ["people.id"], ondelete="CASCADE", name="fk_seen_marks_person_id_people"
        ),
        sa.UniqueConstraint("owner_id", "person_id", name="uq_seen_marks_owner_id"),
    )
    op.create_index("ix_seen_marks_owner_id", "seen_marks", ["owner_id"])
    op.create_index("ix_seen_marks_person_id", "seen_marks", ["person_id"])


def downgrade() -> None:
    op.drop_table("seen_marks")
