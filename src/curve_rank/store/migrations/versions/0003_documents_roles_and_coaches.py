"""One pair of tables for documents of every kind; several roles a person; which coach has which client."""

from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None

KINDS = (
    # kind, old table, its versions' table, their foreign key, what it was made from
    ("variant", "own_variants", "own_variant_versions", "variant_id", "made_from"),
    ("lens", "own_lenses", "own_lens_versions", "lens_id", "NULL"),
)
UNNAMED = "unnamed"


def upgrade() -> None:
    _table(
        "person_roles",
        _person("person_roles", "person_id"),
        sa.Column("role", sa.String(16), nullable=False),
        unique=("person_id", "role"),
        indexed=("person_id",),
    )
    _table(
        "coach_clients",
        _person("coach_clients", "coach_id"),
        _person("coach_clients", "client_id"),
        unique=("coach_id", "client_id"),
        indexed=("coach_id", "client_id"),
    )
    _table(
        "documents",
        sa.Column("kind", sa.String(24), nullable=False),
        sa.Column("slug", sa.String(60), nullable=False),
        sa.Column("name", sa.String(80), nullable=False),
        sa.Column("made_from", sa.String(60)),
        sa.Column("newest", sa.Integer(), nullable=False),
        sa.Column("removed_at", sa.DateTime()),
        unique=("owner_id", "kind", "slug"),
    )
    _table(
        "document_versions",
        _person("document_versions", "author_id"),
        _reference("document_versions", "document_id", "documents"),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("content", sa.Text(), nullable=False),
        unique=("document_id", "number"),
        indexed=("author_id", "document_id"),
    )
    op.execute(
        "INSERT INTO person_roles (owner_id, person_id, role, created_at)"
        " SELECT id, id, role, created_at FROM people"
    )
    op.drop_column("people", "role")
    for kind, table, versions, key, made_from in KINDS:
        _carry_over(kind, table, versions, key, made_from)
        op.drop_table(versions)
        op.drop_table(table)


def _carry_over(kind: str, table: str, versions: str, key: str, made_from: str) -> None:
    newest = f"(SELECT max(number) FROM {versions} WHERE {key} = old.id)"
    content = f"(SELECT document FROM {versions} WHERE {key} = old.id AND number = {newest})"
    name = f"CASE WHEN json_valid({content}) THEN json_extract({content}, '$.name') END"
    op.execute(
        "INSERT INTO documents (owner_id, kind, slug, name, made_from, newest, created_at, removed_at)"
        f" SELECT owner_id, '{kind}', slug, substr(coalesce({name}, slug, '{UNNAMED}'), 1, 80), {made_from},"
        f" coalesce({newest}, 0), created_at, removed_at FROM {table} AS old ORDER BY id"
    )
    op.execute(
        "INSERT INTO document_versions (owner_id, author_id, document_id, number, content, created_at)"
        " SELECT d.owner_id, v.owner_id, d.id, v.number, v.document, v.created_at"
        f" FROM {versions} AS v JOIN {table} AS old ON old.id = v.{key}"
        f" JOIN documents AS d ON d.kind = '{kind}' AND d.slug = old.slug ORDER BY v.id"
    )


def downgrade() -> None:
    op.add_column("people", sa.Column("role", sa.String(16), nullable=False, server_default="client"))
    op.execute(
        "UPDATE people SET role = coalesce("
        "(SELECT role FROM person_roles WHERE person_id = people.id ORDER BY id LIMIT 1), 'client')"
    )
    for kind, table, versions, key, _ in KINDS:
        made_from = [sa.Column("made_from", sa.String(60))] if kind == "variant" else []
        _table(
            table,
            sa.Column("slug", sa.String(60), nullable=False),
            *made_from,
            sa.Column("removed_at", sa.DateTime()),
            unique=("slug",),
        )
        _table(
            versions,
            _reference(versions, key, table),
            sa.Column("number", sa.Integer(), nullable=False),
            sa.Column("document", sa.JSON(), nullable=False),
            unique=(key, "number"),
            indexed=(key,),
        )
        taken = ", made_from" if kind == "variant" else ""
        op.execute(
            f"INSERT OR IGNORE INTO {table} (owner_id, slug, created_at, removed_at{taken})"
            f" SELECT owner_id, slug, created_at, removed_at{taken} FROM documents WHERE kind = '{kind}'"
        )
        op.execute(
            f"INSERT INTO {versions} (owner_id, {key}, number, document, created_at)"
            " SELECT v.author_id, old.id, v.number, v.content, v.created_at FROM document_versions AS v"
            f" JOIN documents AS d ON d.id = v.document_id AND d.kind = '{kind}'"
            f" JOIN {table} AS old ON old.slug = d.slug AND old.owner_id = d.owner_id"
        )
    for table in ("document_versions", "documents", "coach_clients", "person_roles"):
        op.drop_table(table)


def _table(
    name: str, *columns: sa.Column[Any], unique: tuple[str, ...], indexed: tuple[str, ...] = ()
) -> None:
    op.create_table(
        name,
        sa.Column("id", sa.Integer(), primary_key=True),
        _person(name, "owner_id"),
        *columns,
        sa.Column("created_at", sa.DateTime(), nullable=False),
        sa.UniqueConstraint(*unique, name=f"uq_{name}_{unique[0]}"),
    )
    for column in ("owner_id", *indexed):
        op.create_index(f"ix_{name}_{column}", name, [column])


def _person(table: str, column: str) -> sa.Column[int]:
    return _reference(table, column, "people")


def _reference(table: str, column: str, other: str) -> sa.Column[int]:
    key = sa.ForeignKey(f"{other}.id", name=f"fk_{table}_{column}_{other}", ondelete="CASCADE")
    return sa.Column(column, sa.Integer(), key, nullable=False)
