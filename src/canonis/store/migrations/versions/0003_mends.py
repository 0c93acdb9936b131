"""Kept packets, sessions that slide and can be listed, and triggers that tell of what happens to jobs and people.

What happens is told on the channel `canonis` as JSON, in the transaction that does it, so that nobody hears of anything
that is not so and nothing has to be asked for again and again.

Revision ID: 0003
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"

_TELL_JOB = """
create function canonis_tell_job() returns trigger language plpgsql as $$
begin
  perform pg_notify('canonis', json_build_object(
    'job', new.id, 'sheet', new.sheet_head, 'source', new.source_version, 'model', new.model_id)::text);
  return null;
end $$;
create trigger tell after update on jobs for each row
  when ((old.sheet_head, old.source_version, old.model_id) is distinct from (new.sheet_head, new.source_version, new.model_id))
  execute function canonis_tell_job();
"""
_TELL_TASK = """
create function canonis_tell_task() returns trigger language plpgsql as $$
begin
  perform pg_notify('canonis', json_build_object('job', new.job_id, 'task', json_build_object(
    'id', new.id, 'kind', new.kind, 'state', new.state, 'stage', left(new.stage, 200), 'error', left(new.error, 1000)))::text);
  return null;
end $$;
create trigger tell after insert or update of state, stage, error on tasks for each row execute function canonis_tell_task();
"""
_TELL_PEOPLE = """
create function canonis_tell_person() returns trigger language plpgsql as $$
begin
  perform pg_notify('canonis', json_build_object('person', old.id)::text);
  return null;
end $$;
create trigger tell after update of role, password_hash or delete on users for each row execute function canonis_tell_person();
create function canonis_tell_session() returns trigger language plpgsql as $$
begin
  perform pg_notify('canonis', json_build_object('session', old.token_hash)::text);
  return null;
end $$;
create trigger tell after delete on sessions for each row execute function canonis_tell_session();
"""


def upgrade() -> None:
    """Add the table, the columns and the triggers."""
    op.create_table(
        "kept",
        sa.Column("sha256", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("data", sa.LargeBinary(), nullable=False),
        sa.Column("made", sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now()),
        sa.PrimaryKeyConstraint("sha256", "kind", "code"),
    )
    for name in ("created", "seen"):
        fresh = sa.Column(name, sa.DateTime(timezone=True), nullable=False, server_default=sa.func.now())
        op.add_column("sessions", fresh)
        op.alter_column("sessions", name, server_default=None)
    op.add_column("sessions", sa.Column("agent", sa.String(), nullable=False, server_default=""))
    op.create_index("ix_sessions_user_id", "sessions", ["user_id"])
    # What only the browser looks into is kept as the text that it gets.
    for table, column in (("models", "meshes"), ("sheet_versions", "pages")):
        op.alter_column(table, column, type_=sa.String(), postgresql_using=f"{column}::text")
    for text in (_TELL_JOB, _TELL_TASK, _TELL_PEOPLE):
        op.execute(text)


def downgrade() -> None:
    """Take them away again."""
    for table, name in (("jobs", "job"), ("tasks", "task"), ("users", "person"), ("sessions", "session")):
        op.execute(f"drop trigger tell on {table}")
        op.execute(f"drop function canonis_tell_{name}")
    for table, column in (("models", "meshes"), ("sheet_versions", "pages")):
        op.alter_column(table, column, type_=postgresql.JSONB(), postgresql_using=f"{column}::jsonb")
    op.drop_index("ix_sessions_user_id", "sessions")
    for column in ("agent", "seen", "created"):
        op.drop_column("sessions", column)
    op.drop_table("kept")
