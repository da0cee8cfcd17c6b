"""Drawing what somebody does next from what is there."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any, Protocol, TypeVar
from urllib.parse import urlencode
from zoneinfo import ZoneInfo

from jade_ladder.web.application import api_document
from tests.walk.asking import Call, School

Thing = TypeVar("Thing")
ZONE = ZoneInfo("Pacific/Auckland")
DOCUMENT = api_document()
OPERATIONS: dict[str, tuple[str, str]] = {
    operation["operationId"]: (method.upper(), path.removeprefix("/api"))
    for path, operations in DOCUMENT["paths"].items()
    for method, operation in operations.items()
}
"""Every operation of the API: its method, and its path below /api."""


class NothingThere(Exception):
    """There is nothing now that this operation could be done with."""


class Dice(Protocol):
    """What chooses: Hypothesis in a walk."""

    def number(self, low: int, high: int) -> int:
        """A whole number, both ends included; the lowest is the simplest."""


@dataclass(frozen=True, slots=True)
class Plan:
    """What somebody asks: the numbers in the path, and what is sent."""

    who: int
    json: Any = None
    form: dict[str, str] | None = None
    file: tuple[str, str] | None = None
    raw: str | None = None
    query: dict[str, Any] | None = None
    numbers: dict[str, int] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Place:
    """An attempt of a student at a task, there or next, with the teacher who looks at it."""

    who: int
    task_id: int
    class_id: int
    student_id: int
    attempt: int
    mark_id: int
    version: int
    revision_id: int

    def numbers(self, **more: int) -> dict[str, int]:
        return {
            "task_id": self.task_id,
            "student_id": self.student_id,
            "attempt": self.attempt,
            **more,
        }


@dataclass(slots=True)
class Walker:
    """Draws plans for a school."""

    school: School
    dice: Dice
    codes: list[str] = field(default_factory=list)
    """Codes and links that were handed out in this walk."""
    near: dict[str, int] = field(default_factory=dict)
    """What the last call was about: what comes next is often about the same."""
    keys: int = 0
    """How many keys it has made."""

    def remember(self, plan: Plan) -> None:
        """What was done was about this."""
        self.near = {**self.near, **plan.numbers}
        if plan.numbers and "student_id" not in plan.numbers and plan.who in self._students():
            self.near["student_id"] = plan.who

    def _students(self) -> list[int]:
        return self.school.rows("SELECT id FROM person WHERE may_teach = 0")

    def nearest(self, name: str, options: Sequence[int]) -> int:
        """The same as in the last call, rather often, or any."""
        same = self.near.get(name)
        return same if same in options and self.chance(55) else self.pick(options)

    def pick(self, options: Sequence[Thing]) -> Thing:
        if not options:
            raise NothingThere
        return options[self.dice.number(0, len(options) - 1)]

    def chance(self, per_cent: int) -> bool:
        """Whether something happens that is rarer than not."""
        return self.dice.number(0, 99) >= 100 - per_cent

    def some(self, options: Sequence[Thing]) -> list[Thing]:
        """One or several of them, in their order."""
        first = self.pick(options)
        return [one for one in options if one == first or self.chance(40)]

    def one(self, sql: str, *values: object) -> Any:
        """One of what a statement finds."""
        return self.pick(self.school.rows(sql, *values))

    def word(self) -> str:
        return self.pick(["Look again", "Fine", "North & “south” <b>", "Ō tere 🧭"])

    # Whoever and whatever is there.

    def klass(self) -> int:
        """A class, often that of the last call."""
        return self.nearest("class_id", self.school.rows("SELECT id FROM school_class ORDER BY id"))

    def teacher(self, class_id: int) -> int:
        return int(
            self.one(
                "SELECT person_id FROM membership WHERE class_id = ? AND role = 'teacher' "
                "AND until IS NULL ORDER BY id",
                class_id,
            )
        )

    def any_teacher(self) -> int:
        return int(
            self.one(
                "SELECT id FROM person WHERE may_teach = 1 AND ended_at IS NULL ORDER BY id DESC"
            )
        )

    def administrator(self) -> int:
        return int(self.one("SELECT id FROM person WHERE administrator = 1 ORDER BY id"))

    def students(self, class_id: int) -> list[int]:
        """Those in a class, sometimes with those who were."""
        present = "" if self.chance(15) else " AND until IS NULL"
        return self.school.rows(
            "SELECT DISTINCT person_id FROM membership "
            f"WHERE class_id = ? AND role = 'student'{present} ORDER BY person_id",
            class_id,
        )

    def student(self, class_id: int) -> int:
        return self.nearest("student_id", self.students(class_id))

    def outcomes(self, class_id: int) -> list[int]:
        retired = "" if self.chance(10) else " AND active_until IS NULL"
        return self.school.rows(
            f"SELECT outcome_id FROM class_outcome WHERE class_id = ?{retired} ORDER BY position",
            class_id,
        )

    def outcome(self, class_id: int) -> int:
        return self.nearest("outcome_id", self.outcomes(class_id))

    def cell(self) -> tuple[int, int, int, int]:
        """A teacher, a class of theirs, a student in it and an outcome of it."""
        class_id = self.klass()
        return self.teacher(class_id), class_id, self.student(class_id), self.outcome(class_id)

    def task(self, *kinds: str) -> tuple[int, int]:
        """A task of one of these kinds (or of any), and its class."""
        which = ", ".join(f"'{kind}'" for kind in kinds) or "kind"
        found = dict(
            self.school.rows(f"SELECT id, class_id FROM task WHERE kind IN ({which}) ORDER BY id")
        )
        task = self.nearest("task_id", list(found))
        return task, found[task]

    def place(self, *kinds: str) -> Place:
        """An attempt that could be marked: mostly the newest of a student at a task."""
        task_id, class_id = self.task(*kinds)
        return self.place_of(task_id, class_id, self.student(class_id))

    def marked(self, more: str = "1") -> Place:
        """An attempt that has a mark (m) for which something more holds."""
        task_id, class_id, student_id, number = self.one(
            "SELECT t.id, t.class_id, ts.student_id, a.number FROM mark m "
            "JOIN attempt a ON a.id = m.attempt_id "
            "JOIN task_student ts ON ts.id = a.task_student_id JOIN task t ON t.id = ts.task_id "
            f"WHERE m.role = 'teacher' AND {more} ORDER BY m.id DESC"
        )
        return self.place_of(task_id, class_id, student_id, number)

    def place_of(
        self, task_id: int, class_id: int, student_id: int, number: int | None = None
    ) -> Place:
        found = self.school.rows(
            "SELECT a.number, coalesce(m.id, 0), coalesce(m.version, 0) FROM attempt a "
            "JOIN task_student ts ON ts.id = a.task_student_id "
            "LEFT JOIN mark m ON m.attempt_id = a.id AND m.role = 'teacher' "
            "WHERE ts.task_id = ? AND ts.student_id = ? ORDER BY a.number DESC",
            task_id,
            student_id,
        )
        if number is not None:
            found = [row for row in found if row[0] == number]
        attempt, mark_id, version = self.pick(found) if found else (1, 0, 0)
        (revision,) = self.school.rows("SELECT revision_id FROM task WHERE id = ?", task_id)
        who = self.teacher(class_id)
        return Place(who, task_id, class_id, student_id, attempt, mark_id, version, revision)

    def criterion(self, revision_id: int, more: str = "1") -> tuple[int, bool, list[int]]:
        """A criterion of a revision, whether it allows half-way, and its levels."""
        found = self.one(
            "SELECT id, half_way FROM criterion "
            f"WHERE revision_id = ? AND {more} ORDER BY position",
            revision_id,
        )
        return found[0], bool(found[1]), self.levels(found[0])

    def levels(self, criterion_id: int) -> list[int]:
        return self.school.rows(
            "SELECT id FROM criterion_level WHERE criterion_id = ? ORDER BY position", criterion_id
        )

    def choice(self, half_way: bool, levels: list[int]) -> dict[str, Any]:
        """A level, half-way where that is allowed, or "not assessed"."""
        if self.chance(12):
            return {"level_id": None, "not_assessed": True}
        place = self.dice.number(0, len(levels) - 1)
        half = half_way and place < len(levels) - 1 and self.chance(25)
        return {"level_id": levels[place], "half_way": half}

    def method(self) -> dict[str, Any]:
        kinds = ["decaying-average", "latest", "highest", "mean", "recent-mean", "most-frequent"]
        return {"kind": self.pick(kinds), "newest": self.pick([60, 75, 50]), "last": 3}

    def rubric(self, more: str = "1") -> tuple[int, int, int]:
        """A rubric, its owner and its version."""
        found = self.one(f"SELECT id, owner_id, version FROM rubric WHERE {more} ORDER BY id")
        return found[0], found[1], found[2]

    def upload(self, who: int) -> int:
        """A file of somebody's that has arrived whole."""
        return int(self.one("SELECT id FROM upload WHERE person_id = ? ORDER BY id DESC", who))

    def key(self, name: str) -> str:
        """A key that nobody used before, the same each time that the same walk is walked."""
        self.keys += 1
        return f"{name}-{self.school.now:%j%H%M%S%f}-{self.keys}"

    # Times.

    def today(self) -> datetime:
        return self.school.now.astimezone(ZONE)

    def day(self, low: int, high: int) -> str:
        """A day of the school, so many from today at least and at most; mostly today."""
        return (self.today().date() + timedelta(days=self.whole(low, high))).isoformat()

    def whole(self, low: int, high: int) -> int:
        """A whole number near nought, from low to high."""
        return self.pick(sorted(range(low, high + 1), key=abs))

    def moment(self, low: int, high: int) -> str:
        """A time so many hours from now at least and at most."""
        return (self.school.now + timedelta(hours=self.whole(low, high))).isoformat()

    def due(self) -> str | None:
        """A time by which something is due: none, a while ahead, or over."""
        return self.pick([None, self.moment(1, 60), self.moment(-50, 60)])


Way = Callable[[Walker], Plan]
WAYS: dict[str, Way] = {}
"""How each operation is asked, by its name."""


def way(*names: str) -> Callable[[Way], Way]:
    """Say that a function draws what these operations are asked with; without names, the operation
    of its own name.
    """

    def known(function: Way) -> Way:
        for name in names or (function.__name__,):
            assert name in OPERATIONS, f"{name} is no operation"
            assert name not in WAYS, f"{name} has a way already"
            WAYS[name] = function
        return function

    return known


def call_of(operation: str, plan: Plan) -> Call:
    """The request that a plan is."""
    method, template = OPERATIONS[operation]
    path = re.sub(r"\{(\w+)\}", lambda name: str(plan.numbers[name[1]]), template)
    query = f"?{urlencode(plan.query, doseq=True)}" if plan.query else ""
    return Call(
        plan.who, operation, method, path + query, plan.json, plan.form, plan.file, plan.raw
    )
