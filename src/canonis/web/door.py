"""What every request passes on its way in and every answer on its way out: same site, plain addresses, and the headers
that tell a browser what this application may do. Who may send what, and how much of it, is settled by `guard`."""

import json
from urllib.parse import unquote_to_bytes, urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from canonis.settings import settings

__all__ = ["Door"]

_CHANGING = ("POST", "PUT", "PATCH", "DELETE")
# Styles: the component library writes its own into the page. Workers and blobs: the print viewer. Nothing from elsewhere.
_POLICY = (
    "default-src 'self'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; "
    "font-src 'self' data:; connect-src 'self'; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; "
    "frame-ancestors 'none'"
)
_HEADERS = {
    "content-security-policy": _POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "x-frame-options": "DENY",
    "cross-origin-opener-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}


class Door:
    """The middleware; `page` marks the page that this program serves."""

    def __init__(self, app: ASGIApp, page: str = "") -> None:
        self.app, self.page = app, page

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = {k.decode("latin-1").lower(): v.decode("latin-1") for k, v in scope["headers"]}

        async def dressed(message: Message) -> None:
            if message["type"] == "http.response.start":
                given = {k.lower() for k, _ in message["headers"]}
                extra = dict(_HEADERS)
                if settings().https:
                    extra["strict-transport-security"] = "max-age=31536000"
                if scope["path"].startswith("/api/"):
                    extra["cache-control"] = "no-store"
                    if self.page:
                        extra["x-canonis-page"] = self.page
                message["headers"] = [
                    *message["headers"],
                    *((k.encode(), v.encode()) for k, v in extra.items() if k.encode() not in given),
                ]
            await send(message)

        proxied = (scope.get("client") or ("",))[0] in _proxies()
        if proxied:
            # Who is asking is the last whom the proxy names; what came before that anybody can write.
            asker = headers.get("x-forwarded-for", "").rsplit(",", 1)[-1].strip()
            scope = {**scope, "client": (asker or scope["client"][0], 0)}
        refusal = _refusal(scope, headers, proxied)
        if refusal is not None:
            await _answer(dressed, *refusal)
            return
        await self.app(scope, receive, dressed)


def _proxies() -> set[str]:
    """Addresses of the proxies whose word on the asker's address and host is taken; none unless they are named."""
    return settings().proxies


def _refusal(scope: Scope, headers: dict[str, str], proxied: bool) -> tuple[int, str] | None:
    for part in (scope.get("raw_path") or scope["path"].encode(), scope.get("query_string", b"")):
        try:
            if "\x00" in unquote_to_bytes(part).decode():
                raise ValueError
        except ValueError:
            return 422, "The address has a character that cannot be used; type it again."
    if scope["method"] in _CHANGING and not _same_site(headers, proxied):
        return 403, "This request comes from another site; use Canonis in its own window."
    return None


def _same_site(headers: dict[str, str], proxied: bool) -> bool:
    """Whether a changing request comes from the application's own pages, or from no page at all (a script, a test)."""
    site = headers.get("sec-fetch-site")
    if site is not None and site not in ("same-origin", "none"):
        return False
    origin = headers.get("origin")
    if origin is None:
        return True
    host = (headers.get("x-forwarded-host") if proxied else None) or headers.get("host", "")
    try:
        return urlsplit(origin).netloc.lower() == host.lower() and bool(host)
    except ValueError:
        return False


async def _answer(send: Send, status: int, sentence: str) -> None:
    body = json.dumps({"detail": sentence}, ensure_ascii=False).encode()
    head = [(b"content-type", b"application/json"), (b"content-length", str(len(body)).encode())]
    await send({"type": "http.response.start", "status": status, "headers": head})
    await send({"type": "http.response.body", "body": body})
