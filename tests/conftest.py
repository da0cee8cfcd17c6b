"""What every test can ask for: an empty database, a school with one teacher, and the demo."""

from __future__ import annotations

import pickle
import shutil
import time
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from hypothesis import settings
from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher

from jade_ladder.demo.scenario import DemoClass, make_demo
from jade_ladder.outside import clock
from jade_ladder.service.people import passwords
from jade_ladder.service.people.accounts import NewTeacher, add_teacher, make_first_teacher
from jade_ladder.service.shared.caller import Administrator, Teacher
from jade_ladder.store.files.contents import FOLDER
from jade_ladder.store.shared.connection import Database

NOW = datetime(2026, 11, 25, 12, 0, tzinfo=UTC)


def pytest_configure(config: pytest.Config) -> None:
    """Let the suite run at one instant, whatever day it is; the workers inherit it."""
    if not hasattr(config, "workerinput"):
        clock.set_clock(NOW)


# Nothing is asserted about speed: another machine is slower.
settings.register_profile("no deadline", deadline=None)
settings.load_profile("no deadline")


@pytest.fixture(autouse=True, scope="session")
def _quick_hashing() -> Iterator[None]:
    """Passwords take long to hash, on purpose; that they do is tested where hashing is."""
    quick = PasswordHash((Argon2Hasher(time_cost=1, memory_cost=8, parallelism=1),))
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(passwords, "_hasher", lambda: quick)
        yield


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    found = Database(tmp_path / "jade-ladder.sqlite3")
    yield found
    found.close()


@pytest.fixture(scope="session")
def school_rows(tmp_path_factory: pytest.TempPathFactory) -> dict[str, list[tuple[object, ...]]]:
    """A school and its first teacher, made once: a password takes long to hash, on purpose."""
    made = Database(tmp_path_factory.mktemp("school") / "jade-ladder.sqlite3")
    teacher = NewTeacher("Ilse", "Varga", "ilse@tern.example", "a long password")
    assert make_first_teacher(made, "Tern Island School", "Pacific/Auckland", teacher) == 1
    with made.reading() as db:
        tables = ("school", "person")
        rows = {table: db.execute(f"SELECT * FROM {table}").fetchall() for table in tables}
    made.close()
    return rows


# What a test about dates is run on: seven days in a row, each at another hour, among which the
# school's clock is put back (4 April 2027 in Auckland).
SEVEN_DAYS = [datetime(2027, 4, 1, 9, 30, tzinfo=UTC) + timedelta(hours=27 * n) for n in range(7)]
on_seven_days = pytest.mark.parametrize("moment", SEVEN_DAYS, indirect=True, ids="{:%a %H}".format)


@pytest.fixture
def moment(request: pytest.FixtureRequest) -> Iterator[datetime]:
    """The instant of a test: the suite's, or one of seven (`on_seven_days`)."""
    found: datetime = getattr(request, "param", NOW)
    if found != NOW:
        clock.set_clock(found)
    yield found
    if found != NOW:
        clock.set_clock(NOW)


@pytest.fixture
def caller(
    database: Database, school_rows: dict[str, list[tuple[object, ...]]], moment: datetime
) -> Administrator:
    """The first teacher of a school in a time zone that is far from UTC."""
    with database.transaction() as db:
        for table, rows in school_rows.items():
            places = ", ".join("?" * len(rows[0]))
            db.executemany(f"INSERT INTO {table} VALUES ({places})", rows)
    return Administrator(database, 1, moment)


@pytest.fixture
def other_teacher(database: Database, caller: Teacher, moment: datetime) -> Teacher:
    """A colleague with nothing in common with the caller."""
    number = add_teacher(
        database, NewTeacher("Jun", "Okoro", "jun@tern.example", "another long one")
    )
    return Teacher(database, number, moment)


@pytest.fixture(scope="session")
def demo_template(
    tmp_path_factory: pytest.TempPathFactory, worker_id: str
) -> tuple[Path, DemoClass]:
    """The demo school, made by the first worker that wants it, and copied by the tests."""
    folder = tmp_path_factory.getbasetemp()
    if worker_id != "master":
        folder = folder.parent
    path = folder / "demo" / "jade-ladder.sqlite3"
    made = folder / "demo.pickle"
    try:
        path.parent.mkdir()
    except FileExistsError:
        for _ in range(1000):
            if made.exists():
                break
            time.sleep(0.1)
    else:
        found = Database(path)
        part = made.with_suffix(".part")
        part.write_bytes(pickle.dumps(make_demo(found, NOW)))
        found.close()
        part.rename(made)
    return path, pickle.loads(made.read_bytes())


@pytest.fixture
def demo(
    tmp_path: Path, demo_template: tuple[Path, DemoClass]
) -> Iterator[tuple[Teacher, DemoClass]]:
    """A copy of the demo school and its teacher, at the suite's instant."""
    template, made = demo_template
    path = tmp_path / "demo.sqlite3"
    shutil.copy(template, path)
    shutil.copytree(template.parent / FOLDER, tmp_path / FOLDER)
    found = Database(path)
    yield Administrator(found, 1, NOW), made
    found.close()


# The longest tests: begun first by each of three workers, so that none is left alone at the end.
LONGEST = (
    "test_from_an_empty_school",
    "test_nothing_that_opens",
    "test_no_screen_has_a_fault",
    "test_the_api_does_as_its_document_says",
)
WORKERS = 3


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Deal the longest tests out to where the workers begin; each begins at a third of the list."""
    longest = [item for item in items if any(name in item.nodeid for name in LONGEST)]
    others = [item for item in items if item not in set(longest)]
    share = -(-len(others) // WORKERS)
    items[:] = [
        item
        for worker in range(WORKERS)
        for item in (
            *longest[worker::WORKERS],
            *others[worker * share : (worker + 1) * share],
        )
    ]
