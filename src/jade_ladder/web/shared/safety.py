"""What every answer and every write passes: headers, and the checks of Host and Origin."""

from __future__ import annotations

import ipaddress
import socket
from dataclasses import dataclass
from email.utils import format_datetime
from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from jade_ladder.outside import clock
from jade_ladder.web.shared.problems import problem

_READS = frozenset({"GET", "HEAD", "OPTIONS"})
# Naive UI injects style elements and has no nonce; scripts need no exception.
CONTENT_SECURITY = (
    "default-src 'self'; img-src 'self' blob:; media-src 'self' blob:; "
    "style-src 'self'; style-src-elem 'self' 'unsafe-inline'; "
    "base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "content-security-policy": CONTENT_SECURITY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "x-frame-options": "DENY",
}
HTTPS_ONLY = "max-age=31536000"
"""Where it was reached by https, a browser uses nothing else here for a year."""
_ELSEWHERE = "This came from another site, so that nothing was changed"


@dataclass(frozen=True, slots=True)
class Address:
    """At what addresses a server answers: the one it was started for, where that is known.

    Without one (it listens on all addresses of the machine) it answers to numbers and to the names
    of this machine. A name that somebody else lets point here is refused: a page behind it would
    pass for one of ours.
    """

    url: str | None = None
    any_name: bool = False

    def knows(self, host: str) -> bool:
        """Whether a Host header names this server."""
        if self.any_name:
            return True
        if self.url is not None:
            wanted = urlsplit(self.url)
            return host in _spellings(wanted.scheme, wanted.netloc.lower())
        name = _name(host)
        return name is not None and (_is_number(name) or name in _own_names())

    def is_ours(self, origin: str, scheme: str, host: str) -> bool:
        """Whether an Origin header is that of a page of this server, its scheme with it."""
        if self.url is not None:
            wanted = urlsplit(self.url)
            return origin in {
                f"{wanted.scheme}://{host}"
                for host in _spellings(wanted.scheme, wanted.netloc.lower())
            }
        return origin == f"{scheme}://{host}"


def _spellings(scheme: str, host: str) -> set[str]:
    """Give a host with and without the port that its scheme has anyway; loopback has two names."""
    usual = {"http": ":80", "https": ":443"}.get(scheme, "")
    hosts = {host, host.removesuffix(usual)} if usual else {host}
    if host.startswith("127.0.0.1"):
        hosts |= {one.replace("127.0.0.1", "localhost", 1) for one in hosts}
    return hosts


def _name(host: str) -> str | None:
    try:
        return urlsplit(f"//{host}").hostname
    except ValueError:
        return None


def _is_number(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


def _own_names() -> set[str]:
    name = socket.gethostname().lower()
    return {"localhost", name, f"{name}.local", name.split(".")[0]}


class Safety:
    """ASGI middleware around the whole application."""

    def __init__(self, app: ASGIApp, address: Address) -> None:
        self.app = app
        self.address = address

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Refuse what comes from elsewhere; add headers to every answer, of whatever code."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        begun = False

        async def with_headers(message: Message) -> None:
            nonlocal begun
            if message["type"] == "http.response.start":
                begun = True
                headers = MutableHeaders(scope=message)
                headers["date"] = format_datetime(clock.now(), usegmt=True)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
                if scope.get("scheme") == "https":
                    headers.setdefault("strict-transport-security", HTTPS_ONLY)
                if scope["path"].startswith("/api"):
                    headers.setdefault("cache-control", "no-store")
            await send(message)

        refusal = self._refusal(scope)
        if refusal is not None:
            await problem(*refusal)(scope, receive, with_headers)
            return
        try:
            await self.app(scope, receive, with_headers)
        except Exception:
            # Raised again, so that the log has it; the answer is ours, with its headers.
            if not begun:
                detail = "The server has made a mistake. Nothing of this was saved; try again."
                await problem(500, "Something went wrong", detail)(scope, receive, with_headers)
            raise

    def _refusal(self, scope: Scope) -> tuple[int, str, str] | None:
        headers = Headers(scope=scope)
        host = headers.get("host", "").lower()
        if not self.address.knows(host):
            detail = "This server is not known by that name: it is started with --url and the name"
            return 421, "Not here", detail
        if scope["method"] in _READS:
            return None
        origin = headers.get("origin")
        if origin is not None:
            ours = self.address.is_ours(origin, scope.get("scheme", "http"), host)
            return None if ours else (403, "Not possible", _ELSEWHERE)
        if headers.get("sec-fetch-site", "same-origin") not in ("same-origin", "none"):
            return 403, "Not possible", _ELSEWHERE
        return None
