"""Giving files: the header that names them (RFC 6266 with RFC 5987 for names that are not plain ASCII)."""

import unicodedata
from urllib.parse import quote

from fastapi import Response

__all__ = ["download"]


def _stem(text: str) -> str:
    return "".join(c if c.isalnum() or c in "-_." else "-" for c in text).strip(".") or "file"


def download(data: bytes, media_type: str, stem: str, suffix: str, look: bool = False) -> Response:
    """A file to save (or, with `look`, to be shown), named after a job's number in whatever script that is written."""
    name = f"{_stem(stem)}{suffix}"
    plain = unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()
    if not any(c.isalnum() for c in plain.removesuffix(suffix)):
        plain = f"file{suffix}"
    value = f'{"inline" if look else "attachment"}; filename="{plain}"'
    if plain != name:
        value += f"; filename*=UTF-8''{quote(name, safe='')}"
    return Response(data, media_type=media_type, headers={"Content-Disposition": value})
