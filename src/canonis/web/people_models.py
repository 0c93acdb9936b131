"""Requests and answers about people, their sessions and workspaces."""

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from canonis.web.asked import Asked

__all__ = [
    "Account",
    "Me",
    "Person",
    "PersonNew",
    "PersonPatch",
    "SessionCard",
    "SignIn",
    "TwoPasswords",
    "WorkspaceCard",
    "WorkspaceIn",
]

Role = Literal["drafter", "checker", "viewer", "administrator"]


class SignIn(Asked):
    """Name and password."""

    name: str = Field(max_length=80)
    password: str = Field(max_length=200)


class Account(BaseModel):
    """A demo account offered on the sign-in page."""

    name: str
    password: str
    role: str


class Me(BaseModel):
    """Who is signed in; `demo` accounts only in demo mode."""

    name: str | None
    role: str | None
    demo: list[Account]


class TwoPasswords(Asked):
    """One's present password and the one to come."""

    old: str = Field(max_length=200)
    new: str = Field(min_length=8, max_length=200)


class SessionCard(BaseModel):
    """A browser in which somebody is signed in; `here` is the one that asks."""

    agent: str
    created: datetime
    seen: datetime
    expires: datetime
    here: bool


class Person(BaseModel):
    """An account in the administrator's list."""

    id: int
    name: str
    role: Role
    workspaces: list[int]


class PersonNew(Asked):
    """A new account."""

    name: str = Field(min_length=1, max_length=80, pattern=r"\S")
    password: str = Field(min_length=8, max_length=200)
    role: Role
    #: The adder's own when none are named.
    workspaces: list[int] | None = Field(default=None, max_length=200)


class PersonPatch(Asked):
    """A role, a password or the workspaces to change."""

    workspaces: list[Annotated[int, Field(gt=0, lt=2**31)]] | None = Field(default=None, max_length=200)

    role: Role | None = None
    password: str | None = Field(default=None, min_length=8, max_length=200)


class WorkspaceIn(Asked):
    """A workspace's name and its house rules, by their keys; a rule that is empty is the program's own."""

    name: str = Field(min_length=1, max_length=120, pattern=r"\S")
    rules: dict[str, str] = Field(default={}, max_length=60)


class WorkspaceCard(WorkspaceIn):
    """A stored workspace."""

    id: int
