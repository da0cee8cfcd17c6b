"""The API against its own document: Schemathesis sends what it allows and what it does not."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
import schemathesis
from fastapi import FastAPI
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis.errors import Unsatisfiable
from hypothesis.strategies import SearchStrategy
from schemathesis import GenerationMode

from jade_ladder.outside import clock
from jade_ladder.service.marking import handing_back
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
PARTS = 4


Served = tuple[FastAPI, Database, dict[str, int]]


@pytest.fixture(scope="module")
def served(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Served]:
    """The application on a small school, and what there is in it, as addresses name it."""
    database = Database.in_folder(tmp_path_factory.mktemp("document"))
    teacher = accounts.NewTeacher("Ilse", "Varga", "ilse@tern.example", "a long password")
    number = accounts.make_first_teacher(database, "School", "UTC", teacher)
    made = small(Administrator(database, number, clock.now()))
    made.mark(made.students[0], 3, 3)
    handing_back.hand_back(made.caller, made.task_id, None, True)
    there = {
        "class_id": made.class_id,
        "student_id": made.students[0],
        "outcome_id": made.outcomes[0],
        "rubric_id": made.rubric_id,
        "task_id": made.task_id,
        "scale_id": made.scale_id,
        "attempt": 1,
    }
    yield create_app(Settings(database)), database, there
    database.close()


@pytest.mark.parametrize("part", range(PARTS))
def test_the_api_does_as_its_document_says(served: Served, part: int) -> None:
    """Each call is tried on what is there with what its document allows, and with what it does
    not.
    """
    app, database, there = served
    schema = schemathesis.openapi.from_dict(api_document(), config=CONFIG)
    schema.app = app
    operations = [found.ok() for found in schema.get_all_operations()]
    assert len(operations) > 80
    faults = {}
    for operation in operations[part::PARTS]:
        # A session for each: one of the calls is to sign out.
        person = there["student_id"] if "/my/" in operation.path else 1
        token = sessions.begin_session(database, person, clock.now())
        headers = {PERSON_HEADER: str(person), "cookie": f"{COOKIE}={token}"}
        named = {one.name for one in operation.path_parameters}
        here = {name: number for name, number in there.items() if name in named}
        allowed = operation.as_strategy(path_parameters=here or None)
        refused = operation.as_strategy(generation_mode=GenerationMode.NEGATIVE)
        for kind, cases in (("allowed", allowed), ("not allowed", refused)):
            try:
                call(cases, headers)
            except Unsatisfiable:
                # There is nothing that it does not allow.
                assert kind == "not allowed"
            except Exception as error:
                faults[f"{operation.label}, {kind}"] = repr(error)
    assert faults == {}


def call(cases: SearchStrategy[schemathesis.Case], headers: dict[str, str]) -> None:
    """Make a few calls of one kind."""

    @settings(
        max_examples=2,
        derandomize=True,
        database=None,
        deadline=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=cases)
    def calls(case: schemathesis.Case) -> None:
        case.call_and_validate(headers=headers)

    calls()
