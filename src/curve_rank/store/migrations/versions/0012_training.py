"""Logged sets with their versions, events of sessions, the tape, photographs, comments and trials."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

PEOPLE = ("people", "CASCADE")
PLAN = ("plans", "SET NULL")


def _table(
    name: str,
    *columns: sa.Column[object],
    keys: dict[str, tuple[str, str]],
    indexed: tuple[str, ...] = (),
    unique: tuple[str, ...] = (),
) -> None:
    op.create_table(
        name,
        sa.Column("id", sa.Integer(), nullable=False),
        *(sa.Column(key, sa.Integer(), nullable=on == "SET NULL") for key, (_, on) in keys.items()),
        *columns,
        *(
            sa.ForeignKeyConstraint([key], [f"{of}.id"], name=f"fk_{name}_{key}_{of}", ondelete=on)
            for key, (of, on) in keys.items()
        ),
        sa.PrimaryKeyConstraint("id", name=f"pk_{name}"),
        *([sa.UniqueConstraint(*unique, name=f"uq_{name}_{unique[0]}")] if unique else []),
    )
    for key in indexed:
        op.create_index(f"ix_{name}_{key}", name, [key])


def _text(name: str, size: int) -> sa.Column[object]:
    return sa.Column(name, sa.String(size), nullable=False)


def _whole(name: str, *, nullable: bool = False) -> sa.Column[object]:
    return sa.Column(name, sa.Integer(), nullable=nullable)


def _told(name: str, kind: type, *, nullable: bool = False) -> sa.Column[object]:
    return sa.Column(name, kind(), nullable=nullable)


def upgrade() -> None:
    _table(
        "logged_sets",
        _text("key", 64), _told("day", sa.Date), _text("variant", 60), _text("side", 5), _whole("number"),
        _told("load_kg", sa.Double), _whole("reps"), _whole("reserve", nullable=True), _text("kind", 10),
        _text("gave_out", 12), _whole("soreness"), _text("pain_joint", 20), _whole("pain"),
        _told("sharp", sa.Boolean), _told("guessed", sa.Boolean), _told("note", sa.Text),
        _whole("week", nullable=True), _whole("session", nullable=True), _whole("place", nullable=True),
        _text("instead_of", 60), _whole("version"), _text("device", 40), _whole("written"),
        _told("removed", sa.Boolean),
        keys={"owner_id": PEOPLE, "person_id": PEOPLE, "plan_id": PLAN},
        indexed=("owner_id", "plan_id"),
        unique=("person_id", "key"),
    )  # fmt: skip
    op.create_index("ix_logged_sets_person_day", "logged_sets", ["person_id", "day"])
    op.create_index("ix_logged_sets_person_variant_day", "logged_sets", ["person_id", "variant", "day"])
    _table(
        "set_versions",
        _whole("number"), _told("content", sa.Text), _text("device", 40), _whole("written"),
        _told("aside", sa.Boolean), _told("kept_at", sa.DateTime),
        keys={"owner_id": PEOPLE, "set_id": ("logged_sets", "CASCADE")},
        indexed=("owner_id", "set_id"),
        unique=("set_id", "number"),
    )  # fmt: skip
    _table(
        "session_events",
        _text("key", 64), _whole("week", nullable=True), _whole("session", nullable=True), _text("kind", 8),
        _told("day", sa.Date), _told("to_day", sa.Date, nullable=True), _told("text", sa.Text),
        keys={"owner_id": PEOPLE, "person_id": PEOPLE, "plan_id": PLAN},
        indexed=("owner_id", "plan_id"),
        unique=("person_id", "key"),
    )  # fmt: skip
    _table(
        "training_states",
        _whole("revision"), _told("summary", sa.Text, nullable=True), _text("summary_key", 80),
        _told("learning", sa.Boolean), _told("learned", sa.Text, nullable=True), _text("learned_key", 80),
        keys={"owner_id": PEOPLE, "person_id": PEOPLE},
        indexed=("owner_id",),
    )  # fmt: skip
    op.create_index("ix_training_states_person_id", "training_states", ["person_id"], unique=True)
    _table(
        "arm_measures",
        _told("day", sa.Date), _told("content", sa.Text),
        keys={"owner_id": PEOPLE, "person_id": PEOPLE, "plan_id": PLAN},
        indexed=("owner_id", "person_id"),
    )  # fmt: skip
    _table(
        "progress_pictures",
        _told("day", sa.Date), _text("at", 5), _told("jpeg", sa.LargeBinary),
        keys={"owner_id": PEOPLE, "plan_id": PLAN},
        indexed=("owner_id",),
    )  # fmt: skip
    _table(
        "comments",
        _told("text", sa.Text), _told("written_at", sa.DateTime),
        keys={"owner_id": PEOPLE, "person_id": PEOPLE},
        indexed=("owner_id", "person_id"),
    )  # fmt: skip
    _table(
        "trials",
        _text("name", 80), _whole("seed"), _told("created_at", sa.DateTime),
        keys={
            "owner_id": PEOPLE,
            "person_id": PEOPLE,
            "first_id": ("plans", "CASCADE"),
            "second_id": ("plans", "CASCADE"),
        },
        indexed=("owner_id", "person_id"),
    )  # fmt: skip


def downgrade() -> None:
    for table in (
        "trials", "comments", "progress_pictures", "arm_measures", "training_states", "session_events",
        "set_versions", "logged_sets",
    ):  # fmt: skip
        op.drop_table(table)
