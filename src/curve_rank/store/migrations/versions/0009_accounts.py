"""Accounts, sign-ins, invitations, resets, consents; people who leave; documents shared with coaches."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

ALL = ("consents", "resets", "invitations", "sign_ins", "accounts")


def _owned(table: str, *columns: sa.Column[object], person: bool | None = None) -> None:
    """A table of rows with an owner; `person` says that they are about somebody, who may or must be there."""
    keys = ["owner_id", *(["person_id"] if person is not None else [])]
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), nullable=False),
        *(sa.Column(key, sa.Integer(), nullable=key == "person_id" and not person) for key in keys),
        *columns,
        *(
            sa.ForeignKeyConstraint([key], ["people.id"], name=f"fk_{table}_{key}_people", ondelete="CASCADE")
            for key in keys
        ),
        sa.PrimaryKeyConstraint("id", name=f"pk_{table}"),
    )
    for key in keys:
        op.create_index(f"ix_{table}_{key}", table, [key], unique=key == "person_id" and bool(person))


def _token() -> sa.Column[object]:
    return sa.Column("token_hash", sa.String(64), nullable=False, unique=True)


def _at(name: str, *, nullable: bool = False) -> sa.Column[object]:
    return sa.Column(name, sa.DateTime(), nullable=nullable)


def upgrade() -> None:
    _owned(
        "accounts",
        sa.Column("email", sa.String(254), nullable=False, unique=True),
        sa.Column("password_hash", sa.String(200), nullable=False),
        _at("created_at"),
        person=True,
    )
    _owned(
        "sign_ins",
        _token(),
        sa.Column("agent", sa.String(160), nullable=False),
        _at("created_at"),
        _at("seen_at"),
    )
    _owned(
        "invitations",
        _token(),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("email", sa.String(254), nullable=False),
        sa.Column("roles", sa.JSON(), nullable=False),
        _at("created_at"),
        _at("expires_at"),
        _at("used_at", nullable=True),
        _at("withdrawn_at", nullable=True),
        person=False,
    )
    _owned("resets", _token(), _at("expires_at"), _at("used_at", nullable=True))
    _owned(
        "consents",
        sa.Column("digest", sa.String(64), nullable=False),
        sa.Column("wording", sa.Text(), nullable=False),
        *(sa.Column(name, sa.Boolean(), nullable=False) for name in ("agreed", "minor", "injured")),
        sa.Column("cleared_on", sa.Date(), nullable=True),
        _at("said_at"),
    )
    op.add_column("people", _at("leaving_at", nullable=True))
    op.add_column("documents", _at("shared_at", nullable=True))


def downgrade() -> None:
    op.drop_column("documents", "shared_at")
    op.drop_column("people", "leaving_at")
    for table in ALL:
        op.drop_table(table)
