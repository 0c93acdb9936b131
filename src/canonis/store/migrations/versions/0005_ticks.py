"""Ticks of the lines of a source.

Revision ID: 0005
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"

_TELL = """
create trigger tell after insert or update or delete on ticks for each row execute function canonis_tell_tick();
"""
_FUNCTION = """
create function canonis_tell_tick() returns trigger language plpgsql as $$
begin
  perform pg_notify('canonis', json_build_object('job', coalesce(new.job_id, old.job_id), 'tick', coalesce(new.number, old.number))::text);
  return null;
end $$;
"""


def upgrade() -> None:
    """A table for them; proofs of before do not know the places of lines and are made again."""
    op.create_table(
        "ticks",
        sa.Column("job_id", sa.Integer(), sa.ForeignKey("jobs.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("number", sa.String(), primary_key=True),
        sa.Column("saw", postgresql.JSONB(), nullable=False),
        sa.Column("author", sa.String(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
    )
    op.execute(_FUNCTION)
    op.execute(_TELL)
    op.execute("delete from proofs")


def downgrade() -> None:
    """Without them."""
    op.drop_table("ticks")
    op.execute("drop function canonis_tell_tick")
    op.execute("delete from proofs")
