"""Clients' profiles, and rooms with their real steps; a room may be one person's."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "client_profiles",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.Column("person_id", sa.Integer(), nullable=False),
        sa.Column("content", sa.Text(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("changed_at", sa.DateTime(), nullable=False),
        *(
            sa.ForeignKeyConstraint(
                [key], ["people.id"], name=f"fk_client_profiles_{key}_people", ondelete="CASCADE"
            )
            for key in ("owner_id", "person_id")
        ),
        sa.PrimaryKeyConstraint("id", name="pk_client_profiles"),
    )
    op.create_index("ix_client_profiles_owner_id", "client_profiles", ["owner_id"])
    op.create_index("ix_client_profiles_person_id", "client_profiles", ["person_id"], unique=True)
    with op.batch_alter_table("rooms") as rooms:
        rooms.add_column(sa.Column("person_id", sa.Integer(), nullable=True))
        rooms.add_column(sa.Column("steps", sa.Text(), nullable=True))
        rooms.create_foreign_key(
            "fk_rooms_person_id_people", "people", ["person_id"], ["id"], ondelete="CASCADE"
        )
        rooms.create_index("ix_rooms_person_id", ["person_id"])


def downgrade() -> None:
    with op.batch_alter_table("rooms") as rooms:
        rooms.drop_index("ix_rooms_person_id")
        rooms.drop_column("steps")
        rooms.drop_column("person_id")
    op.drop_table("client_profiles")
