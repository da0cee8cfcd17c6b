"""What every answer and every write passes: headers, and the check of Origin."""

from __future__ import annotations

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jade_ladder.web.problems import problem

LARGEST_BODY = 8_000_000
_READS = frozenset({"GET", "HEAD", "OPTIONS"})
# Naive UI injects style elements and has no nonce; scripts need no exception.
CONTENT_SECURITY = (
    "default-src 'self'; style-src 'self'; style-src-elem 'self' 'unsafe-inline'; "
    "base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "content-security-policy": CONTENT_SECURITY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "x-frame-options": "DENY",
}


class Safety:
    """ASGI middleware around the whole application."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Refuse what comes from elsewhere or is too large; add headers to every answer."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def with_headers(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
                if scope["path"].startswith("/api"):
                    headers.setdefault("cache-control", "no-store")
            await send(message)

        refusal = _refusal(scope)
        if refusal is None:
            await self.app(scope, receive, with_headers)
            return
        status, detail = refusal
        await problem(status, "Not possible", detail)(scope, receive, with_headers)


def _refusal(scope: Scope) -> tuple[int, str] | None:
    if scope["method"] in _READS:
        return None
    headers = Headers(scope=scope)
    origin = headers.get("origin")
    if origin is not None and urlsplit(origin).netloc != headers.get("host"):
        return 403, "This came from another site, so that nothing was changed"
    if origin is None and headers.get("sec-fetch-site", "same-origin") not in (
        "same-origin",
        "none",
    ):
        return 403, "This came from another site, so that nothing was changed"
    length = headers.get("content-length")
    if length is not None and (not length.isdigit() or int(length) > LARGEST_BODY):
        return 413, "This is larger than 8 MB, so that nothing was changed"
    return None
