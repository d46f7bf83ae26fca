"""Published pages, frozen behind links that nobody can guess."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "publications",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("token", sa.String(43), nullable=False),
        sa.Column("kind", sa.String(24), nullable=False),
        sa.Column("title", sa.String(120), nullable=False),
        sa.Column("html", sa.Text(), nullable=False),
        sa.Column("data", sa.Text(), nullable=False),
        sa.Column("pdf", sa.LargeBinary(), nullable=False),
        sa.Column("parameters", sa.String(16), nullable=False),
        sa.Column("model", sa.String(16), nullable=False),
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.Column("withdrawn_at", sa.DateTime(), nullable=True),
        sa.Column("opened", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["owner_id"], ["people.id"], name="fk_publications_owner_id_people", ondelete="CASCADE"
        ),
        sa.PrimaryKeyConstraint("id", name="pk_publications"),
        sa.UniqueConstraint("token", name="uq_publications_token"),
    )
    op.create_index("ix_publications_owner_id", "publications", ["owner_id"])


def downgrade() -> None:
    op.drop_table("publications")
