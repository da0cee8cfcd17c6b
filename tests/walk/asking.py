"""The application on one database, asked by the people of a school at a time that is set."""

from __future__ import annotations

import asyncio
import json
import random
import secrets
import shutil
import sqlite3
import threading
import uuid
from collections.abc import Iterator
from concurrent.futures import Future
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import pytest
from fastapi import FastAPI

from jade_ladder.outside import clock
from jade_ladder.service.people import sessions
from jade_ladder.store.files.contents import FOLDER
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import Settings, create_app, put_to_work
from jade_ladder.web.shared.admission import begin_admission
from jade_ladder.web.shared.apart import begin_apart
from jade_ladder.web.shared.callers import COOKIE, PERSON_HEADER

FILE = "jade-ladder.sqlite3"
_BOUNDARY = "what-is-between-parts"


@dataclass(frozen=True, slots=True)
class Call:
    """One request: who asks, and what is sent with it. `path` is below /api; `form` goes as a form,
    with `file` (name and content) in several parts; `raw` is a plain body.
    """

    who: int
    operation: str
    method: str
    path: str
    json: Any = None
    form: dict[str, str] | None = None
    file: tuple[str, str] | None = None
    raw: str | None = None

    def written(self) -> dict[str, Any]:
        """Give it as it stands in a script."""
        names = ("who", "operation", "method", "path", "json", "form", "file", "raw")
        return {name: value for name in names if (value := getattr(self, name)) is not None}

    @classmethod
    def read(cls, written: dict[str, Any]) -> Call:
        """Read it from a script."""
        file = written.get("file")
        return cls(**{**written, "file": None if file is None else (file[0], file[1])})

    def body(self) -> tuple[bytes, str]:
        """Give the body and its media type."""
        if self.raw is not None:
            return self.raw.encode(), "application/octet-stream"
        if self.form is None and self.file is None:
            sent = b"" if self.json is None else json.dumps(self.json).encode()
            return sent, "application/json"
        if self.file is None and self.operation == "enter_work":
            return urlencode(self.form or {}).encode(), "application/x-www-form-urlencoded"
        parts = [
            f'--{_BOUNDARY}\r\nContent-Disposition: form-data; name="{name}"\r\n\r\n{value}\r\n'
            for name, value in (self.form or {}).items()
        ]
        if self.file is not None:
            head = f'Content-Disposition: form-data; name="file"; filename="{self.file[0]}"'
            kind = "Content-Type: application/octet-stream"
            parts.append(f"--{_BOUNDARY}\r\n{head}\r\n{kind}\r\n\r\n{self.file[1]}\r\n")
        sent = "".join((*parts, f"--{_BOUNDARY}--\r\n")).encode()
        return sent, f"multipart/form-data; boundary={_BOUNDARY}"


@dataclass(frozen=True, slots=True)
class Answer:
    """What came back."""

    status: int
    content: bytes

    @property
    def done(self) -> bool:
        return self.status < 400

    def json(self) -> Any:
        return json.loads(self.content) if self.content else None


class _Loop:
    """One event loop in a thread of its own, since a browser's may run in this one, with one task
    that everything is asked in: the threads that the application works in belong to it, and are
    kept.
    """

    def __init__(self) -> None:
        self.loop = asyncio.new_event_loop()
        self.jobs: asyncio.Queue[tuple[Any, Future[Any]]] = asyncio.Queue()
        self.thread = threading.Thread(target=self._run, name="walk", daemon=True)
        self.thread.start()

    def _run(self) -> None:
        asyncio.set_event_loop(self.loop)
        self.loop.run_until_complete(self._serve())
        self.loop.close()

    async def _serve(self) -> None:
        while True:
            work, done = await self.jobs.get()
            if work is None:
                done.set_result(None)
                return
            try:
                done.set_result(await work)
            except Exception as error:
                done.set_exception(error)

    def do(self, work: Any) -> Any:
        """Await something there, and give what it comes to."""
        done: Future[Any] = Future()
        self.loop.call_soon_threadsafe(self.jobs.put_nowait, (work, done))
        return done.result()

    def close(self) -> None:
        """Let its threads end."""
        self.do(None)
        self.thread.join()


chance = random.Random(0)
"""What is random in a walk: keys, links and codes."""
_loops: list[_Loop] = []
_kept: list[FastAPI] = []
_time: list[datetime] = []


def _loop() -> _Loop:
    return _loops[-1]


@contextmanager
def one_clock() -> Iterator[None]:
    """Let the application have the time that the last school asked was set to; it stands still.
    What is asked in it is asked in one loop, which ends with it.
    """
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(clock, "now", lambda: _time[0])
        _loops.append(_Loop())
        try:
            yield
        finally:
            _loops.pop().close()


@contextmanager
def the_same_each_time() -> Iterator[None]:
    """One clock, and what is random said by the call, so that the codes in a script are right."""
    chance.seed("a walk")
    with one_clock(), pytest.MonkeyPatch.context() as patch:
        patch.setattr(secrets, "token_urlsafe", lambda size=32: f"{chance.getrandbits(8 * size):x}")
        patch.setattr(secrets, "choice", chance.choice)
        patch.setattr(uuid, "uuid4", lambda: uuid.UUID(int=chance.getrandbits(128), version=4))
        yield


def _application(database: Database) -> FastAPI:
    if not _kept:
        _kept.append(create_app(Settings(database)))
    return _kept[0]


async def _begin(app: FastAPI) -> None:
    begin_apart(app)
    begin_admission(app)


