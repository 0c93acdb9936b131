"""The Solid station: what a job keeps of it, the states of its part, and results of background work.

Revision ID: 0002
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    """Add the columns and the table of states."""
    op.add_column("jobs", sa.Column("station", postgresql.JSONB(), nullable=False, server_default="{}"))
    op.add_column("tasks", sa.Column("result", postgresql.JSONB(), nullable=True))
    op.create_table(
        "states",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.Integer(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("origin", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["jobs.id"], ondelete="CASCADE"),
        sa.ForeignKeyConstraint(["sha256"], ["blobs.sha256"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_states_job_id", "states", ["job_id"])


def downgrade() -> None:
    """Take them away again."""
    op.drop_table("states")
    op.drop_column("tasks", "result")
    op.drop_column("jobs", "station")
