"""Names of accounts told apart by how they look, earlier sources kept, steps that were taken known by their tokens.

Revision ID: 0006
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

from canonis.core.plain import look_of

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    """Of accounts whose names look alike the first keeps the look; the others stay, marked by their number."""
    op.add_column("users", sa.Column("look", sa.String()))
    connection = op.get_bind()
    taken: set[str] = set()
    for user_id, name in connection.execute(sa.text("select id, name from users order by id")).all():
        look = look_of(name)
        look = look if look and look not in taken else f"{look} {user_id}"
        taken.add(look)
        connection.execute(sa.text("update users set look = :look where id = :id"), {"look": look, "id": user_id})
    op.alter_column("users", "look", nullable=False)
    op.create_unique_constraint("users_look_key", "users", ["look"])
    op.create_table(
        "earlier_sources",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("job_id", sa.Integer(), sa.ForeignKey("jobs.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("source", postgresql.JSONB(), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("author", sa.String(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
    )
    op.create_table(
        "steps",
        sa.Column("job_id", sa.Integer(), sa.ForeignKey("jobs.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("token", sa.String(), primary_key=True),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
    )


def downgrade() -> None:
    """Without them."""
    op.drop_table("steps")
    op.drop_table("earlier_sources")
    op.drop_constraint("users_look_key", "users")
    op.drop_column("users", "look")
