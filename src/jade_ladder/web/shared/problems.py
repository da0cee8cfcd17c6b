"""Errors as RFC 9457 problem details, in one place, each with the field at fault."""

from __future__ import annotations

import re
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from jade_ladder.core.errors import (
    BeingPrepared,
    JadeLadderError,
    NotAllowed,
    NotFound,
    NotSignedIn,
    OtherPerson,
    Problem,
    Refused,
    RefusedMany,
    Stale,
    TooManyTries,
    Unavailable,
)

MEDIA_TYPE = "application/problem+json"
OTHER_PERSON = "/problems/other-person"
"""The type of the conflict that a write of another person than the session's is."""
BEING_PREPARED = "/problems/being-prepared"
"""The type of the answer of a file that is not ready to be shown yet: it is asked for again."""


class FieldProblem(BaseModel):
    """What is wrong with one field."""

    field: str
    message: str


class ProblemDetails(BaseModel):
    """What went wrong: RFC 9457, with the fields at fault."""

    type: str = "about:blank"
    title: str
    status: int
    detail: str
    errors: list[FieldProblem] = []
    current: int | None = None


def problem(
    status: int,
    title: str,
    detail: str,
    errors: list[Problem] | None = None,
    current: int | None = None,
    headers: dict[str, str] | None = None,
    type: str = "about:blank",
) -> JSONResponse:
    """Make a problem details answer."""
    body = ProblemDetails(
        type=type,
        title=title,
        status=status,
        detail=detail,
        errors=[FieldProblem(field=e.field, message=e.message) for e in errors or []],
        current=current,
    )
    return JSONResponse(
        body.model_dump(exclude_none=True),
        status,
        media_type=MEDIA_TYPE,
        headers=headers,
    )


def answer(error: JadeLadderError) -> JSONResponse:
    """Translate an error of the core or the services."""
    match error:
        case RefusedMany():
            return problem(422, "Not possible", error.message, error.problems)
        case Refused():
            return problem(
                422, "Not possible", error.message, [Problem(error.field, error.message)]
            )
        case Stale():
            return problem(409, "Changed meanwhile", error.message, current=error.current)
        case NotFound():
            return problem(404, "Not found", str(error))
        case NotSignedIn():
            return problem(401, "Not signed in", str(error))
        case NotAllowed():
            return problem(403, "Not allowed", str(error))
        case TooManyTries():
            wait = {"retry-after": str(error.seconds)}
            return problem(429, "Wait", str(error), headers=wait)
        case OtherPerson():
            return problem(409, "Another person", str(error), type=OTHER_PERSON)
        case BeingPrepared():
            later = {"retry-after": "1"}
            return problem(503, "Being prepared", str(error), headers=later, type=BEING_PREPARED)
        case Unavailable():
            later = {"retry-after": str(error.retry_after)}
            return problem(503, "Not now", str(error), headers=later)
        case _:
            return problem(500, "Something went wrong", str(error))


def install(app: FastAPI) -> None:
    """Let the application answer every error as problem details."""

    @app.exception_handler(JadeLadderError)
    def of_ours(_: Request, error: JadeLadderError) -> JSONResponse:
        return answer(error)

    @app.exception_handler(RequestValidationError)
    def of_fields(_: Request, error: RequestValidationError) -> JSONResponse:
        problems = [Problem(_path(e["loc"]), _message(e)) for e in error.errors()]
        return problem(422, "Not possible", problems[0].message, problems)

    @app.exception_handler(OverflowError)
    def of_numbers(_: Request, error: OverflowError) -> JSONResponse:
        # SQLite's whole numbers end at 2^63; no record has a number beyond.
        message = "A number is larger than any there is"
        return problem(422, "Not possible", message, [Problem("", message)])

    @app.exception_handler(HTTPException)
    def of_http(request: Request, error: HTTPException) -> JSONResponse:
        headers = dict(error.headers) if error.headers else None
        methods = allowed_methods(app, request.url.path)
        if methods and error.status_code in (404, 405):
            # The router names the methods of the first route it met, and there may be several.
            detail = f"This address knows only {', '.join(methods)}"
            return problem(405, "Not possible", detail, headers={"allow": ", ".join(methods)})
        if error.status_code == 405 and request.url.path.startswith("/api"):
            # Only pages, which are read, are at any address.
            return problem(404, "Not found", "There is nothing at this address")
        return problem(error.status_code, "Not possible", str(error.detail), headers=headers)


def allowed_methods(app: FastAPI, path: str) -> list[str]:
    """Give the methods that the API's document has for an address; none where it has no such one.
    What stands in the templates are numbers.
    """
    for template, operations in app.openapi()["paths"].items():
        if re.fullmatch(re.sub(r"\{\w+\}", "[0-9]+", template), path):
            return sorted(method.upper() for method in operations)
    return []


def described_in(document: dict[str, Any]) -> dict[str, Any]:
    """Say in the API's document that every error is problem details, in their own media type; the
    framework's own form of errors, which nothing answers with, goes.
    """
    components = document["components"]
    components["schemas"].pop("HTTPValidationError", None)
    components["schemas"].pop("ValidationError", None)
    content = {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/ProblemDetails"}}}
    components["responses"] = {
        "Refused": {"description": "Refused, with the fields at fault", "content": content},
        "NotNow": {"description": "Not now, or a fault of the server", "content": content},
    }
    for operations in document["paths"].values():
        for operation in operations.values():
            operation["responses"].pop("422", None)
            operation["responses"]["4XX"] = {"$ref": "#/components/responses/Refused"}
            operation["responses"]["5XX"] = {"$ref": "#/components/responses/NotNow"}
    return document


def _path(location: tuple[str | int, ...]) -> str:
    """Write where it is as "criteria.2.title", without "body" or "query" before it."""
    return ".".join(str(part) for part in location[1:])


def _message(error: dict[str, Any]) -> str:
    text = str(error["msg"]).removeprefix("Value error, ")
    kind = error["type"]
    if kind == "missing":
        return "This is needed"
    if kind == "string_too_long":
        return f"At most {error['ctx']['max_length']} characters"
    if kind.startswith(("date_", "datetime_")):
        return "This is not a date"
    return text[:1].upper() + text[1:]
