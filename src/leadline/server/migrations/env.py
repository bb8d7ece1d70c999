"""Alembic's entry: runs on the connection that the application hands over."""

from alembic import context

from leadline.server.tables import Base

context.configure(connection=context.config.attributes["connection"], target_metadata=Base.metadata)
with context.begin_transaction():
    context.run_migrations()
