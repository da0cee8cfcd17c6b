"""The application: routers, errors, safety, and the built front end."""

from __future__ import annotations

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.responses import FileResponse, Response
from pydantic import BaseModel
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware

from jade_ladder import __version__
from jade_ladder.service.messages.outbox import Mailer
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.changes import excusing, revisions, times
from jade_ladder.web.changes import methods as method_changes
from jade_ladder.web.changes import outcomes as outcome_changes
from jade_ladder.web.changes import scales as scale_changes
from jade_ladder.web.changes import tasks as task_changes
from jade_ladder.web.classes import answers, class_list, classes, slips, students
from jade_ladder.web.classes import teachers as class_teachers
from jade_ladder.web.exchange import frameworks, outcome_lists
from jade_ladder.web.files import uploads
from jade_ladder.web.files.preparer import Preparer
from jade_ladder.web.files.sweeper import Sweeper
from jade_ladder.web.marking import (
    again,
    earlier_pages,
    exemplars,
    feedback_files,
    handing_back,
    history,
    passages,
    remark_bank,
    reminders,
    spread,
)
from jade_ladder.web.marking import desk as marking
from jade_ladder.web.mastery import (
    comparison,
    coverage,
    judgements,
    set_aside,
    student_page,
    trail,
)
from jade_ladder.web.mastery import wall as mastery
from jade_ladder.web.messages import messages, outbox
from jade_ladder.web.messages.outbox import MailSender
from jade_ladder.web.notes import notes
from jade_ladder.web.observing import observing
from jade_ladder.web.outcomes import outcomes, scales, strands
from jade_ladder.web.overview import all_classes, class_over_term, first_page
from jade_ladder.web.people import colleagues, guests, log, notices, own_account, school
from jade_ladder.web.people import sessions as session
from jade_ladder.web.people.failed_tries import Guesses, Hashing
from jade_ladder.web.reports import exports, sheets
from jade_ladder.web.reports import work_archive as archive
from jade_ladder.web.rubrics import library, rubrics
from jade_ladder.web.sample import sample_class
from jade_ladder.web.search import find
from jade_ladder.web.shared import problems
from jade_ladder.web.shared.admission import begin_admission
from jade_ladder.web.shared.apart import begin_apart
from jade_ladder.web.shared.callers import TheCaller
from jade_ladder.web.shared.heavy import HeavyReads
from jade_ladder.web.shared.safety import Address, Safety
from jade_ladder.web.student import account, ladder, results, taken_along
from jade_ladder.web.student import parts as own_parts
from jade_ladder.web.student import tasks as student_tasks
from jade_ladder.web.student import uploads as own_uploads
from jade_ladder.web.work import attempts, next_class, parts, task_files, tasks

ANY_ADDRESS = Address(any_name=True)
STATIC = Path(__file__).parent / "static"
SUBJECTS = (
    # Routes are tried in order: first what is called at every key, at the desk and by students who
    # write and hand in.
    marking,
    student_tasks,
    own_uploads,
    own_parts,
    passages,
    remark_bank,
    history,
    feedback_files,
    exemplars,
    spread,
    observing,
    notes,
    classes,
    students,
    class_list,
    strands,
    outcomes,
    outcome_changes,
    method_changes,
    outcome_lists,
    coverage,
    frameworks,
    scales,
    scale_changes,
    task_changes,
    library,
    rubrics,
    revisions,
    tasks,
    excusing,
    times,
    earlier_pages,
    mastery,
    trail,
    judgements,
    comparison,
    set_aside,
    student_page,
    find,
    notices,
    answers,
    school,
    colleagues,
    own_account,
    log,
    class_teachers,
    next_class,
    sheets,
    exports,
    first_page,
    class_over_term,
    all_classes,
    archive,
    sample_class,
    slips,
    handing_back,
    again,
    results,
    taken_along,
    ladder,
    account,
    messages,
    outbox,
    reminders,
    uploads,
    parts,
    task_files,
    attempts,
)


