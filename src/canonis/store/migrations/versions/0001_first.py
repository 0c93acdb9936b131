"""First schema: people, drawing sets, jobs, models, sheets, proofs, tasks, and the queue's own tables.

Revision ID: 0001
"""

from alembic import op
from procrastinate.schema import SchemaManager

from canonis.store.tables import Base

revision = "0001"
down_revision = None


def upgrade() -> None:
    """Create all tables."""
    connection = op.get_bind()
    Base.metadata.create_all(connection)
    # The driver takes statements with % as parameters; the queue's schema is sent as it is.
    raw = connection.connection.dbapi_connection
    assert raw is not None
    raw.execute(SchemaManager.get_schema())  # type: ignore[attr-defined]


def downgrade() -> None:
    """Drop all tables of the application."""
    Base.metadata.drop_all(op.get_bind())
