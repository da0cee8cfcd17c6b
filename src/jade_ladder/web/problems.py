"""Errors as RFC 9457 problem details, in one place, each with the field at fault."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from starlette.exceptions import HTTPException

from jade_ladder.core.errors import (
    JadeLadderError,
    NotFound,
    NotSignedIn,
    Problem,
    Refused,
    RefusedMany,
    Stale,
)


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
) -> JSONResponse:
    """Make a problem details answer."""
    body = ProblemDetails(
        title=title,
        status=status,
        detail=detail,
        errors=[FieldProblem(field=e.field, message=e.message) for e in errors or []],
        current=current,
    )
    return JSONResponse(
        body.model_dump(exclude_none=True),
        status,
        media_type="application/problem+json",
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
    def of_http(_: Request, error: HTTPException) -> JSONResponse:
        return problem(error.status_code, "Not possible", str(error.detail))


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
        return f"“{error['input']}” is not a date"
    return text[:1].upper() + text[1:]
