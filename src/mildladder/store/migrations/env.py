"""Run migrations on the connection that the database hands over, or on a scratch file to write a new one."""

from alembic import context

from mildladder.store.tables import Base

connection = context.config.attributes["connection"]
context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True)
with context.begin_transaction():
    context.run_migrations()
