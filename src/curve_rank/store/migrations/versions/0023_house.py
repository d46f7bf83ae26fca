"""What a house finds out together: consents, shares, editions, releases."""

import sqlalchemy as sa
from alembic import op

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def _owned(table: str, *rest: sa.schema.SchemaItem) -> None:
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("owner_id", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=f"pk_{table}"),
        sa.ForeignKeyConstraint(
            ["owner_id"], ["people.id"], ondelete="CASCADE", name=f"fk_{table}_owner_id_people"
        ),
        *rest,
    )
    op.create_index(f"ix_{table}_owner_id", table, ["owner_id"])


def upgrade() -> None:
    _owned(
        "house_consents",
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("wording", sa.Text(), nullable=False),
        sa.Column("agreed", sa.Boolean(), nullable=False),
        sa.Column("said_at", sa.DateTime(), nullable=False),
    )
    _owned(
        "house_shares",
        sa.Column("month", sa.String(7), nullable=False),
        sa.Column("content", sa.Text(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("owner_id", "month", name="uq_house_shares_owner_id"),
    )
    op.create_index("ix_house_shares_month", "house_shares", ["month"])
    _owned(
        "house_editions",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("month", sa.String(7), nullable=False),
        sa.Column("offsets", sa.Text(), nullable=False),
        sa.Column("mark", sa.String(64), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
    )
    _owned(
        "edition_turns",
        sa.Column("edition_id", sa.Integer(), nullable=True),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["edition_id"],
            ["house_editions.id"],
            ondelete="SET NULL",
            name="fk_edition_turns_edition_id_house_editions",
        ),
    )
    op.create_index("ix_edition_turns_edition_id", "edition_turns", ["edition_id"])
    _owned(
        "house_releases",
        sa.Column("year", sa.Integer(), nullable=False),
        sa.Column("content", sa.Text(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("owner_id", "year", name="uq_house_releases_owner_id"),
    )

    _owned(
        "house_trials",
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("first_way", sa.String(200), nullable=False),
        sa.Column("second_way", sa.String(200), nullable=False),
        sa.Column("difference_cm", sa.Double(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("begins", sa.Date(), nullable=False),
        sa.Column("looks_on", sa.Date(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
    )
    _owned(
        "house_trial_people",
        sa.Column("trial_id", sa.Integer(), nullable=False),
        sa.Column("way", sa.Integer(), nullable=False),
        sa.Column("joined_at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(
            ["trial_id"],
            ["house_trials.id"],
            ondelete="CASCADE",
            name="fk_house_trial_people_trial_id_house_trials",
        ),
        sa.UniqueConstraint("trial_id", "owner_id", name="uq_house_trial_people_trial_id"),
    )
    op.create_index("ix_house_trial_people_trial_id", "house_trial_people", ["trial_id"])
    _owned(
        "forecasts",
        sa.Column("day", sa.Date(), nullable=False),
        sa.Column("variant", sa.String(60), nullable=False),
        sa.Column("load_kg", sa.Double(), nullable=False),
        sa.Column("room", sa.String(80), nullable=False),
        sa.Column("edition", sa.String(80), nullable=False),
        sa.Column("expected", sa.Double(), nullable=False),
        sa.Column("spread", sa.Double(), nullable=False),
        sa.Column("made_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint("owner_id", "day", "variant", name="uq_forecasts_owner_id"),
    )


def downgrade() -> None:
    for table in ("forecasts", "house_trial_people", "house_trials"):
        op.drop_table(table)
    for table in ("house_releases", "edition_turns", "house_editions", "house_shares", "house_consents"):
        op.drop_table(table)
