"""Taking files: who may and how large is settled before the body is taken, and while it streams."""

from collections.abc import AsyncGenerator
from dataclasses import dataclass
from typing import Any

from fastapi import HTTPException, Request
from starlette.datastructures import UploadFile
from starlette.formparsers import MultiPartException, MultiPartParser

from canonis.core.plain import cleaned
from canonis.settings import settings

__all__ = ["FILE_BODY", "Taken", "file_limit", "take_file"]

#: What a form may be larger than its file: boundaries, names.
_ROOM = 64 * 1024
#: The body of a route that takes a file, for the schema (the route reads it by itself, once it knows who asks).
FILE_BODY: dict[str, Any] = {
    "requestBody": {
        "required": True,
        "content": {
            "multipart/form-data": {
                "schema": {
                    "type": "object",
                    "properties": {"file": {"type": "string", "format": "binary"}},
                    "required": ["file"],
                }
            }
        },
    }
}


@dataclass(frozen=True)
class Taken:
    """A file as it came: its bytes and its own name without a folder."""

    data: bytes
    name: str


def file_limit() -> int:
    """Largest file that is taken, bytes."""
    return settings().max_file_mb * 1048576


def _too_large(limit: int) -> HTTPException:
    return HTTPException(413, f"The file is larger than the limit of {limit / 1048576:.0f} MB.")


async def take_file(request: Request, limit: int, otherwise: str) -> Taken:
    """The file of a form's field `file`, at most `limit` bytes; `otherwise` is its name when it has none.

    Raises HTTPException with one sentence: 413 by the header or as soon as too much came, 422 when there is no file.
    """
    told = request.headers.get("content-length", "")
    if told.isdigit() and int(told[:15]) > limit + _ROOM:
        raise _too_large(limit)
    if not request.headers.get("content-type", "").startswith("multipart/form-data"):
        raise HTTPException(422, "Send a form with the field “file”.")

    async def counted() -> AsyncGenerator[bytes, None]:
        came = 0
        async for piece in request.stream():
            came += len(piece)
            if came > limit + _ROOM:
                raise _too_large(limit)
            yield piece

    try:
        form = await MultiPartParser(request.headers, counted(), max_files=1, max_fields=4).parse()
    except (MultiPartException, KeyError, ValueError):
        raise HTTPException(422, "The form cannot be read; send one file in its field “file”.") from None
    try:
        file = form.get("file")
        if not isinstance(file, UploadFile):
            raise HTTPException(422, "There is no file in the form's field “file”.")
        if file.size is not None and file.size > limit:
            raise _too_large(limit)
        bare = (file.filename or "").replace("\\", "/").rsplit("/", 1)[-1]
        return Taken(await file.read(), cleaned(bare, 120) or otherwise)
    finally:
        await form.close()