@dataclass(slots=True)
class School:
    """A school in a folder. `now` is the time at which it is asked."""

    folder: Path
    now: datetime
    database: Database = field(init=False)
    tokens: dict[int, str] = field(default_factory=dict)
    signed_in_anew: bool = False
    """Whether the last one who asked had to, since their session was over."""
    _rows: sqlite3.Connection = field(init=False)

    def __post_init__(self) -> None:
        self.database = Database(self.folder / FILE)
        self._rows = sqlite3.connect(
            f"file:{self.folder / FILE}?mode=ro", uri=True, isolation_level=None
        )

    @classmethod
    def copied(cls, template: Path, folder: Path, now: datetime) -> School:
        """Begin with a copy of a school's folder, whose files stay where they are."""
        folder.mkdir(parents=True, exist_ok=True)
        shutil.copy(template / FILE, folder / FILE)
        if (template / FOLDER).exists():
            shutil.copytree(template / FOLDER, folder / FOLDER, copy_function=_linked)
        return cls(folder, now)

    @contextmanager
    def copy(self) -> Iterator[School]:
        """A copy of it as it is, in which things are tried."""
        folder = self.folder.parent / f"{self.folder.name}-tried"
        shutil.rmtree(folder, ignore_errors=True)
        folder.mkdir()
        into = sqlite3.connect(folder / FILE)
        self._rows.backup(into)
        into.close()
        if (self.folder / FOLDER).exists():
            shutil.copytree(self.folder / FOLDER, folder / FOLDER, copy_function=_linked)
        made = School(folder, self.now)
        made.tokens.update(self.tokens)
        try:
            yield made
        finally:
            made.close()
            shutil.rmtree(folder)

    def close(self) -> None:
        """Let it go."""
        self._rows.close()
        self.database.close()

    def rows(self, sql: str, *values: object) -> list[Any]:
        """Read what is there, to draw from; a row of one column is its value."""
        found = self._rows.execute(sql, values).fetchall()
        return [row[0] if len(row) == 1 else row for row in found]

    def stamp(self) -> int:
        """A number that is another one after each change that was stored."""
        found: int = self._rows.execute("PRAGMA data_version").fetchone()[0]
        return found

    def dump(self, without: tuple[str, ...] = ()) -> dict[str, list[Any]]:
        """All rows of all tables."""
        names = self.rows("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")
        return {
            name: self._rows.execute(f"SELECT * FROM {name}").fetchall()
            for name in names
            if name not in without
        }

    def send(self, call: Call) -> Answer:
        """Ask as somebody; raises what the application did not catch itself."""
        _time[:] = [self.now]
        self.signed_in_anew = False
        if not self.sign_in(call.who):
            return Answer(401, b'{"detail": "There is no such person", "errors": []}')
        answer: Answer = _loop().do(self._asked(call))
        if answer.status == 401 and call.path != "/session":
            self.signed_in_anew = True
            del self.tokens[call.who]
            self.sign_in(call.who)
            answer = _loop().do(self._asked(call))
        return answer

    def sign_in(self, who: int) -> bool:
        """Let somebody have a session, if they have none; whether there is such a person."""
        if who not in self.tokens:
            if not self.rows("SELECT 1 FROM person WHERE id = ?", who):
                return False
            before = chance.getstate()
            last = self.rows("SELECT coalesce(max(id), 0) FROM session")[0]
            chance.seed(f"session {last} of {who}")
            self.tokens[who] = sessions.begin_session(self.database, who, self.now)
            chance.setstate(before)
        return True

    def get(self, who: int, path: str, **query: object) -> Any:
        """Read a page as somebody; what it says, or None where it is not for them."""
        answer = self.look(who, path, **query)
        return answer.json() if answer.done else None

    def look(self, who: int, path: str, **query: object) -> Answer:
        """Read a page as somebody."""
        asked = {name: value for name, value in query.items() if value is not None}
        return self.send(
            Call(who, "", "GET", path + (f"?{urlencode(asked, doseq=True)}" if asked else ""))
        )

    async def _asked(self, call: Call) -> Answer:
        app = _application(self.database)
        if app.state.settings.database is not self.database:
            put_to_work(app, Settings(self.database))
        if app.state.__dict__.get("walked_in") is not _loop():
            app.state.walked_in = _loop()
            await _begin(app)
        path, _, query = call.path.partition("?")
        sent, media = call.body()
        headers = {
            "host": "ladder.test",
            "cookie": f"{COOKIE}={self.tokens[call.who]}",
            PERSON_HEADER: str(call.who),
            "content-type": media,
            "content-length": str(len(sent)),
        }
        scope = {
            "type": "http",
            "asgi": {"version": "3.0"},
            "http_version": "1.1",
            "method": call.method,
            "scheme": "http",
            "path": f"/api{path}",
            "raw_path": f"/api{path}".encode(),
            "query_string": query.encode(),
            "root_path": "",
            "headers": [(name.encode(), value.encode()) for name, value in headers.items()],
            "server": ("ladder.test", 80),
            "client": ("walker", 1),
            "state": {},
        }
        came: dict[str, Any] = {"body": []}
        waiting = [{"type": "http.request", "body": sent, "more_body": False}]

        async def receive() -> dict[str, Any]:
            if not waiting:
                # Nobody hangs up.
                await asyncio.Event().wait()
            return waiting.pop()

        async def give(message: Any) -> None:
            if message["type"] == "http.response.start":
                came["status"] = message["status"]
            else:
                came["body"].append(message.get("body", b""))

        await app(scope, receive, give)
        return Answer(came["status"], b"".join(came["body"]))


def _linked(source: str, target: str) -> None:
    Path(target).hardlink_to(source)
