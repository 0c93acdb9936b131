"""Workspaces: what belongs to one customer, and who works in it."""

from collections.abc import Iterable, Sequence

from sqlalchemy import ScalarSelect, delete, select, update
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from canonis.core.faults import BadInput
from canonis.store.database import open_session
from canonis.store.tables import DrawingSet, Job, Member, Task, Workspace

__all__ = [
    "add_workspace",
    "change_workspace",
    "first_workspace",
    "list_workspaces",
    "may_enter",
    "may_enter_one",
    "members_of_all",
    "put_members",
    "theirs",
]

_FIRST = "First workspace"


def theirs(user_id: int) -> ScalarSelect[int]:
    """The workspaces somebody works in, as a part of a query."""
    return select(Member.workspace_id).where(Member.user_id == user_id).scalar_subquery()


def may_enter(user_id: int, *, job: int | None = None, drawing_set: int | None = None, task: int | None = None) -> bool:
    """Whether somebody works in the workspace of a job, a drawing set, or the job of a task."""
    if task is not None:
        query = select(Job.workspace_id).join(Task, Task.job_id == Job.id).where(Task.id == task)
    elif drawing_set is not None:
        query = select(DrawingSet.workspace_id).where(DrawingSet.id == drawing_set)
    else:
        query = select(Job.workspace_id).where(Job.id == job)
    with open_session() as session:
        query = query.join(Member, Member.workspace_id == query.selected_columns[0]).where(Member.user_id == user_id)
        return session.scalar(query) is not None


def may_enter_one(user_id: int, jobs: Iterable[int]) -> bool:
    """Whether somebody works in the workspace of at least one of these jobs."""
    query = select(Job.id).where(Job.id.in_(list(jobs)), Job.workspace_id.in_(theirs(user_id)))
    with open_session() as session:
        return session.scalar(query.limit(1)) is not None


def first_workspace() -> Workspace:
    """The workspace that people and sets go to when none is named; made when there is none."""
    with open_session() as session:
        found = session.scalar(select(Workspace).order_by(Workspace.id).limit(1))
        if found is None:
            found = Workspace(name=_FIRST, rules={})
            session.add(found)
            session.commit()
        return found


def list_workspaces(user_id: int | None = None) -> list[Workspace]:
    """The workspaces somebody works in, or all of them, by name."""
    query = select(Workspace).order_by(Workspace.name)
    if user_id is not None:
        query = query.where(Workspace.id.in_(theirs(user_id)))
    with open_session() as session:
        return list(session.scalars(query))


def members_of_all() -> dict[int, list[int]]:
    """The workspaces of each account."""
    out: dict[int, list[int]] = {}
    with open_session() as session:
        for m in session.scalars(select(Member).order_by(Member.workspace_id)):
            out.setdefault(m.user_id, []).append(m.workspace_id)
    return out


def put_members(session: Session, user_id: int, wanted: Iterable[int]) -> None:
    """Let an account work in these workspaces and in no other.

    Raises BadInput for a workspace that is not there.
    """
    wanted = set(wanted)
    known = set(session.scalars(select(Workspace.id).where(Workspace.id.in_(wanted))))
    if known != wanted:
        raise BadInput("There is no such workspace; reload the list.")
    session.execute(delete(Member).where(Member.user_id == user_id, Member.workspace_id.not_in(wanted)))
    there = set(session.scalars(select(Member.workspace_id).where(Member.user_id == user_id)))
    session.add_all(Member(user_id=user_id, workspace_id=w) for w in wanted - there)


def add_workspace(name: str, members: Sequence[int]) -> bool:
    """A new workspace with these people in it; False when the name is taken."""
    with open_session() as session:
        made = Workspace(name=name, rules={})
        session.add(made)
        try:
            session.flush()
        except IntegrityError:
            return False
        session.add_all(Member(user_id=m, workspace_id=made.id) for m in members)
        session.commit()
        return True


def change_workspace(workspace_id: int, *, name: str | None = None, rules: dict[str, str] | None = None) -> bool:
    """Another name or other house rules; jobs that say nothing else are read and proved anew with them. False when the
    name is taken.

    Raises BadInput for a workspace that is not there.
    """
    with open_session() as session:
        found = session.get(Workspace, workspace_id, with_for_update=True)
        if found is None:
            raise BadInput("There is no such workspace; reload the list.")
        if rules is not None and rules != found.rules:
            found.rules = rules
            mine = update(Job).where(Job.workspace_id == workspace_id)
            session.execute(mine.values(source_version=Job.source_version + 1))
        if name is not None:
            found.name = name
        try:
            session.commit()
        except IntegrityError:
            return False
        return True
