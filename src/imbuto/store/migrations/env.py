"""Alembic's entry: migrations run on the connection that the store hands over, each in one transaction with its
version."""

from alembic import context

from imbuto.store.models import Base

context.configure(
    connection=context.config.attributes["connection"],
    target_metadata=Base.metadata,
    render_as_batch=True,
    transactional_ddl=True,
    transaction_per_migration=True,
)
with context.begin_transaction():
    context.run_migrations()
