"""The application behind a client: a visitor, a teacher, and a small class of theirs."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from jade_ladder.service.caller import Teacher
from jade_ladder.store.connection import Database
from jade_ladder.web.application import Settings, create_app
from jade_ladder.web.sign_in import PERSON_HEADER
from tests.builders import Small, small


def client_of(database: Database, demo: bool = False, static: Path | None = None) -> TestClient:
    settings = Settings(database, demo, static) if static else Settings(database, demo)
    return TestClient(create_app(settings), base_url="http://ladder.test")


@pytest.fixture
def visitor(database: Database, caller: Teacher) -> Iterator[TestClient]:
    with client_of(database) as client:
        yield client


@pytest.fixture
def teacher(visitor: TestClient) -> TestClient:
    sign_in = {"email": "ilse@tern.example", "password": "a long password"}
    assert visitor.post("/api/session", json=sign_in).status_code == 204
    visitor.headers[PERSON_HEADER] = "1"
    return visitor


@pytest.fixture
def made(caller: Teacher) -> Small:
    """Made by the real clock, which the application goes by."""
    return small(replace(caller, now=datetime.now(UTC)))
