"""The migrations build exactly the tables that the code describes."""

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import create_engine

from canonis.store.tables import Base


def test_migrations_and_tables_agree(application):
    engine = create_engine(application.database_address().replace("postgresql://", "postgresql+psycopg://"))
    with engine.connect() as connection:
        own = set(Base.metadata.tables)
        options = {"include_name": lambda name, kind, _: kind != "table" or name in own}
        assert compare_metadata(MigrationContext.configure(connection, opts=options), Base.metadata) == []
    engine.dispose()
