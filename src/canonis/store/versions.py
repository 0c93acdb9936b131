"""Versions of a sheet: each keeps what differs from its parent, with a whole document now and then.

What differs is a JSON patch (RFC 6902), not the command that made it: a version reads back the same whatever the program,
the model and the source have become since.
"""

import json
from typing import Any

import jsonpatch
from sqlalchemy import select, update
from sqlalchemy.orm import Session, aliased

from canonis.store.tables import SheetVersion

__all__ = ["add_version", "document_of"]

#: A version this far from a whole document is kept whole itself.
_MOST_DEPTH = 20
#: Where what differs is longer than this part of the document, the document is kept.
_LONG = 3
#: Compiled pages are kept of this many versions of a job, the newest.
_PAGES_OF = 8


def add_version(
    session: Session,
    *,
    job_id: int,
    parent: SheetVersion | None,
    before: dict[str, Any] | None,
    document: dict[str, Any],
    model_id: int,
    command: dict[str, Any],
    author: str,
    pages: str | None = None,
    pages_key: str = "",
    token: str = "",
) -> SheetVersion:
    """Store a document as the version after `parent`, whose document is `before`; flushed, not committed."""
    version = SheetVersion(
        job_id=job_id,
        parent=parent.id if parent else None,
        model_id=model_id,
        command=command,
        author=author,
        pages=pages,
        pages_key=pages_key,
        token=token,
    )
    patch = None if parent is None or before is None or parent.depth + 1 >= _MOST_DEPTH else _patch(before, document)
    if patch is None or parent is None:
        version.snapshot, version.depth = document, 0
    else:
        version.patch, version.depth = patch, parent.depth + 1
    session.add(version)
    session.flush()
    old = select(SheetVersion.id).where(SheetVersion.job_id == job_id, SheetVersion.pages.is_not(None))
    old = old.order_by(SheetVersion.id.desc()).offset(_PAGES_OF)
    session.execute(update(SheetVersion).where(SheetVersion.id.in_(old)).values(pages=None, pages_key=""))
    return version


def document_of(session: Session, version_id: int) -> dict[str, Any]:
    """The document of a version, put together from the whole one before it and what differs since.

    Raises LookupError when there is no such version.
    """
    columns = (SheetVersion.id, SheetVersion.parent, SheetVersion.snapshot, SheetVersion.patch, SheetVersion.depth)
    walk = select(*columns).where(SheetVersion.id == version_id).cte("walk", recursive=True)
    earlier = aliased(SheetVersion)
    steps = (earlier.id, earlier.parent, earlier.snapshot, earlier.patch, earlier.depth)
    walk = walk.union_all(select(*steps).join(walk, earlier.id == walk.c.parent).where(walk.c.snapshot.is_(None)))
    rows = session.execute(select(walk.c.depth, walk.c.snapshot, walk.c.patch).order_by(walk.c.depth)).all()
    if not rows or rows[0].snapshot is None:
        raise LookupError(f"version {version_id} of a sheet")
    document: dict[str, Any] = rows[0].snapshot
    for row in rows[1:]:
        document = jsonpatch.apply_patch(document, row.patch, in_place=True)
    return document


def _patch(before: dict[str, Any], after: dict[str, Any]) -> list[Any] | None:
    """What differs, or None where keeping the whole document costs little more."""
    patch = list(jsonpatch.make_patch(before, after))
    return patch if _LONG * len(json.dumps(patch)) < len(json.dumps(after)) else None
