"""What every request passes on its way in and every answer on its way out: same site, plain addresses, bounded bodies,
and the headers that tell a browser what this application may do."""

import json
import os
from urllib.parse import unquote_to_bytes, urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

__all__ = ["Door"]

#: Largest body of a request that brings no file, bytes: a recipe, a long list, thousands of edits.
_LARGEST = 8 * 1024 * 1024
_CHANGING = ("POST", "PUT", "PATCH", "DELETE")
# Styles: the component library writes its own into the page. Workers and blobs: the print viewer. Nothing from elsewhere.
_POLICY = (
    "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "font-src 'self' data:; connect-src 'self'; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; "
    "frame-ancestors 'none'"
)
_HEADERS = {
    "content-security-policy": _POLICY, "x-content-type-options": "nosniff", "referrer-policy": "same-origin",
    "x-frame-options": "DENY", "cross-origin-opener-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}  # fmt: skip


class _TooLarge(Exception):
    """More came than a request without a file may bring."""


class Door:
    """The middleware; `upload_paths` end the addresses that take files and bound their bodies themselves, `page` marks
    the page that this program serves."""

    def __init__(self, app: ASGIApp, upload_paths: tuple[str, ...] = (), page: str = "") -> None:
        self.app, self.upload_paths, self.page = app, upload_paths, page

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {k.decode("latin-1").lower(): v.decode("latin-1") for k, v in scope["headers"]}
        came, begun, over = 0, False, False

        async def dressed(message: Message) -> None:
            nonlocal begun
            if over and not begun:
                # Whatever the application made of a body that broke off, this is the reason.
                begun = True
                await _answer(out, 413, _too_large())
            if over:
                return
            await out(message)

        async def out(message: Message) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                given = {k.lower() for k, _ in message["headers"]}
                extra = dict(_HEADERS)
                if os.environ.get("CANONIS_HTTPS"):
                    extra["strict-transport-security"] = "max-age=31536000"
                if scope["path"].startswith("/api/"):
                    extra["cache-control"] = "no-store"
                    if self.page:
                        extra["x-canonis-page"] = self.page
                message["headers"] = [
                    *message["headers"], *((k.encode(), v.encode()) for k, v in extra.items() if k.encode() not in given)
                ]  # fmt: skip
            await send(message)

        refusal = self._refusal(scope, headers)
        if refusal is not None:
            await _answer(dressed, *refusal)
            return

        async def bounded() -> Message:
            nonlocal came, over
            message = await receive()
            if message["type"] == "http.request":
                came += len(message.get("body", b""))
                if came > _LARGEST:
                    over = True
                    raise _TooLarge
            return message

        free = scope["path"].endswith(self.upload_paths)
        try:
            await self.app(scope, receive if free else bounded, dressed)
        except _TooLarge:
            if not begun:
                await _answer(out, 413, _too_large())

    def _refusal(self, scope: Scope, headers: dict[str, str]) -> tuple[int, str] | None:
        for part in (scope.get("raw_path") or scope["path"].encode(), scope.get("query_string", b"")):
            try:
                if "\x00" in unquote_to_bytes(part).decode():
                    raise ValueError
            except ValueError:
                return 422, "The address has a character that cannot be used; type it again."
        if scope["method"] in _CHANGING and not _same_site(headers):
            return 403, "This request comes from another site; use Canonis in its own window."
        told = headers.get("content-length", "")
        if told.isdigit() and int(told[:15]) > _LARGEST and not scope["path"].endswith(self.upload_paths):
            return 413, _too_large()
        return None


def _too_large() -> str:
    return f"The request is larger than {_LARGEST // 1048576} MB; send less at once."


def _same_site(headers: dict[str, str]) -> bool:
    """Whether a changing request comes from the application's own pages, or from no page at all (a script, a test)."""
    site = headers.get("sec-fetch-site")
    if site is not None and site not in ("same-origin", "none"):
        return False
    origin = headers.get("origin")
    if origin is None:
        return True
    host = headers.get("x-forwarded-host") or headers.get("host", "")
    try:
        return urlsplit(origin).netloc.lower() == host.lower() and bool(host)
    except ValueError:
        return False


async def _answer(send: Send, status: int, sentence: str) -> None:
    body = json.dumps({"detail": sentence}, ensure_ascii=False).encode()
    head = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode())]
    await send({"type": "http.response.start", "status": status, "headers": head})
    await send({"type": "http.response.body", "body": body})
