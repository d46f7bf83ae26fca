"""Alembic's entry: runs migrations on the connection that the application hands over."""

from alembic import context

from curve_rank.store.tables import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    render_as_batch=True,
    transactional_ddl=True,
)
with context.begin_transaction():
    context.run_migrations()
