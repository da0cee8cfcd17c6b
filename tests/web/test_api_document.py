"""The API against its own document: Schemathesis sends what it allows and what it does not."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

import pytest
import schemathesis
from fastapi import FastAPI
from hypothesis import HealthCheck, Phase, settings

from jade_ladder.service.people import accounts, sessions
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import Settings, api_document, create_app
from jade_ladder.web.shared.callers import COOKIE, PERSON_HEADER
from tests.builders import small

# The application that the calls go to, and a session on it; made when the first test asks for it.
running: dict[str, Any] = {}


async def current(scope: Any, receive: Any, send: Any) -> None:
    if scope["type"] == "http":
        await running["app"](scope, receive, send)


# All checks as they are but one: what a schema allows may still break a rule of the job (a name
# that is taken, days the wrong way round), which is told at its field with 422.
CONFIG = schemathesis.Config.from_dict(
    {
        "checks": {
            "positive_data_acceptance": {
                "expected-statuses": ["2xx", 401, 403, 404, 409, 413, 422, 429]
            }
        }
    }
)
schema = schemathesis.openapi.from_dict(api_document(), config=CONFIG)
schema.app = current


@pytest.fixture(scope="module", autouse=True)
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[FastAPI]:
    database = Database.in_folder(tmp_path_factory.mktemp("document"))
    teacher = accounts.NewTeacher("Ilse", "Varga", "ilse@tern.example", "a long password")
    now = datetime.now(UTC)
    number = accounts.make_first_teacher(database, "School", "UTC", teacher)
    made = small(Administrator(database, number, now))
    made.mark(made.students[0], 3, 3)
    running["app"] = create_app(Settings(database))
    token = sessions.begin_session(database, number, now)
    running["headers"] = {PERSON_HEADER: str(number), "cookie": f"{COOKIE}={token}"}
    yield running["app"]
    database.close()


@schema.parametrize()
@settings(
    max_examples=4,
    derandomize=True,
    database=None,
    deadline=None,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_the_api_does_as_its_document_says(case: schemathesis.Case) -> None:
    case.call_and_validate(headers=running["headers"])
