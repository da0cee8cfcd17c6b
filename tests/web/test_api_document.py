"""The API against its own document: Schemathesis sends what it allows and what it does not."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

import pytest
import schemathesis
from fastapi import FastAPI
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from schemathesis import GenerationMode

from jade_ladder.service.people import accounts, sessions
from jade_ladder.service.shared.caller import Administrator
from jade_ladder.store.shared.connection import Database
from jade_ladder.web.application import Settings, api_document, create_app
from jade_ladder.web.shared.callers import COOKIE, PERSON_HEADER
from tests.builders import small

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
# Workers share the calls; how each is to be tried is worked out only where it is.
PARTS = 3


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[FastAPI, dict[str, str]]]:
    """The application on a small school, and the headers of its teacher."""
    database = Database.in_folder(tmp_path_factory.mktemp("document"))
    teacher = accounts.NewTeacher("Ilse", "Varga", "ilse@tern.example", "a long password")
    now = datetime.now(UTC)
    number = accounts.make_first_teacher(database, "School", "UTC", teacher)
    made = small(Administrator(database, number, now))
    made.mark(made.students[0], 3, 3)
    token = sessions.begin_session(database, number, now)
    yield (
        create_app(Settings(database)),
        {PERSON_HEADER: str(number), "cookie": f"{COOKIE}={token}"},
    )
    database.close()


@pytest.mark.parametrize("part", range(PARTS))
def test_the_api_does_as_its_document_says(
    served: tuple[FastAPI, dict[str, str]], part: int
) -> None:
    """Each call is tried with what its document allows, and with what it does not."""
    app, headers = served
    schema = schemathesis.openapi.from_dict(api_document(), config=CONFIG)
    schema.app = app
    operations = [found.ok() for found in schema.get_all_operations()]
    assert len(operations) > 80
    faults = {}
    for operation in operations[part::PARTS]:
        for mode in (GenerationMode.POSITIVE, GenerationMode.NEGATIVE):
            try:
                call(operation, mode, headers)
            except Unsatisfiable:
                # Everything is allowed.
                assert mode is GenerationMode.NEGATIVE
            except Exception as error:
                faults[f"{operation.label}, {mode}"] = str(error)
    assert faults == {}


def call(operation: Any, mode: GenerationMode, headers: dict[str, str]) -> None:
    """Make a few calls of one kind."""

    @settings(
        max_examples=4,
        derandomize=True,
        database=None,
        deadline=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy(generation_mode=mode))
    def calls(case: schemathesis.Case) -> None:
        case.call_and_validate(headers=headers)

    calls()
