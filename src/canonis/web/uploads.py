"""Taking files: their largest size, and reading no more than that."""

import os

from fastapi import HTTPException, UploadFile

__all__ = ["file_limit", "read_upload"]


def file_limit() -> int:
    """Largest file that is taken, bytes."""
    return int(os.environ.get("CANONIS_MAX_FILE_MB", "100")) * 1048576


async def read_upload(file: UploadFile) -> bytes:
    """The bytes of an upload; one too large is refused before it is read whole."""
    if file.size is not None and file.size > file_limit():
        raise HTTPException(413, f"“{file.filename}” is larger than the limit of {file_limit() / 1048576:.0f} MB.")
    return await file.read(file_limit() + 1)