@dataclass(frozen=True, slots=True)
class Settings:
    """What an application is made with; `demo` lets its people sign in by one click, `worker` works
    out heavy reads in a process of their own, `address` is what the server answers to. `mailer`
    takes the mail that is due; without one it stays in the outbox. It is `mail_simulated` where
    nothing leaves the machine.
    """

    database: Database
    demo: bool = False
    static: Path = STATIC
    worker: bool = False
    address: Address = ANY_ADDRESS
    mailer: Mailer | None = None
    mail_simulated: bool = True


class Health(BaseModel):
    """That the application answers."""

    status: str
    version: str


def create_app(settings: Settings) -> FastAPI:
    """Make the application on a database."""

    @asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        app.state.heavy.begin()
        now = app.state.settings
        sender = None if now.mailer is None else MailSender(now.database, now.mailer)
        sweeper, preparer = Sweeper(now.database), Preparer(now.database)
        sweeper.begin()
        preparer.begin()
        begin_apart(app)
        begin_admission(app)
        if sender is not None:
            sender.begin()
        yield
        sweeper.close()
        preparer.close()
        if sender is not None:
            sender.close()
        app.state.heavy.close()
        app.state.settings.database.close()

    app = _api_app(lifespan, settings.address)
    put_to_work(app, settings)
    _serve_front_end(app, settings.static)
    return app


def put_to_work(app: FastAPI, settings: Settings) -> None:
    """Let an application that does not run yet work on a database, with nothing remembered from
    before. Where it answers, and its front end, stay as it was made.
    """
    app.state.settings = settings
    app.state.guesses = Guesses()
    app.state.hashing = Hashing()
    app.state.heavy = HeavyReads(settings.database.path if settings.worker else None)


def api_document() -> dict[str, Any]:
    """Give the API's OpenAPI document, without a database."""
    return _api_app(None, Address()).openapi()


def _api_app(lifespan: Any, address: Address) -> FastAPI:
    app = FastAPI(
        title="Jade Ladder",
        version=__version__,
        openapi_url="/api/openapi.json",
        docs_url=None,
        redoc_url=None,
        lifespan=lifespan,
        generate_unique_id_function=lambda route: route.name,
        responses={"4XX": {"model": problems.ProblemDetails}},
    )

    @app.get("/api/health")
    def health() -> Health:
        """Tell that the application answers."""
        return Health(status="ok", version=__version__)

    # Not through a router of all: each level that a call goes through costs it a millisecond.
    app.include_router(session.router, prefix="/api")
    app.include_router(guests.router, prefix="/api")
    for subject in SUBJECTS:
        app.include_router(subject.router, prefix="/api", dependencies=[TheCaller])
    plain = app.openapi
    app.openapi = cache(lambda: problems.described_in(plain()))  # type: ignore[method-assign]
    problems.install(app)
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=5)
    app.add_middleware(Safety, address=address)
    return app


def _serve_front_end(app: FastAPI, static: Path) -> None:
    """Serve the built files; any other path is the application, which knows its own routes."""
    root = static.resolve()

    @app.get("/{path:path}", include_in_schema=False)
    def front_end(path: str) -> Response:
        if path == "api" or path.startswith("api/"):
            raise HTTPException(404, "There is nothing at this address")
        wanted = _inside(root, path)
        # Built assets carry a hash in their name, so that they may be kept for ever.
        lasting = path.startswith("assets/")
        if wanted is not None:
            keep = "public, max-age=31536000, immutable" if lasting else "no-cache"
            return FileResponse(wanted, headers={"cache-control": keep})
        if lasting:
            raise HTTPException(404, "There is no such file; reload the page for those there are")
        if not (root / "index.html").is_file():
            raise HTTPException(503, "The front end is not built yet: make setup")
        return FileResponse(root / "index.html", headers={"cache-control": "no-cache"})


def _inside(root: Path, path: str) -> Path | None:
    """Give the built file at a path, or None where it is a page; 404 for a path
    that nothing can have.
    """
    try:
        wanted = (root / path).resolve()
        return wanted if wanted.is_relative_to(root) and wanted.is_file() else None
    except (OSError, ValueError):
        raise HTTPException(404, "There is nothing at this address") from None
