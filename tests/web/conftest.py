"""The application behind a client: a visitor, a teacher, and a small class of theirs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from jade_ladder.outside import clock
from jade_ladder.service.classes import classes
from jade_ladder.service.people import accounts, sessions
from jade_ladder.service.rubrics import rubrics
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import Settings, create_app, put_to_work
from jade_ladder.web.shared.callers import COOKIE, PERSON_HEADER
from tests.builders import Small, small


def client_of(database: Database, demo: bool = False, static: Path | None = None) -> TestClient:
    settings = Settings(database, demo, static) if static else Settings(database, demo)
    return TestClient(create_app(settings), base_url="http://ladder.test")


kept: list[FastAPI] = []


@pytest.fixture
def visitor(database: Database, caller: Teacher) -> Iterator[TestClient]:
    """Somebody who is not signed in. The application is made once: its routes take their time."""
    if not kept:
        kept.append(create_app(Settings(database)))
    put_to_work(kept[0], Settings(database))
    with TestClient(kept[0], base_url="http://ladder.test") as client:
        yield client


def sign_in(client: TestClient, database: Database, person_id: int) -> None:
    """Sign in without a password, which takes long to hash, on purpose."""
    client.cookies.clear()
    client.cookies.set(COOKIE, sessions.begin_session(database, person_id, clock.now()))
    client.headers[PERSON_HEADER] = str(person_id)


@pytest.fixture
def teacher(visitor: TestClient, database: Database) -> TestClient:
    sign_in(visitor, database, 1)
    return visitor


@pytest.fixture
def made(caller: Teacher) -> Small:
    """Made by the real clock, which the application goes by."""
    return small(replace(caller, now=clock.now()))


@pytest.fixture(scope="module")
def place(
    tmp_path_factory: pytest.TempPathFactory, school_rows: dict[str, list[tuple[object, ...]]]
) -> Iterator[tuple[TestClient, Small, Teacher]]:
    """A class of the first teacher, and a colleague with a class, on one server."""
    database = Database(tmp_path_factory.mktemp("who") / "jade-ladder.sqlite3")
    with database.transaction() as db:
        for table, rows in school_rows.items():
            db.executemany(f"INSERT INTO {table} VALUES ({', '.join('?' * len(rows[0]))})", rows)
    made = small(Administrator(database, 1, clock.now()))
    made.mark(made.students[0], 3, 3)
    jun = accounts.add_teacher(
        database, accounts.NewTeacher("Jun", "Okoro", "jun@tern.example", "another long one")
    )
    colleague = replace(Teacher(database, 1, made.caller.now), person_id=jun)
    classes.make_class(
        colleague, "Tide Room", made.caller.now.date(), made.caller.now.date().replace(year=2030)
    )
    rubrics.make_rubric(colleague, "Tides")
    with client_of(database) as client:
        yield client, made, colleague
