"""Workspaces and their members, remarks on statements, and sheet versions kept as what differs from their parent.

Revision ID: 0004
"""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"

_FIRST = "First workspace"
_TELL_MEMBERS = """
create function canonis_tell_member() returns trigger language plpgsql as $$
begin
  perform pg_notify('canonis', json_build_object('person', old.user_id)::text);
  return null;
end $$;
create trigger tell after delete on members for each row execute function canonis_tell_member();
create function canonis_tell_remark() returns trigger language plpgsql as $$
begin
  perform pg_notify('canonis', json_build_object('job', coalesce(new.job_id, old.job_id), 'remark', coalesce(new.id, old.id))::text);
  return null;
end $$;
create trigger tell after insert or update or delete on remarks for each row execute function canonis_tell_remark();
"""


def upgrade() -> None:
    """Everybody and everything goes into one first workspace."""
    op.create_table(
        "workspaces",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("name", sa.String(), nullable=False, unique=True),
        sa.Column("rules", postgresql.JSONB(), nullable=False, server_default="{}"),
    )
    op.create_table(
        "members",
        sa.Column("user_id", sa.Integer(), sa.ForeignKey("users.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("workspace_id", sa.Integer(), sa.ForeignKey("workspaces.id", ondelete="CASCADE"), primary_key=True),
    )
    op.execute(f"insert into workspaces (name) values ('{_FIRST}')")
    op.execute("insert into members (user_id, workspace_id) select u.id, w.id from users u, workspaces w")
    for table in ("drawing_sets", "jobs"):
        op.add_column(table, sa.Column("workspace_id", sa.Integer(), sa.ForeignKey("workspaces.id")))
        op.execute(f"update {table} set workspace_id = (select id from workspaces)")
        op.alter_column(table, "workspace_id", nullable=False)
    op.drop_constraint("drawing_sets_name_key", "drawing_sets")
    op.create_unique_constraint("drawing_sets_workspace_id_name_key", "drawing_sets", ["workspace_id", "name"])
    op.drop_constraint("jobs_number_key", "jobs")
    op.create_unique_constraint("jobs_workspace_id_number_key", "jobs", ["workspace_id", "number"])
    op.create_index("ix_jobs_set_id", "jobs", ["set_id"])
    op.alter_column("sheet_versions", "document", new_column_name="snapshot", nullable=True)
    op.add_column("sheet_versions", sa.Column("patch", postgresql.JSONB()))
    op.add_column("sheet_versions", sa.Column("depth", sa.Integer(), nullable=False, server_default="0"))
    op.add_column("sheet_versions", sa.Column("picture", sa.String()))
    op.add_column("sheet_versions", sa.Column("token", sa.String(), nullable=False, server_default=""))
    op.create_index("ix_sheet_versions_parent", "sheet_versions", ["parent"])
    op.add_column("proofs", sa.Column("open", sa.Integer(), nullable=False, server_default="0"))
    op.execute(
        "update proofs set open = (select count(*) from jsonb_array_elements(result->'findings') f "
        "where coalesce(f->>'under', '') = '' and f->>'severity' <> 'advice')"
    )
    op.create_table(
        "remarks",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("job_id", sa.Integer(), sa.ForeignKey("jobs.id", ondelete="CASCADE"), nullable=False, index=True),
        sa.Column("statement", sa.String(), nullable=False),
        sa.Column("refs", postgresql.JSONB(), nullable=False),
        sa.Column("said", sa.String(), nullable=False),
        sa.Column("text", sa.String(), nullable=False),
        sa.Column("author", sa.String(), nullable=False),
        sa.Column("created", sa.DateTime(timezone=True), nullable=False),
        sa.Column("settled_by", sa.String(), nullable=False, server_default=""),
    )
    op.execute(_TELL_MEMBERS)


def downgrade() -> None:
    """Back to one house; versions that are kept as what differs are lost, the newest whole one stays."""
    op.drop_table("remarks")
    op.execute("drop function canonis_tell_remark")
    op.execute(
        "update jobs set sheet_head = null where sheet_head in (select id from sheet_versions where snapshot is null)"
    )
    op.execute("delete from sheet_versions where snapshot is null")
    op.drop_column("proofs", "open")
    op.drop_index("ix_sheet_versions_parent", "sheet_versions")
    for column in ("token", "picture", "depth", "patch"):
        op.drop_column("sheet_versions", column)
    op.alter_column("sheet_versions", "snapshot", new_column_name="document", nullable=False)
    op.drop_index("ix_jobs_set_id", "jobs")
    op.drop_constraint("jobs_workspace_id_number_key", "jobs")
    op.create_unique_constraint("jobs_number_key", "jobs", ["number"])
    op.drop_constraint("drawing_sets_workspace_id_name_key", "drawing_sets")
    op.create_unique_constraint("drawing_sets_name_key", "drawing_sets", ["name"])
    for table in ("drawing_sets", "jobs"):
        op.drop_column(table, "workspace_id")
    op.drop_table("members")
    op.execute("drop function canonis_tell_member")
    op.drop_table("workspaces")
