"""Workspaces: what keeps customers apart, and the house rules that their jobs follow."""

from fastapi import APIRouter, HTTPException

from canonis.core.house import CHOICES, House
from canonis.store.tables import Workspace
from canonis.store.workspaces import add_workspace, change_workspace, list_workspaces
from canonis.web.guard import Administrator, Anyone, GuardedRoute
from canonis.web.ids import Id
from canonis.web.models import RuleChoice
from canonis.web.people_models import WorkspaceCard, WorkspaceIn

__all__ = ["router"]

router = APIRouter(tags=["workspaces"], route_class=GuardedRoute)


def _card(found: Workspace) -> WorkspaceCard:
    return WorkspaceCard(id=found.id, name=found.name, rules=found.rules)


@router.get("/workspaces", operation_id="listWorkspaces")
def get_workspaces(user: Anyone) -> list[WorkspaceCard]:
    """The workspaces one works in; an administrator sees all, to say who works where."""
    return [_card(w) for w in list_workspaces(None if user.role == "administrator" else user.id)]


@router.get("/house-rules", operation_id="listHouseRules")
def get_house_rules(user: Anyone) -> list[RuleChoice]:
    """What a house may choose: where practitioners disagree, the first option is the program's own."""
    return [RuleChoice.model_validate(c.as_json()) for c in CHOICES]


def _rules(body: WorkspaceIn) -> dict[str, str]:
    """The rules of a workspace as they are kept, refused in one sentence where they are none."""
    known = {c.key: body.rules[c.key] for c in CHOICES if body.rules.get(c.key)}
    House.read(known)
    return known


def _taken(body: WorkspaceIn) -> HTTPException:
    return HTTPException(409, f"There is already a workspace named “{body.name.strip()}”; choose another name.")


@router.post("/workspaces", operation_id="addWorkspace", status_code=201)
def post_workspace(body: WorkspaceIn, user: Administrator) -> list[WorkspaceCard]:
    """A new workspace, with oneself in it; the list with it."""
    if not add_workspace(body.name.strip(), [user.id]):
        raise _taken(body)
    return get_workspaces(user)


@router.put("/workspaces/{workspace_id}", operation_id="changeWorkspace")
def put_workspace(workspace_id: Id, body: WorkspaceIn, user: Administrator) -> list[WorkspaceCard]:
    """Another name or other house rules; jobs that say nothing else follow them."""
    if not change_workspace(workspace_id, name=body.name.strip(), rules=_rules(body)):
        raise _taken(body)
    return get_workspaces(user)
