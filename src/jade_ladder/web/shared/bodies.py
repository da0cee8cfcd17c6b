"""Bodies: how much may arrive at each address, and how deep a document may nest."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from fastapi import APIRouter, HTTPException, Request, Response
from fastapi.routing import APIRoute

from jade_ladder.core.errors import Refused
from jade_ladder.formats.plain_text import DEEPEST_JSON, is_too_deep

USUAL_LIMIT = 256_000
FILE_LIMIT = 8_000_000
_LIMIT = "largest_body"
_AS_IT_COMES = -1
Endpoint = TypeVar("Endpoint", bound=Callable[..., Any])


def body_up_to(limit: int) -> Callable[[Endpoint], Endpoint]:
    """Let an endpoint take bodies of so many bytes, instead of the usual limit."""

    def limited(endpoint: Endpoint) -> Endpoint:
        setattr(endpoint, _LIMIT, limit)
        return endpoint

    return limited


def body_as_it_comes(endpoint: Endpoint) -> Endpoint:
    """Let an endpoint read its body by itself, piece by piece; it counts what arrives."""
    return body_up_to(_AS_IT_COMES)(endpoint)


class BoundedRoute(APIRoute):
    """A route that reads no more than it may, however the body is sent, and looks at how deep a
    JSON document nests before anything parses it.
    """

    def get_route_handler(self) -> Callable[[Request], Any]:
        """Give the handler with the reading before it."""
        handle = super().get_route_handler()
        limit: int = getattr(self.endpoint, _LIMIT, USUAL_LIMIT)
        if limit == _AS_IT_COMES:
            return handle

        async def bounded(request: Request) -> Response:
            body = await _read(request, limit)
            # Kept where Starlette looks for a body that was read already.
            request._body = body
            if "json" in request.headers.get("content-type", ""):
                _check_depth(body)
            answer: Response = await handle(request)
            return answer

        return bounded


def router_of(tag: str, prefix: str = "") -> APIRouter:
    """Make the router of a subject."""
    return APIRouter(route_class=BoundedRoute, prefix=prefix, tags=[tag])


async def _read(request: Request, limit: int) -> bytes:
    declared = request.headers.get("content-length", "0")
    if not declared.isdecimal() or int(declared) > limit:
        raise _too_large(limit)
    chunks: list[bytes] = []
    arrived = 0
    async for chunk in request.stream():
        arrived += len(chunk)
        if arrived > limit:
            raise _too_large(limit)
        chunks.append(chunk)
    return b"".join(chunks)


def _too_large(limit: int) -> HTTPException:
    size = f"{limit // 1_000_000} MB" if limit >= 1_000_000 else f"{limit // 1000} kB"
    return HTTPException(413, f"This is larger than {size}, so that nothing was changed")


def _check_depth(body: bytes) -> None:
    if is_too_deep(body):
        raise Refused(f"This nests deeper than {DEEPEST_JSON} levels", "body")
