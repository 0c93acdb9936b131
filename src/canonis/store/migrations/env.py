"""Alembic environment: migrations run on the application's own connection."""

from alembic import context

from canonis.store.database import engine
from canonis.store.tables import Base

with engine().connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()
    connection.commit()
